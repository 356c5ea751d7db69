"""Targets held against a setting, and the lit stretch of each lever given the other two."""

from dataclasses import dataclass

import numpy as np

from canopy.crop.targets import StageTarget
from canopy.plan.certainty import sure_at
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
class Span:
    """From one position of a lever to another."""

    low: float
    high: float


@dataclass(frozen=True)
class Stretch:
    """Where on a lever's travel every target is met, the other two staying put.

    ``parts`` ascend. ``sure`` are the spans of them where every target holds over the whole range
    of what is not known. ``nearest`` is the nearest position that works, ``None`` if none does.
    """

    lever: Lever
    lowest: float
    highest: float
    parts: tuple[Part, ...]
    sure: tuple[Span, ...]
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
        "hours_low": (space.day_h(index), target.hours_low),
    }
    found = []
    for name, mask in day_judged(space, masks).items():
        value, bound = values[name]
        # a day that is long enough is no news
        if bound is not None and not (name == "hours_low" and mask[0, 0, index[2]]):
            holds = bool(np.broadcast_to(mask, space.shape)[index])
            found.append(Limit(name, value, bound, holds))
    return tuple(found)


def day_judged(space: LeverSpace, masks: dict[str, Mask]) -> dict[str, Mask]:
    """Return masks with one more: where lamp and daylight make the crop's day."""
    if space.hours_choices is None or space.hours_choices.all():
        return masks
    return {**masks, "hours_low": space.hours_choices[None, None, :]}


def _line(mask: Mask, shape: tuple[int, int, int], axis: int, index: Index) -> Mask:
    """Return the mask along one lever, the other two at the given indices."""
    at = tuple(slice(None) if i == axis else index[i] for i in range(3))
    return np.asarray(np.broadcast_to(mask, shape)[at])


def _spans(works: Mask) -> list[tuple[int, int]]:
    """Return the first and last place of every unbroken run."""
    steps = np.diff(np.concatenate([[0], works.astype(int), [0]]))
    return list(
        zip(np.flatnonzero(steps == 1).tolist(), (np.flatnonzero(steps == -1) - 1).tolist())
    )


def _sure(
    space: LeverSpace, target: StageTarget, axis: int, index: Index, given_up: tuple[str, ...]
) -> Mask:
    """Return where along a lever every target holds whatever is not known."""
    count = space.shape[axis]
    h, d, t = (np.arange(count) if i == axis else np.full(count, index[i]) for i in range(3))
    return sure_at(space, target, (h, d, t), given_up)


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
    every = day_judged(space, target_masks(space, target) if masks is None else masks)
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
        spans = _spans(works)
        sure = works & _sure(space, target, axis, index, given_up)

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
                sure=tuple(Span(float(positions[a]), float(positions[b])) for a, b in _spans(sure)),
                nearest=nearest,
            )
        )
    return tuple(found)
