"""The chain: the rig, what it carries, why not, and the changes that help."""
