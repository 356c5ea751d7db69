"""The tops a run's log has, to the core's curve; and when they come too near the lamp."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import ceil, floor

from canopy.crop.growth import HORIZON_D, MOST_POINTS, Tops, fit_tops
from canopy.words import Said, said
from server.logbook.models import Entry
from server.runs.models import Run

DAY_S = 86_400.0
WEEK_D = 7
LEAST_RISE_CM = 0.05


@dataclass(frozen=True)
class TopsPoint:
    """Tops as they were measured, above the floor."""

    at: datetime
    tops_cm: float
    where: str


@dataclass(frozen=True)
class TopsDay:
    """Where the tops will be on a day, nine times in ten inside."""

    on: date
    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class TopsAnswer:
    """What was measured, how it goes on, and what that means for the lamp."""

    points: list[TopsPoint]
    kind: str
    rate_cm_d: float
    days: list[TopsDay]
    lamp_cm: float | None
    lines: list[Said]


def day_of(run: Run, at: datetime) -> float:
    """Return the moment as days since the run began at midnight by the grower's clock."""
    local = at.astimezone(run.owner.zone)
    begun = run.begun_on or local.date()
    midnight = local.replace(hour=0, minute=0, second=0, microsecond=0)
    return (local.date() - begun).days + (local - midnight).total_seconds() / DAY_S


def rise_of(run: Run) -> float:
    """Return what the stage it is in, or else the crop's first, is known to rise a day."""
    stages = {stage.pk: stage for stage in run.crop.stages}
    now = run.stage_now
    stage = stages.get(now.stage_id) if now is not None else next(iter(stages.values()), None)
    if stage is None:
        return 0.0
    return (stage.plant_end_cm - stage.plant_start_cm) / max(stage.days, 1)


def tops_of(
    run: Run, measured: Sequence[Entry], heights: Sequence[tuple[datetime, float]], now: datetime
) -> TopsAnswer | None:
    """Return what tops that were measured come to; nothing without any.

    ``measured`` are those that stand, ``heights`` those of the lamp above the tops as they were
    set, both oldest first.
    """
    measured = measured[-MOST_POINTS:]
    if not measured:
        return None
    days = [day_of(run, entry.at) for entry in measured]
    found = fit_tops(days, [entry.values["tops_cm"] for entry in measured], rise_of(run))
    today = day_of(run, now)
    first = floor(min(days))
    last = ceil(max(today, found.last_day)) + 2 * WEEK_D
    span = list(range(first, last + 1))
    begun = run.begun_on or now.date()
    low, middle, high = found.at(span)
    lamp = _lamp_cm(run, found, heights)
    return TopsAnswer(
        points=[
            TopsPoint(entry.at, entry.values["tops_cm"], entry.values.get("where", ""))
            for entry in measured
        ],
        kind=found.kind,
        rate_cm_d=found.rate_cm_d,
        days=[
            TopsDay(begun + timedelta(days=day), *(float(rows[k]) for rows in (low, middle, high)))
            for k, day in enumerate(span)
        ],
        lamp_cm=lamp,
        lines=_lines(found, today, lamp, run.fixture.closest_cm),
    )


def _lamp_cm(run: Run, found: Tops, heights: Sequence[tuple[datetime, float]]) -> float | None:
    """Return how high above the floor the lamp hangs, by the last height that was set."""
    if not heights:
        return None
    at, height = heights[-1]
    return float(found.at([day_of(run, at)])[1][0]) + height


def _lines(found: Tops, today: float, lamp_cm: float | None, closest_cm: float) -> list[Said]:
    now, week = (found.at([today + ahead]) for ahead in (0, WEEK_D))
    figures = {
        "now_cm": float(now[1][0]),
        "week_cm": float(week[1][0]),
        "low_cm": float(week[0][0]),
        "high_cm": float(week[2][0]),
    }
    lines = [
        said("tops.still", **figures)
        if abs(found.rate_cm_d) < LEAST_RISE_CM
        else said("tops.rise", rate_cm=found.rate_cm_d, **figures)
    ]
    if lamp_cm is None:
        return [*lines, said("tops.no_lamp")]
    limit = lamp_cm - closest_cm
    lamp = {"lamp_cm": lamp_cm, "closest_cm": closest_cm}
    if figures["now_cm"] >= limit:
        return [*lines, said("tops.near", **lamp)]
    early, likely, late = (
        None if day is None else max(day - today, 0.0) for day in found.reaches(limit)
    )
    if likely is None:
        return [*lines, said("tops.far", days=float(HORIZON_D), **lamp)]
    return [
        *lines,
        said(
            "tops.reach",
            days=likely,
            early=likely if early is None else early,
            late=float(HORIZON_D) if late is None else late,
            **lamp,
        ),
    ]
