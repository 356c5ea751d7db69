"""Rows to core values."""
