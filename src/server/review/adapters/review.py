"""A run looked back on: planned beside given, what it cost, what helped, and what it taught."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray

from canopy.formats.fitfile import natural
from canopy.ledger.review import (
    Grown,
    LivedDay,
    Shares,
    Sums,
    by_stage,
    cost_of_spans,
    grown,
    kwh_given,
    shares,
    sums,
)
from canopy.measure.learnt import fit_of
from canopy.plan.season import DayRow
from canopy.power.energy import tier_costs
from canopy.power.metered import Metered
from canopy.power.timer import TimerClock
from canopy.words import Said, said
from server.logbook.adapters.light import Ledger
from server.logbook.adapters.stood import LightPart, part_on
from server.logbook.models import Entry
from server.readings.adapters.fits import stored_fit
from server.runs.adapters.prices import prices_of
from server.runs.adapters.season import SeasonAnswer
from server.runs.adapters.standing import file_of
from server.runs.models import Fit, Run

Array = NDArray[np.float64]

SAME_CM = 1.0
SAME_DAYS = 1


@dataclass(frozen=True)
class ReviewDay:
    """A day's light, planned and given, for the picture."""

    on: date
    stage: int
    planned_dli: float | None
    known: bool
    dli: float
    low: float
    high: float


@dataclass(frozen=True)
class StageReview:
    """A stage of a run: its days together, and how it was grown beside how it was planned.

    It is ``done`` once it has ended as stages do: not under way, and not given up.
    """

    stage_id: int
    name: str
    dli_low: float
    dli_high: float
    planned_days: int
    sums: Sums
    grown: Grown
    planned_start_cm: float
    planned_end_cm: float
    done: bool


@dataclass(frozen=True)
class SignReview:
    """What plants showed, what was tried, and what came of it; empty where nothing was."""

    on: date
    values: dict[str, float | str]
    tried: str
    tried_on: date | None
    outcome: str
    outcome_text: str


@dataclass(frozen=True)
class TaughtFit:
    """A fit a run was planned by: what it was made of, and what it says of lamp and lining."""

    id: int
    read_on: date
    readings: int
    lines: list[Said]


@dataclass(frozen=True)
class Review:
    """A run looked back on; ``over`` tells that it has ended."""

    run_id: int
    over: bool
    begun_on: date
    last_on: date
    currency: str
    days: list[ReviewDay]
    stages: list[StageReview]
    whole: Sums
    shares: Shares
    plants: int | None
    harvest: float | None
    harvest_unit: str
    ended_how: str
    signs: list[SignReview]
    fits: list[TaughtFit]
    taught: list[Said]
    differs: bool
    lines: list[Said]


@dataclass(frozen=True)
class Kept:
    """What was kept of a run, as far as a review looks at it.

    ``seasons`` are the plans it had, each from which day on; ``metered`` by the day what meters of
    its lamps showed.
    """

    run: Run
    ledger: Ledger
    seasons: Sequence[tuple[int, SeasonAnswer]]
    metered: Mapping[date, Metered]
    signs: Sequence[Entry]
    fits: Sequence[Fit]
    measured: Sequence[tuple[float, float]]

    @property
    def begun(self) -> date:
        """The run's first day."""
        assert self.run.begun_on is not None
        return self.run.begun_on

    @property
    def count(self) -> int:
        """Days that are over; of a run that goes on without today."""
        whole = len(self.ledger.found.dli)
        return whole if self.run.ended_on is not None else max(whole - 1, 0)


def _planned_rows(kept: Kept) -> dict[int, DayRow]:
    """Return the plan's rows by day, each of the plan that then held."""
    found: dict[int, DayRow] = {}
    for from_day, season in kept.seasons:
        found = {day: row for day, row in found.items() if day < from_day}
        found |= {row.day: row for row in season.rows if row.day >= from_day}
    return found


