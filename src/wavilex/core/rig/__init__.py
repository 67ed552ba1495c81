"""The rig of a job: what it is made of, how it is changed, how it is kept as a file."""
