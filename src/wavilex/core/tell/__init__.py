"""Answers told: plain data and words for the interface, the command line and paper."""
