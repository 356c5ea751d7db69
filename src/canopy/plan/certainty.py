"""How far to trust a computed answer, whether it survives that, and how likely it holds."""

from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, owens_t

from canopy.crop.targets import StageTarget
from canopy.plan.levers import Basis, LeverSpace, Outcome, no_less, no_more

Array = NDArray[np.float64]
Cells = tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]
"""Settings as indices of height, dial and hours, each of shape (n,)."""

TOLERANCES: dict[Basis, tuple[float, float]] = {
    "readings": (0.05, 0.07),
    "rebased": (0.10, 0.20),
    "uncalibrated": (0.15, 0.25),
}
"""Shares by which a real tent's mean, and its brightest and dimmest spots, may miss the answer,
surest first. ``uncalibrated``: nothing measured. ``readings``: this lamp was measured in this
space at several spots and at two heights at least 15 cm apart, and hangs between them.
``rebased``: it was measured, but over another area, at one height only, or hangs beyond what was
measured. Common practice, no source."""


NINETY = 1.6448536269514722
"""Standard deviations on either side that hold 90 % of a normal distribution. Closed form."""


@dataclass(frozen=True)
class Extremes:
    """The least and the most of what targets hold against, at one setting or over many days.

    Arrays of one shape, or numbers; where one setting is meant least and most are the same.
    """

    mean_least: Array | float
    mean_most: Array | float
    peak_most: Array | float
    evenness_least: Array | float
    dli_least: Array | float
    dli_most: Array | float


def missed_by(target: StageTarget, at: Extremes) -> tuple[str, ...]:
    """Return the targets that computed values miss somewhere between their least and most."""
    return tuple(name for name, holds in held(target, at).items() if not holds)


@dataclass(frozen=True)
class Certainty:
    """Ranges of an answer and which targets still hold at their far ends.

    PPFD in umol m-2 s-1, DLI in mol m-2 d-1, tolerances as shares. ``fails`` names the targets
    that would be missed somewhere in the range though the computed value meets them.
    """

    basis: Basis
    mean_tolerance: float
    spot_tolerance: float
    mean_low: float
    mean_high: float
    peak_low: float
    peak_high: float
    dli_low: float
    dli_high: float
    fails: tuple[str, ...]

    @property
    def survives(self) -> bool:
        """Whether every target that is met stays met over the whole range."""
        return not self.fails


def least_sure(bases: tuple[Basis, ...]) -> Basis:
    """Return the least sure of several lamps' bases."""
    order = tuple(TOLERANCES)
    return max(bases, key=order.index)


def certainty(outcome: Outcome, target: StageTarget, basis: Basis = "uncalibrated") -> Certainty:
    """Return an answer's ranges by what it rests on."""
    m, s = TOLERANCES[basis]
    here = Extremes(
        outcome.mean, outcome.mean, outcome.peak, outcome.evenness, outcome.dli, outcome.dli
    )
    met = held(target, here)
    kept = held(target, widened(here, basis))
    return Certainty(
        basis=basis,
        mean_tolerance=m,
        spot_tolerance=s,
        mean_low=outcome.mean * (1 - m),
        mean_high=outcome.mean * (1 + m),
        peak_low=outcome.peak * (1 - s),
        peak_high=outcome.peak * (1 + s),
        dli_low=outcome.dli * (1 - m),
        dli_high=outcome.dli * (1 + m),
        fails=tuple(name for name in met if met[name] and not kept[name]),
    )


def holds_throughout(
    target: StageTarget, basis: Basis, at: Extremes, ignored: tuple[str, ...] = ()
) -> NDArray[np.bool_]:
    """Return where every target holds over the whole of an answer's range, same shape."""
    far = widened(at, basis)
    result: NDArray[np.bool_] = np.logical_and.reduce(
        [holds for name, holds in held(target, far).items() if name not in ignored]
    )
    return result


def widened(at: Extremes, basis: Basis) -> Extremes:
    """Return how far the real values may lie apart, by what the answer rests on."""
    m, s = TOLERANCES[basis]
    return Extremes(
        mean_least=np.asarray(at.mean_least) * (1 - m),
        mean_most=np.asarray(at.mean_most) * (1 + m),
        peak_most=np.asarray(at.peak_most) * (1 + s),
        evenness_least=np.asarray(at.evenness_least) * (1 - s),
        dli_least=np.asarray(at.dli_least) * (1 - m),
        dli_most=np.asarray(at.dli_most) * (1 + m),
    )


