"""The workshop's shelf: boxes kept across jobs, with versions and what was learned of them."""
