"""Entries to the core's values and back."""
