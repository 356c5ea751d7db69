"""How high plants stand: tops that were measured, to a curve, and when they come too near.

Lengths in cm, time in days. Growth is a straight line while points are few, with what the crop's
stage is known for as the prior; a logistic curve once it is clearly better.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.optimize import least_squares

from canopy.constants import NINETY
from canopy.errors import CanopyError

Array = NDArray[np.float64]

TAPE_SD_CM = 1.0
"""Of tops by a tape: which leaf is the top is a matter of taste. Our judgement."""

PRIOR_SHARE, LEAST_RATE_SD = 0.5, 0.5
"""How far a stage's own rise a day may be off, one standard deviation: a share of it, and no less
than so many cm. Our judgement."""

WANDER = 0.3
"""How far growth strays from its curve, cm for the root of each day beyond what was measured."""

CURVE_FEWEST, CURVE_SPAN_D = 6, 14.0
"""A bend is looked for with so many points over so many days."""

CURVE_BETTER = 6.0
"""Points of AICc by which a logistic has to be better than a line (Burnham and Anderson 2002, from
memory: above 4 to 7 the other has little support)."""

SLIPS = 2.5
"""Readings further from the curve than so many standard deviations count ever less (soft L1)."""

MOST_POINTS = 2000
HORIZON_D = 120


@dataclass(frozen=True)
class Tops:
    """Where the tops will be: a curve, and how far off it may be.

    ``kind`` tells which; ``rate_cm_d`` is how fast they rise on the last day measured.
    """

    kind: str
    last_day: float
    rate_cm_d: float
    noise_cm: float
    _curve: Callable[[Array], Array]
    _sd: Callable[[Array], Array]

    def at(self, days: ArrayLike) -> tuple[Array, Array, Array]:
        """Return the low end, the middle and the high end of the 90 % range on days."""
        when = np.atleast_1d(np.asarray(days, dtype=float))
        middle = self._curve(when)
        ahead = np.maximum(when - self.last_day, 0.0)
        wide = NINETY * np.sqrt(self._sd(when) ** 2 + WANDER**2 * ahead)
        return np.maximum(middle - wide, 0.0), middle, middle + wide

    def reaches(self, limit_cm: float) -> tuple[float | None, float | None, float | None]:
        """Return the days on which the tops may, do and surely reach a height, after the last.

        The first is when the high end of the range does; ``None`` beyond :data:`HORIZON_D` days.
        """
        days = self.last_day + np.arange(0, HORIZON_D + 1, 0.25)
        low, middle, high = self.at(days)

        def first(rows: Array) -> float | None:
            at = np.flatnonzero(rows >= limit_cm)
            return float(days[at[0]]) if len(at) else None

        return first(high), first(middle), first(low)


def _logistic(theta: Array, days: Array) -> Array:
    base, rise, rate, middle = theta
    return np.asarray(base + rise / (1 + np.exp(-np.clip(rate * (days - middle), -60, 60))))


def _spread(off: Array, count: int, unknowns: int) -> float:
    """Return the readings' own scatter, little moved by slips, and not below a tape's."""
    middling = 1.4826 * float(np.median(np.abs(off)))
    return max(middling * sqrt(count / max(count - unknowns, 1)), TAPE_SD_CM)


def fit_tops(days: Sequence[float], tops_cm: Sequence[float], prior_cm_d: float) -> Tops:
    """Return the curve through tops that were measured. The last ones asked for are kept.

    Parameters
    ----------
    days, tops_cm : sequence of float
        At least one reading; several of a day may stand there.
    prior_cm_d : float
        What the stage is known to rise a day.

    Raises
    ------
    CanopyError
        Without a reading, or with too many.
    """
    if not 0 < len(days) <= MOST_POINTS or len(days) != len(tops_cm):
        raise CanopyError(f"Between one and {MOST_POINTS} readings of the tops are needed.", "tops")
    return _fitted(tuple(map(float, days)), tuple(map(float, tops_cm)), prior_cm_d)


@lru_cache(maxsize=64)
def _fitted(days: tuple[float, ...], tops_cm: tuple[float, ...], prior_cm_d: float) -> Tops:
    when, tops = np.array(days), np.array(tops_cm)
    line = _line(when, tops, prior_cm_d)
    if len(np.unique(when)) < CURVE_FEWEST or np.ptp(when) < CURVE_SPAN_D:
        return line[0]
    curve = _curve(when, tops)
    if curve is None or _aicc(curve[1], 4) > _aicc(line[1], 2) - CURVE_BETTER:
        return line[0]
    return curve[0]


def _aicc(off: Array, unknowns: int) -> float:
    """Return Akaike's corrected criterion by the robust loss of readings in tape errors."""
    count, k = len(off), unknowns + 1
    loss = float(_loss((off / TAPE_SD_CM) ** 2).sum())
    room = max(count - k - 1, 1)
    return count * float(np.log(max(loss / count, 1e-6))) + 2.0 * k + 2 * k * (k + 1) / room


