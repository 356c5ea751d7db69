"""How far to trust a computed answer, and whether it survives that."""

from dataclasses import dataclass

from canopy.constants import MEAN_TOLERANCE, SPOT_TOLERANCE
from canopy.crop.targets import StageTarget
from canopy.plan.levers import Outcome


@dataclass(frozen=True)
class Certainty:
    """Ranges of an uncalibrated answer and which targets still hold at their far ends.

    PPFD in umol m-2 s-1, DLI in mol m-2 d-1. ``fails`` names the targets that would be missed
    somewhere in the range though the computed value meets them.
    """

    basis: str
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


def uncalibrated(outcome: Outcome, target: StageTarget) -> Certainty:
    """Return the ranges for a tent in which nothing has been measured yet.

    Mean +- 15 %, brightest and dimmest spots +- 25 %: common practice, no source.
    """
    m, s = MEAN_TOLERANCE, SPOT_TOLERANCE
    dli_low, dli_high = outcome.dli * (1 - m), outcome.dli * (1 + m)
    peak_high = outcome.peak * (1 + s)
    held = {
        "hot_spot_cap": outcome.peak <= target.hot_spot_cap < peak_high,
        "dli_low": dli_low < target.dli_low <= outcome.dli,
        "dli_high": outcome.dli <= target.dli_high < dli_high,
    }
    if target.evenness_goal is not None:
        worst = outcome.evenness * (1 - s)
        held["evenness"] = worst < target.evenness_goal <= outcome.evenness
    if target.ppfd_low is not None and target.ppfd_high is not None:
        held["ppfd_low"] = outcome.mean * (1 - m) < target.ppfd_low <= outcome.mean
        held["ppfd_high"] = outcome.mean <= target.ppfd_high < outcome.mean * (1 + m)
    return Certainty(
        basis="uncalibrated",
        mean_low=outcome.mean * (1 - m),
        mean_high=outcome.mean * (1 + m),
        peak_low=outcome.peak * (1 - s),
        peak_high=peak_high,
        dli_low=dli_low,
        dli_high=dli_high,
        fails=tuple(name for name, fails in held.items() if fails),
    )
