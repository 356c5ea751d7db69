"""What readings say of the lamp and of themselves: off in its hours, stuck, leaping, a clock off.

Times are seconds of any one clock, in order; a day's minutes count from its midnight.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from canopy.crop.night import DAY_MIN
from canopy.power.metered import MOST_GAP_S, Floats, QuantityName
from canopy.words import Figure, Said, said

LEAP = {"temperature": 8.0, "humidity": 35.0, "voltage": 40.0}
LEAP_S = 120.0
"""A series that goes so far within two minutes leaps: air and mains do not. Our judgement."""

STUCK_S = 6 * 3600.0
STUCK_READINGS = 60
"""So long, and so often, without the last digit moving. Our judgement."""

MOVING = ("power", "voltage", "current", "temperature", "humidity", "ppfd", "illuminance")
"""Quantities that move when a lamp comes on or goes off."""


@dataclass(frozen=True)
class Leap:
    """The largest leap of a series: by how much, from when on, and how many there are."""

    by: float
    at_s: float
    count: int


def leap_in(quantity: QuantityName, at_s: ArrayLike, values: ArrayLike) -> Leap | None:
    """Return the largest leap of a series that cannot be, if there is one."""
    most = LEAP.get(quantity)
    at, shown = np.asarray(at_s, dtype=float), np.asarray(values, dtype=float)
    if most is None or len(at) < 2:
        return None
    by = np.diff(shown)
    leaps = (np.abs(by) > most) & (np.diff(at) <= LEAP_S)
    if not leaps.any():
        return None
    k = int(np.argmax(np.where(leaps, np.abs(by), -1.0)))
    return Leap(float(by[k]), float(at[k]), int(leaps.sum()))


def stuck_h(
    quantity: QuantityName, at_s: ArrayLike, values: ArrayLike, switched_at_s: Sequence[float]
) -> float:
    """Return for how many hours a series has not moved although the lamp was switched; else 0.

    ``switched_at_s`` is when the lamp came on or went off, as planned or as another device says.
    A series that stands at 0 may well be right: it is no concern of this one.
    """
    at, shown = np.asarray(at_s, dtype=float), np.asarray(values, dtype=float)
    if quantity not in MOVING or len(at) < STUCK_READINGS or shown[-1] == 0:
        return 0.0
    others = np.flatnonzero(shown != shown[-1])
    first = int(others[-1]) + 1 if len(others) else 0
    since = float(at[first])
    lasting = float(at[-1]) - since
    if lasting < STUCK_S or len(at) - first < STUCK_READINGS:
        return 0.0
    # not at the edges: a switching takes a while to be seen
    seen = any(since + MOST_GAP_S < moment < at[-1] - MOST_GAP_S for moment in switched_at_s)
    return lasting / 3600 if seen else 0.0


CLOCK_OFF_S = 90.0
LEAST_LAGS = 5
STEADY_S = 30.0
"""Behind, ahead, and how far one message may differ from the next. Our judgement."""


def clock_off_s(lags_s: Sequence[float]) -> float:
    """Return by how much a device's clock is off: positive when behind, 0 when it seems right.

    ``lags_s`` are how late its latest messages came, each the newest of what was sent together.
    A device that catches up after an outage is late too, but less so with each message.
    """
    if len(lags_s) < LEAST_LAGS:
        return 0.0
    lags = np.asarray(lags_s, dtype=float)
    middle = float(np.median(lags))
    steady = float(lags.max() - lags.min()) <= STEADY_S
    return middle if steady and abs(middle) > CLOCK_OFF_S / (1 if middle > 0 else 3) else 0.0


DRAWS_NOTHING = 0.05
DRAWS_LIGHT = 0.25
"""Of what is planned: below the one a lamp is off, above the other it is on. Our judgement."""

EDGE_MIN = 10
"""Timers, ramps and drivers take their time: so near a switching nothing is held against it."""

WATCH_MIN = 5
"""A state has to last so long before it is spoken of."""


def settled(planned: Floats, ramp_min: float, minute: int) -> bool:
    """Return whether the plan has stood as it is at a minute for a while, and will.

    ``planned`` are the watts of each minute of a day, shape (1440,), which repeats.
    """
    edge = EDGE_MIN + int(np.ceil(ramp_min))
    around = np.arange(minute - edge, minute + edge + 1) % DAY_MIN
    return bool(np.ptp(planned[around]) < 1e-9)


def lamp_said(
    name: str, watts: Floats, planned: Floats, ramp_min: float, minute: int, agree: float
) -> tuple[Said, ...]:
    """Return what the watts of the last minutes say of the plan.

    Parameters
    ----------
    name : str
        Of the meter.
    watts, planned : ndarray, shape (1440,)
        Read and planned, minute by minute; NaN where nothing was read.
    ramp_min : float
    minute : int
        Of the day, now.
    agree : float
        A share by which a meter and the plan may differ.
    """
    lately = watts[max(minute - WATCH_MIN, 0) : minute + 1]
    lately = lately[~np.isnan(lately)]
    if not len(lately) or not settled(planned, ramp_min, minute):
        return ()
    wanted, drawn = float(planned[minute]), float(np.median(lately))
    most = float(planned.max())
    figures: dict[str, Figure] = {"name": name, "watts": drawn, "planned": wanted}
    if wanted <= 0:
        if most > 0 and lately.min() > DRAWS_LIGHT * most:
            return (said("device.draws_at_night", name=name, watts=drawn),)
        return ()
    if lately.max() < DRAWS_NOTHING * wanted:
        return (said("device.draws_nothing", **figures),)
    off = drawn / wanted - 1
    if abs(off) <= agree:
        return (said("device.draws_as_planned", **figures),)
    return (
        said("device.draws_more" if off > 0 else "device.draws_less", share=abs(off), **figures),
    )


@dataclass(frozen=True)
class OffTime:
    """Minutes a lamp was off in its hours, and how many of them by the heat."""

    minutes: int
    by_heat: int


HEAT_MIN = 5
HEAT_NEAR_K = 0.5


def off_in_hours(
    lit: Floats, planned: Floats, ramp_min: float, celsius: Floats, limit_c: float | None
) -> OffTime:
    """Return for how long a lamp was off in the hours the plan gives it.

    Parameters
    ----------
    lit : ndarray, shape (1440,)
        1 where it was on, 0 where off, NaN unknown.
    planned, celsius : ndarray, shape (1440,)
        Watts as planned, and the air's temperature; NaN unknown.
    ramp_min : float
    limit_c : float, optional
        Where the controller switches off; nothing is by the heat without.
    """
    edge = 2 + int(np.ceil(ramp_min))
    wanted = planned > 0
    inside = np.all([np.roll(wanted, by) for by in (-edge, 0, edge)], axis=0)
    off = inside & (lit == 0)
    edges = np.flatnonzero(np.diff(np.concatenate(([False], off, [False])).astype(int)))
    by_heat = 0
    for first, end in zip(edges[::2], edges[1::2]):
        before = celsius[max(first - HEAT_MIN, 0) : first + 2]
        before = before[~np.isnan(before)]
        if limit_c is not None and len(before) and before.max() >= limit_c - HEAT_NEAR_K:
            by_heat += int(end - first)
    return OffTime(int(off.sum()), by_heat)