def lived_days(kept: Kept) -> list[LivedDay]:
    """Return a run's days, planned beside given."""
    ledger, run = kept.ledger, kept.run
    parts, found = ledger.parts, ledger.found
    standing = parts[-1].standing
    prices = prices_of(standing)
    timer = TimerClock(run.owner.zone, kept.begun, standing.space.follows_summer_time)
    stages = _stages(parts)
    number = {id(part): stages.index(part.part.stage.pk) for part in parts}
    kwh = kwh_given(found, ledger.lived.stood, lambda k, dial: parts[k].light.watts(dial))
    planned, moved = _planned_rows(kept), set(ledger.lived.changed)
    rows = []
    for day in range(kept.count):
        part, on = part_on(parts, day), kept.begun + timedelta(days=day)
        apart = sum(part.problem.apart_kwh(hung) for hung in part.problem.apart)
        own = float(kwh[day]) + (apart if found.known[day] else 0.0)
        ahead = timer.ahead_min(on)
        wide, dli, row = ledger.wide(day), float(found.dli[day]), planned.get(day)
        metered = kept.metered.get(on)
        rows.append(
            LivedDay(
                stage=number[id(part)],
                known=bool(found.known[day]),
                dli=dli,
                low=dli * (1 - wide),
                high=dli * (1 + wide),
                dli_low=part.target.dli_low,
                dli_high=part.target.dli_high,
                kwh=own,
                cost=cost_of_spans(prices(day), found.spans[day], own, ahead),
                metered_kwh=None if metered is None else metered.kwh,
                metered_h=0.0 if metered is None else metered.hours,
                planned_dli=None if row is None else row.dli,
                planned_kwh=None if row is None else row.kwh,
                planned_cost=None if row is None else row.cost,
                planned_trip=bool(day and row is not None and row.tasks),
                moved=day in moved,
            )
        )
    dates = [kept.begun + timedelta(days=day) for day in range(kept.count)]
    tariff = standing.tariff
    added = tier_costs(prices(0), dates, [each.used_kwh for each in rows], tariff.other_kwh_a_day)
    return [replace(each, cost=each.cost + float(more)) for each, more in zip(rows, added)]


def _stages(parts: Sequence[LightPart]) -> list[int]:
    """Return the stages parts are of, by their rows, in order."""
    return list(dict.fromkeys(part.part.stage.pk for part in parts))


def review_of(kept: Kept) -> Review:
    """Return a run looked back on."""
    run, ledger = kept.run, kept.ledger
    days = lived_days(kept)
    standing = ledger.parts[-1].standing
    stages = _stage_reviews(kept, days)
    whole = sums(days)
    fits = [_taught(fit) for fit in kept.fits]
    last = kept.begun + timedelta(days=max(kept.count - 1, 0))
    differs = any(_differs(stage) for stage in stages)
    area = ledger.part.problem.box.canopy_area_m2
    harvest = None if run.ended_how != "harvested" else run.harvest
    return Review(
        run_id=run.pk,
        over=run.ended_on is not None,
        begun_on=kept.begun,
        last_on=last,
        currency=standing.tariff.currency,
        days=[
            ReviewDay(
                kept.begun + timedelta(days=k),
                day.stage,
                day.planned_dli,
                day.known,
                day.dli,
                day.low,
                day.high,
            )
            for k, day in enumerate(days)
        ],
        stages=stages,
        whole=whole,
        shares=shares(whole, area, run.plants, harvest, standing.tariff.grid_g_per_kwh),
        plants=run.plants,
        harvest=harvest,
        harvest_unit=run.harvest_unit,
        ended_how=run.ended_how,
        signs=_signs(kept),
        fits=fits,
        taught=[*(fits[-1].lines if fits else [said("review.no_fit")]), *_growth(stages)],
        differs=differs,
        lines=_lines(whole),
    )


def _lines(whole: Sums) -> list[Said]:
    if not whole.known_days:
        return [said("review.nothing_known")]
    lines = []
    below, above = float(whole.below_days), float(whole.above_days)
    if below or above:
        lines.append(said("review.outside", below=below, above=above))
    if whole.planned_dli and whole.dli is not None:
        lines.append(said("review.of_plan", share=whole.dli / whole.planned_dli))
    # on the first day it was set
    unknown = whole.days - whole.known_days - 1
    if unknown > 0:
        lines.append(said("review.unknown", days=float(unknown)))
    return lines


