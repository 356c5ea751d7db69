"""Rows to core values and back."""
