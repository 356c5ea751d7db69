"""What the sun adds, and when it must not."""
