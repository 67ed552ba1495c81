"""Drivers for meters, each with a simulator that speaks the same protocol."""
