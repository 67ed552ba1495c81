"""Keeping an installation: how it stands, whether its data is sound, backups put back."""
