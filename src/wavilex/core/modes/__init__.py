"""What a screen does over time: refresh at each render rate, and what its settings are stored under."""
