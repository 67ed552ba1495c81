"""Complaints, and what the model makes of them."""
