"""The best setting for one stage, searched over every position of the three levers.

Headroom, dial, hours and night are never relaxed: settings beyond them are not in the lever
space. When nothing meets every target they are given up in the order of ``RELAXED_IN_ORDER``
and that is said; the hot-spot cap only when the grower asks.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.plan.levers import LeverSpace, Outcome, Setting
from canopy.quantities import DLI_PER_UMOL_HOUR

Mask = NDArray[np.bool_]
Array = NDArray[np.float64]
Index = tuple[int, int, int]
Lever = Literal["height", "dial", "hours"]
Aim = Literal["middle", "energy", "even", "gentle"]

LEVERS: tuple[Lever, ...] = ("height", "dial", "hours")
RELAXED_IN_ORDER = ("evenness", "ppfd_low", "ppfd_high", "dli_low", "dli_high")
GROUPS = (("evenness",), ("ppfd_low", "ppfd_high"), ("dli_low", "dli_high"))

LONGEST_DAY_H = 20.0
"""No longer day is proposed: many crops need some night. Common practice, no source."""

SAME_MISS = 0.01
"""Settings that miss a target by shares differing less than this count as missing it alike."""

SAME_DLI = 0.01
"""Settings whose distance to the middle of the DLI band differs by less than this share of the
middle count as equally near, and the energy decides between them. Our judgement: a timer step or
a dial mark moves the DLI by more."""


@dataclass(frozen=True)
class Limit:
    """One target held against one setting: what it is, what it may be, whether it holds."""

    name: str
    value: float
    bound: float
    holds: bool


@dataclass(frozen=True)
class Part:
    """An unbroken part of a lit stretch, and what fails just outside its two ends.

    Nothing fails outside an end that is the end of the lever's travel.
    """

    low: float
    high: float
    below: tuple[str, ...]
    above: tuple[str, ...]


@dataclass(frozen=True)
class Stretch:
    """Where on a lever's travel every target is met, the other two staying put.

    ``parts`` ascend. ``nearest`` is the nearest position that works, ``None`` if none does.
    """

    lever: Lever
    lowest: float
    highest: float
    parts: tuple[Part, ...]
    nearest: float | None


@dataclass(frozen=True)
class Obstacle:
    """Why nothing fits: the target that fails, the best that can be had, what was asked.

    ``change`` names the smallest change that would help and ``amount`` its size.
    """

    name: str
    best: float
    asked: float
    change: str
    amount: float


@dataclass(frozen=True)
class Solution:
    """The chosen setting, what was given up for it and which limits decided it."""

    setting: Setting
    outcome: Outcome
    relaxed: tuple[str, ...]
    binding: tuple[str, ...]
    obstacles: tuple[Obstacle, ...]

    @property
    def fits(self) -> bool:
        """Whether every target is met."""
        return not self.relaxed


def target_masks(space: LeverSpace, target: StageTarget) -> dict[str, Mask]:
    """Return for every target where it holds, each broadcastable to the space's shape."""
    mean, dli = space.mean_ppfd(), space.dli()
    masks: dict[str, Mask] = {"hot_spot_cap": space.peak_ppfd() <= target.hot_spot_cap}
    if target.evenness_goal is not None:
        masks["evenness"] = (space.evenness >= target.evenness_goal)[:, :, None]
    if target.ppfd_low is not None and target.ppfd_high is not None:
        masks["ppfd_low"] = mean >= target.ppfd_low
        masks["ppfd_high"] = mean <= target.ppfd_high
    masks["dli_low"] = dli >= target.dli_low
    masks["dli_high"] = dli <= target.dli_high
    return masks


def _together(masks: dict[str, Mask], without: tuple[str, ...], shape: tuple[int, ...]) -> Mask:
    """Return where every mask but those named holds, at full shape."""
    whole = np.ones(shape, bool)
    for name, mask in masks.items():
        if name not in without:
            whole &= mask
    return whole


