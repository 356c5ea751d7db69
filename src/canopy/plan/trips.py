"""The fewest trips to the tent that keep every stage's targets on every day.

Dynamic programming over days, backwards through the whole run: what is least is exact for the
settings and days given. A *hang* is a time during which lamp and dial stay as they are while the
tops rise towards it; a *trip* begins one. Heights count in whole steps, days from the stage's
first, settings are pairs of a dial position and hours.

Costs add up per day and only decide among plans of equally few trips.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.plan.tripkernels import (
    BINS_A_RISE,
    MOST_EASING,
    SMALL_MOVE,
    TRIP,
    backward,
    exits_into,
    hang_again,
    next_trip,
)

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Whole = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class StageDays:
    """One stage as trips see it.

    Parameters
    ----------
    base : int
        The lowest height of the lamp above the floor, in steps; place 0.
    places : int
        How many heights above the floor there are from there on.
    rise : array of int, shape (days,)
        How many steps the tops stand higher than on the first day. At place p the lamp hangs in row
        p - rise of the tables; no such row, no such hang.
    good : array of bool, shape (rows, settings)
        Where every target that counts is met.
    cost : array, shape (rows, settings)
        Of a day, 0 to about 10.
    dli : array, shape (rows, settings)
    dial_pct, hours : array, shape (settings,)
    least_move : int
        Steps a re-hang takes at least.
    gap : int
        Days between trips, at least.
    hung : int, optional
        The place it begins at, where that is not free.
    rehang_cost : float
        What a move within the stage counts beside its trip.
    before_dli, after_dli : float
        About what the stages before and after end and begin at, where it is planned alone: easing
        takes trips. 0 where nothing comes before or after.
    """

    base: int
    places: int
    rise: Whole
    good: Mask
    cost: Array
    dli: Array
    dial_pct: Array
    hours: Array
    least_move: int
    gap: int
    hung: int | None = None
    rehang_cost: float = 0.0
    before_dli: float = 0.0
    after_dli: float = 0.0

    @property
    def days(self) -> int:
        """How long it lasts."""
        return len(self.rise)

    @property
    def groups(self) -> Whole:
        """Which settings share their hours, shape (settings,); hours stay for a stage."""
        return np.asarray(np.unique(self.hours, return_inverse=True)[1], dtype=np.int64)


@dataclass(frozen=True)
class Pace:
    """How far apart trips to the tent are, at least."""

    lift_cm: float
    gap_days: int

    def eased(self) -> "tuple[Pace, ...]":
        """Return what is tried in turn when nothing works, this one first."""
        found = [self]
        for share, gap in ((0.6, 4), (0.4, 2), (0.0, 1)):
            found.append(Pace(self.lift_cm * share, min(gap, self.gap_days)))
        return tuple(found)


@dataclass(frozen=True)
class Strictness:
    """What a stage's days have to keep.

    Parameters
    ----------
    target : StageTarget
    pace : Pace
    ignored : tuple of str
        Targets that do not count at all.
    margin : float
        Share of the best chance there is, below which a day is not good either; for the aim that
        goes by chances.
    """

    target: StageTarget
    pace: Pace
    ignored: tuple[str, ...] = ()
    margin: float = 0.0


@dataclass(frozen=True, eq=False)
class Paced:
    """A stage's days and how strict they are.

    ``dials``, ``hours`` are the settings' places among all there are, ``tops`` (days,) the tops
    above the floor in steps.
    """

    days: StageDays
    dials: Whole
    hours: Whole
    tops: Whole
    strict: Strictness


@dataclass(frozen=True)
class Hang:
    """From which day on the lamp hangs at which place, at which setting."""

    day: int
    place: int
    setting: int


@dataclass(frozen=True, eq=False)
class _Solved:
    """A stage with its values: at the first day by place and setting, at later days by place."""

    first: Array
    later: Array
    exit: Array


LEAST_RISE = 1e-4
"""A rise a day below it would take years; it is eased over as many days as there can be."""


def _log_rise(rise: float) -> float:
    return float(np.log1p(max(rise, LEAST_RISE)))


def _by_place(stage: StageDays, day: int) -> Array:
    """Return the DLI of a day by place and setting; 0 where nothing hangs."""
    row = np.arange(stage.places) - stage.rise[day]
    inside = (row >= 0) & (row < len(stage.dli))
    return np.where(inside[:, None], stage.dli[np.clip(row, 0, len(stage.dli) - 1)], 0.0)


def _going_on(stage: StageDays, following: StageDays, solved: _Solved, rise: float) -> Array:
    same = np.full(len(stage.hours), -1)
    for k, (dial, hours) in enumerate(zip(following.dial_pct, following.hours)):
        same[(stage.dial_pct == dial) & (stage.hours == hours)] = k
    exits: Array = exits_into(
        _by_place(stage, stage.days - 1),
        same,
        stage.base - following.base,
        stage.places,
        solved.first,
        _by_place(following, 0),
        following.least_move,
        _log_rise(rise) / BINS_A_RISE,
        rise,
    )
    return exits


def _solved(stage: StageDays, exits: Array) -> _Solved:
    group = stage.groups
    first, later = backward(
        stage.good, stage.cost, stage.rise, group, int(group.max()) + 1, stage.places,
        stage.least_move, stage.gap, exits, stage.rehang_cost,
    )  # fmt: skip
    if stage.hung is not None:
        elsewhere = np.arange(stage.places) != stage.hung
        first[elsewhere] = np.inf
    return _Solved(first, later, exits)


@dataclass(frozen=True, eq=False)
class Way:
    """A stage's way through: its tables, the hangs, and where the one before left the lamp."""

    table: Paced
    hangs: tuple[Hang, ...]
    worth: float
    values: _Solved
    before: tuple[StageDays, Hang] | None


