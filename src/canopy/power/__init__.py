"""What the light costs, and whether the tent can carry the lamp."""
