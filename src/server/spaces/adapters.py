"""Rows to core values."""

from typing import Any

from canopy.errors import CanopyError
from canopy.formats.layout import SIDE_CM as SIDE_CM
from canopy.formats.scene import HEIGHT_CM as HEIGHT_CM
from canopy.light.enclosure import WALLS, Enclosure
from canopy.light.linings import check_linings, lined_box
from canopy.light.linings import linings as linings
from canopy.light.stands import Stand
from canopy.power.hanging import check_headroom
from server.spaces.models import Space


def wall_linings(values: Any) -> tuple[str, ...]:
    """Return the four walls' own linings, empty where as the rest."""
    return tuple(getattr(values, f"lining_{wall}") for wall in WALLS)


def enclosure(space: Space, canopy_top_cm: float, canopy_reflectance: float) -> Enclosure:
    """Return the box above the canopy."""
    return lined_box(
        space.width_cm,
        space.depth_cm,
        space.height_cm - canopy_top_cm,
        space.lining,
        wall_linings(space),
        canopy_reflectance,
    )


def stands_of(space: Space) -> tuple[Stand, ...]:
    """Return the steps plants stand on."""
    return tuple(Stand(**row) for row in space.stands)


def _check_stands(values: dict[str, Any]) -> None:
    for i, stand in enumerate(values.get("stands", [])):
        for place, size, side in (
            ("x_cm", "width_cm", values["width_cm"]),
            ("y_cm", "depth_cm", values["depth_cm"]),
        ):
            over = stand[place] + stand[size] - side
            if over > 0:
                raise CanopyError(
                    f"Step {i + 1} reaches {over:g} cm beyond the space; move it or make it "
                    "smaller.",
                    f"stands.{i}.{size}",
                )


def check_space(values: dict[str, Any]) -> None:
    """Raise a sentence when a space's figures do not go together."""
    check_linings(values["lining"], [values.get(f"lining_{wall}", "") for wall in WALLS])
    _check_stands(values)
    check_headroom(values["height_cm"], values["pot_cm"], values["hangers_cm"])
