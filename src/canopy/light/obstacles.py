"""What stands in the light's way: steps as solid boxes, lamps' bodies as plates.

A plate lies in the plane of its lamp's light-giving face and tilts and turns with it; light comes
through the share of it that is open. Lengths in cm.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.light.sources import Bars, Body, Layout, PlacedLamp
from canopy.light.stands import Stand

Array = NDArray[np.float64]

MOST_PLATES = 128
"""Plates that light is followed past; where bars have more, each lamp's are one grey plate."""

LEAST_AREA_CM2 = 1e-6


@dataclass(frozen=True)
class Plate:
    """An oblong sheet, in part open: middle and two half sides in the tent.

    ``opaque`` is the share of the light it stops, ``reflectance`` what both sides send back of it.
    """

    middle: tuple[float, float, float]
    half_u: tuple[float, float, float]
    half_v: tuple[float, float, float]
    opaque: float
    reflectance: float

    @property
    def lowest_cm(self) -> float:
        """How high its lowest corner is."""
        return self.middle[2] - abs(self.half_u[2]) - abs(self.half_v[2])

    def row(self) -> list[float]:
        """Return the plate as the compiled loops take it."""
        return [*self.middle, *self.half_u, *self.half_v, self.opaque, self.reflectance]


def body_size_cm(lamp: PlacedLamp) -> tuple[float, float, float, float]:
    """Return the middle and the sides of a body's outline in the lamp's own frame.

    Its own size where it names one, else the layout's bounding rectangle.
    """
    outline = lamp.layout.outline()[:, :2]
    low, high = outline.min(axis=0), outline.max(axis=0)
    x, y = (low + high) / 2
    width, depth = high - low
    body = lamp.body
    if body is not None and body.x_cm is not None and body.y_cm is not None:
        x, y, width, depth = 0.0, 0.0, body.x_cm, body.y_cm
    return float(x), float(y), float(width), float(depth)


def check_body(lamp: PlacedLamp) -> None:
    """Refuse a body that stops light over no area.

    Raises
    ------
    CanopyError
        When it names no size and the layout spans none.
    """
    _, _, width, depth = body_size_cm(lamp)
    if lamp.body is not None and lamp.body.coverage > 0 and width * depth < LEAST_AREA_CM2:
        raise CanopyError(
            "Where all light comes from one line or one point, a body needs its size; "
            "give x_cm and y_cm in it.",
            "body",
        )


def framed_body(
    layout: Layout, coverage: float, reflectance: float, frame_cm: tuple[float, float]
) -> Body:
    """Return a lamp's body, as large as its frame where its light comes from a line or a point.

    Parameters
    ----------
    layout : Layout
    coverage, reflectance : float
        See :class:`~canopy.light.sources.Body`.
    frame_cm : tuple of float
        The frame's sides along x and y.
    """
    sides = np.ptp(layout.outline()[:, :2], axis=0)
    if np.prod(sides) < LEAST_AREA_CM2:
        return Body(coverage, reflectance, *frame_cm)
    return Body(coverage, reflectance)


def _strips(lamp: PlacedLamp, body: Body) -> list[tuple[float, float, float, float, float]]:
    """Return a body's oblongs in the lamp's own frame: middle, sides, opaque share."""
    x, y, width, depth = body_size_cm(lamp)
    layout = lamp.layout
    if isinstance(layout, Bars) and body.x_cm is None:
        axes = layout.bar_x_cm
        spread, length = max(axes) - min(axes), layout.bar_length_cm
        wide = body.coverage * spread / len(axes)
        return [(at, 0.0, wide, length, 1.0) for at in axes]
    return [(x, y, width, depth, body.coverage)]


def plates_of(lamp: PlacedLamp, grey: bool = False) -> tuple[Plate, ...]:
    """Return what a lamp's body puts in the light's way, with ``grey`` one plate for all of it.

    Of bars the opaque share is strips of equal width along each of them; a board is solid, or open
    in part all over.
    """
    body = lamp.body
    if body is None or body.coverage <= 0:
        return ()
    parts = _strips(lamp, body)
    if grey:
        parts = [(*body_size_cm(lamp), body.coverage)]
    turn = lamp.rotation()
    top = float(lamp.layout.outline()[:, 2].max())
    plates = []
    for x, y, width, depth, opaque in parts:
        if width * depth < LEAST_AREA_CM2:
            continue
        middle = turn @ [x, y, top] + [lamp.x_cm, lamp.y_cm, lamp.height_cm]
        half_u, half_v = turn @ [width / 2, 0.0, 0.0], turn @ [0.0, depth / 2, 0.0]
        plates.append(
            Plate(_three(middle), _three(half_u), _three(half_v), opaque, body.reflectance)
        )
    return tuple(plates)


def _three(of: Array) -> tuple[float, float, float]:
    x, y, z = (float(value) for value in of)
    return x, y, z


@dataclass(frozen=True)
class Obstacles:
    """What stands in a tent; empty when nothing does."""

    stands: tuple[Stand, ...] = ()
    plates: tuple[Plate, ...] = ()

    def __bool__(self) -> bool:
        """Return whether anything stands in the way."""
        return bool(self.stands or self.plates)

    @cached_property
    def solids(self) -> Array:
        """Low and high corners of the steps, shape (n, 6)."""
        rows = [
            (s.x_cm, s.y_cm, -1.0, s.x_cm + s.width_cm, s.y_cm + s.depth_cm, s.raise_cm)
            for s in self.stands
        ]
        return np.array(rows, dtype=float).reshape(-1, 6)

    @cached_property
    def sheets(self) -> Array:
        """The plates' rows, shape (m, 11)."""
        return np.array([plate.row() for plate in self.plates], dtype=float).reshape(-1, 11)


NOTHING = Obstacles()


def obstacles(stands: tuple[Stand, ...], lamps: tuple[PlacedLamp, ...]) -> Obstacles:
    """Return what stands in a tent with lamps in it."""
    plates = tuple(plate for lamp in lamps for plate in plates_of(lamp))
    if len(plates) > MOST_PLATES:
        plates = tuple(plate for lamp in lamps for plate in plates_of(lamp, grey=True))
    return Obstacles(stands, plates)
