"""The demo's run under way: potted chrysanthemums in a second tent, in their 40th day.

All dates are relative to today. It was walked and fitted, lost power once, and its lamp should have
been raised three days ago.
"""

from datetime import date, datetime, time, timedelta
from typing import Any, get_args
from uuid import NAMESPACE_URL, UUID, uuid5

from django.db import transaction

from server.accounts.models import Grower
from server.common.rows import touch
from server.crops.models import Crop
from server.fixtures.models import Fixture
from server.logbook.models import Entry
from server.logbook.services import keep_entries
from server.power.adapters.install import StepName
from server.power.services import tick
from server.readings.adapters.fits import document_of
from server.readings.adapters.taken import read_fit
from server.readings.schemas import FitIn, SensorIn, WalkAsked
from server.readings.services import add_sensor, keep_fit
from server.readings.services import keep_entries as keep_walk
from server.runs.adapters.bench import bench_answer, levers
from server.runs.adapters.standing import standing_of
from server.runs.models import Run
from server.runs.selectors import run_of
from server.runs.services import begin_run, begin_stage, name_run, start_run
from server.spaces.services import add_space

DAYS = 40
SHOW_TENT: dict[str, Any] = {
    "name": "Show tent",
    "width_cm": 90.0,
    "depth_cm": 90.0,
    "height_cm": 180.0,
    "lining": "silver",
    "pot_cm": 16.0,
    "hangers_cm": 12.0,
    "timer_step_min": 15,
    "currency": "€",
    "tariff_per_kwh": 0.31,
}
LAMP, CROP, NAME = "Tallow Board 200", "Potted chrysanthemums", "Chrysanthemums for the show"
STAGES_BEGAN = (14, 36)
"""The run's days on which its second and third stage began, the last a day late."""

INSTALLED: dict[StepName, dict[str, float | None]] = {
    "timer": {"on_minute": 360.0, "off_minute": 1320.0},
    "watts": {"watts": 63.0},
    "warm": {"sink_c": 43.0, "driver_c": 48.0, "tent_c": 25.0, "room_c": 22.0},
}
SENSOR = {"name": "Quantum sensor", "kind": "quantum"}
LAYOUT = {
    "name": "five",
    "columns": 5,
    "rows": 1,
    "places": "cells",
    "edge_cm": 10,
    "lift_cm": 0,
    "dials": [],
}
"""Tops above the floor by the run's days: they grew faster than planned."""

SPOTS = ((45.0, 45.0), (10.0, 10.0), (80.0, 10.0), (10.0, 80.0), (80.0, 80.0))
READ_SHARES = (0.88, 0.93, 0.84, 0.9, 0.83)
"""What the sensor showed of what was planned, spot by spot: a board a little past its best."""

WALK_DAY, WALK_CM = 16, 45.0

TOPS = (
    (0, 21.0),
    (4, 21.0),
    (8, 23.0),
    (11, 23.0),
    (15, 25.5),
    (18, 26.5),
    (22, 31.0),
    (25, 34.5),
    (29, 38.5),
    (32, 43.5),
    (35, 48.5),
    (38, 52.0),
)
"""Tops above the floor by the run's days: they grew faster than planned."""

SET = (
    (0, {"height_cm": 60.0, "dial_pct": 44.0, "hours": 14.0, "on_minute": 360.0}),
    (14, {"height_cm": 58.0, "dial_pct": 43.0, "hours": 16.75}),
    (21, {"dial_pct": 50.0}),
    (28, {"dial_pct": 58.0}),
    (36, {"dial_pct": 83.0, "hours": 12.0}),
)
"""As the plan had it, but for the lamp itself: it was not raised."""

CUT = (25, {"minutes": 320.0, "from_minute": 540.0})
WATTS = ((15, 63.0), (28, 95.0))
SIGN: dict[str, Any] = {"what": "pale", "part": "lower leaves", "many": "some", "since_days": 2.0}
SIGN_DAYS = (20, 21, 25)
"""When it was seen, when more light was tried for it, and when that had helped."""

NOTES = ((0, "22 rooted cuttings potted on"), (29, "pinched out the tips"))


def _at(grower: Grower, begun: date, day: int, hour: int = 8) -> datetime:
    return datetime.combine(begun + timedelta(days=day), time(hour), tzinfo=grower.zone)


def _key(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"idle-canopy-demo/{name}")


