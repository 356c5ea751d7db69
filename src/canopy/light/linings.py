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


OPEN_BELOW = 0.05
"""A side that sends back less counts as open. Our judgement."""

BOARD = "white-board"


def other_linings(rest: str, walls: Sequence[str]) -> list[tuple[str, str, tuple[str, ...]]]:
    """Return other ways to line the sides: a name, the rest's key and the four walls' keys.

    Every lining that sends back more than what is there, all round; a board round it; and each open
    side closed with a board.
    """
    rows = _rows()
    present = [rows[key or rest] for key in walls]
    mean = sum(row["reflectance"] for row in present) / len(present)
    found = [
        (key, rest, (key,) * len(walls))
        for key, row in rows.items()
        if row["reflectance"] > mean and any(row is not wall for wall in present)
    ]
    is_open = [row["reflectance"] < OPEN_BELOW for row in present]
    if any(is_open) and not all(is_open):
        found += [
            (f"close_{WALLS[k]}", rest, tuple(BOARD if i == k else w for i, w in enumerate(walls)))
            for k, side in enumerate(is_open)
            if side
        ]
    return found


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
