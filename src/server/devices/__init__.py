"""Meters, timers and sensors: two doors they report through, and what they say of the plan."""
