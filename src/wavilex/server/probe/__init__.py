"""Probes: a page on the source under test sends home what it measures there, by a code and nothing else."""