def live_demo(grower: Grower) -> Run:
    """Return the demo's run under way; made once."""
    first: Entry | None = Entry.objects.of(grower).filter(key=_key("log/0")).first()
    if first is not None:
        # whatever it is called by now
        return first.run
    with transaction.atomic():
        run = _begun(grower)
        begun = run.begun_on
        assert begun is not None
        _walked(run, _at(grower, begun, WALK_DAY, 19))
        keep_entries(run, _entries(grower, begun))
        for step in get_args(StepName):
            tick(run, step, INSTALLED.get(step, {}))
        # the plan to try things in stays the one last worked on
        latest = Run.objects.of(grower).exclude(pk=run.pk).order_by("-changed_at").first()
        if latest is not None:
            touch(latest)
    return run


def _begun(grower: Grower) -> Run:
    space = add_space(grower, SHOW_TENT)
    lamp = Fixture.objects.of(grower).get(name=LAMP)
    crop = Crop.objects.of(grower).get(name=CROP)
    begun = grower.today() - timedelta(days=DAYS - 1)
    run = begin_run(name_run(start_run(grower, space, lamp, crop), NAME), begun)
    stages = [life.stage_id for life in run.lived.all()]
    for stage_id, day in zip(stages[1:], STAGES_BEGAN):
        run = begin_stage(run, stage_id, begun + timedelta(days=day))
    return run


def _entries(grower: Grower, begun: date) -> list[dict[str, Any]]:
    rows: list[tuple[int, int, str, dict[str, Any], str]] = [
        *((day, 8, "tops", {"tops_cm": cm}, "") for day, cm in TOPS),
        *((day, 9, "setting", values, "") for day, values in SET),
        (CUT[0], 18, "outage", CUT[1], ""),
        *((day, 10, "watts", {"watts": watts}, "") for day, watts in WATTS),
        *((day, 11, "note", {}, text) for day, text in NOTES),
    ]
    seen, tried, came = SIGN_DAYS
    sign = str(_key(f"log/{len(rows)}"))
    rows += [
        (seen, 9, "symptom", SIGN, "lower leaves pale on some plants since 2 days"),
        (tried, 10, "try", {"of": sign, "cause": "little_light"}, "more light: dial 50"),
        (came, 9, "outcome", {"of": sign, "what": "better"}, "new leaves are green"),
    ]
    return [
        {
            "key": _key(f"log/{k}"),
            "kind": kind,
            "at": _at(grower, begun, day, hour),
            "values": values,
            "text": text,
            "replaces": None,
            "gone": False,
        }
        for k, (day, hour, kind, values, text) in enumerate(rows)
    ]


def _walked(run: Run, at: datetime) -> None:
    """Keep a walk of five spots, and plan by it."""
    standing = standing_of(run)
    part = standing.parts[1]
    plan = bench_answer(standing, part, {}, levers(WALK_CM, 100.0, 16.0), 360)
    floor = plan.floor
    sensor = add_sensor(run.owner, SensorIn.model_validate(SENSOR).model_dump())
    entries, rows = [], []
    for k, ((x, y), share) in enumerate(zip(SPOTS, READ_SHARES)):
        i = min(range(len(floor.x_cm)), key=lambda at, x=x: abs(floor.x_cm[at] - x))  # type: ignore[misc]
        j = min(range(len(floor.y_cm)), key=lambda at, y=y: abs(floor.y_cm[at] - y))  # type: ignore[misc]
        shown = round(floor.ppfd[j][i] * share)
        spot = {"x_cm": x, "y_cm": y, "height_cm": WALK_CM, "dial_pct": 100.0}
        rows.append({**spot, "reading": float(shown)})
        entries.append(
            {
                "key": _key(f"walk/{run.pk}/{k}"),
                "number": k,
                "state": "read",
                "shown": float(shown),
                "unlit": None,
                "spread": None,
                "at": at + timedelta(minutes=k),
                **spot,
            }
        )
    once = {"layout": LAYOUT, "height_cm": WALK_CM, "dial_pct": 100.0, "sensor_id": sensor.pk}
    asked = WalkAsked.model_validate(once).model_dump()
    walk = keep_walk(run, _key(f"walk/{run.pk}"), asked, entries)
    read = {"rows": rows, "sensor_id": sensor.pk, "read_on": at.date()}
    values = FitIn.model_validate(read).model_dump()
    kept = read_fit(standing_of(run_of(run.owner, run.pk)), values, None, sensor, at.date()).kept
    keep_fit(run, document_of(kept), "Five spots after potting on", None, walk)
