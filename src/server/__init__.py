"""Keeps what growers enter and exposes the core's answers over HTTP."""
