"""What is taken along on paper: PDF made from the same data as the sheets."""