def _least(values: Array, mask: Mask, tolerance: float = 0.0) -> Mask:
    """Return where the mask holds and the value is within tolerance of the least."""
    least = np.min(np.where(mask, values, np.inf))
    near: Mask = mask & (values <= least + tolerance)
    return near


def _misses(space: LeverSpace, target: StageTarget, ignored: str) -> tuple[Array, ...]:
    """Return how far every setting misses the soft targets, weightiest first, as shares."""
    dli, mean = space.dli(), space.mean_ppfd()

    def outside(value: Array, name: str, low: float, high: float) -> Array:
        below = 0.0 if ignored == f"{name}_low" else low - value
        above = 0.0 if ignored == f"{name}_high" else value - high
        return np.maximum(np.maximum(below, above), 0.0) / high

    found = [outside(dli, "dli", target.dli_low, target.dli_high)]
    if target.ppfd_low is not None and target.ppfd_high is not None:
        found.append(outside(mean, "ppfd", target.ppfd_low, target.ppfd_high))
    if target.evenness_goal is not None and ignored != "evenness":
        short = np.maximum(target.evenness_goal - space.evenness, 0.0)
        found.append(short[:, :, None])
    return tuple(np.broadcast_to(miss, space.shape) for miss in found)


@dataclass(frozen=True)
class Locks:
    """Levers that stay where they are: positions, ``None`` where free."""

    height_cm: float | None = None
    dial_pct: float | None = None
    hours: float | None = None

    def allowed(self, space: LeverSpace) -> Mask:
        """Return which settings keep every locked lever at its nearest position."""
        free: list[Mask] = []
        for at, positions in zip(
            (self.height_cm, self.dial_pct, self.hours),
            (space.heights_cm, space.dials_pct, space.hours),
        ):
            mask = np.ones(len(positions), bool)
            if at is not None:
                mask[:] = False
                mask[int(np.abs(positions - at).argmin())] = True
            free.append(mask)
        return free[0][:, None, None] & free[1][None, :, None] & free[2][None, None, :]


FREE = Locks()


def _choose(space: LeverSpace, target: StageTarget, mask: Mask, ignored: str = "",
            aim: Aim = "middle") -> Index:  # fmt: skip
    """Choose the least miss, then by the aim, then nearest the band's middle, then least energy."""
    best = mask
    for miss in _misses(space, target, ignored):
        if best.sum() > 1:
            best = _least(miss, best, SAME_MISS)
    off = np.abs(space.dli() - target.dli_middle)
    if aim == "energy":
        best = _least(np.broadcast_to(space.kwh(), space.shape), best, 1e-9)
    elif aim == "even":
        best = _least(np.broadcast_to(-space.evenness[:, :, None], space.shape), best, 1e-9)
    elif aim == "gentle":
        best = _least(np.broadcast_to(space.peak_ppfd(), space.shape), best, 1e-9)
    best = _least(off, best, SAME_DLI * target.dli_middle)
    best = _least(np.broadcast_to(space.kwh(), space.shape), best, 1e-9)
    best = _least(np.broadcast_to(-space.evenness[:, :, None], space.shape), best, 1e-9)
    best = _least(off, best)
    h, d, t = np.unravel_index(int(best.argmax()), space.shape)
    return int(h), int(d), int(t)


def _binding(space: LeverSpace, target: StageTarget, masks: dict[str, Mask], allowed: Mask,
             relaxed: tuple[str, ...], index: Index, aim: Aim) -> tuple[str, ...]:  # fmt: skip
    """Targets whose removal would change the choice, and levers at the end of their travel."""
    found = []
    for name in masks:
        if name in relaxed:
            continue
        looser = allowed & _together(masks, (*relaxed, name), space.shape)
        if _choose(space, target, looser, name, aim) != index:
            found.append(name)
    whole = bool(allowed.all())
    for lever, at, count in zip(LEVERS, index, space.shape):
        if not whole and not _moves(allowed, LEVERS.index(lever)):
            continue
        if count > 1 and at == 0:
            found.append(f"{lever}_lowest")
        if count > 1 and at == count - 1:
            found.append(f"{lever}_highest")
    return tuple(found)


