"""How light leaves a lamp, meets the tent and reaches the canopy."""
