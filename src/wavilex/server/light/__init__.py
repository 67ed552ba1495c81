"""Light: a meter watched live, what is noted of light, the sheet's answers. The notes themselves are of the job."""
