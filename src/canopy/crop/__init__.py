"""What a crop stage asks of the light."""
