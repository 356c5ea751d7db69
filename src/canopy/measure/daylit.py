"""The lamp's own light where daylight falls in too.

Each spot is read with the lamp on and off, or one spot with it off again and again. All light in
the sensor's own unit. What it shows in the dark it shows both times, so that it falls out with the
daylight.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.measure.readings import SPOT_SD
from canopy.words import Said, said

Array = NDArray[np.float64]

CLOUDS = 0.05
"""Daylight that moves by more than this share of the lamp's own light is told. Our judgement."""

SAME_SPOT_CM = 1.0
MOST_BACKGROUNDS = 400


@dataclass(frozen=True)
class Lit:
    """A reading with the lamp on; ``unlit`` is the same spot with it off, where that was read."""

    x_cm: float
    y_cm: float
    at_s: float
    shown: float
    unlit: float | None = None


@dataclass(frozen=True)
class Background:
    """What the sensor shows with the lamp off, wherever it was left, and when."""

    at_s: float
    shown: float


@dataclass(frozen=True)
class LampAlone:
    """The lamp's own light at each reading, shape (n,).

    ``sd`` is how far moving daylight may have put one off, as a share of the lamp's own light
    (their median); ``moved`` the most that daylight changed between two looks, likewise.
    """

    shown: Array
    sd: float
    moved: float
    notes: tuple[Said, ...]


def _between(lit: Sequence[Lit], backgrounds: Sequence[Background]) -> Array:
    """Return daylight at each reading: straight between two looks, the nearest beyond them."""
    looks = sorted(backgrounds, key=lambda look: look.at_s)
    times = [look.at_s for look in looks]
    return np.interp([each.at_s for each in lit], times, [look.shown for look in looks])


def _moved(lit: Sequence[Lit], backgrounds: Sequence[Background]) -> tuple[float, bool]:
    """Return the most daylight changed between two looks at one spot, and whether any could tell.

    Unlit readings of one spot are looks at one place, like those of the background.
    """
    series = [sorted((look.at_s, look.shown) for look in backgrounds)]
    spots: list[tuple[float, float]] = []
    for each in lit:
        if each.unlit is None:
            continue
        here = (each.x_cm, each.y_cm)
        near = (
            k for k, spot in enumerate(spots) if np.hypot(*np.subtract(spot, here)) <= SAME_SPOT_CM
        )
        at = next(near, None)
        if at is None:
            spots.append(here)
            series.append([])
            at = len(spots) - 1
        series[at + 1].append((each.at_s, each.unlit))
    changes = [
        abs(after - before)
        for looks in series
        for (_, before), (_, after) in zip(sorted(looks), sorted(looks)[1:])
    ]
    return max(changes, default=0.0), bool(changes)


def lamp_alone(lit: Sequence[Lit], backgrounds: Sequence[Background] = ()) -> LampAlone:
    """Return the lamp's own light at readings that daylight fell on too.

    Where a spot was read with the lamp off that is taken off, elsewhere the background of the
    moment, as even over the floor. Between two looks clouds move evenly in the mean: what is left
    is taken as evenly spread over the change, a standard deviation of change/sqrt(12).

    Parameters
    ----------
    lit : sequence of Lit
        At least one.
    backgrounds : sequence of Background
        In any order.

    Raises
    ------
    CanopyError
        When a reading has neither, or a spot was brighter with the lamp off.
    """
    missing = [k for k, each in enumerate(lit, 1) if each.unlit is None]
    if missing and not backgrounds:
        raise CanopyError(
            f"Reading {missing[0]} has no daylight to take off: read that spot with the lamp off "
            "too, or say that it was dark.",
            "rows",
        )
    between = _between(lit, backgrounds) if backgrounds else np.zeros(len(lit))
    off = np.array([b if each.unlit is None else each.unlit for each, b in zip(lit, between)])
    shown = np.array([each.shown for each in lit])
    # as far as a hand goes twice: below that nothing is left of a lamp
    slack = 3 * sqrt(2) * SPOT_SD * np.maximum(off, shown)
    wrong = np.flatnonzero(shown < off - slack)
    if len(wrong):
        k = int(wrong[0])
        raise CanopyError(
            f"Reading {k + 1}: {shown[k]:.0f} with the lamp on and {off[k]:.0f} with it off. Were "
            "the two swapped, or did a cloud pass? Read that spot again.",
            "rows",
        )
    own = np.maximum(shown - off, 0.0)
    change, told = _moved(lit, backgrounds)
    middle = float(np.median(own))
    share = change / middle if middle > 0 else 0.0
    notes = []
    if not told:
        notes.append(said("daylit.once"))
    elif share > CLOUDS:
        notes.append(said("daylit.clouds", by=change, share=share))
    return LampAlone(own, share / sqrt(12), share, tuple(notes))
