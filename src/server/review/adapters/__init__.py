"""What was kept of runs, to the core's drift and review, and back."""
