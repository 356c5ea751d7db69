"""What a lamp and its tent have lost since they were first read, why, and for how long it lasts.

Readings of several walks (:mod:`canopy.measure.reread`) are held against what may have happened
in between: ageing by lit hours, dirt on the lamp by days since it was wiped, a dull lining, a part
that went dark, a step nobody knows of. Each is a Gaussian hypothesis with a prior of its own; what
is left of the light, and what will be, is their mixture. Shares of light are taken in logarithms.
"""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from canopy.errors import CanopyError
from canopy.fixture.ageing import Ageing
from canopy.measure.evidence import evidence
from canopy.measure.reread import Reread

Array = NDArray[np.float64]

CauseCode = Literal["steady", "ageing", "dirt", "lining", "dead", "step"]
Cleaned = Literal["lamp", "lining", "both"]

PRIOR: dict[CauseCode, float] = {
    "ageing": 0.08,
    "dirt": 0.15,
    "lining": 0.06,
    "dead": 0.04,
    "step": 0.05,
}
"""How readily each is believed before anything was read. Our judgement, no source."""

UNSTATED_LOSS = 0.003
"""What a lamp that states no life loses in 1000 h: about Q90 at 35 000 h. Common practice."""

USUAL_SD = 0.5
"""By so much of itself a stated loss may be another, and by as much as :data:`LEAST_SD`."""

LEAST_SD = 0.002

FAST = (-0.025, 0.025)
"""What a lamp that ages too fast loses besides in 1000 h: mean and standard deviation."""

DIRT = (-0.03, 0.03)
"""What dust takes of a lamp in 100 days, and what it had taken before the first walk."""

DULL = (3.0, 2.5)
"""Hundredths of reflectance a lining loses in 100 days."""

DARK = (0.7, 0.4)
"""Of a third at one side: how much of it gives none."""

STEP_SD = 0.12

LEVEL_SD = 0.3
"""How far the first readings may lie off what was noted: it tells nothing of drift."""

WATTS_SD, WATTS_ROOM = 0.012, 0.08
"""Of a plug-in meter's ratio; and what dead parts, drivers and dials may change of the watts."""

STEPS = 24
"""So many walks are looked at, the first and the latest."""

GRID = np.asarray(ndtri((np.arange(60) + 0.5) / 60), dtype=float)

MOST_DAYS, EVERY_DAYS = 3650, 7


@dataclass(frozen=True)
class Moment:
    """A time: days and lit hours since any one moment."""

    day: float
    lit_h: float


@dataclass(frozen=True)
class Walk:
    """When a walk was, by which sensor, and what the lamp drew of what its dial should draw.

    ``sensor_sd`` is what its calibration leaves open, as a share.
    """

    at: Moment
    sensor: Hashable
    sensor_sd: float
    watts_share: float | None = None


@dataclass(frozen=True)
class Wiped:
    """When the lamp, the lining or both were cleaned."""

    day: float
    what: Cleaned


@dataclass(frozen=True)
class Cause:
    """What may have taken light, how likely, from 0 to 1, and of a dark part towards which side."""

    code: CauseCode
    likelihood: float
    side: str = ""


@dataclass(frozen=True)
class Left:
    """What is left of the light, as a share: the middle, and the ends of its 90 % range."""

    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class Until:
    """In how many days light will not do: the middle, and the ends; None where not in ten years."""

    early: float | None
    likely: float | None
    late: float | None


@dataclass(frozen=True)
class _Told:
    """A hypothesis with what readings say of its unknowns."""

    code: CauseCode
    side: str
    after: int
    share: float
    mean: Array
    covariance: Array