def _moves(allowed: Mask, axis: int) -> bool:
    """Return whether a lever is free."""
    other = tuple(i for i in range(3) if i != axis)
    return int(allowed.any(axis=other).sum()) > 1


def solve(
    space: LeverSpace,
    target: StageTarget,
    over_cap: bool = False,
    aim: Aim = "middle",
    locks: Locks = FREE,
) -> Solution:
    """Return the best setting for a stage.

    Parameters
    ----------
    space : LeverSpace
        What tent, dial and timer allow.
    target : StageTarget
    over_cap : bool
        The grower asked that the hot-spot cap be given up too.
    aim : {'middle', 'energy', 'even', 'gentle'}
        What to choose by among settings that meet every target: nearest the middle of the DLI
        band, least energy, most even, or the dimmest brightest spot.
    locks : Locks
        Levers that stay where they are.

    Returns
    -------
    Solution
        The best by the aim with the peak at or under the cap. When nothing fits, the
        nearest miss and what stands in the way.
    """
    masks = target_masks(space, target)
    given_up: tuple[str, ...] = ("hot_spot_cap",) if over_cap else ()
    relaxed = given_up
    allowed = locks.allowed(space)
    mask = allowed & _together(masks, relaxed, space.shape)
    for group in GROUPS:
        if mask.any():
            break
        relaxed = relaxed + tuple(name for name in group if name in masks)
        mask = allowed & _together(masks, relaxed, space.shape)
    if not mask.any():
        # even the weakest setting passes the cap: take the one that passes it least
        relaxed = (*relaxed, "hot_spot_cap")
        peak = np.broadcast_to(space.peak_ppfd(), space.shape)
        mask = _least(peak, allowed, 1e-9)
    index = _choose(space, target, mask, "", aim)
    broken = tuple(name for name in relaxed if not np.broadcast_to(masks[name], space.shape)[index])
    return Solution(
        setting=space.setting(index),
        outcome=space.outcome(index),
        relaxed=broken,
        binding=_binding(space, target, masks, allowed, relaxed, index, aim),
        obstacles=_obstacles(space, target, masks, broken, index),
    )


def _obstacles(space: LeverSpace, target: StageTarget, masks: dict[str, Mask],
               broken: tuple[str, ...], index: Index) -> tuple[Obstacle, ...]:  # fmt: skip
    """Say for every target given up what the best is and the smallest change that would help."""
    outcome = space.outcome(index)
    found = []
    for name in broken:
        if name == "dli_low":
            reached = masks["dli_low"]
            if reached.any():
                # it can be met, so the hot-spot cap is what stands in the way
                per_hour = outcome.mean * DLI_PER_UMOL_HOUR
                hours = target.dli_low / per_hour - float(space.hours[-1]) if per_hour else 24.0
                if target.response != "short-day" and space.hours[-1] + hours <= LONGEST_DAY_H:
                    found.append(Obstacle(name, outcome.dli, target.dli_low, "more_hours", hours))
                else:
                    peak = np.where(reached, space.peak_ppfd(), np.inf).min()
                    found.append(
                        Obstacle(name, outcome.dli, target.dli_low, "higher_cap", float(peak))
                    )
            else:
                full = float(space.mean[:, -1].max())
                needed = target.dli_low / (float(space.hours[-1]) * DLI_PER_UMOL_HOUR)
                more = needed / full - 1
                found.append(Obstacle(name, outcome.dli, target.dli_low, "stronger_lamp", more))
        elif name == "dli_high":
            less = target.dli_high / outcome.dli * float(space.light[0])
            found.append(Obstacle(name, outcome.dli, target.dli_high, "weaker_dial", less))
        elif name == "evenness" and target.evenness_goal is not None:
            best = float(space.evenness.max())
            found.append(Obstacle(name, outcome.evenness, target.evenness_goal, "lower_goal", best))
        elif name == "ppfd_low" and target.ppfd_low is not None:
            found.append(Obstacle(name, outcome.mean, target.ppfd_low, "wider_band", outcome.mean))
        elif name == "ppfd_high" and target.ppfd_high is not None:
            found.append(Obstacle(name, outcome.mean, target.ppfd_high, "wider_band", outcome.mean))
        elif name == "hot_spot_cap":
            least = float(space.peak.min())
            found.append(
                Obstacle(
                    name,
                    outcome.peak,
                    target.hot_spot_cap,
                    "higher_cap",
                    least,
                )
            )
    return tuple(found)


