"""Timings and the signals made of them."""
