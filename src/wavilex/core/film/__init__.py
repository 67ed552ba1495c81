"""Films as meters: light over time on two patches, what starts and what answers, with how far each may be off."""
