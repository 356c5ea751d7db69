"""Second opinions: what each school of growers would do here, and what the model says of it.

Rules of the schools: common practice, no source.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from canopy.crop.targets import StageTarget
from canopy.plan.levers import LeverSpace, Outcome, Setting
from canopy.plan.stretches import limits
from canopy.words import Said, said

SchoolName = Literal[
    "hot_spot_first",
    "evenness_first",
    "makers_chart",
    "middle_start",
    "by_watts",
    "cautious",
    "dial_is_light",
    "watts_fraction",
    "lumens_an_area",
    "watts_an_area",
    "ppfd_first",
    "dli_first",
]

HOT_SPOT = 1000.0
EVENNESS_HIGHER = 1.45
MIDDLE_CM = 45.0
BY_WATTS = ((100.0, 25.0), (200.0, 25.0), (400.0, 40.0), (600.0, 60.0), (float("inf"), 90.0))
"""Watts up to, and the middle of the height these people hang at."""

SUPPLEMENT_W = 100.0
CAUTION = 1.25
BEHIND_WALLS_CM = 5.0
LONG_DAY_H, SHORT_DAY_H = 18.0, 12.0
PPFD_BANDS = {"young": (200.0, 400.0), "leafy": (400.0, 600.0), "flower": (600.0, 900.0)}
LUX_WISHED = 3000 / 0.3048**2
"""3000 lumens on a square foot, in lux. The rule: common practice, no source; the foot exact."""

WATTS_A_M2 = 32 / 0.3048**2
"""32 W of lamp for a square foot of floor. Common practice, no source."""

WHITE_LUX_PER_UMOL = 70.0
"""Of a white LED, where the lamp's spectrum is not known. Common practice, no source."""

YOUNG_DLI = 9.0
"""A stage whose band's middle lies below this counts as young for those who go by PPFD."""


@dataclass(frozen=True)
class Practice:
    """What the schools need to know beside the lever space.

    Parameters
    ----------
    watts : float
        Full power of the lamps.
    maker_low_cm, maker_high_cm : float, optional
        The maker's chart.
    stage_share : float
        Where the stage lies in the run: 0 first, 1 last.
    reflective : bool
        Whether walls send back more than half.
    enriched : bool
        Whether CO2 is added.
    area_m2 : float
        Of the floor.
    lux_per_umol : float, optional
        What a lux meter shows for each unit of PPFD under this lamp, where its spectrum is known.
    """

    watts: float
    maker_low_cm: float | None
    maker_high_cm: float | None
    stage_share: float
    reflective: bool
    enriched: bool
    area_m2: float = 1.0
    lux_per_umol: float | None = None


@dataclass(frozen=True)
class Opinion:
    """A school's setting and what the model says it would give here.

    ``missed`` names the stage's targets it would miss; ``note`` where the school misleads.
    """

    school: SchoolName
    wish: Setting
    setting: Setting
    outcome: Outcome
    missed: tuple[str, ...]
    note: Said


def _hours_for(space: LeverSpace, target: StageTarget, height_cm: float, dial_pct: float) -> float:
    """Return the hours that reach the band's middle with a height and a dial."""
    h, d, _ = space.nearest(Setting(height_cm, dial_pct, float(space.hours[0])))
    if float(space.timed_mean[h, d]) <= 0:
        return float(space.hours[-1])
    return space.timer_hours_for(target.dli_middle, h, d, target.dli_high)


def _lowest_under(space: LeverSpace, cap: float) -> float:
    """Return the lowest height at full power whose brightest spot stays at or under a cap."""
    top = len(space.heights_cm) - 1
    return float(space.heights_cm[space.lowest_safe(cap, len(space.dials_pct) - 1, top)])


def _chart_hours(target: StageTarget) -> float:
    return SHORT_DAY_H if target.response == "short-day" else LONG_DAY_H


def _maker(practice: Practice) -> tuple[float, Said]:
    low, high = practice.maker_low_cm, practice.maker_high_cm
    if low is None or high is None:
        return MIDDLE_CM, said("school.no_chart")
    height = high - (high - low) * practice.stage_share
    return height, said("school.makers_chart")


def _ppfd_middle(target: StageTarget) -> float:
    if target.own_ppfd_band is not None:
        return sum(target.own_ppfd_band) / 2
    kind = (
        "flower"
        if target.response == "short-day"
        else "young"
        if target.dli_middle < YOUNG_DLI
        else "leafy"
    )
    low, high = PPFD_BANDS[kind]
    return (low + high) / 2


def _dial_for_light(space: LeverSpace, light: float) -> float:
    at = int(np.abs(space.light - light).argmin())
    return float(space.dials_pct[at])


