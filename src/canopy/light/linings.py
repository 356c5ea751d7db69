"""What walls are lined with: reflectances of the shipped linings, and boxes lined with them."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from canopy.errors import CanopyError
from canopy.light.enclosure import WALLS, Enclosure
from canopy.tables import table

OPEN = "open"
"""The key of a side without a wall."""


@lru_cache(maxsize=1)
def _rows() -> dict[str, dict[str, Any]]:
    return {row["key"]: row for row in table("linings")["rows"]}


def linings() -> list[dict[str, Any]]:
    """Return the linings with their reflectance, its range and its mirror share."""
    return list(_rows().values())


def check_linings(rest: str, walls: Sequence[str]) -> None:
    """Check keys of linings; an empty one means that wall is as the rest.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    for key, field in ((rest, "lining"), *((w, f"lining_{n}") for n, w in zip(WALLS, walls) if w)):
        if key not in _rows():
            raise CanopyError("Choose a lining from the list.", field)


def lined_box(
    width_cm: float,
    depth_cm: float,
    height_cm: float,
    rest: str,
    walls: Sequence[str],
    canopy_reflectance: float,
) -> Enclosure:
    """Return a box lined with shipped linings.

    Parameters
    ----------
    width_cm, depth_cm, height_cm : float
        Height from the canopy plane to the ceiling.
    rest : str
        Key of the ceiling's lining, and of walls that have none of their own.
    walls : sequence of str
        Keys for left, right, front, back; empty where as the rest.
    canopy_reflectance : float

    Raises
    ------
    CanopyError
        When a key is unknown.
    """
    check_linings(rest, walls)
    rows = _rows()
    left, right, front, back = (rows[key or rest] for key in walls)
    sides = (left, right, front, back)
    return Enclosure(
        width_cm=width_cm,
        depth_cm=depth_cm,
        height_cm=height_cm,
        wall_reflectance=tuple(side["reflectance"] for side in sides),
        ceiling_reflectance=rows[rest]["reflectance"],
        canopy_reflectance=canopy_reflectance,
        wall_mirror_share=tuple(side["mirror_share"] for side in sides),
    )
