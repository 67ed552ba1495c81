"""Coming back to a job: visits and the states they found and left, updates, regular checks, the logbook."""
