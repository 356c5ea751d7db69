"""The best setting for one stage, searched over every position of the three levers.

Headroom, dial, hours and night are never relaxed: settings beyond them are not in the lever
space. When nothing meets every target they are given up in the order of
:data:`canopy.plan.advice.GROUPS` and that is said; the hot-spot cap only when the grower asks.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.plan.advice import GROUPS, Obstacle, obstacles
from canopy.plan.certainty import Extremes, held
from canopy.plan.levers import FREE, LeverSpace, Locks, Outcome, Setting

Mask = NDArray[np.bool_]
Array = NDArray[np.float64]
Cells = NDArray[np.int64]
Index = tuple[int, int, int]
Lever = Literal["height", "dial", "hours"]
Aim = Literal["likely", "middle", "energy", "even", "gentle"]

LEVERS: tuple[Lever, ...] = ("height", "dial", "hours")

SAME_MISS = 0.01
"""Settings that miss a target by shares differing less than this count as missing it alike."""

SAME_DLI = 0.01
"""Settings whose distance to the middle of the DLI band differs by less than this share of the
middle count as equally near, and the energy decides between them. Our judgement: a timer step or
a dial mark moves the DLI by more."""


@dataclass(frozen=True)
class Solution:
    """The chosen setting, what was given up for it and which limits decided it.

    ``cap_in_the_way`` is whether a target that is missed would be met without the hot-spot cap.
    """

    setting: Setting
    outcome: Outcome
    relaxed: tuple[str, ...]
    binding: tuple[str, ...]
    obstacles: tuple[Obstacle, ...]
    cap_in_the_way: bool = False

    @property
    def fits(self) -> bool:
        """Whether every target is met."""
        return not self.relaxed


def target_masks(space: LeverSpace, target: StageTarget) -> dict[str, Mask]:
    """Return for every target where it holds, each broadcastable to the space's shape."""
    mean, dli = space.mean_ppfd(), space.dli()
    evenness = space.evenness[:, :, None]
    found = held(target, Extremes(mean, mean, space.peak_ppfd(), evenness, dli, dli))
    asked = {
        "evenness": target.evenness_goal is not None,
        "ppfd_low": target.ppfd_low is not None,
        "ppfd_high": target.ppfd_high is not None,
    }
    return {name: mask for name, mask in found.items() if asked.get(name, True)}


def _together(masks: dict[str, Mask], without: tuple[str, ...], allowed: Mask) -> Mask:
    """Return where every mask but those named holds among what is allowed, at full shape."""
    whole = allowed.copy()
    for name, mask in masks.items():
        if name not in without:
            whole &= mask
    return whole


