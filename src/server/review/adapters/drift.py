"""Walks in a run's tent over time: what lamp and lining have lost, and when it will not do."""

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING
from canopy.ledger.drift import UNSTATED_LOSS, Drift, Moment, Wiped, drift_of, stated_loss
from canopy.ledger.drift import Cleaned as Cleaned
from canopy.ledger.drift import Walk as DriftWalk
from canopy.measure.learnt import Taken
from canopy.measure.readings import MOST_READINGS
from canopy.measure.reread import alike, reread
from canopy.words import Said, said
from server.logbook.adapters.light import Ledger
from server.logbook.adapters.stood import LightPart
from server.logbook.models import Entry
from server.readings.adapters.fits import plugged_watts
from server.readings.adapters.taken import read_fit
from server.readings.adapters.walks import fit_values, shown_walk
from server.readings.models import Sensor, Walk
from server.runs.adapters.lamps import life_of
from server.runs.adapters.standing import Standing
from server.runs.models import Run

Array = NDArray[np.float64]

DAY_S = 86_400.0
NAMED = 0.1
"""A cause less likely is not told."""

YEAR_D = 365.25
YEARS_FROM_D = 2 * YEAR_D
"""What lies further ahead is told in years."""

CURVE = 40
"""Points of the line between the walks."""

ShownCode = Literal["steady", "ageing", "dirt", "lining", "dead", "step"]


@dataclass(frozen=True)
class TakenWalk:
    """A walk as its readings were taken: when, by which sensor, and what the lamp drew."""

    at: datetime
    taken: Taken
    sensor_id: int | None
    watts_share: float | None


@dataclass(frozen=True)
class DriftPoint:
    """What is left of the first walk's light on a day: the middle, and the 90 % range."""

    on: date
    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class WalkPoint:
    """What a walk by itself showed of the first one's light, put to one height and dial."""

    on: date
    share: float
    readings: int


@dataclass(frozen=True)
class ShownCause:
    """What may have taken light, how likely, and what to do."""

    code: ShownCode
    name: Said
    likelihood: float
    do: Said


@dataclass(frozen=True)
class DriftAnswer:
    """What lamp and lining have lost, why, and for how long it lasts; points are none of one walk.

    ``left_out`` walks were of another tent, or of the lamp elsewhere.
    """

    walks: list[WalkPoint]
    course: list[DriftPoint]
    lines: list[Said]
    causes: list[ShownCause]
    left_out: int
    lost: bool


def taken_walk(walk: Walk, standing: Standing, sensors: dict[int, Sensor]) -> TakenWalk | None:
    """Return a walk's readings; nothing where nothing was read, or they do not go with the tent."""
    shown = shown_walk(walk)
    values = fit_values(shown)
    if values is None:
        return None
    sensor_id = shown.asked["sensor_id"]
    today = max(walk.run.owner.today(), values["read_on"])
    try:
        read = read_fit(standing, values, None, sensors.get(sensor_id or 0), today)
        drawn = values["watts"]
        planned = plugged_watts(standing, read.kept, values["rows"][0]["dial_pct"])
    except CanopyError:
        return None
    share = drawn / planned if drawn and planned else None
    return TakenWalk(shown.begun_at, read.kept.taken(), sensor_id, share)


@dataclass(frozen=True)
class LitHours:
    """How long a lamp was lit in all the runs it was in here, by the moment."""

    runs: tuple[tuple[Run, Ledger], ...]

    def until(self, at: datetime) -> float:
        """Return the hours it was lit before a moment."""
        hours = 0.0
        for run, ledger in self.runs:
            begun = run.begun_on
            assert begun is not None
            days = (at.astimezone(run.owner.zone).date() - begun).days
            if days > 0:
                hours += float(ledger.found.lit_h[:days].sum())
        return hours

    def a_day(self) -> float:
        """Return the hours of the last month it was lit, a day."""
        if not self.runs:
            return 0.0
        lit = self.runs[-1][1].found.lit_h[-31:-1]
        return float(lit.mean()) if len(lit) else 0.0


def drift_answer(
    run: Run,
    walks: Sequence[TakenWalk],
    cleaned: Sequence[Entry],
    lit: LitHours,
    parts: Sequence[LightPart],
    now: datetime,
    known_on: date | None,
) -> DriftAnswer:
    """Return what lamp and lining have lost.

    Parameters
    ----------
    run : Run
    walks : sequence of TakenWalk
        The oldest first.
    cleaned : sequence of Entry
    lit : LitHours
    parts : sequence of LightPart
        Of the plan it is held against.
    now : datetime
        When the run ended, of one that has.
    known_on : date or None
        When the fit was read that plans know the lamp by; without one they know it as new.
    """
    same = [walk for walk in walks if walks and alike(walks[-1].taken, walk.taken)]
    same = _within(same)
    left_out = len(walks) - len(same)
    if len(same) < 2:
        code = "drift.one_walk" if same else "drift.no_walk"
        return DriftAnswer([], [], [said(code)], [], left_out, False)
    first = same[0].at
    zone = run.owner.zone

    def moment(at: datetime) -> Moment:
        return Moment((at - first).total_seconds() / DAY_S, lit.until(at))

    told = [DriftWalk(moment(w.at), w.sensor_id, w.taken.sensor_sd, w.watts_share) for w in same]
    wiped = [Wiped(moment(entry.at).day, what) for entry, what in map(_cleaned, cleaned) if what]
    life = life_of(run.fixture)
    read = reread([walk.taken for walk in same])
    found = drift_of(read, told, wiped, stated_loss(life))
    means = [float(read.misfit[read.walk == k].mean()) for k in range(len(same))]
    points = [
        WalkPoint(w.at.astimezone(zone).date(), float(np.exp(mean - means[0])), len(w.taken.rows))
        for w, mean in zip(same, means)
    ]
    last = moment(max(now, same[-1].at))
    left = found.left(last, told[0].at)
    lines = [
        said(
            "drift.left",
            share=left.middle,
            low=left.low,
            high=left.high,
            days=float(round(last.day)),
        )
    ]
    hours = last.lit_h - told[0].at.lit_h
    if hours > 0:
        loss = UNSTATED_LOSS if life == NO_AGEING else stated_loss(life)
        share = float(np.exp(-loss * hours / 1000))
        code = "drift.unstated" if life == NO_AGEING else "drift.stated"
        lines.append(said(code, share=share, hours=hours))
    causes = _causes(found)
    lines += _until(found, parts, last, _known(told, points, known_on), lit.a_day())
    main = causes[0]
    return DriftAnswer(
        walks=points,
        course=_course(found, same, moment, zone_day=lambda at: at.astimezone(zone).date()),
        lines=lines,
        causes=causes,
        left_out=left_out,
        lost=main.code != "steady",
    )


