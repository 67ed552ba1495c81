"""Gear: what a device is (profile), how it stands (state)."""