class _Cells:
    """Settings as flat numbers, and what each gives; everything is looked up only where asked."""

    def __init__(self, space: LeverSpace, target: StageTarget) -> None:
        self.space, self.target = space, target
        self.times = len(space.hours)
        self._dli = space.dli().ravel()
        self._mean, self._peak = space.mean.ravel(), space.peak.ravel()
        self._evenness, self._kwh = space.evenness.ravel(), space.kwh().ravel()

    def number(self, index: Index) -> int:
        """Return a setting's number."""
        return int(np.ravel_multi_index(index, self.space.shape))

    def index(self, cell: int) -> Index:
        """Return the setting with a number."""
        h, d, t = np.unravel_index(cell, self.space.shape)
        return int(h), int(d), int(t)

    def peak(self, cells: Cells) -> Array:
        """Return the brightest spot."""
        return self._peak[cells // self.times]

    def _evenness_at(self, cells: Cells) -> Array:
        return self._evenness[cells // self.times]

    def _misses(self, ignored: str) -> Iterator[Callable[[Cells], Array]]:
        """Yield how far settings miss the soft targets, weightiest first, as shares."""
        target = self.target

        def outside(value: Array, name: str, low: float, high: float) -> Array:
            below = 0.0 if ignored == f"{name}_low" else low - value
            above = 0.0 if ignored == f"{name}_high" else value - high
            return np.maximum(np.maximum(below, above), 0.0) / high

        yield lambda at: outside(self._dli[at], "dli", target.dli_low, target.dli_high)
        low, high, goal = target.ppfd_low, target.ppfd_high, target.evenness_goal
        if low is not None and high is not None:
            yield lambda at: outside(self._mean[at // self.times], "ppfd", low, high)
        if goal is not None and ignored != "evenness":
            yield lambda at: np.maximum(goal - self._evenness_at(at), 0.0)

    def best(self, cells: Cells, aim: Aim, ignored: str = "") -> int:
        """Return the best setting: least miss, then aim, then the band's middle, then energy.

        Parameters
        ----------
        cells : array of int, not empty, ascending
        aim : Aim
        ignored : str
            A target that does not count.
        """
        for miss in self._misses(ignored):
            missed = miss(cells)
            # where a target can be met, missing it by a little is not the same
            cells = _least(missed, cells, SAME_MISS if missed.min() > 0 else 0.0)
        middle = self.target.dli_middle
        if aim == "energy":
            cells = _least(self._kwh[cells % len(self._kwh)], cells, 1e-9)
        elif aim == "even":
            cells = _least(-self._evenness_at(cells), cells, 1e-9)
        elif aim == "gentle":
            cells = _least(self.peak(cells), cells, 1e-9)
        cells = _least(np.abs(self._dli[cells] - middle), cells, SAME_DLI * middle)
        cells = _least(self._kwh[cells % len(self._kwh)], cells, 1e-9)
        cells = _least(-self._evenness_at(cells), cells, 1e-9)
        cells = _least(np.abs(self._dli[cells] - middle), cells)
        return int(cells[0])


def _least(values: Array, cells: Cells, tolerance: float = 0.0) -> Cells:
    """Return the cells whose value is within tolerance of the least."""
    nearest: Cells = cells[values <= values.min() + tolerance]
    return nearest


def _binding(
    cells: _Cells,
    masks: dict[str, Mask],
    allowed: Mask,
    relaxed: tuple[str, ...],
    chosen: int,
    aim: Aim,
) -> tuple[str, ...]:
    """Targets whose removal would change the choice, and levers at the end of their travel."""
    found = []
    strict = _together(masks, relaxed, allowed)
    for name in masks:
        if name in relaxed:
            continue
        # only a setting that this target alone forbids could take the choice's place
        freed = np.flatnonzero(_together(masks, (*relaxed, name), allowed) & ~strict)
        if len(freed):
            rivals = np.sort(np.append(freed, chosen))
            if cells.best(rivals, aim, name) != chosen:
                found.append(name)
    return (*found, *ends_of_travel(cells.space, allowed, cells.index(chosen)))


def ends_of_travel(space: LeverSpace, allowed: Mask, index: Index) -> tuple[str, ...]:
    """Return which levers stand at an end of what is allowed, of those that can move."""
    allowed = np.broadcast_to(allowed, space.shape)
    found = []
    for axis, (lever, at) in enumerate(zip(LEVERS, index)):
        other = tuple(i for i in range(3) if i != axis)
        free = np.flatnonzero(allowed.any(axis=other))
        if len(free) > 1 and at <= free[0]:
            found.append(f"{lever}_lowest")
        if len(free) > 1 and at >= free[-1]:
            found.append(f"{lever}_highest")
    return tuple(found)


def solve(
    space: LeverSpace,
    target: StageTarget,
    over_cap: bool = False,
    aim: Aim = "middle",
    locks: Locks = FREE,
    why: bool = True,
) -> Solution:
    """Return the best setting for a stage.

    Parameters
    ----------
    space : LeverSpace
        What tent, dial and timer allow.
    target : StageTarget
    over_cap : bool
        The grower asked that the hot-spot cap be given up too.
    aim : {'likely', 'middle', 'energy', 'even', 'gentle'}
        What to choose by among settings that meet every target: nearest the middle of the DLI
        band, least energy, most even, or the dimmest brightest spot. The likeliest is found over
        all days of a stage; one day by itself takes the middle for it.
    locks : Locks
        Levers that stay where they are.
    why : bool
        Whether what decides the choice is worked out too.

    Returns
    -------
    Solution
        The best by the aim with the peak at or under the cap. When nothing fits, the
        nearest miss and what stands in the way.
    """
    masks = target_masks(space, target)
    given_up: tuple[str, ...] = ("hot_spot_cap",) if over_cap else ()
    relaxed = given_up
    allowed = np.broadcast_to(locks.allowed(space), space.shape)
    mask = _together(masks, relaxed, allowed)
    for group in GROUPS:
        if mask.any():
            break
        relaxed = relaxed + tuple(name for name in group if name in masks)
        mask = _together(masks, relaxed, allowed)
    cells = _Cells(space, target)
    fitting = np.flatnonzero(mask)
    if not len(fitting):
        # even the weakest setting passes the cap: take the one that passes it least
        relaxed = (*relaxed, "hot_spot_cap")
        fitting = np.flatnonzero(allowed)
        fitting = _least(cells.peak(fitting), fitting, 1e-9)
    chosen = cells.best(fitting, aim)
    index = cells.index(chosen)
    broken = tuple(name for name in relaxed if not np.broadcast_to(masks[name], space.shape)[index])
    return Solution(
        setting=space.setting(index),
        outcome=space.outcome(index),
        relaxed=broken,
        binding=_binding(cells, masks, allowed, relaxed, chosen, aim) if why else (),
        obstacles=obstacles(space, target, masks, locks, broken, index, over_cap),
        cap_in_the_way=not over_cap and _cap_stops(masks, allowed, broken),
    )


def _cap_stops(masks: dict[str, Mask], allowed: Mask, broken: tuple[str, ...]) -> bool:
    """Return whether the cap is missed, or the weightiest target missed would be met without it."""
    if "hot_spot_cap" in broken:
        return True
    given_up: tuple[str, ...] = ("hot_spot_cap", *masks)
    for group in reversed(GROUPS):
        given_up = tuple(name for name in given_up if name not in group)
        if set(group) & set(broken):
            return bool(_together(masks, given_up, allowed).any())
    return False
