"""Changes that can be taken back: what a row was before, and after."""
