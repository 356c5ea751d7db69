"""Measured figures: `python -m bench` prints a table and keeps it in docs/benchmarks.md."""
