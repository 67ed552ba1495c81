"""What to do about it: moves, the cheapest ways, best places, ranked inputs, what to set on every box."""