@dataclass(frozen=True, eq=False)
class Drift:
    """What was lost and why; ``causes`` are the likeliest first and sum to 1."""

    causes: tuple[Cause, ...]
    walks: tuple[Walk, ...]
    _course: "_Course"
    _told: tuple[_Told, ...]

    def left(self, at: Moment, since: Moment) -> Left:
        """Return what of the light at one moment is left at another, on the mean of the spots."""
        low, middle, high = self._ranges([at], since)[:, 0]
        return Left(float(low), float(middle), float(high))

    def until(self, share: float, now: Moment, since: Moment, hours_a_day: float) -> Until:
        """Return when no more than a share of the light at a moment is left."""
        days = np.arange(0, MOST_DAYS + 1, EVERY_DAYS, dtype=float)
        ahead = [Moment(now.day + d, now.lit_h + d * hours_a_day) for d in days]
        found: list[float | None] = []
        for row in self._ranges(ahead, since):
            short = np.flatnonzero(row <= share)
            found.append(float(days[short[0]]) if len(short) else None)
        return Until(*found)

    def _ranges(self, at: Sequence[Moment], since: Moment) -> Array:
        """Return the ends and the middle of what is left at moments, shape (3, moments)."""
        values, weights = [], []
        for told in self._told:
            way = self._course.mean_columns(told.code, told.side, told.after, [*at, since])
            way = way[:-1] - way[-1]
            sd = np.sqrt(np.maximum(np.einsum("tp,pq,tq->t", way, told.covariance, way), 0.0))
            values.append((way @ told.mean)[None, :] + GRID[:, None] * sd[None, :])
            weights.append(np.full(len(GRID), told.share / len(GRID)))
        every, weight = np.concatenate(values), np.concatenate(weights)
        order = np.argsort(every, axis=0)
        heap = np.cumsum(weight[order], axis=0)
        rows = []
        for level in (0.05, 0.5, 0.95):
            k = np.argmax(heap >= level - 1e-12, axis=0)
            rows.append(np.take_along_axis(every, order, axis=0)[k, np.arange(len(at))])
        return np.asarray(np.exp(np.array(rows)), dtype=float)


@dataclass(frozen=True, eq=False)
class _Course:
    """What each cause adds to ln of the light over time, per unit of its size."""

    read: Reread
    walks: tuple[Walk, ...]
    wiped: tuple[Wiped, ...]

    def _since(self, what: Cleaned, at: Sequence[Moment]) -> tuple[Array, Array]:
        """Return hundreds of days since the last cleaning, and whether there was one at all."""
        days = np.array([each.day for each in at])
        first = self.walks[0].at.day
        times = sorted(w.day for w in self.wiped if w.what in (what, "both") and w.day > first)
        edges = np.array([first, *times])
        last = np.maximum(np.searchsorted(edges, days, side="right") - 1, 0)
        return (days - edges[last]) / 100, (last > 0).astype(float)

    def over(self, code: CauseCode, after: int, at: Sequence[Moment]) -> Array:
        """Return a cause's course at moments, shape (moments, unknowns); all age besides."""
        lit = np.array([each.lit_h for each in at]) / 1000
        rows = [lit]
        if code == "ageing":
            rows.append(lit)
        elif code in ("dirt", "lining"):
            days, wiped = self._since("lamp" if code == "dirt" else "lining", at)
            rows += [days, -wiped]
        elif code in ("dead", "step"):
            before, then = self.walks[after].at, self.walks[after + 1].at
            middle = (before.day + then.day) / 2
            rows.append(np.array([float(each.day > middle) for each in at]))
        return np.column_stack(rows)

    def pattern(self, code: CauseCode, side: str) -> Array:
        """Return how far each reading feels a cause, shape (n,)."""
        if code == "lining":
            return self.read.lining
        if code == "dead":
            return dict(self.read.parts)[side]
        return np.ones(len(self.read.misfit))

    def columns(self, code: CauseCode, side: str, after: int) -> Array:
        """Return what a cause adds to each reading, shape (n, unknowns)."""
        by_walk = self.over(code, after, [walk.at for walk in self.walks])
        found = by_walk[self.read.walk]
        found[:, 1:] *= self.pattern(code, side)[:, None]
        return found

    def mean_columns(self, code: CauseCode, side: str, after: int, at: Sequence[Moment]) -> Array:
        """Return what a cause adds to the mean of the spots at moments, (moments, unknowns)."""
        found = self.over(code, after, at)
        found[:, 1:] *= float(self.pattern(code, side).mean())
        return found


def _sizes(code: CauseCode, loss: float) -> tuple[Array, Array]:
    """Return mean and standard deviation of a cause's unknowns before anything was read."""
    usual = (-loss, USUAL_SD * loss + LEAST_SD)
    more: dict[CauseCode, list[tuple[float, float]]] = {
        "steady": [],
        "ageing": [FAST],
        # before the first walk as in 100 days
        "dirt": [DIRT, DIRT],
        "lining": [DULL, DULL],
        "dead": [DARK],
        "step": [(0.0, STEP_SD)],
    }
    mean, sd = np.array([usual, *more[code]]).T
    return mean, sd


