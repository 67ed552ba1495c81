"""Refresh at each render rate, titles and their modes, what screens store apart."""
