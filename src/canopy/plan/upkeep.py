"""How long a lamp can stay as it hangs while plants rise by what was measured, and what then.

Lengths in cm above the floor, PPFD in umol m-2 s-1, DLI in mol m-2 d-1. Days count from the first
that is asked for.
"""

from collections.abc import Collection
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.errors import CanopyError
from canopy.plan.between import Between
from canopy.plan.levers import no_less, no_more

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

Reason = Literal["clearance", "hot_spot_cap", "dli_low", "dli_high"]
REASONS: tuple[Reason, ...] = ("clearance", "hot_spot_cap", "dli_low", "dli_high")

MOST_DAYS = 120
NEAR_CM = 0.05
"""A lamp that is nearer than its clearance by less is not: a tape does not tell."""


@dataclass(frozen=True)
class Levers:
    """Where the lamp hangs, its dial, and for how many hours it is on."""

    lamp_cm: float
    dial_pct: float
    hours: float


@dataclass(frozen=True)
class Rising:
    """The tops on days in a row, shape (days,): as they will likely be, and at most."""

    likely_cm: Array
    most_cm: Array

    def of(self, days: int) -> "Rising":
        """Return the first so many days."""
        return Rising(self.likely_cm[:days], self.most_cm[:days])


@dataclass(frozen=True)
class Lasts:
    """For how many whole days from the first levers keep all targets, and what fails then.

    ``fails`` is empty where they last to the end of what was asked.
    """

    days: int
    fails: tuple[Reason, ...]


@dataclass(frozen=True)
class Proposal:
    """Other levers, how long they last, and the DLI they give on the first day."""

    levers: Levers
    lasts: Lasts
    dli: float


@dataclass(frozen=True, eq=False)
class Upkeep:
    """A stage's light, its targets and the tops of the days to come.

    Parameters
    ----------
    light : Between
    target : StageTarget
    rising : Rising
        At most :data:`MOST_DAYS` days, at least one.
    closest_cm : float
        What the lamp has to keep from the tops at least: surely, so from those that may be at most.
    highest_cm : float
        How high above the floor it can hang.
    step_cm : float
        Heights come in multiples of it.
    ignored : collection of str
        Targets that do not count: the plan misses them as well, or the grower gave them up.
    fixed : bool
        The lamp cannot be hung otherwise.
    """

    light: Between
    target: StageTarget
    rising: Rising
    closest_cm: float
    highest_cm: float
    step_cm: float = 1.0
    ignored: Collection[str] = ()
    fixed: bool = False

    def __post_init__(self) -> None:
        if not 0 < len(self.rising.likely_cm) <= MOST_DAYS:
            raise CanopyError(f"Ask for 1 to {MOST_DAYS} days.", "days")

    def _kept(self, lamp_cm: Array, dial_pct: Array, hours: float) -> dict[Reason, Mask]:
        """Return which targets are kept, each of shape (levers, days)."""
        lamp, dial = lamp_cm[:, None], dial_pct[:, None]
        above = lamp - self.rising.likely_cm[None, :]
        sure = lamp - self.rising.most_cm[None, :]
        dli, peak = self.light.dli(above, dial, hours), self.light.peak(above, dial)
        kept: dict[Reason, Mask] = {
            "clearance": sure >= self.closest_cm - NEAR_CM,
            "hot_spot_cap": no_more(peak, self.target.hot_spot_cap),
            "dli_low": no_less(dli, self.target.dli_low),
            "dli_high": no_more(dli, self.target.dli_high),
        }
        return {name: mask for name, mask in kept.items() if name not in self.ignored}

    def lasts(self, levers: Levers) -> Lasts:
        """Return how long levers last as they are."""
        kept = self._kept(np.array([levers.lamp_cm]), np.array([levers.dial_pct]), levers.hours)
        days = len(self.rising.likely_cm)
        good = np.ones(days, bool)
        for mask in kept.values():
            good &= mask[0]
        bad = np.flatnonzero(~good)
        if not len(bad):
            return Lasts(days, ())
        first = int(bad[0])
        return Lasts(
            first, tuple(name for name in REASONS if name in kept and not kept[name][0, first])
        )

    @cached_property
    def _heights(self) -> Array:
        """Heights above the floor a lamp may be hung at on the first day."""
        lowest = float(self.rising.most_cm[0]) + self.closest_cm
        steps = np.arange(
            np.ceil(lowest / self.step_cm - 1e-6),
            np.floor(self.highest_cm / self.step_cm + 1e-6) + 1,
        )
        return np.asarray(steps * self.step_cm, dtype=float)

    def raised(self, now: Levers, aim_dli: float) -> Proposal | None:
        """Return the lamp hung otherwise with the dial as it is; None where there is no room."""
        if self.fixed or not len(self._heights):
            return None
        return self._best(self._heights, np.array([now.dial_pct]), now, aim_dli)

    def dimmed(self, now: Levers, aim_dli: float) -> Proposal:
        """Return another dial with the lamp where it hangs."""
        return self._best(np.array([now.lamp_cm]), self.light.space.dials_pct, now, aim_dli)

    def both(self, now: Levers, aim_dli: float) -> Proposal | None:
        """Return the lamp hung and dialled otherwise; None where there is no room."""
        if self.fixed or not len(self._heights):
            return None
        return self._best(self._heights, self.light.space.dials_pct, now, aim_dli)

    def _best(self, heights: Array, dials: Array, now: Levers, aim_dli: float) -> Proposal:
        """Return of all pairs that last longest the one whose light comes nearest to an aim.

        Of those about as near the one that is least of a change.
        """
        lamp, dial = (each.ravel() for each in np.meshgrid(heights, dials, indexing="ij"))
        kept = self._kept(lamp, dial, now.hours)
        days = len(self.rising.likely_cm)
        good = np.ones((len(lamp), days), bool)
        for mask in kept.values():
            good &= mask
        lasting = np.where(good.all(axis=1), days, np.argmin(good, axis=1))
        left = np.flatnonzero(lasting == lasting.max())
        if not lasting.max() and "clearance" in kept and kept["clearance"][:, 0].any():
            # where nothing keeps all of it at least no leaf is burnt
            left = np.flatnonzero(kept["clearance"][:, 0])
        first = self.light.dli(lamp - self.rising.likely_cm[0], dial, now.hours)
        off = np.abs(first[left] - aim_dli)
        # a twentieth of the aim is not worth a longer way
        close = left[off <= off.min() + 0.05 * max(aim_dli, 1e-9)]
        move = np.abs(lamp[close] - now.lamp_cm) + np.abs(dial[close] - now.dial_pct) / 2
        at = int(close[np.argmin(move)])
        levers = replace(now, lamp_cm=float(lamp[at]), dial_pct=float(dial[at]))
        return Proposal(levers, self.lasts(levers), float(first[at]))

    def proposed(self, now: Levers, aim_dli: float, gap_days: int) -> Proposal:
        """Return what to do: one lever where that lasts until the next trip anyhow, else both.

        ``gap_days`` lie between two trips to the tent; to raise the lamp comes before dimming it.
        """
        both = self.both(now, aim_dli)
        enough = min(gap_days, len(self.rising.likely_cm))
        if both is not None:
            enough = min(enough, both.lasts.days)
        dimmed = self.dimmed(now, aim_dli)
        for one in (self.raised(now, aim_dli), dimmed):
            if one is not None and one.lasts.days >= max(enough, 1):
                return one
        return dimmed if both is None else both