def fewest_trips(stages: Sequence[Iterable[Paced]], rise: float) -> list[Way]:
    """Return every stage's way with the fewest trips, then the least cost, in all.

    A stage's beginning is a trip unless place, dial and hours stay; a rise of the day's light
    by more than ``rise`` from one stage to the next takes a trip for every day of easing.

    Parameters
    ----------
    stages : sequence of iterable
        For every stage its tables, the strictest first; the first ones with a way through count.
    rise : float

    Raises
    ------
    ValueError
        When none of a stage's tables has a way through.
    """
    solved: list[tuple[Paced, _Solved]] = []
    for tables in reversed(stages):
        for table in tables:
            found = _through(table.days, solved[0] if solved else None, rise)
            if found is not None:
                solved.insert(0, (table, found))
                break
        else:
            raise ValueError("no way through a stage")
    ways: list[Way] = []
    before: tuple[StageDays, Hang] | None = None
    for table, values in solved:
        first, worth = _begin(table.days, values, before, rise)
        hangs = _hangs(table.days, values, first)
        ways.append(Way(table, hangs, worth, values, before))
        before = table.days, hangs[-1]
    return ways


def _through(
    stage: StageDays, following: tuple[Paced, _Solved] | None, rise: float
) -> _Solved | None:
    """Return a stage's values with those of the one that follows; None without a way through."""
    if not stage.good.any():
        return None
    if following is None:
        exits = TRIP * easing_trips(_by_place(stage, stage.days - 1), stage.after_dli, rise)
    else:
        exits = _going_on(stage, following[0].days, following[1], rise)
    found = _solved(stage, exits)
    return found if np.isfinite(found.first).any() else None


def would_gain(ways: Sequence[Way], at: int, freed: StageDays, rise: float) -> bool:
    """Return whether a stage would take another way, worth more, if its days were others.

    The stages before it stay as they are and those after it go on as best they can.
    """
    following = None
    if at + 1 < len(ways):
        following = ways[at + 1].table, ways[at + 1].values
    found = _through(freed, following, rise)
    if found is None:
        return False
    return _begin(freed, found, ways[at].before, rise)[1] < ways[at].worth - SAME


SAME = 1e-7


def _begin(
    stage: StageDays, found: _Solved, before: tuple[StageDays, Hang] | None, rise: float
) -> tuple[Hang, float]:
    """Return the first hang of a stage from where the one before left the lamp, and its worth."""
    value, now = found.first.copy(), _by_place(stage, 0)
    if before is None:
        value += TRIP * (1 + easing_trips(stage.before_dli, now, rise))
    else:
        last, hang = before
        at = hang.place + last.base - stage.base
        was = float(_by_place(last, last.days - 1)[hang.place, hang.setting])
        same = (stage.dial_pct == last.dial_pct[hang.setting]) & (
            stage.hours == last.hours[hang.setting]
        )
        away = np.abs(np.arange(stage.places) - at)
        value += np.where((away > 0) & (away < stage.least_move), SMALL_MOVE, 0.0)[:, None]
        trips = 1 + easing_trips(was, now, rise)
        stays = (away == 0)[:, None] & same[None, :] & (trips == 1)
        value += TRIP * np.where(stays, 0.0, trips)
    place, setting = np.unravel_index(int(np.argmin(value)), value.shape)
    return Hang(0, int(place), int(setting)), float(value[place, setting])


def _hangs(stage: StageDays, found: _Solved, start: Hang) -> tuple[Hang, ...]:
    group, hangs = stage.groups, [start]
    while True:
        last = hangs[-1]
        until, _ = next_trip(
            stage.good, stage.cost, stage.rise, group, found.later, found.exit, stage.gap,
            last.day, last.place, last.setting,
        )  # fmt: skip
        if until >= stage.days:
            return tuple(hangs)
        place, setting = hang_again(
            stage.good, stage.cost, stage.rise, group, found.later, found.exit, stage.places,
            stage.least_move, stage.gap, stage.rehang_cost, until, last.place,
            int(group[last.setting]),
        )  # fmt: skip
        hangs.append(Hang(int(until), int(place), int(setting)))


def easing_trips(before: Array | float, after: Array | float, rise: float) -> Array:
    """Return how many trips a rise of the day's light takes beside the one that begins it.

    Broadcast; none where there is no light before or after.

    >>> float(easing_trips(8, 12, 0.15)), float(easing_trips(8, 9, 0.15))
    (2.0, 0.0)
    """
    before, after = np.asarray(before, dtype=float), np.asarray(after, dtype=float)
    lit = (before > 0) & (after > 0)
    jump = np.log(np.where(lit, after, 1.0) / np.where(lit, before, 1.0)) / _log_rise(rise)
    return np.asarray(np.clip(np.ceil(jump - 1e-9) - 1, 0, MOST_EASING))
