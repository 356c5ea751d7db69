"""What was really given."""
