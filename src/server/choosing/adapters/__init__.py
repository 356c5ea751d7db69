"""Rows to core values, and every call into the core."""
