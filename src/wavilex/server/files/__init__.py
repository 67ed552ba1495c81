"""Whole jobs in and out: job files with their ticks and readings, and the hand-over."""