def limits(space: LeverSpace, target: StageTarget, index: Index) -> tuple[Limit, ...]:
    """Return every target held against the setting at indices."""
    masks = target_masks(space, target)
    outcome = space.outcome(index)
    values: dict[str, tuple[float, float | None]] = {
        "hot_spot_cap": (outcome.peak, target.hot_spot_cap),
        "evenness": (outcome.evenness, target.evenness_goal),
        "ppfd_low": (outcome.mean, target.ppfd_low),
        "ppfd_high": (outcome.mean, target.ppfd_high),
        "dli_low": (outcome.dli, target.dli_low),
        "dli_high": (outcome.dli, target.dli_high),
    }
    found = []
    for name, mask in masks.items():
        value, bound = values[name]
        if bound is not None:
            holds = bool(np.broadcast_to(mask, space.shape)[index])
            found.append(Limit(name, value, bound, holds))
    return tuple(found)


def _line(mask: Mask, shape: tuple[int, int, int], axis: int, index: Index) -> Mask:
    """Return the mask along one lever, the other two at the given indices."""
    at = tuple(slice(None) if i == axis else index[i] for i in range(3))
    return np.asarray(np.broadcast_to(mask, shape)[at])


def stretches(
    space: LeverSpace, target: StageTarget, index: Index, given_up: tuple[str, ...] = ()
) -> tuple[Stretch, ...]:
    """Return the lit stretch of each lever given the other two, for height, dial and hours.

    Targets named in ``given_up`` do not count.
    """
    masks = {n: mask for n, mask in target_masks(space, target).items() if n not in given_up}
    everywhere = np.ones((1, 1, 1), bool)
    found = []
    for axis, (lever, positions) in enumerate(
        zip(LEVERS, (space.heights_cm, space.dials_pct, space.hours))
    ):
        lines = {name: _line(mask, space.shape, axis, index) for name, mask in masks.items()}
        works = np.logical_and.reduce(
            [_line(everywhere, space.shape, axis, index), *lines.values()]
        )
        steps = np.diff(np.concatenate([[0], works.astype(int), [0]]))
        starts, stops = np.flatnonzero(steps == 1), np.flatnonzero(steps == -1) - 1
        spans = list(zip(starts.tolist(), stops.tolist()))

        def failing(
            at: int, lines: dict[str, Mask] = lines, count: int = len(positions)
        ) -> tuple[str, ...]:
            inside = 0 <= at < count
            return tuple(n for n, line in lines.items() if not line[at]) if inside else ()

        good = np.flatnonzero(works)
        nearest = None
        if len(good):
            nearest = float(positions[good[np.abs(good - index[axis]).argmin()]])
        found.append(
            Stretch(
                lever=lever,
                lowest=float(positions[0]),
                highest=float(positions[-1]),
                parts=tuple(
                    Part(float(positions[a]), float(positions[b]), failing(a - 1), failing(b + 1))
                    for a, b in spans
                ),
                nearest=nearest,
            )
        )
    return tuple(found)