def held(target: StageTarget, at: Extremes) -> dict[str, NDArray[np.bool_]]:
    """Return for every target whether it holds between the least and the most."""
    return {
        "hot_spot_cap": no_more(at.peak_most, target.hot_spot_cap),
        "evenness": no_less(at.evenness_least, target.evenness_goal or 0.0),
        "ppfd_low": no_less(at.mean_least, target.ppfd_low or 0.0),
        "ppfd_high": no_more(at.mean_most, target.ppfd_high or np.inf),
        "dli_low": no_less(at.dli_least, target.dli_low),
        "dli_high": no_more(at.dli_most, target.dli_high),
    }


def both_below(h: Array, k: Array, correlation: float) -> Array:
    """Return how likely two normal values lie below h and k (Owen 1956, by his T function)."""
    h, k = (np.where(np.abs(v) < NOUGHT, NOUGHT, v) for v in np.broadcast_arrays(h, k))
    rest = sqrt(1 - correlation**2)
    t_h = owens_t(h, (k - correlation * h) / (h * rest))
    t_k = owens_t(k, (h - correlation * k) / (k * rest))
    return np.asarray((ndtr(h) + ndtr(k)) / 2 - t_h - t_k - np.where(h * k < 0, 0.5, 0.0))


NOUGHT = 1e-9


def chances(
    target: StageTarget, basis: Basis, at: Extremes, ignored: tuple[str, ...] = ()
) -> Array:
    """Return how likely it is that every target holds in a real tent, 0 to 1.

    The ranges of :data:`TOLERANCES` hold 90 % of a normal distribution. A tent that is brighter
    than computed is so as a whole, so one factor moves the mean, the day's light and the brightest
    spot together; spots have an error of their own beside it.

    Parameters
    ----------
    target : StageTarget
    basis : {'uncalibrated', 'readings', 'rebased'}
    at : Extremes
    ignored : tuple of str
        Targets that do not count.
    """
    m, s = (value / NINETY for value in TOLERANCES[basis])
    low = [_share(target.dli_low, at.dli_least)] if "dli_low" not in ignored else []
    high = [_share(target.dli_high, at.dli_most)] if "dli_high" not in ignored else []
    if target.ppfd_low is not None and "ppfd_low" not in ignored:
        low.append(_share(target.ppfd_low, at.mean_least))
    if target.ppfd_high is not None and "ppfd_high" not in ignored:
        high.append(_share(target.ppfd_high, at.mean_most))
    some = np.asarray(at.dli_least, dtype=float) * 0
    least = np.maximum.reduce([*low, some - FAR]) / m
    most = np.maximum(np.minimum.reduce([*high, some + FAR]) / m, least)
    if "hot_spot_cap" in ignored:
        result = ndtr(most) - ndtr(least)
    else:
        cap = np.broadcast_to(_share(target.hot_spot_cap, at.peak_most) / s, some.shape)
        result = both_below(most, cap, m / s) - both_below(least, cap, m / s)
    if target.evenness_goal is not None and "evenness" not in ignored:
        even = np.asarray(at.evenness_least, dtype=float)
        result = result * ndtr((1 - target.evenness_goal / np.maximum(even, NOUGHT)) / s)
    return np.asarray(np.clip(result, 0.0, 1.0))


def likely_at(
    space: LeverSpace, target: StageTarget, cells: Cells, ignored: tuple[str, ...] = ()
) -> Array:
    """Return how likely every target holds at settings, shape (n,)."""
    return _judged(space, cells, lambda basis, at: chances(target, basis, at, ignored))


def sure_at(
    space: LeverSpace, target: StageTarget, cells: Cells, ignored: tuple[str, ...] = ()
) -> NDArray[np.bool_]:
    """Return at which settings every target holds whatever is not known, shape (n,)."""
    found = _judged(
        space, cells, lambda basis, at: holds_throughout(target, basis, at, ignored).astype(float)
    )
    return found > 0


def _judged(space: LeverSpace, cells: Cells, judge: Callable[[Basis, Extremes], Array]) -> Array:
    """Return what is thought of settings, each by what the light at its height is known by."""
    h, d, t = cells
    mean = space.mean[h, d]
    dli = space.day_dli(h, d, space.hours[t])
    at = (mean, mean, space.peak[h, d], space.evenness[h, d], dli, dli)
    known = np.array(space.bases or ("uncalibrated",) * space.shape[0])[h]
    result = np.zeros(len(h))
    for basis in TOLERANCES:
        here = known == basis
        if here.any():
            result[here] = judge(basis, Extremes(*(values[here] for values in at)))
    return result


FAR = 50.0
"""As good as no limit, as a share."""


def _share(limit: float, value: Array | float) -> Array:
    """Return by which share a value has to change to come to a limit."""
    return np.clip(limit / np.maximum(value, NOUGHT) - 1, -FAR, FAR)
