"""What a stage asks of the light.

PPFD in umol m-2 s-1, DLI in mol m-2 d-1, hours in h. The target is the DLI band; the PPFD band
follows from it and the hours unless the grower gives one of their own.
"""

from dataclasses import dataclass, fields, replace
from math import isfinite
from typing import Literal

from canopy.errors import CanopyError
from canopy.quantities import DLI_PER_UMOL_HOUR, ppfd_for_dli

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

SPANS = {
    "dli": (0.01, 100.0),
    "ppfd": (0.1, 5000.0),
    "hot_spot": (1.0, 5000.0),
    "hours": (0.25, 24.0),
    "evenness": (0.01, 1.0),
}
"""What bands and limits can be, by the beginning of their names."""


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
    night_h : float
        Hours of dark the crop needs.
    unbroken_night : bool
        Its night must not be broken by any light.

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
    night_h: float = 0.0
    unbroken_night: bool = False

    def __post_init__(self) -> None:
        for item in fields(self):
            value = getattr(self, item.name)
            span = next((s for start, s in SPANS.items() if item.name.startswith(start)), None)
            if span is None or value is None:
                continue
            if not (isfinite(value) and span[0] <= value <= span[1]):
                raise CanopyError(
                    f"The {NAMES[item.name]} is {value:g}; give a number from {span[0]:g} to "
                    f"{span[1]:g}.",
                    item.name,
                )
        if (self.ppfd_low is None) != (self.ppfd_high is None):
            missing = "ppfd_low" if self.ppfd_low is None else "ppfd_high"
            raise CanopyError("Give both ends of the PPFD band, or leave both empty.", missing)
        if not (isfinite(self.night_h) and 0 <= self.night_h < 24):
            raise CanopyError(
                f"The night is {self.night_h:g} h; give hours from 0 to less than 24.", "night_h"
            )
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

        if self.hours_low > self.longest_day_h:
            raise CanopyError(
                f"A night of {self.night_h:g} h leaves {24 - self.night_h:g} h of light, and the "
                f"shortest day asked for is {self.hours_low:g} h; shorten one of the two.",
                "night_h",
            )

    @property
    def longest_day_h(self) -> float:
        """The longest day that leaves the crop its night; never passed, not by rounding."""
        return min(self.hours_high, 24.0 - self.night_h)

    @property
    def dli_middle(self) -> float:
        """Middle of the DLI band."""
        return (self.dli_low + self.dli_high) / 2

    @property
    def own_ppfd_band(self) -> tuple[float, float] | None:
        """The PPFD band the grower asks for, where there is one."""
        if self.ppfd_low is None or self.ppfd_high is None:
            return None
        return self.ppfd_low, self.ppfd_high

    def ppfd_band(self, photoperiod_h: float) -> tuple[float, float]:
        """Return the PPFD band: the grower's own, or the DLI band spread over the hours.

        >>> StageTarget(10, 20, 800, 10, 12).ppfd_band(12)[0]  # doctest: +ELLIPSIS
        231.48...
        """
        return self.own_ppfd_band or (
            ppfd_for_dli(self.dli_low, photoperiod_h),
            ppfd_for_dli(self.dli_high, photoperiod_h),
        )


def dli_of_ppfd(
    ppfd_low: float, ppfd_high: float, hours_low: float, hours_high: float
) -> tuple[float, float]:
    """Return the DLI band that a PPFD band asked for alone comes to over the hours allowed.

    >>> low, high = dli_of_ppfd(200, 400, 18, 18)  # common practice sets them beside 18 h
    >>> round(low, 1), round(high, 1)
    (13.0, 25.9)
    """
    low, high = SPANS["dli"]
    asked = ppfd_low * hours_low, ppfd_high * hours_high
    first, last = (min(max(each * DLI_PER_UMOL_HOUR, low), high) for each in asked)
    return first, last


PPFD_STEP = 0.02
"""By how much a lamp's height or dial moves the mean in one step, about. Our judgement."""


def as_band(target: StageTarget, step_min: int) -> StageTarget:
    """Return a target whose single figures are bands as wide as what timer and dial can step to.

    A DLI of 14 is met by the timer's step nearest to it, at the shortest day the stage allows; a
    PPFD by a step of height or dial.

    >>> round(as_band(StageTarget(14, 14, 800, 10, 12), 60).dli_low, 3)
    13.3
    """
    values: dict[str, float] = {}
    if target.dli_low == target.dli_high:
        share = step_min / 60 / target.hours_low / 2
        values |= {
            "dli_low": target.dli_low * (1 - share),
            "dli_high": target.dli_high * (1 + share),
        }
    if target.ppfd_low is not None and target.ppfd_low == target.ppfd_high:
        values |= {
            "ppfd_low": target.ppfd_low * (1 - PPFD_STEP),
            "ppfd_high": target.ppfd_low * (1 + PPFD_STEP),
        }
    spans = {"dli": SPANS["dli"], "ppfd": SPANS["ppfd"]}
    return replace(
        target,
        **{  # type: ignore[arg-type]
            name: min(max(value, spans[name.split("_")[0]][0]), spans[name.split("_")[0]][1])
            for name, value in values.items()
        },
    )


ENRICHED_FACTOR = 1.5
ENRICHED_MOST = 1500.0
"""With CO2 enriched to about as many ppm the brightest spot may reach half as much again, at most
1500 umol m-2 s-1. Common practice, no source."""


def enriched_cap(hot_spot_cap: float) -> float:
    """Return the hot-spot cap of a closed room with CO2, and warmth, feed and water to match.

    >>> enriched_cap(1000), enriched_cap(250)
    (1500.0, 375.0)
    """
    return max(hot_spot_cap, min(hot_spot_cap * ENRICHED_FACTOR, ENRICHED_MOST))
