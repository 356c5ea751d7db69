"""The arithmetic growers do on paper, each sum with its formula filled in.

PPFD in umol m-2 s-1, DLI in mol m-2 d-1, hours in h.
"""

from dataclasses import dataclass

import numpy as np

from canopy.constants import CM2_PER_M2
from canopy.crop.photoperiod import timer_hours
from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.light.typed import TypedMap
from canopy.power.energy import energy_kwh, heat_btu_per_h
from canopy.quantities import dli_mol, hours_for_dli, ppfd_for_dli
from canopy.words import CM_PER_INCH, Said, said

CM2_PER_FT2 = (12 * CM_PER_INCH) ** 2
"""Exact."""

DAY_H = 24.0


@dataclass(frozen=True)
class Worked:
    """A sum's figures by their names, and how it was worked out."""

    figures: dict[str, float]
    formula: tuple[Said, ...]


def day_sum(ppfd: float, hours: float) -> Worked:
    """Return the DLI of a PPFD over hours."""
    dli = dli_mol(ppfd, hours)
    return Worked({"dli": dli}, (said("sum.dli", ppfd=ppfd, hours=hours, dli=dli),))


def hours_on_a_timer(dli: float, ppfd: float, step_min: int = 15, most_h: float = DAY_H) -> Worked:
    """Return the hours for a DLI, and what a timer makes of them: rounded up while that fits.

    Raises
    ------
    CanopyError
        Without light, or without a timer's step.
    """
    exact = hours_for_dli(dli, ppfd)
    if not np.isfinite(exact):
        raise CanopyError("Without any light no day is long enough; give the PPFD.", "ppfd")
    steps = timer_hours(0.0, most_h, step_min)
    reached = np.flatnonzero(steps >= exact - 1e-9)
    timer = float(steps[reached[0]] if len(reached) else steps[-1])
    given = dli_mol(ppfd, timer)
    words = said("sum.hours", dli=dli, ppfd=ppfd, hours=exact)
    more = said("sum.timer" if len(reached) else "sum.timer_short", hours=timer, dli=given)
    return Worked({"hours": exact, "timer_hours": timer, "dli": given}, (words, more))


def needed_ppfd(dli: float, hours: float) -> Worked:
    """Return the PPFD for a DLI over hours.

    Raises
    ------
    CanopyError
        Without hours.
    """
    if hours <= 0:
        raise CanopyError("In no time there is no light; give the hours.", "hours")
    ppfd = ppfd_for_dli(dli, hours)
    return Worked({"ppfd": ppfd}, (said("sum.ppfd", dli=dli, hours=hours, ppfd=ppfd),))


def running(watts: float, hours: float, days: float, per_kwh: float, plants: int) -> Worked:
    """Return the energy of so many days, what it costs in all and a plant, and the heat."""
    kwh = energy_kwh(watts, hours, days)
    cost = kwh * per_kwh
    figures = {
        "hours": hours * days,
        "kwh": kwh,
        "cost": cost,
        "each": cost / plants,
        "btu_h": heat_btu_per_h(watts),
    }
    return Worked(
        figures,
        (
            said("sum.kwh", watts=watts, hours=hours, days=days, kwh=kwh),
            said("sum.cost", kwh=kwh, per_kwh=per_kwh, cost=cost),
            said("sum.each", cost=cost, plants=plants, each=cost / plants),
            said("sum.heat", watts=watts),
        ),
    )


def at_the_dial(dimmer: Dimmer, watts: float, ppf_umol_s: float, dial_pct: float) -> Worked:
    """Return what a lamp draws and gives at a position of its dial."""
    light, drawn = (
        float(of(np.array([dial_pct]))[0]) for of in (dimmer.light_fraction, dimmer.watts_fraction)
    )
    figures = {
        "light": light,
        "watts": watts * drawn,
        "ppf_umol_s": ppf_umol_s * light,
    }
    words = said(
        "sum.dial", dial_pct=dial_pct, light=light, share=drawn, watts=watts, drawn=watts * drawn
    )
    return Worked(figures, (words,))


def by_the_eye(ppfd: float, lux_per_umol: float) -> Worked:
    """Return the illuminance of a PPFD under a spectrum."""
    lux = ppfd * lux_per_umol
    return Worked({"lux": lux}, (said("sum.lux", ppfd=ppfd, factor=lux_per_umol, lux=lux),))


def from_the_eye(lux: float, lux_per_umol: float) -> Worked:
    """Return the PPFD of an illuminance under a spectrum.

    Raises
    ------
    CanopyError
        When the spectrum gives no light the eye sees.
    """
    if lux_per_umol <= 0:
        raise CanopyError("The eye sees nothing of that light; a lux meter cannot read it.", "lux")
    ppfd = lux / lux_per_umol
    return Worked({"ppfd": ppfd}, (said("sum.from_lux", lux=lux, factor=lux_per_umol, ppfd=ppfd),))


def measures(cm: float, per_m2: float) -> Worked:
    """Return a length in inches, and a figure per square metre per square foot."""
    per_ft2 = per_m2 * CM2_PER_FT2 / CM2_PER_M2
    figures = {"inches": cm / CM_PER_INCH, "per_ft2": per_ft2}
    return Worked(
        figures,
        (
            said("sum.inches", value=cm, inches=figures["inches"]),
            said("sum.per_ft2", per_m2=per_m2, per_ft2=per_ft2),
        ),
    )


def map_sum(read: TypedMap, dli: float, step_min: int) -> Worked:
    """Return what a typed map comes to, and the timer's hours for a DLI at its mean."""
    stats = read.statistics
    known = {"count": read.count, "total": read.total, "mean": stats.mean}
    if stats.area_mean <= 0:
        return Worked({"dli": 0.0}, (said("map.typed_dark", **known, wanted=dli),))
    worked = hours_on_a_timer(dli, stats.area_mean, step_min)
    figures = {"timer_hours": worked.figures["timer_hours"], "dli": worked.figures["dli"]}
    if worked.figures["hours"] > DAY_H:
        return Worked(figures, (said("map.typed_dark", **known, wanted=dli),))
    hours, given = figures["timer_hours"], figures["dli"]
    return Worked(figures, (said("map.typed", **known, hours=hours, dli=given),))
