"""Choosing height, dial and hours for a stage."""
