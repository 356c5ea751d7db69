"""How far to trust a computed answer, whether it survives that, and how likely it holds."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, owens_t

from canopy.constants import NINETY
from canopy.crop.targets import StageTarget
from canopy.plan.doubts import BRIGHTEST, DIMMEST, MEAN, Doubt, Doubts, PartName
from canopy.plan.levers import Basis, LeverSpace, Outcome, no_less, no_more

Array = NDArray[np.float64]
Cells = tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]
"""Settings as indices of height, dial and hours, each of shape (n,)."""


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
class Part:
    """What one thing that is not known does to an answer: 90 % ranges to either side, as shares."""

    name: PartName
    mean: float
    brightest: float
    dimmest: float


@dataclass(frozen=True)
class Certainty:
    """Ranges of an answer and which targets still hold at their far ends.

    PPFD in umol m-2 s-1, DLI in mol m-2 d-1, tolerances as shares; ranges hold 90 %. ``parts`` are
    what they are made of, as squares, the largest first. ``fails`` names the targets that would be
    missed somewhere in the range though the computed value meets them.
    """

    basis: Basis
    mean_tolerance: float
    spot_tolerance: float
    dimmest_tolerance: float
    parts: tuple[Part, ...]
    mean_low: float
    mean_high: float
    peak_low: float
    peak_high: float
    lowest_low: float
    lowest_high: float
    dli_low: float
    dli_high: float
    fails: tuple[str, ...]

    @property
    def survives(self) -> bool:
        """Whether every target that is met stays met over the whole range."""
        return not self.fails


SURENESS: tuple[Basis, ...] = ("fitted", "readings", "rebased", "learnt", "uncalibrated")
"""What light may be known by, surest first. ``uncalibrated``: nothing measured. ``readings``: this
lamp was measured in this space at several spots and at two heights at least 15 cm apart, and hangs
between them. ``rebased``: it was measured, but over another area, at one height only, or hangs
beyond what was measured. ``fitted``: these lamps were fitted to readings here. ``learnt``: a fit
of this tent with other lamps, or of this lamp in another tent."""


def least_sure(bases: tuple[Basis, ...]) -> Basis:
    """Return the least sure of several lamps' bases."""
    return max(bases, key=SURENESS.index)


def certainty(
    outcome: Outcome,
    target: StageTarget,
    doubts: Doubts,
    height: int,
    dial: int,
    basis: Basis = "uncalibrated",
) -> Certainty:
    """Return an answer's ranges at indices of height and dial, by what is not known there."""
    doubt = doubts.at(height, dial)
    mean, bright, dim = (
        min(NINETY * float(sd), MOST_TOLERANCE)
        for sd in (doubt.mean, doubt.brightest, doubt.dimmest)
    )
    here = Extremes(
        outcome.mean, outcome.mean, outcome.peak, outcome.evenness, outcome.dli, outcome.dli
    )
    met = held(target, here)
    kept = held(target, widened(here, doubt))
    names: tuple[PartName, ...] = (*doubts.parts, "dial")
    sizes = {name: doubts.part(name, height, dial) for name in names}
    parts = tuple(
        Part(name, NINETY * each[MEAN], NINETY * each[BRIGHTEST], NINETY * each[DIMMEST])
        for name, each in sorted(sizes.items(), key=lambda pair: -pair[1][MEAN])
        if max(each) >= LEAST_PART
    )
    return Certainty(
        basis=basis,
        mean_tolerance=mean,
        spot_tolerance=bright,
        dimmest_tolerance=dim,
        parts=parts,
        mean_low=outcome.mean * (1 - mean),
        mean_high=outcome.mean * (1 + mean),
        peak_low=outcome.peak * (1 - bright),
        peak_high=outcome.peak * (1 + bright),
        lowest_low=outcome.lowest * (1 - dim),
        lowest_high=outcome.lowest * (1 + dim),
        dli_low=outcome.dli * (1 - mean),
        dli_high=outcome.dli * (1 + mean),
        fails=tuple(name for name in met if met[name] and not kept[name]),
    )


LEAST_PART = 0.003
"""Parts smaller than this share are not told."""

