"""In which unit a grower is told of lengths."""

from typing import Any

from canopy.words import Unit


def unit_of(grower: Any) -> Unit:
    """Return a grower's unit of length; centimetres for a stranger."""
    return "in" if getattr(grower, "length_unit", "cm") == "in" else "cm"
