"""A rack of shelves, one above another: what falls through its boards, and what all of it draws.

PPFD in umol m-2 s-1, DLI in mol m-2 d-1.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.crop.night import DAY_MIN
from canopy.daylight.lampday import Window, lit_by
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import even_grid
from canopy.light.sources import Board, PlacedLamp
from canopy.once import once
from canopy.plan.stacks import prepared_tent

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

LEAF_TRANSMITTANCE = 0.05
"""Of a leaf in PAR, about. From memory of Campbell & Norman, Environmental Biophysics (1998)."""

KEPT = 24


@dataclass(frozen=True)
class FromAbove:
    """What falls through the board overhead: a day's light at the tops, and when it does."""

    dli: float = 0.0
    windows: tuple[Window, ...] = ()


NOTHING_FROM_ABOVE = FromAbove()


def on_the_board(ppfd: Array, weights: Array, standing: Mask, cover: float) -> float:
    """Return the mean light that gets past the plants to the board they stand on.

    Parameters
    ----------
    ppfd, weights : array, shape (points,)
        The light at the tops and the share of the area each point stands for; of a day's light the
        result is that of a day.
    standing : array of bool, shape (points,)
        Where plants stand.
    cover : float
        Share of the floor there that leaves cover.
    """
    past = np.where(standing, 1 - cover * (1 - LEAF_TRANSMITTANCE), 1.0)
    return float((ppfd * past) @ weights)


@once(KEPT)
def overhead_share(box: Enclosure) -> float:
    """Return the mean light on the canopy by an even ceiling, over what each m2 of that gives."""
    grid = even_grid(box.width_cm, box.depth_cm)
    transport = prepared_tent(box, grid)
    area = box.width_cm * box.depth_cm / CM2_PER_M2
    ceiling = PlacedLamp(
        Board(box.width_cm, box.depth_cm),
        ppf_umol_s=area,
        x_cm=box.width_cm / 2,
        y_cm=box.depth_cm / 2,
        height_cm=box.height_cm,
    )
    return float(transport.irradiance(ceiling) @ grid.area_weights())


def falls_through(board: float, through: float, box: Enclosure) -> float:
    """Return the mean light at the tops below a board, from the light that is on it.

    Parameters
    ----------
    board : float
        Mean PPFD on the board, or DLI.
    through : float
        Share the board lets through: 0 of a solid one.
    box : Enclosure
        What stands below it, from its tops up to it. What comes through is even and diffuse.
    """
    return board * through * overhead_share(box) if through > 0 else 0.0


@dataclass(frozen=True)
class Drawn:
    """When something is on, and the watts it draws then."""

    windows: tuple[Window, ...]
    watts: float


def most_watts(drawn: Sequence[Drawn]) -> tuple[float, int]:
    """Return the most that is drawn at one time, and the first minute of the day it is.

    >>> most_watts([Drawn((Window(360, 12),), 60), Drawn((Window(600, 12),), 40)])
    (100.0, 600)
    """
    at = np.zeros(DAY_MIN)
    for each in drawn:
        at[lit_by(each.windows)] += each.watts
    minute = int(at.argmax())
    return float(at[minute]), minute
