"""Whether a lamp's cord reaches a socket outside the humid space. Lengths in cm."""

from dataclasses import dataclass
from typing import Literal

Corner = Literal["front-left", "front-right", "back-left", "back-right"]
CORNERS: tuple[Corner, ...] = ("front-left", "front-right", "back-left", "back-right")

DRIP_LOOP_CM = 30.0
"""A bow that hangs lower than the socket. Common practice, no source."""


@dataclass(frozen=True)
class Socket:
    """Where the cord ends: the corner it leaves by, and from there.

    Parameters
    ----------
    corner : str
        Of the tent, along whose pole it comes down.
    height_cm : float
        Of the socket or strip above the floor.
    away_cm : float
        From that corner.
    """

    corner: Corner = "back-left"
    height_cm: float = 60.0
    away_cm: float = 50.0


@dataclass(frozen=True)
class Leg:
    """A part of the way: up to the ceiling, along it, down the pole, to the socket, the loop."""

    part: Literal["up", "along", "down", "out", "loop"]
    cm: float


@dataclass(frozen=True)
class CordPath:
    """A cord's way and whether it is long enough; without a length only the way is known.

    Parameters
    ----------
    legs : tuple of Leg
        From the lamp on.
    needed_cm : float
        In all.
    cord_cm : float, optional
    lowest_cm : float
        The lowest the lamp ever hangs, which asks the most.
    highest_cm : float
        As high as it can be, under the ceiling.
    """

    legs: tuple[Leg, ...]
    needed_cm: float
    cord_cm: float | None
    lowest_cm: float
    highest_cm: float

    @property
    def missing_cm(self) -> float:
        """How much is missing; 0 where it is long enough, or nobody knows."""
        return 0.0 if self.cord_cm is None else max(self.needed_cm - self.cord_cm, 0.0)

    @property
    def reaches_from_cm(self) -> float | None:
        """How high above the floor the lamp would have to stay for it.

        None where it reaches, or does not from anywhere.
        """
        needed = self.lowest_cm + self.missing_cm
        return needed if self.missing_cm and needed <= self.highest_cm else None


def cord_path(
    lamp_xy_cm: tuple[float, float],
    lowest_cm: float,
    body_cm: float,
    space_cm: tuple[float, float, float],
    socket: Socket,
    cord_cm: float | None = None,
) -> CordPath:
    """Return the way of a lamp's cord, over its driver, to the socket.

    Parameters
    ----------
    lamp_xy_cm : tuple of float
        Its middle.
    lowest_cm : float
        Its face above the floor, at the lowest.
    body_cm : float
        How high it is.
    space_cm : tuple of float
        Width, depth and height.
    socket : Socket
    cord_cm : float, optional
        In all, with the driver's part.
    """
    width, depth, height = space_cm
    x = 0.0 if socket.corner.endswith("left") else width
    y = 0.0 if socket.corner.startswith("front") else depth
    legs = (
        Leg("up", height - lowest_cm - body_cm),
        Leg("along", abs(lamp_xy_cm[0] - x) + abs(lamp_xy_cm[1] - y)),
        Leg("down", max(height - socket.height_cm, 0.0)),
        Leg("out", socket.away_cm),
        Leg("loop", DRIP_LOOP_CM),
    )
    return CordPath(legs, sum(leg.cm for leg in legs), cord_cm, lowest_cm, height - body_cm)
