"""Correcting a computed light by a few readings: the fit, and what it finds wrong."""
