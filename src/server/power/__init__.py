"""What the light costs and draws, what carries it, and hanging it safely."""
