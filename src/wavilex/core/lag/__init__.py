"""Lag: readings summarised, compared and judged."""