def _stage_reviews(kept: Kept, days: Sequence[LivedDay]) -> list[StageReview]:
    ledger = kept.ledger
    pks = _stages(ledger.parts)
    planned = {row["id"]: row for row in file_of(kept.run).crop["stages"]}
    ended = {life.stage_id for life in kept.run.lived.all() if life.ended_on is not None}
    given_up, last = kept.run.ended_how == "given_up", max((d.stage for d in days), default=0)
    found = []
    for each in by_stage(days):
        part = next(p for p in ledger.parts if p.part.stage.pk == pks[each.stage])
        stage = part.part.stage
        row: dict[str, Any] = planned.get(stage.pk) or vars(stage)
        own = grown(
            each.first_day,
            each.days,
            part.standing.space.pot_cm,
            kept.measured,
            ledger.lived.rising,
        )
        found.append(
            StageReview(
                stage_id=stage.pk,
                name=stage.name,
                dli_low=part.target.dli_low,
                dli_high=part.target.dli_high,
                planned_days=int(row["days"]),
                sums=each,
                grown=own,
                planned_start_cm=float(row["plant_start_cm"]),
                planned_end_cm=float(row["plant_end_cm"]),
                done=stage.pk in ended and not (given_up and each.stage == last),
            )
        )
    return found


def _differs(stage: StageReview) -> bool:
    """Return whether a stage that is done was lived otherwise than planned."""
    own = stage.grown
    if not stage.done:
        return False
    heights = (
        (own.plant_start_cm, stage.planned_start_cm),
        (own.plant_end_cm, stage.planned_end_cm),
    )
    return abs(own.days - stage.planned_days) > SAME_DAYS or any(
        lived is not None and abs(lived - planned) > SAME_CM for lived, planned in heights
    )


def _growth(stages: Sequence[StageReview]) -> list[Said]:
    """Return how plants grew beside how they were planned to."""
    lines = []
    for stage in stages:
        own = stage.grown
        if own.plant_start_cm is None or own.plant_end_cm is None or not own.days:
            continue
        rate = (own.plant_end_cm - own.plant_start_cm) / own.days
        plan = (stage.planned_end_cm - stage.planned_start_cm) / max(stage.planned_days, 1)
        lines.append(said("review.grew", stage=stage.name, rate_cm=rate, planned_cm=plan))
    return lines


def _taught(fit: Fit) -> TaughtFit:
    """Return what a fit says of lamp and lining."""
    kept = stored_fit(fit.document)
    found = fit_of(kept.taken())
    lines = []
    for unknown in found.known:
        if unknown.name not in ("scale", "walls"):
            continue
        _, value, low, high = natural(found, unknown)
        if unknown.name == "scale":
            lines.append(said("review.lamp", share=value, low=low, high=high))
        else:
            closed = [rho for rho in kept.scene.box.wall_reflectance if rho > 0]
            noted = sum(closed) / len(closed)
            lines.append(said("review.lining", share=value, low=low, high=high, noted=noted))
    return TaughtFit(fit.pk, kept.read_on, len(kept.readings), lines)


def _signs(kept: Kept) -> list[SignReview]:
    zone = kept.run.owner.zone
    tries = {str(e.values.get("of")): e for e in kept.signs if e.kind == "try"}
    came = {str(e.values.get("of")): e for e in kept.signs if e.kind == "outcome"}
    found = []
    for entry in kept.signs:
        if entry.kind != "symptom":
            continue
        tried, outcome = tries.get(str(entry.key)), came.get(str(entry.key))
        found.append(
            SignReview(
                on=entry.at.astimezone(zone).date(),
                values=dict(entry.values),
                tried="" if tried is None else tried.text,
                tried_on=None if tried is None else tried.at.astimezone(zone).date(),
                outcome="" if outcome is None else str(outcome.values.get("what")),
                outcome_text="" if outcome is None else outcome.text,
            )
        )
    return found


def stages_as_grown(review: Review, rows: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return a crop's stages with their days and heights as they were lived in a run.

    ``rows`` are its stages as they would be given to be kept; one that is not done stays. Where
    one stage ends the next one begins.
    """
    lived = {stage.stage_id: stage.grown for stage in review.stages if stage.done}
    found: list[dict[str, Any]] = []
    for row in rows:
        own = lived.get(row["id"])
        new = dict(row)
        if own is not None:
            new["days"] = max(own.days, 1)
            if own.plant_start_cm is not None and own.plant_end_cm is not None:
                new["plant_start_cm"], new["plant_end_cm"] = own.plant_start_cm, own.plant_end_cm
        if found and new["plant_start_cm"] < found[-1]["plant_end_cm"]:
            new["plant_start_cm"] = found[-1]["plant_end_cm"]
        new["plant_end_cm"] = max(new["plant_end_cm"], new["plant_start_cm"])
        found.append(new)
    return found
