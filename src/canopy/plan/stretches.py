"""Targets held against a setting, and the lit stretch of each lever given the other two."""

from dataclasses import dataclass

import numpy as np

from canopy.crop.targets import StageTarget
from canopy.plan.levers import LeverSpace
from canopy.plan.solver import LEVERS, Index, Lever, Mask, target_masks


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


def limits(
    space: LeverSpace, target: StageTarget, index: Index, masks: dict[str, Mask] | None = None
) -> tuple[Limit, ...]:
    """Return every target held against the setting at indices.

    ``masks`` are :func:`canopy.plan.solver.target_masks`, where they are at hand.
    """
    masks = target_masks(space, target) if masks is None else masks
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
    space: LeverSpace,
    target: StageTarget,
    index: Index,
    given_up: tuple[str, ...] = (),
    masks: dict[str, Mask] | None = None,
) -> tuple[Stretch, ...]:
    """Return the lit stretch of each lever given the other two, for height, dial and hours.

    Targets named in ``given_up`` do not count; ``masks`` as for :func:`limits`.
    """
    every = target_masks(space, target) if masks is None else masks
    masks = {name: mask for name, mask in every.items() if name not in given_up}
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
