"""Rows to core values."""

from typing import Any

from canopy.errors import CanopyError
from canopy.formats.layout import SIDE_CM as SIDE_CM
from canopy.formats.scene import HEIGHT_CM as HEIGHT_CM
from canopy.light.enclosure import WALLS, Enclosure
from canopy.power.hanging import check_headroom
from canopy.tables import table
from server.spaces.models import Space

OPEN: dict[str, Any] = {"reflectance": 0.0, "mirror_share": 0.0}


def linings() -> list[dict[str, Any]]:
    """Return the linings with their reflectance and its range."""
    rows: list[dict[str, Any]] = table("linings")["rows"]
    return rows


def lining_of(key: str) -> dict[str, Any] | None:
    """Return one lining."""
    return next((row for row in linings() if row["key"] == key), None)


def enclosure(space: Space, canopy_top_cm: float, canopy_reflectance: float) -> Enclosure:
    """Return the box above the canopy."""
    rest = lining_of(space.lining) or OPEN
    left, right, front, back = (
        lining_of(getattr(space, f"lining_{wall}")) or rest for wall in WALLS
    )
    walls = (left, right, front, back)
    return Enclosure(
        width_cm=space.width_cm,
        depth_cm=space.depth_cm,
        height_cm=space.height_cm - canopy_top_cm,
        wall_reflectance=tuple(wall["reflectance"] for wall in walls),
        ceiling_reflectance=rest["reflectance"],
        canopy_reflectance=canopy_reflectance,
        wall_mirror_share=tuple(wall["mirror_share"] for wall in walls),
    )


def check_space(values: dict[str, Any]) -> None:
    """Raise a sentence when a space's figures do not go together."""
    if lining_of(values["lining"]) is None:
        raise CanopyError("Choose a lining from the list.", "lining")
    for wall in WALLS:
        own = values.get(f"lining_{wall}")
        if own and lining_of(own) is None:
            raise CanopyError("Choose a lining from the list.", f"lining_{wall}")
    check_headroom(values["height_cm"], values["pot_cm"], values["hangers_cm"])
