"""Rows of every area to an archive's, and back."""
