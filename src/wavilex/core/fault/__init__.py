"""Complaints, and the causes behind them in order."""
