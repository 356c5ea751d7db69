"""Why a stage cannot have what it asks, and the smallest change that would help.

Every advice is worked out on the same lever space as the plan, daylight and lost hours included,
and rounded to what can be done: whole timer steps, whole per cents, whole umol. Followed, the
target is met; a property test holds that. PPFD in umol m-2 s-1, DLI in mol m-2 d-1.
"""

from dataclasses import dataclass, replace
from math import ceil, floor, log10
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.plan.levers import FREE, LeverSpace, Locks, Outcome, no_less, no_more

Mask = NDArray[np.bool_]
Array = NDArray[np.float64]
Index = tuple[int, int, int]

Change = Literal[
    "unlock",
    "beyond_maker",
    "more_hours",
    "higher_cap",
    "stronger_lamp",
    "weaker_dial",
    "less_daylight",
    "lower_goal",
    "wider_band",
    "between_steps",
    "other_lamp",
]
"""``unlock``: free a locked lever. ``beyond_maker``: hang it outside the heights its maker names.
``more_hours``: h a day beyond the longest allowed.
``higher_cap``, ``lower_goal``, ``wider_band``: the limit itself, moved to ``amount``.
``between_steps``: as wider_band, the cause being that timer and dial step over the band.
``stronger_lamp``: by a share. ``weaker_dial``: a dial that goes down to a share of full light.
``less_daylight``: down to a DLI. ``other_lamp``: nothing of this one helps."""

TargetName = Literal[
    "hot_spot_cap", "evenness", "ppfd_low", "ppfd_high", "dli_low", "dli_high", "hours_low"
]
BindingName = Literal[
    TargetName,
    "height_lowest",
    "height_highest",
    "dial_lowest",
    "dial_highest",
    "hours_lowest",
    "hours_highest",
]
"""What may decide a plan: a target, or a lever at an end of its travel."""

GROUPS = (("evenness",), ("ppfd_low", "ppfd_high"), ("dli_low", "dli_high"))
"""Targets in the order they are given up; the hot-spot cap last."""

LONGEST_DAY_H = 20.0
"""No longer day is proposed: many crops need some night. Common practice, no source."""

DIGITS = 3
TOP_CAP = 5000.0
LEAST_DLI = 0.01
SLACK = 1e-9


@dataclass(frozen=True)
class Obstacle:
    """Why a target fails: what there is of it, what was asked, and the change that would help.

    ``reach`` is the best of it that any setting gives, whatever becomes of the other targets;
    ``amount`` the size of the change, rounded so that it suffices as it stands.
    """

    name: str
    best: float
    asked: float
    change: Change
    amount: float
    reach: float


def _place(value: float) -> float:
    return 10.0 ** (floor(log10(abs(value))) - DIGITS + 1) if value else 1.0


def rounded_up(value: float) -> float:
    """Return a figure of three digits that is no less.

    >>> rounded_up(14.0123), rounded_up(0.4)
    (14.1, 0.4)
    """
    place = _place(value)
    return round(ceil(value / place - SLACK) * place, 12)


def rounded_down(value: float) -> float:
    """Return a figure of three digits that is no more.

    >>> rounded_down(13.987)
    13.9
    """
    place = _place(value)
    return round(floor(value / place + SLACK) * place, 12)


