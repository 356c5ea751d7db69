"""What a stage asks of the light.

PPFD in umol m-2 s-1, DLI in mol m-2 d-1, hours in h. The target is the DLI band; the PPFD band
follows from it and the hours unless the grower gives one of their own.
"""

from dataclasses import dataclass, fields
from math import isfinite
from typing import Literal

from canopy.errors import CanopyError
from canopy.quantities import ppfd_for_dli

DayLength = Literal["short-day", "long-day", "neutral"]

NAMES = {
    "dli_low": "lowest DLI",
    "dli_high": "highest DLI",
    "hot_spot_cap": "hot-spot cap",
    "hours_low": "shortest day",
    "hours_high": "longest day",
    "ppfd_low": "lowest PPFD",
    "ppfd_high": "highest PPFD",
    "evenness_goal": "evenness goal",
}


@dataclass(frozen=True)
class StageTarget:
    """A stage's bands and limits.

    Parameters
    ----------
    dli_low, dli_high : float
        The band the day's light should lie in.
    hot_spot_cap : float
        The brightest spot may not pass this PPFD.
    hours_low, hours_high : float
        Photoperiods this stage allows; a short-day crop in flower must not get more than the
        upper one, and its night is never broken.
    ppfd_low, ppfd_high : float, optional
        A PPFD band of the grower's own, both or neither.
    evenness_goal : float, optional
        Least min/mean over the canopy, 0 to 1.
    response : {'short-day', 'long-day', 'neutral'}

    Raises
    ------
    CanopyError
        When a number is missing, not finite, out of range, or a band is upside down.
    """

    dli_low: float
    dli_high: float
    hot_spot_cap: float
    hours_low: float
    hours_high: float
    ppfd_low: float | None = None
    ppfd_high: float | None = None
    evenness_goal: float | None = None
    response: DayLength = "neutral"

    def __post_init__(self) -> None:
        tops = {"dli": 100.0, "ppfd": 5000.0, "hot_spot": 5000.0, "hours": 24.0, "evenness": 1.0}
        for item in fields(self):
            value = getattr(self, item.name)
            top = next((t for start, t in tops.items() if item.name.startswith(start)), None)
            if top is None or value is None:
                continue
            if not (isfinite(value) and 0 < value <= top):
                raise CanopyError(
                    f"The {NAMES[item.name]} is {value:g}; give a number above 0 and up to "
                    f"{top:g}.",
                    item.name,
                )
        if (self.ppfd_low is None) != (self.ppfd_high is None):
            missing = "ppfd_low" if self.ppfd_low is None else "ppfd_high"
            raise CanopyError("Give both ends of the PPFD band, or leave both empty.", missing)
        for low, high in (
            ("dli_low", "dli_high"),
            ("hours_low", "hours_high"),
            ("ppfd_low", "ppfd_high"),
        ):
            a, b = getattr(self, low), getattr(self, high)
            if a is not None and b is not None and a > b:
                raise CanopyError(
                    f"The {NAMES[low]} ({a:g}) is above the {NAMES[high]} ({b:g}); swap them.",
                    low,
                )

    @property
    def dli_middle(self) -> float:
        """Middle of the DLI band."""
        return (self.dli_low + self.dli_high) / 2

    def ppfd_band(self, photoperiod_h: float) -> tuple[float, float]:
        """Return the PPFD band: the grower's own, or the DLI band spread over the hours.

        >>> StageTarget(10, 20, 800, 10, 12).ppfd_band(12)[0]  # doctest: +ELLIPSIS
        231.48...
        """
        if self.ppfd_low is not None and self.ppfd_high is not None:
            return self.ppfd_low, self.ppfd_high
        return (
            ppfd_for_dli(self.dli_low, photoperiod_h),
            ppfd_for_dli(self.dli_high, photoperiod_h),
        )
