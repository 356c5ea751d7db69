"""What the demo has lived: chrysanthemums in their 40th day, and herbs that were harvested before.

All dates are relative to today. The run under way was walked and fitted, lost power once, and its
lamp should have been raised three days ago; since the fit its light has fallen a little.
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
from server.power.services import keep_plants, tick
from server.readings.adapters.fits import document_of
from server.readings.adapters.taken import read_fit
from server.readings.models import Sensor, Walk
from server.readings.schemas import FitIn, SensorIn, WalkAsked
from server.readings.services import add_sensor, keep_fit
from server.readings.services import keep_entries as keep_walk
from server.runs.adapters.bench import bench_answer, levers
from server.runs.adapters.standing import standing_of
from server.runs.models import Run
from server.runs.selectors import run_of
from server.runs.services import begin_run, begin_stage, end_run, name_run, start_run
from server.spaces.models import Space
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

FITTED, WALK_CM = 16, 45.0
WALKS = ((-75, 1.05), (-35, 1.025), (FITTED, 1.0), (26, 0.985), (37, 0.97))
"""The run's days on which the spots were read, twice before it began, and what they showed of the
walk that was fitted."""

HAND = (1.004, 0.995, 1.007, 0.998, 0.996)
"""Nobody reads a spot twice alike."""

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


HERBS: dict[str, Any] = {
    "space": "Herb shelf",
    "lamp": "Hearth Pair",
    "crop": "Winter herbs",
    "name": "Herbs of late summer",
    "days": 66,
    "ended_before": 58,
    "second_stage": 17,
    "plants": 8,
    "harvest": 340.0,
    "tops": ((0, 10.5), (9, 11.5), (17, 13.0), (30, 18.5), (45, 24.0), (60, 28.5)),
    "set": (
        (0, {"height_cm": 18.0, "dial_pct": 60.0, "hours": 14.0, "on_minute": 360.0}),
        (17, {"height_cm": 17.0, "dial_pct": 58.0, "hours": 16.0}),
    ),
    "notes": ((0, "sown in two trays"), (31, "first picking"), (52, "second picking")),
}
"""A run that is over: two stages, the first three days longer than planned."""


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
        _herbs(grower)
        _walked(run, begun)
        keep_entries(run, _entries(grower, begun))
        for step in get_args(StepName):
            tick(run, step, INSTALLED.get(step, {}))
        # the plan to try things in stays the one last worked on
        plans = Run.objects.of(grower).filter(begun_on=None)
        latest = plans.order_by("-changed_at").first()
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
    return _as_entries(grower, begun, rows, "log")


def _as_entries(
    grower: Grower,
    begun: date,
    rows: list[tuple[int, int, str, dict[str, Any], str]],
    name: str,
) -> list[dict[str, Any]]:
    """Return rows of a day, an hour, a kind, figures and words as entries of a log."""
    return [
        {
            "key": _key(f"{name}/{k}"),
            "kind": kind,
            "at": _at(grower, begun, day, hour),
            "values": values,
            "text": text,
            "replaces": None,
            "gone": False,
        }
        for k, (day, hour, kind, values, text) in enumerate(rows)
    ]


def _herbs(grower: Grower) -> None:
    """Keep a run of herbs that is over."""
    space = Space.objects.of(grower).get(name=HERBS["space"])
    lamp = Fixture.objects.of(grower).get(name=HERBS["lamp"])
    crop = Crop.objects.of(grower).get(name=HERBS["crop"])
    ended = grower.today() - timedelta(days=HERBS["ended_before"])
    begun = ended - timedelta(days=HERBS["days"])
    run = begin_run(name_run(start_run(grower, space, lamp, crop), HERBS["name"]), begun)
    second = [life.stage_id for life in run.lived.all()][1]
    run = begin_stage(run, second, begun + timedelta(days=HERBS["second_stage"]))
    rows: list[tuple[int, int, str, dict[str, Any], str]] = [
        *((day, 8, "tops", {"tops_cm": cm}, "") for day, cm in HERBS["tops"]),
        *((day, 9, "setting", values, "") for day, values in HERBS["set"]),
        *((day, 11, "note", {}, text) for day, text in HERBS["notes"]),
    ]
    keep_entries(run, _as_entries(grower, begun, rows, "herbs"))
    run = keep_plants(run, HERBS["plants"])
    outcome = {"ended_how": "harvested", "harvest": HERBS["harvest"], "harvest_unit": "g"}
    end_run(run, ended, outcome)


def _spot(at: datetime, key: UUID, number: int, x: float, y: float, shown: float) -> dict[str, Any]:
    """Return a spot that was read on a walk."""
    return {
        "key": key,
        "number": number,
        "state": "read",
        "x_cm": x,
        "y_cm": y,
        "height_cm": WALK_CM,
        "dial_pct": 100.0,
        "shown": shown,
        "unlit": None,
        "spread": None,
        "at": at + timedelta(minutes=number),
    }


def _walked(run: Run, begun: date) -> None:
    """Keep walks over the same five spots, and plan by the one after potting on."""
    shown = _shown_at_first(run)
    sensor = add_sensor(run.owner, SensorIn.model_validate(SENSOR).model_dump())
    once = {"layout": LAYOUT, "height_cm": WALK_CM, "dial_pct": 100.0, "sensor_id": sensor.pk}
    asked = WalkAsked.model_validate(once).model_dump()
    for day, share in WALKS:
        at = _at(run.owner, begun, day, 19)
        hand = HAND if day != FITTED else (1.0,) * len(HAND)
        values = [float(round(each * share * off)) for each, off in zip(shown, hand)]
        entries = [
            _spot(at, _key(f"walk/{run.pk}/{day}/{k}"), k, x, y, value)
            for k, ((x, y), value) in enumerate(zip(SPOTS, values))
        ]
        walk = keep_walk(run, _key(f"walk/{run.pk}/{day}"), asked, entries)
        if day == FITTED:
            _plan_by(run, walk, entries, sensor, at.date())


def _shown_at_first(run: Run) -> list[float]:
    """Return what the sensor shows at each spot on the walk that is fitted."""
    standing = standing_of(run)
    plan = bench_answer(standing, standing.parts[1], {}, levers(WALK_CM, 100.0, 16.0), 360)
    floor, found = plan.floor, []
    for (x, y), share in zip(SPOTS, READ_SHARES):
        i = min(range(len(floor.x_cm)), key=lambda at, x=x: abs(floor.x_cm[at] - x))  # type: ignore[misc]
        j = min(range(len(floor.y_cm)), key=lambda at, y=y: abs(floor.y_cm[at] - y))  # type: ignore[misc]
        found.append(floor.ppfd[j][i] * share)
    return found


def _plan_by(run: Run, walk: Walk, entries: list[dict[str, Any]], sensor: Sensor, on: date) -> None:
    """Keep a fit of a walk, and plan by it."""
    names = ("x_cm", "y_cm", "height_cm", "dial_pct")
    rows = [{n: each[n] for n in names} | {"reading": each["shown"]} for each in entries]
    read = {"rows": rows, "sensor_id": sensor.pk, "read_on": on}
    values = FitIn.model_validate(read).model_dump()
    kept = read_fit(standing_of(run_of(run.owner, run.pk)), values, None, sensor, on).kept
    keep_fit(run, document_of(kept), "Five spots after potting on", None, walk)