MOST_TOLERANCE = 0.9


def holds_throughout(
    target: StageTarget, doubt: Doubt, at: Extremes, ignored: tuple[str, ...] = ()
) -> NDArray[np.bool_]:
    """Return where every target holds over the whole of an answer's range, same shape."""
    far = widened(at, doubt)
    result: NDArray[np.bool_] = np.logical_and.reduce(
        [holds for name, holds in held(target, far).items() if name not in ignored]
    )
    return result


def widened(at: Extremes, doubt: Doubt) -> Extremes:
    """Return how far the real values may lie apart, in 90 % of all cases."""
    m, s, e = (
        np.minimum(NINETY * np.asarray(sd), MOST_TOLERANCE)
        for sd in (doubt.mean, doubt.brightest, doubt.evenness)
    )
    return Extremes(
        mean_least=np.asarray(at.mean_least) * (1 - m),
        mean_most=np.asarray(at.mean_most) * (1 + m),
        peak_most=np.asarray(at.peak_most) * (1 + s),
        evenness_least=np.asarray(at.evenness_least) * (1 - e),
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


def both_below(h: Array, k: Array, correlation: Array | float) -> Array:
    """Return how likely two normal values lie below h and k (Owen 1956, by his T function)."""
    h, k = (np.where(np.abs(v) < NOUGHT, NOUGHT, v) for v in np.broadcast_arrays(h, k))
    rest = np.sqrt(1 - np.asarray(correlation) ** 2)
    t_h = owens_t(h, (k - correlation * h) / (h * rest))
    t_k = owens_t(k, (h - correlation * k) / (k * rest))
    return np.asarray((ndtr(h) + ndtr(k)) / 2 - t_h - t_k - np.where(h * k < 0, 0.5, 0.0))


NOUGHT = 1e-9


def chances(
    target: StageTarget, doubt: Doubt, at: Extremes, ignored: tuple[str, ...] = ()
) -> Array:
    """Return how likely it is that every target holds in a real tent, 0 to 1.

    By normal distributions. A tent that is brighter than computed is so as a whole: the mean and
    the day's light go wrong together, the brightest spot with them as far as the doubt says, and
    min/mean by itself.

    Parameters
    ----------
    target : StageTarget
    doubt : Doubt
        Numbers, or arrays of the extremes' shape.
    at : Extremes
    ignored : tuple of str
        Targets that do not count.
    """
    m, s, e = (
        np.maximum(np.asarray(sd), NOUGHT) for sd in (doubt.mean, doubt.brightest, doubt.evenness)
    )
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
        result = both_below(most, cap, doubt.together) - both_below(least, cap, doubt.together)
    if target.evenness_goal is not None and "evenness" not in ignored:
        even = np.asarray(at.evenness_least, dtype=float)
        result = result * ndtr((1 - target.evenness_goal / np.maximum(even, NOUGHT)) / e)
    return np.asarray(np.clip(result, 0.0, 1.0))


def likely_at(
    space: LeverSpace, target: StageTarget, cells: Cells, ignored: tuple[str, ...] = ()
) -> Array:
    """Return how likely every target holds at settings, shape (n,)."""
    return chances(target, space.doubt.at(*cells[:2]), _extremes(space, cells), ignored)


def sure_at(
    space: LeverSpace, target: StageTarget, cells: Cells, ignored: tuple[str, ...] = ()
) -> NDArray[np.bool_]:
    """Return at which settings every target holds whatever is not known, shape (n,)."""
    return holds_throughout(target, space.doubt.at(*cells[:2]), _extremes(space, cells), ignored)


def _extremes(space: LeverSpace, cells: Cells) -> Extremes:
    h, d, t = cells
    mean = space.mean[h, d]
    dli = space.day_dli(h, d, space.hours[t])
    return Extremes(mean, mean, space.peak[h, d], space.evenness[h, d], dli, dli)


FAR = 50.0
"""As good as no limit, as a share."""


def _share(limit: float, value: Array | float) -> Array:
    """Return by which share a value has to change to come to a limit."""
    return np.clip(limit / np.maximum(value, NOUGHT) - 1, -FAR, FAR)
