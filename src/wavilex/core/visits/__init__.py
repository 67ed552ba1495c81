"""Coming back to a job: what an update may have put back, the shortest way to find it, and two states compared."""
