"""What carries the lamps: weight, hangers, their marks, ratchets. Lengths in cm, weights in kg."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.power.hanging import Frame

Array = NDArray[np.float64]

MARGIN = 0.8
"""Of what a frame is rated for, at most. Common practice, no source."""

EDGE_SHARE = 0.15
"""Hangers stand in from a frame's ends by this share of its side. Common practice, no source."""

RATCHET_REACH_CM = 150.0
"""A usual ratchet's rope. Common practice, no source."""


@dataclass(frozen=True)
class Weighed:
    """What hangs from the frame and what it bears; ``rating_kg`` and what follows None if unsaid.

    ``shares_kg`` is what each hanger of each lamp carries when it hangs level. Of four, two may
    carry all while it is raised: ``worst_kg``.
    """

    total_kg: float
    rating_kg: float | None
    spare_kg: float | None
    shares_kg: tuple[float, ...]
    worst_kg: tuple[float, ...]

    @property
    def over(self) -> bool:
        """Whether it is more than the rating with its margin."""
        return self.spare_kg is not None and self.spare_kg < 0


def weighed(
    lamps_kg: Sequence[float],
    hangers: Sequence[int],
    besides_kg: float = 0.0,
    rating_kg: float | None = None,
) -> Weighed:
    """Return what the frame carries.

    Parameters
    ----------
    lamps_kg : sequence of float
        Each with what hangs on it.
    hangers : sequence of int
        How many each hangs on.
    besides_kg : float
        Hangers, filters, fans and drivers on the frame.
    rating_kg : float, optional
        Of the tent's frame, evenly spread.
    """
    total = float(sum(lamps_kg)) + besides_kg
    return Weighed(
        total,
        rating_kg,
        None if rating_kg is None else rating_kg * MARGIN - total,
        tuple(kg / n for kg, n in zip(lamps_kg, hangers)),
        tuple(kg / min(n, 2) for kg, n in zip(lamps_kg, hangers)),
    )


def usual_hangers(frame: Frame) -> int:
    """Return how many hangers a lamp of this size wants. Common practice, no source."""
    longest, shortest = (
        max(frame.frame_x_cm, frame.frame_y_cm),
        min(frame.frame_x_cm, frame.frame_y_cm),
    )
    if longest < SMALL_CM:
        return 1
    return 4 if shortest >= WIDE_CM else 2


SMALL_CM = 20.0
WIDE_CM = 50.0


def hanger_marks_cm(frame: Frame, hangers: int) -> Array:
    """Return where on the ceiling hangers go, from the left wall and the front, (hangers, 2).

    One over the middle, two along the lamp's longer middle line, four over its corners, in from
    the ends.
    """
    half = (0.5 - EDGE_SHARE) * np.array([frame.frame_x_cm, frame.frame_y_cm])
    half[0] *= np.cos(np.radians(frame.tilt_deg))
    if hangers == 1:
        own = np.zeros((1, 2))
    elif hangers == TWO:
        along = np.array([1.0, 0.0]) if frame.frame_x_cm >= frame.frame_y_cm else np.array([0, 1.0])
        own = np.array([-1.0, 1.0])[:, None] * along * half
    else:
        own = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
    turn = np.radians(frame.turn_deg)
    c, s = np.cos(turn), np.sin(turn)
    marks: Array = own @ np.array([[c, s], [-s, c]]) + [frame.x_cm, frame.y_cm]
    return marks


TWO = 2


@dataclass(frozen=True)
class Travel:
    """How far the ratchets let the lamp up and down over a season.

    ``rope_cm`` hang out at the lowest, from the ceiling's bars to the lamp.
    """

    lowest_cm: float
    highest_cm: float
    rope_cm: float

    @property
    def travel_cm(self) -> float:
        """From the lowest to the highest the lamp ever hangs."""
        return self.highest_cm - self.lowest_cm

    @property
    def short_cm(self) -> float:
        """How much more rope than a usual ratchet's it takes; 0 where that will do."""
        return max(self.rope_cm - RATCHET_REACH_CM, 0.0)


def travel(lamp_cm: Sequence[float], body_cm: float, ceiling_cm: float) -> Travel:
    """Return how the ratchets travel; ``lamp_cm`` are the lamp's faces above the floor by day."""
    low, high = min(lamp_cm), max(lamp_cm)
    return Travel(low, high, ceiling_cm - low - body_cm)