def _within(walks: Sequence[TakenWalk]) -> list[TakenWalk]:
    """Return the first walk and the latest whose readings can be compared together."""
    if not walks:
        return []
    rest: list[TakenWalk] = []
    room = MOST_READINGS - len(walks[0].taken.rows)
    for walk in reversed(walks[1:]):
        room -= len(walk.taken.rows)
        if room < 0:
            break
        rest.insert(0, walk)
    return [walks[0], *rest]


def _cleaned(entry: Entry) -> tuple[Entry, Cleaned | None]:
    """Return what an entry says was cleaned; a lining that was changed is a clean one."""
    if entry.kind == "cover":
        return entry, "lining"
    what = entry.values.get("what")
    return entry, what if what in ("lamp", "lining", "both") else None


def _causes(found: Drift) -> list[ShownCause]:
    shown: list[ShownCause] = []
    for cause in found.causes:
        if cause.likelihood < NAMED and shown:
            continue
        figures: dict[str, str] = {"side": cause.side} if cause.code == "dead" else {}
        shown.append(
            ShownCause(
                cause.code,
                said(f"drift.cause_{cause.code}", **figures),
                cause.likelihood,
                said(f"drift.do_{cause.code}", **figures),
            )
        )
    return shown


def _known(
    walks: Sequence[DriftWalk], points: Sequence[WalkPoint], known_on: date | None
) -> Moment:
    """Return the moment plans know the lamp by: the fit's walk, or the first."""
    if known_on is None:
        return walks[0].at
    at = bisect_right([point.on for point in points], known_on) - 1
    return walks[max(at, 0)].at


def _course(
    found: Drift,
    walks: Sequence[TakenWalk],
    moment: Callable[[datetime], Moment],
    zone_day: Callable[[datetime], date],
) -> list[DriftPoint]:
    first, last = walks[0].at, walks[-1].at
    step = (last - first) / CURVE
    shown: list[DriftPoint] = []
    for k in range(CURVE + 1):
        at = first + step * k
        on = zone_day(at)
        if shown and shown[-1].on == on:
            continue
        left = found.left(moment(at), moment(first))
        shown.append(DriftPoint(on, left.low, left.middle, left.high))
    return shown


def _until(
    found: Drift,
    parts: Sequence[LightPart],
    now: Moment,
    known: Moment,
    hours_a_day: float,
) -> list[Said]:
    """Return when the plan no longer reaches a stage's band, the one that asks most of the lamp."""
    asked = [(_needed(part), part) for part in parts]
    possible = [(share, part) for share, part in asked if share is not None]
    if not possible:
        return []
    share, part = max(possible, key=lambda each: each[0])
    stage, dli = part.part.stage.name, part.target.dli_low
    if share >= 1:
        return [said("drift.never_did", stage=stage, dli=dli)]
    until = found.until(share, now, known, hours_a_day)
    if until.likely == 0:
        return [said("drift.short", stage=stage, dli=dli)]
    if until.likely is None:
        if until.early is None:
            return [said("drift.long", stage=stage, dli=dli)]
        return [said("drift.long_early", stage=stage, dli=dli, days=until.early)]
    early, late = until.early or 0.0, until.late
    if until.likely >= YEARS_FROM_D:
        years = {"years": until.likely / YEAR_D, "early": early / YEAR_D}
        return [said("drift.until_years", stage=stage, dli=dli, **years)]
    figures = {"days": until.likely, "early": early}
    if late is None:
        return [said("drift.until_open", stage=stage, dli=dli, **figures)]
    return [said("drift.until", stage=stage, dli=dli, late=late, **figures)]


def _needed(part: LightPart) -> float | None:
    """Return the share of the lamp's light a stage needs at least; none where daylight does.

    At the most its levers can give: the dial at its highest, all hours, and the best height.
    """
    space, target = part.light.space, part.target
    lamps = part.light.mean(space.heights_cm, float(space.dials_pct[-1]))
    hours = target.hours_high
    whole = np.asarray(part.light.dli(space.heights_cm, float(space.dials_pct[-1]), hours))
    own = space.lamp_dli(lamps, hours)
    k = int(np.argmax(whole))
    wanted = target.dli_low - float(whole[k] - np.asarray(own)[k])
    if wanted <= 0 or float(np.asarray(own)[k]) <= 0:
        return None
    return wanted / float(np.asarray(own)[k])
