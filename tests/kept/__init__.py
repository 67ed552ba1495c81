"""Whole answers kept as text: a change anywhere in what people are told shows in the diff of a file here."""