class _Case:
    """One stage that cannot have everything, and what is at hand to judge it."""

    def __init__(
        self,
        space: LeverSpace,
        target: StageTarget,
        masks: dict[str, Mask],
        locks: Locks,
        index: Index,
        over_cap: bool,
    ) -> None:
        self.space, self.target, self.masks = space, target, masks
        self.locks, self.allowed = locks, locks.allowed(space)
        self.over_cap = over_cap
        self.outcome: Outcome = space.outcome(index)
        capped = no_more(space.peak, np.inf if over_cap else target.hot_spot_cap)
        self.here: Mask = self.allowed.any(axis=2) & capped
        self.hours: Array = space.hours[self.allowed.any(axis=(0, 1))]

    def made(self, name: str, change: Change, amount: float) -> Obstacle:
        """Return an obstacle with what there is of a target, what was asked and the best of it."""
        outcome, space = self.outcome, self.space
        target = self.target
        value, asked, every = {
            "dli_low": (outcome.dli, target.dli_low, space.dli),
            "dli_high": (outcome.dli, target.dli_high, space.dli),
            "ppfd_low": (outcome.mean, target.ppfd_low, lambda: space.mean),
            "ppfd_high": (outcome.mean, target.ppfd_high, lambda: space.mean),
            "evenness": (outcome.evenness, target.evenness_goal, lambda: space.evenness),
            "hot_spot_cap": (outcome.peak, target.hot_spot_cap, lambda: space.peak),
        }[name]
        least = name in ("dli_high", "ppfd_high", "hot_spot_cap")
        reach = float(every().min() if least else every().max())
        return Obstacle(name, value, float(asked or 0.0), change, amount, reach)

    def unlocks(self, name: str) -> bool:
        """Return whether it is a lock that keeps a target from being met beside weightier ones."""
        return self.locks != FREE and self._met_on(name, FREE.allowed(self.space))

    def beyond(self, name: str) -> bool:
        """Return whether it is the maker's range that keeps a target from being met."""
        reach, choices = self.space.height_reach, self.space.height_choices
        if reach is None or choices is None or not (reach & ~choices).any():
            return False
        return self._met_on(name, self.locks.allowed(replace(self.space, height_choices=reach)))

    def _met_on(self, name: str, free: Mask) -> bool:
        """Return whether a target could be met beside weightier ones on so many settings."""
        weightier: tuple[str, ...] = () if self.over_cap else ("hot_spot_cap",)
        for group in reversed(GROUPS):
            if name in weightier:
                break
            weightier += group
        met = free.copy()
        for other in weightier:
            met &= self.masks.get(other, np.True_)
        return bool(met.any())

    def advise(self, name: str) -> Obstacle:
        """Return the smallest change that gives one target."""
        if self.unlocks(name):
            return self.made(name, "unlock", 0.0)
        if self.beyond(name):
            return self.made(name, "beyond_maker", 0.0)
        if name == "dli_low":
            return self._more_light()
        if name == "dli_high":
            return self._less_light()
        if name == "hot_spot_cap":
            least = float(ceil(self.space.peak[self.allowed.any(axis=2)].min() - SLACK))
            return self.made(name, *_or_other("higher_cap", least, least <= TOP_CAP))
        if name == "evenness":
            goal = floor(self.outcome.evenness * 100 + SLACK) / 100
            return self.made(name, *_or_other("lower_goal", goal, goal > 0))
        if name == "ppfd_low":
            low = rounded_down(self.outcome.mean)
            return self.made(name, *_or_other("wider_band", low, low > 0))
        high = rounded_up(self.outcome.mean)
        return self.made(name, *_or_other("wider_band", high, high <= TOP_CAP))

    def _reaches(self, mean: Array, other_dli: Array, photoperiod_h: float) -> Mask:
        """Return which means, with other light beside them, give a DLI in the band."""
        dli = self.space.lamp_dli(mean, photoperiod_h) + other_dli
        return no_less(dli, self.target.dli_low) & no_more(dli, self.target.dli_high)

    def _other(self) -> Array:
        """Return what other light adds at every height and dial."""
        return np.broadcast_to(self.space.other_dli[:, None], self.space.mean.shape)

    def _more_light(self) -> Obstacle:
        space, target, name = self.space, self.target, "dli_low"
        longest = float(self.hours[-1])
        mean, other = space.timed_mean[self.here], self._other()[self.here]
        reached = (space.lamp_dli(mean, longest) + other).max()
        if no_less(reached, target.dli_low):
            return self._wider_low("between_steps")
        if self.locks.hours is None and target.response != "short-day":
            most = min(LONGEST_DAY_H, 24 - target.night_h)
            for steps in range(1, int((most - longest) / space.step_h + SLACK) + 1):
                if self._reaches(mean, other, longest + steps * space.step_h).any():
                    return self.made(name, "more_hours", steps * space.step_h)
        in_band = (self.masks["dli_low"] & self.masks["dli_high"] & self.allowed).any(axis=2)
        if not self.over_cap and in_band.any():
            cap = float(ceil(space.peak[in_band].min() - SLACK))
            if cap <= TOP_CAP:
                return self.made(name, "higher_cap", cap)
        more = self._stronger(longest)
        if more is not None:
            return self.made(name, "stronger_lamp", more)
        return self._wider_low("wider_band")

    def _stronger(self, longest: float) -> float | None:
        """Return how much more light the lamp needs, as a share; ``None`` when the cap forbids."""
        space, target = self.space, self.target
        rows = np.flatnonzero(self.allowed.any(axis=(1, 2)))
        dial = int(np.flatnonzero(self.allowed.any(axis=(0, 2)))[-1])
        rows = rows[space.timed_mean[rows, dial] > 0]
        mean, peak = space.timed_mean[rows, dial], space.peak[rows, dial]
        needed = space.mean_for(target.dli_low, longest, rows)
        if not len(rows) or not np.isfinite(needed).all():
            return None
        share = np.ceil((needed / mean - 1) * 100 - SLACK) / 100
        good = self._reaches(mean * (1 + share), space.other_dli[rows], longest)
        if not self.over_cap:
            good &= no_more(peak * (1 + share), target.hot_spot_cap)
        return float(share[good].min()) if good.any() else None

    def _wider_low(self, change: Change) -> Obstacle:
        low = rounded_down(self.outcome.dli)
        return self.made("dli_low", *_or_other(change, low, low >= LEAST_DLI))

    def _less_light(self) -> Obstacle:
        space, target, name = self.space, self.target, "dli_high"
        shortest = float(self.hours[0])
        every = space.lamp_dli(space.timed_mean[self.here], shortest) + self._other()[self.here]
        lamp = float(every.min()) - space.daylight_dli
        high = rounded_up(self.outcome.dli)
        wider = self.made(name, "wider_band", high)
        if no_more(lamp + space.daylight_dli, target.dli_high):
            return self.made(name, "between_steps", high)
        if space.daylight_dli > target.dli_high:
            left = rounded_down(target.dli_high - lamp) if target.dli_high > lamp else -1.0
            fits = left >= 0 and bool(no_less(left + lamp, target.dli_low))
            return self.made(name, "less_daylight", left) if fits else wider
        weaker = self._weaker(shortest)
        return wider if weaker is None else self.made(name, "weaker_dial", weaker)

    def _weaker(self, shortest: float) -> float | None:
        """Return the share of full light a dial would have to go down to; ``None`` for no dial."""
        space, target = self.space, self.target
        rows = np.asarray(self.here.any(axis=1))
        held = np.zeros(len(space.heights_cm)) if space.held_mean is None else space.held_mean
        timed = space.timed_mean[:, 0]
        full = (timed - held) / space.light[0] if space.light[0] > 0 else held * 0
        usable = rows & (full > 0)
        if not usable.any() or self.locks.dial_pct is not None:
            return None
        needed = space.mean_for(target.dli_high, shortest, np.flatnonzero(usable))
        if not np.isfinite(needed).all():
            # in no time of full light no dial changes anything
            return None
        shares = np.floor((needed - held[usable]) / full[usable] * 100 + SLACK) / 100
        dimmed, other = held[usable] + full[usable] * shares, space.other_dli[usable]
        good = (shares > 0) & self._reaches(dimmed, other, shortest)
        return float(shares[good].max()) if good.any() else None


def _or_other(change: Change, amount: float, possible: bool) -> tuple[Change, float]:
    return (change, amount) if possible else ("other_lamp", 0.0)


def obstacles(
    space: LeverSpace,
    target: StageTarget,
    masks: dict[str, Mask],
    locks: Locks,
    broken: tuple[str, ...],
    index: Index,
    over_cap: bool,
) -> tuple[Obstacle, ...]:
    """Return for every target missed why, and the smallest change that would give it.

    Parameters
    ----------
    space : LeverSpace
    target : StageTarget
    masks : dict of array
        Where each target holds, broadcastable to the space's shape.
    locks : Locks
    broken : tuple of str
        The targets missed at the setting.
    index : tuple of int
        The setting.
    over_cap : bool
        The grower has given up the hot-spot cap: it stands in nobody's way.
    """
    case = _Case(space, target, masks, locks, index, over_cap)
    if over_cap:
        names = [name for name in broken if name != "hot_spot_cap"]
    elif "hot_spot_cap" in broken:
        # while even the dimmest setting passes the cap, nothing else can be helped
        names = ["hot_spot_cap"]
    else:
        names = list(broken)
    return tuple(case.advise(name) for name in names)