def opinions(
    space: LeverSpace, target: StageTarget, plan: Setting, practice: Practice
) -> tuple[Opinion, ...]:
    """Return every school's setting for a stage and what it would give here.

    Parameters
    ----------
    space : LeverSpace
    target : StageTarget
    plan : Setting
        The plan's own choice, by the DLI.
    practice : Practice
    """
    full = float(space.dials_pct[-1])
    cap = HOT_SPOT * (1.5 if practice.enriched else 1.0)
    hot = _lowest_under(space, cap)
    base = practice.maker_low_cm if practice.maker_low_cm is not None else hot
    maker, maker_note = _maker(practice)
    by_watts = next(height for most, height in BY_WATTS if practice.watts < most)
    far = (practice.maker_high_cm or MIDDLE_CM) * CAUTION
    far += BEHIND_WALLS_CM if practice.reflective else 0.0
    _, d, _ = space.nearest(plan)
    light = float(space.light[d])
    watts_share = float(space.watts[d] / space.watts[-1])
    chart = _chart_hours(target)

    def reached(height_cm: float) -> Setting:
        return Setting(height_cm, full, _hours_for(space, target, height_cm, full))

    h, _, _ = space.nearest(plan)
    wanted = _ppfd_middle(target) / max(float(space.mean[h, -1]), 1e-9) * float(space.light[-1])
    # these people read the shares of light they want off a scale that shows something else
    wrong_dial = Setting(plan.height_cm, light * 100, plan.hours)
    lit_h, chart_h = (float(space.losses.full_h(h)) for h in (plan.hours, chart))
    row_share = lit_h / chart_h if chart_h else 0.0
    band = (
        said("school.ppfd_first", chart_h=chart)
        if plan.hours == chart
        else said("school.wrong_row", chart_h=chart, hours=plan.hours, share=row_share)
    )
    shares = space.watts / space.watts[-1]
    watts_dial = float(space.dials_pct[int(np.abs(shares - light).argmin())])
    gives = float(np.interp(light * 100, space.dials_pct, space.light))
    by_ppfd = Setting(plan.height_cm, _dial_for_light(space, min(wanted, 1.0)), chart)
    lux = practice.lux_per_umol or WHITE_LUX_PER_UMOL
    by_eye = LUX_WISHED / lux
    of_full = by_eye / max(float(space.mean[h, -1]), 1e-9) * float(space.light[-1])
    by_lumens = Setting(plan.height_cm, _dial_for_light(space, min(of_full, 1.0)), chart)
    much_w = WATTS_A_M2 * practice.area_m2
    at_watts = int(np.abs(space.watts - much_w).argmin())
    by_area = Setting(plan.height_cm, float(space.dials_pct[at_watts]), chart)
    eye = "school.lumens" if practice.lux_per_umol else "school.lumens_white"
    lumens = said(eye, lux=LUX_WISHED, factor=lux, ppfd=by_eye)
    floor = said("school.watts_area", watts=much_w, has=float(space.watts[-1]))
    few = "school.few_watts" if practice.watts < SUPPLEMENT_W else "school.by_watts"
    wishes: list[tuple[SchoolName, Setting, Said]] = [
        ("hot_spot_first", reached(hot), said("school.hot_spot_first")),
        ("evenness_first", reached(base * EVENNESS_HIGHER), said("school.evenness_first")),
        ("makers_chart", reached(maker), maker_note),
        ("middle_start", reached(MIDDLE_CM), said("school.middle_start")),
        ("by_watts", reached(by_watts), said(few)),
        ("cautious", reached(far), said("school.cautious")),
        (
            "dial_is_light",
            wrong_dial,
            said("school.dial_is_light", light=light, dial_pct=light * 100, gives=gives),
        ),
        (
            "watts_fraction",
            Setting(plan.height_cm, watts_dial, plan.hours),
            said("school.watts_fraction", light=light, watts=watts_share),
        ),
        ("lumens_an_area", by_lumens, lumens),
        ("watts_an_area", by_area, floor),
        ("ppfd_first", by_ppfd, band),
        ("dli_first", plan, said("school.dli_first")),
    ]
    found = []
    for school, wish, note in wishes:
        index = space.nearest(wish)
        missed = tuple(limit.name for limit in limits(space, target, index) if not limit.holds)
        found.append(
            Opinion(school, wish, space.setting(index), space.outcome(index), missed, note)
        )
    return tuple(found)


@dataclass(frozen=True)
class Distance:
    """What doubling the distance does here, beside what "inverse square" says."""

    from_cm: float
    to_cm: float
    mean_share: float
    inverse_square: float


def doubled(space: LeverSpace, height_cm: float) -> Distance | None:
    """Return what becomes of the mean at twice the height, ``None`` out of reach.

    In a black room under a small lamp a quarter would be left.
    """
    if 2 * height_cm > space.heights_cm[-1]:
        return None
    near, far = (space.nearest(Setting(x, 100.0, 0.0))[0] for x in (height_cm, 2 * height_cm))
    ratio = float(space.mean[far, -1] / space.mean[near, -1])
    return Distance(height_cm, 2 * height_cm, ratio, 0.25)
