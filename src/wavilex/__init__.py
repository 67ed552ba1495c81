"""Wavilex: one model of the chain from source to glass."""

__version__ = "0.1.0"
