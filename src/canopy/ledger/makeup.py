"""Light that was missed: how it can be made up, or why it is better left missing.

A plant counts its light over days: one short day inside a week that keeps the band asks nothing.
Common practice, no source.
"""

from dataclasses import dataclass
from math import ceil, floor

from canopy.crop.targets import StageTarget
from canopy.quantities import DLI_PER_UMOL_HOUR
from canopy.words import Said, said

MOST_DAYS = 3
"""Made up over no more days: longer ones are a new plan. Our judgement."""

LEAST_MOL = 0.2
"""Less is not worth a hand at the timer. Our judgement."""


@dataclass(frozen=True)
class MakeUp:
    """So many hours more on each of so many days, none where it is better left; and why."""

    extra_h: float
    days: int
    line: Said


def make_up(
    mean_dli: float,
    days: int,
    target: StageTarget,
    mean_ppfd: float,
    hours: float,
    day_dli: float,
    step_min: int,
    crop_day_h: float | None = None,
) -> MakeUp | None:
    """Return what to do of light missed over days gone by; nothing where none is missing.

    Parameters
    ----------
    mean_dli : float
        Of those days, mol m-2 d-1.
    days : int
        How many they were.
    target : StageTarget
    mean_ppfd, hours, day_dli : float
        What the lamp gives at full light as it is set now, for how long it is on, and what a day
        comes to.
    step_min : int
        Of the timer.
    crop_day_h : float, optional
        How long the crop's day is, daylight with it; as long as the lamp is on when left out.
    """
    missing = (target.dli_low - mean_dli) * days
    if missing <= LEAST_MOL:
        return None
    figures = {"missing": missing, "mean": mean_dli, "low": target.dli_low, "days": float(days)}
    if target.response == "short-day" or target.unbroken_night:
        return MakeUp(0.0, 0, said("makeup.night", **figures))
    step_h = step_min / 60
    per_h = mean_ppfd * DLI_PER_UMOL_HOUR
    room_h = target.longest_day_h - max(hours, crop_day_h or 0.0)
    under_h = (target.dli_high - day_dli) / per_h if per_h > 0 else 0.0
    most_h = floor(max(min(room_h, under_h), 0.0) / step_h + 1e-9) * step_h
    if most_h < step_h:
        code = "makeup.hours" if room_h < under_h else "makeup.high"
        return MakeUp(
            0.0, 0, said(code, longest=target.longest_day_h, high=target.dli_high, **figures)
        )
    wanted = missing / per_h
    spread = min(max(ceil(wanted / most_h - 1e-9), 1), MOST_DAYS)
    extra_h = min(floor(wanted / spread / step_h + 0.5) * step_h, most_h)
    extra_h = max(extra_h, step_h)
    return MakeUp(
        extra_h,
        spread,
        said(
            "makeup.more",
            extra_h=extra_h,
            hours=hours + extra_h,
            spread=float(spread),
            gives=extra_h * spread * per_h,
            **figures,
        ),
    )