def _loss(squares: Array) -> Array:
    """Return the soft L1 loss: squares of what is near, ever flatter beyond."""
    return np.asarray(2 * SLIPS**2 * (np.sqrt(1 + squares / SLIPS**2) - 1))


def _line(when: Array, tops: Array, prior_cm_d: float) -> tuple[Tops, Array]:
    """Return a straight line with the stage's rise as prior, slips counting less."""
    last = float(when.max())
    rows = np.column_stack([np.ones(len(when)), when - last])
    sd = max(abs(prior_cm_d) * PRIOR_SHARE, LEAST_RATE_SD)
    noise = TAPE_SD_CM
    if len(np.unique(when)) > 2:
        # how far readings stray is told by themselves: where plants grow as nobody expected, a
        # line held to what is known would make it large, and the readings worth nothing
        free, _, _ = _robust_line(rows, tops, noise, np.inf, prior_cm_d)
        noise = _spread(tops - rows @ free, len(when), 2)
    theta, weights, prior = _robust_line(rows, tops, noise, sd, prior_cm_d)
    covariance = np.linalg.inv(rows.T @ (rows * weights[:, None]) / noise**2 + prior)

    def sd_at(days: Array) -> Array:
        at = np.column_stack([np.ones(len(days)), days - last])
        return np.asarray(np.sqrt(np.einsum("ij,jk,ik->i", at, covariance, at)))

    found = Tops(
        kind="line",
        last_day=last,
        rate_cm_d=float(theta[1]),
        noise_cm=noise,
        _curve=lambda days: np.asarray(theta[0] + theta[1] * (days - last)),
        _sd=sd_at,
    )
    return found, tops - rows @ theta


def _robust_line(
    rows: Array, tops: Array, noise: float, prior_sd: float, prior_cm_d: float
) -> tuple[Array, Array, Array]:
    """Return level and rise of a line, what each reading counts, and what the prior does.

    A rise far from what is known makes that count less, as a slip among the readings does.
    """
    weights, theta, held = np.ones(len(tops)), np.zeros(2), 1.0
    prior = np.diag([0.0, 1 / prior_sd**2])
    for _ in range(20):
        prior = np.diag([0.0, held / prior_sd**2])
        normal = rows.T @ (rows * weights[:, None]) / noise**2 + prior
        wanted = rows.T @ (weights * tops) / noise**2 + prior @ [0.0, prior_cm_d]
        theta = np.linalg.solve(normal, wanted)
        weights = 1 / np.sqrt(1 + ((tops - rows @ theta) / noise / SLIPS) ** 2)
        held = 1 / sqrt(1 + ((float(theta[1]) - prior_cm_d) / prior_sd / SLIPS) ** 2)
    return np.asarray(theta), weights, prior


def _curve(when: Array, tops: Array) -> tuple[Tops, Array] | None:
    """Return a logistic curve, ``None`` where none can be found."""
    first, last, rise = float(when.min()), float(when.max()), max(float(np.ptp(tops)), 1.0)
    span = last - first
    best = None
    for middle in (first + span / 3, first + span * 2 / 3, last):
        start = [float(tops.min()), rise * 1.2, 4 / span, middle]
        found = least_squares(
            lambda theta: (_logistic(theta, when) - tops) / TAPE_SD_CM,
            start,
            bounds=([0, 0.1, 0.1 / span, first - span], [500, 500, 40 / span, last + span]),
            loss="soft_l1",
            f_scale=SLIPS,
        )
        if best is None or found.cost < best.cost:
            best = found
    if best is None or not np.isfinite(best.cost):
        return None
    theta = best.x
    off = tops - _logistic(theta, when)
    noise = _spread(off, len(when), 4)
    step = np.maximum(np.abs(theta) * 1e-5, 1e-7)

    def slopes(days: Array) -> Array:
        return np.column_stack(
            [
                (_logistic(theta + step * e, days) - _logistic(theta - step * e, days))
                / (2 * step[k])
                for k, e in enumerate(np.eye(4))
            ]
        )

    own = slopes(when)
    # bounds keep what readings cannot tell: a wide prior on each unknown
    wide = np.array([rise, 2 * rise, 4 / span, span])
    covariance = np.linalg.inv(own.T @ own / noise**2 + np.diag(1 / wide**2))

    def sd_at(days: Array) -> Array:
        at = slopes(days)
        return np.asarray(np.sqrt(np.einsum("ij,jk,ik->i", at, covariance, at)))

    found = Tops(
        kind="logistic",
        last_day=last,
        rate_cm_d=_rate(theta, last),
        noise_cm=noise,
        _curve=lambda days: _logistic(theta, np.asarray(days, dtype=float)),
        _sd=sd_at,
    )
    return found, off


def _rate(theta: Array, day: float) -> float:
    """Return how fast a logistic rises on a day: k A p (1 - p)."""
    _, rise, rate, middle = theta
    share = 1 / (1 + np.exp(-np.clip(rate * (day - middle), -60, 60)))
    return float(rate * rise * share * (1 - share))
