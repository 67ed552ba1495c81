"""What boxes will show, what was seen there, and what that says: read-outs, observations, suspects, rate proofs."""
