"""What a link can carry and whether a signal fits it."""
