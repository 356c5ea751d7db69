"""How far to trust a computed answer, and whether it survives that."""

from dataclasses import dataclass
from typing import Literal

from canopy.crop.targets import StageTarget
from canopy.plan.levers import Outcome, no_less, no_more

Basis = Literal["uncalibrated", "readings", "rebased"]

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
    dli_low, dli_high = outcome.dli * (1 - m), outcome.dli * (1 + m)
    peak_high = outcome.peak * (1 + s)
    held = {
        "hot_spot_cap": no_more(outcome.peak, target.hot_spot_cap)
        and target.hot_spot_cap < peak_high,
        "dli_low": dli_low < target.dli_low and no_less(outcome.dli, target.dli_low),
        "dli_high": no_more(outcome.dli, target.dli_high) and target.dli_high < dli_high,
    }
    if target.evenness_goal is not None:
        worst = outcome.evenness * (1 - s)
        held["evenness"] = worst < target.evenness_goal and no_less(
            outcome.evenness, target.evenness_goal
        )
    if target.ppfd_low is not None and target.ppfd_high is not None:
        held["ppfd_low"] = outcome.mean * (1 - m) < target.ppfd_low and no_less(
            outcome.mean, target.ppfd_low
        )
        held["ppfd_high"] = target.ppfd_high < outcome.mean * (1 + m) and no_more(
            outcome.mean, target.ppfd_high
        )
    return Certainty(
        basis=basis,
        mean_tolerance=m,
        spot_tolerance=s,
        mean_low=outcome.mean * (1 - m),
        mean_high=outcome.mean * (1 + m),
        peak_low=outcome.peak * (1 - s),
        peak_high=peak_high,
        dli_low=dli_low,
        dli_high=dli_high,
        fails=tuple(name for name, fails in held.items() if fails),
    )