def _hypotheses(course: _Course) -> list[tuple[CauseCode, str, int, float]]:
    """Return causes with their sides, after which walk, and priors."""
    gaps = range(len(course.walks) - 1)
    sides = [side for side, _ in course.read.parts]
    found: list[tuple[CauseCode, str, int, float]] = [
        ("steady", "", 0, 1 - sum(PRIOR.values())),
        ("ageing", "", 0, PRIOR["ageing"]),
        ("dirt", "", 0, PRIOR["dirt"]),
    ]
    if course.read.lining.any():
        found.append(("lining", "", 0, PRIOR["lining"]))
    places = [(side, after) for side in sides for after in gaps]
    found += [("dead", side, after, PRIOR["dead"] / len(places)) for side, after in places]
    found += [("step", "", after, PRIOR["step"] / len(gaps)) for after in gaps]
    return found


def _by_watts(code: CauseCode, walks: Sequence[Walk]) -> float:
    """Return ln of how well what the lamp drew goes with a cause."""
    shown = [walk.watts_share for walk in walks if walk.watts_share]
    if len(shown) < 2:
        return 0.0
    change = float(np.log(shown[-1] / shown[0]))
    room = WATTS_ROOM if code in ("dead", "step") else 0.0
    variance = 2 * WATTS_SD**2 + room**2
    return -(change**2) / 2 / variance - float(np.log(variance)) / 2


def stated_loss(life: Ageing) -> float:
    """Return what a lamp loses in 1000 h by its stated life, or usually where it states none."""
    return life.rate_per_h * 1000 if life.rate_per_h > 0 else UNSTATED_LOSS


def drift_of(
    read: Reread, walks: Sequence[Walk], wiped: Sequence[Wiped] = (), loss: float = UNSTATED_LOSS
) -> Drift:
    """Return what was lost between the first walk and the last, and why.

    Parameters
    ----------
    read : Reread
    walks : sequence of Walk
        In order of time, those of the readings.
    wiped : sequence of Wiped
    loss : float
        What the lamp loses in 1000 h by what it states; see :func:`stated_loss`.

    Raises
    ------
    CanopyError
        When there are fewer than two walks, or they are out of order.
    """
    if len(walks) < 2:
        raise CanopyError("One walk tells no drift: read the same spots again later.", "walks")
    if len(walks) > STEPS:
        raise CanopyError(f"{STEPS} walks are the most that are compared.", "walks")
    days = [walk.at.day for walk in walks]
    if days != sorted(days) or int(read.walk.max()) != len(walks) - 1:
        raise CanopyError("Walks stand in the order of their time.", "walks")
    course = _Course(read, tuple(walks), tuple(wiped))
    sensors = [walks[k].sensor for k in read.walk.tolist()]
    same = np.array([[a == b for b in sensors] for a in sensors])
    sds = np.array([walks[k].sensor_sd for k in read.walk.tolist()])
    signal = read.still + read.moods + np.where(same, np.outer(sds, sds), 0.0) + LEVEL_SD**2
    lit = read.misfit > -3.0
    every, odds = [], []
    for code, side, after, prior in _hypotheses(course):
        mean, sd = _sizes(code, loss)
        columns = course.columns(code, side, after)
        room = (columns * sd**2) @ columns.T
        off = read.misfit - columns @ mean
        ones = np.ones(len(off))
        told, solved, weights = evidence(off, signal + room, read.hand, ones, lit)
        gain = (columns * sd**2).T
        whole = signal + room + np.diag(read.hand / weights)
        covariance = np.diag(sd**2) - gain @ np.linalg.solve(whole, gain.T)
        every.append(_Told(code, side, after, 0.0, mean + gain @ solved, covariance))
        odds.append(np.log(prior) + told + _by_watts(code, walks))
    shares = np.exp(np.array(odds) - max(odds))
    shares /= shares.sum()
    told_all = tuple(
        _Told(t.code, t.side, t.after, float(s), t.mean, t.covariance)
        for t, s in zip(every, shares)
    )
    return Drift(_causes(told_all), tuple(walks), course, told_all)


def _causes(told: Sequence[_Told]) -> tuple[Cause, ...]:
    heap: dict[tuple[CauseCode, str], float] = {}
    for each in told:
        key = (each.code, each.side)
        heap[key] = heap.get(key, 0.0) + each.share
    found = [Cause(code, share, side) for (code, side), share in heap.items()]
    return tuple(sorted(found, key=lambda cause: -cause.likelihood))
