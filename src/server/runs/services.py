"""What can be done with runs: planned, begun, lived, ended."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from server.accounts.models import Grower
from server.changes.services import forget, keep_noted, note
from server.common.problems import CanopyError
from server.common.rows import Expected, copy_of, held, keep, touch
from server.crops.models import Crop
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import HungFixture, check_lamps, in_the_middle, overlapping
from server.runs.adapters.racks import every_above
from server.runs.adapters.standing import (
    LAMP_COLUMNS,
    WISHES,
    changes_in,
    copied,
    file_of,
    hung_in,
    planned_now,
    set_beside,
    standing_of,
)
from server.runs.models import Arrangement, Plan, Run, RunLamp, RunStage, Setting
from server.runs.selectors import kept_setting, run_of
from server.spaces.models import Space
from server.spaces.services import copy_space

MOST_SETTINGS = 20_000
"""Settings one run can hold: years of moved levers."""

DAY_H = 24.0
MOST_RUNS = 1000
"""Plans and runs one grower can have, those put away too."""

AHEAD = timedelta(minutes=5)
"""How far another clock may be ahead of this one."""

SETTLED_CHANGES = ("made_of", "lamps", "wishes")
"""Sides of a plan that stay as they are once it has begun."""

SETTLED = "This run has begun and stands on its own copy. Copy it to a new plan to try that there."


def _planned(run: Run) -> None:
    """Refuse to change what a begun run stands on."""
    if run.begun_on is not None:
        raise CanopyError(SETTLED)


def check_goes_on(run: Run) -> None:
    """Refuse to plan on in a run that has ended."""
    if run.ended_on is not None:
        raise CanopyError("This run has ended; take its end back first, or copy it.")


def _running(run: Run) -> date:
    """Return the day a run began on, or refuse."""
    if run.begun_on is None:
        raise CanopyError("This plan has not begun yet; begin it first.")
    check_goes_on(run)
    return run.begun_on


def _plan_of(run: Run) -> Plan:
    """Return a run's latest plan."""
    return run.plans.latest("number")


def _check_room(grower: Grower) -> None:
    if Run.objects.of(grower).count() >= MOST_RUNS:
        raise CanopyError(f"{MOST_RUNS} plans and runs are the most one grower can have.")


def start_run(grower: Grower, space: Space, fixture: Fixture, crop: Crop) -> Run:
    """Return a new plan."""
    in_the_middle(space, fixture)
    with transaction.atomic():
        _check_room(grower)
        run = Run.objects.create(
            owner=grower, space=space, fixture=fixture, crop=crop, started_on=grower.today()
        )
        Plan.objects.create(run=run, number=1)
    return run_of(grower, run.pk)


def change_run(
    run: Run,
    space: Space,
    fixture: Fixture,
    crop: Crop,
    over_cap: bool,
    expected: Expected = None,
) -> Run:
    """Put other things into a plan.

    Its lamps hang as they were left with this space and fixture; with new ones as they do now, if
    they fit so. Settings of stages it no longer has go with their crop, and come back with it.
    """
    in_the_middle(space, fixture)
    with held(run, expected) as row:
        same = (row.space_id, row.fixture_id, row.crop_id, row.over_cap)
        if same != (space.pk, fixture.pk, crop.pk, over_cap):
            _planned(row)
        if not row.arrangements.filter(space=space, fixture=fixture).exists():
            _take_along(row, space, fixture)
        made_of = {"space_id": space.pk, "fixture_id": fixture.pk, "crop_id": crop.pk}
        if fixture.pk != row.fixture_id:
            _free_switches(row)
        keep_noted(row, "made_of", **made_of, over_cap=over_cap)
    return run_of(run.owner, run.pk)


def _take_along(run: Run, space: Space, fixture: Fixture) -> None:
    """Hang the lamps that a run has now with another space or fixture, if they fit there."""
    if not run.arrangements.filter(space=run.space_id, fixture=run.fixture_id).exists():
        return
    lamps = [
        replace(lamp, fixture=fixture, bars_off=(), piece=None)
        if lamp.fixture_id == run.fixture_id and fixture.pk != run.fixture_id
        else lamp
        for lamp in hung_in(run) or [in_the_middle(run.space, run.fixture)]
    ]
    try:
        check_lamps(space, fixture, lamps)
    except CanopyError:
        return
    arrange(run, space, fixture, lamps)


def arrange(run: Run, space: Space, fixture: Fixture, lamps: list[HungFixture]) -> None:
    """Keep where a run's lamps hang with a fixture in a space."""
    made, _ = Arrangement.objects.get_or_create(run=run, space=space, fixture=fixture)
    made.lamps.all().delete()
    RunLamp.objects.bulk_create(
        RunLamp(arrangement=made, position=i, **vars(lamp) | {"bars_off": list(lamp.bars_off)})
        for i, lamp in enumerate(lamps)
    )


def _hung(lamps: list[HungFixture]) -> list[dict[str, Any]]:
    """Return lamps as they are noted: which, and where."""
    return [
        {
            "fixture_id": lamp.fixture_id,
            "piece_id": lamp.piece_id,
            "bars_off": list(lamp.bars_off),
            **{name: getattr(lamp, name) for name in LAMP_COLUMNS},
        }
        for lamp in lamps
    ]


def hang_lamps(run: Run, lamps: list[HungFixture], expected: Expected = None) -> list[HungFixture]:
    """Keep where a plan's lamps hang; none puts its fixture once in the middle."""
    with held(run, expected) as row:
        _planned(row)
        if lamps:
            check_lamps(row.space, row.fixture, lamps)
        note(row, "lamps", _hung(hung_in(row)), _hung(lamps))
        arrange(row, row.space, row.fixture, lamps)
        keep(row)
    return standing_of(run_of(run.owner, run.pk)).lamps


def name_run(run: Run, name: str, expected: Expected = None) -> Run:
    """Give a run a name; without one it is called by its space and crop."""
    with held(run, expected) as row:
        keep_noted(row, "name", name=name)
    return run_of(run.owner, run.pk)


def put_away(run: Run, removed: bool, expected: Expected = None) -> Run:
    """Put a run away, or bring it back."""
    with held(run, expected) as row:
        keep(row, removed=removed)
    return run_of(run.owner, run.pk)


COPIED = ("space", "fixture", "crop", *(name for name in WISHES if name != "started_on"))


def copy_run(run: Run, name: str, own: dict[str, Any] | None = None) -> Run:
    """Return a new plan with all that a run is made of, its lamps and what was kept for stages.

    Of a begun run the copy follows space, crop and lamps as they are today. With figures of
    its ``own`` it has a space of its own, like this one but for them.
    """
    with held(run) as row:
        _check_room(row.owner)
        made_of = {field: getattr(row, field) for field in COPIED}
        if own is not None:
            made_of["space"] = copy_space(row.space, **own)
        made = Run.objects.create(
            owner=row.owner,
            name=name,
            copied_from=row,
            started_on=row.started_on if row.begun_on is None else row.owner.today(),
            **made_of,
        )
        plan = Plan.objects.create(run=made, number=1)
        for arrangement in row.arrangements.all():
            lamps = list(arrangement.lamps.all())
            if arrangement.space_id == row.space_id:
                arrangement.space = made.space
            copy_of(arrangement, run=made).save()
            RunLamp.objects.bulk_create(copy_of(x, arrangement=arrangement) for x in lamps)
        for setting in planned_now(row).values():
            copy_of(setting, run=made, plan=plan, key=None).save()
    return run_of(made.owner, made.pk)


def keep_wishes(run: Run, values: dict[str, Any], expected: Expected = None) -> Run:
    """Keep what a season is planned by."""
    with held(run, expected) as row:
        if any(getattr(row, name) != value for name, value in values.items()):
            _planned(row)
        keep_noted(row, "wishes", **values)
    return run_of(run.owner, run.pk)


# a run's life


def begin_run(run: Run, on: date | None, expected: Expected = None) -> Run:
    """Let a plan begin: from now on it stands on its own copy."""
    today = run.owner.today()
    begun_on = on or today
    if begun_on > today:
        raise CanopyError("That day is still to come; begin the run on the day it begins.", "on")
    run.started_on = begun_on
    standing = standing_of(run)
    document = copied(standing, every_above(standing))
    with held(run, expected) as row:
        if row.begun_on is not None:
            raise CanopyError("This run has begun already.")
        plan = _plan_of(row)
        plan.document, plan.holds_from, plan.made_at = document, begun_on, timezone.now()
        plan.save()
        RunStage.objects.bulk_create(
            RunStage(
                run=row,
                stage_id=stage["id"],
                name=stage["name"],
                began_on=begun_on if i == 0 else None,
            )
            for i, stage in enumerate(document["crop"]["stages"])
        )
        keep(row, begun_on=begun_on, started_on=begun_on)
        forget(row, SETTLED_CHANGES)
    return run_of(run.owner, run.pk)


def take_back_begin(run: Run, expected: Expected = None) -> Run:
    """Make a plan of a run begun by mistake; not once something was kept of it."""
    with held(run, expected) as row:
        _running(row)
        lived = row.settings.exclude(kind="planned").exists()
        if lived or row.lived.filter(began_on__isnull=False).count() > 1:
            raise CanopyError(
                "Something was kept of this run already: its past stays. End it, or copy it."
            )
        row.lived.all().delete()
        row.plans.update(document=None, holds_from=None)
        keep(row, begun_on=None)
    return run_of(run.owner, run.pk)


def _day_of(run: Run, on: date | None, first: date) -> date:
    """Return the day something happened on, if it can have."""
    today = run.owner.today()
    day = on or today
    if not first <= day <= max(today, first):
        raise CanopyError(f"Give a day from {first} to {today}.", "on")
    return day


def begin_stage(run: Run, stage_id: int, on: date | None, expected: Expected = None) -> Run:
    """Let a stage begin; the one before it ends that day."""
    with held(run, expected) as row:
        begun_on = _running(row)
        now = row.stage_now
        stage = row.lived.filter(stage=stage_id).first()
        if stage is None or stage.began_on is not None:
            raise CanopyError("That stage has begun already, or is none of this run's.", "stage_id")
        order = [each["id"] for each in file_of(row).crop["stages"]]
        if now is not None and order.index(stage_id) < order.index(now.stage_id):
            raise CanopyError(
                f"{stage.name} comes before {now.name}; take back that {now.name} began first.",
                "stage_id",
            )
        day = _day_of(row, on, (now and now.began_on) or begun_on)
        if now is not None:
            row.lived.filter(pk=now.pk).update(ended_on=day)
        row.lived.filter(pk=stage.pk).update(began_on=day)
        keep(row)
    return run_of(run.owner, run.pk)


def take_back_stage(run: Run, stage_id: int, expected: Expected = None) -> Run:
    """Take back that a stage began; the one before it goes on. Only of the one it is in."""
    with held(run, expected) as row:
        _running(row)
        now = row.stage_now
        begun = sorted(
            (s for s in row.lived.all() if s.began_on),
            key=lambda s: (s.began_on, s.ended_on is None),
        )
        if now is None or now.stage_id != stage_id or len(begun) < 2:
            raise CanopyError("Only the stage the run is in can be taken back.", "stage_id")
        row.lived.filter(pk=now.pk).update(began_on=None)
        row.lived.filter(pk=begun[-2].pk).update(ended_on=None)
        keep(row)
    return run_of(run.owner, run.pk)


def end_run(
    run: Run, on: date | None, outcome: dict[str, Any] | None = None, expected: Expected = None
) -> Run:
    """Let a run end, and the stage it is in; ``outcome`` is how, and what was harvested."""
    with held(run, expected) as row:
        begun_on = _running(row)
        now = row.stage_now
        day = _day_of(row, on, (now and now.began_on) or begun_on)
        if now is not None:
            row.lived.filter(pk=now.pk).update(ended_on=day)
        keep(row, ended_on=day, **outcome or {})
    return run_of(run.owner, run.pk)


def take_back_end(run: Run, expected: Expected = None) -> Run:
    """Let a run go on that was ended by mistake, in the stage it was in."""
    with held(run, expected) as row:
        if row.ended_on is None:
            raise CanopyError("This run has not ended.")
        last = max((s for s in row.lived.all() if s.began_on), key=lambda s: (s.began_on, s.pk))
        row.lived.filter(pk=last.pk).update(ended_on=None)
        keep(row, ended_on=None, ended_how="", harvest=None, harvest_unit="")
    return run_of(run.owner, run.pk)


# settings, never changed


def _known(run: Run, key: UUID | None) -> Setting | None:
    """Return the setting that was sent with a key before."""
    return None if key is None else run.settings.filter(key=key).first()


def _append(run: Run, key: UUID | None, **values: Any) -> Setting:
    """Append a setting to a run's latest plan."""
    if run.settings.count() >= MOST_SETTINGS:
        raise CanopyError(f"{MOST_SETTINGS} settings are the most a run can hold; copy it.")
    return Setting.objects.create(run=run, plan=_plan_of(run), key=key, **values)


LEVERS = ("height_cm", "dial_pct", "windows", "locked")


def _levers(setting: Setting | None) -> dict[str, Any] | None:
    """Return a setting as it is noted; none where the plan chooses."""
    return None if setting is None else {name: getattr(setting, name) for name in LEVERS}


def set_planned(
    run: Run,
    stage_id: int,
    from_day: int,
    group: int,
    values: dict[str, Any] | None,
    key: UUID | None = None,
    switch: int | None = None,
) -> Setting:
    """Append what is planned at a stage from a day on, for all lamps or a group, and note it.

    With a switch's number it is for that of the lamp's. Without values it is the plan's again, or
    what holds before it.
    """
    known = _known(run, key)
    if known is not None:
        return known
    before = _levers(kept_setting(run, stage_id, from_day, group, switch))
    place = {"stage_id": stage_id, "from_day": from_day, "group": group}
    made = {"freed": True} if values is None else values
    setting = _append(run, key, kind="planned", channel=switch, **place, **made)
    after = None if values is None else _levers(setting)
    if switch is not None:
        note(run, "switch", before, after, **place, switch=switch)
    else:
        note(run, "group" if group else "levers", before, after, **place)
    touch(run)
    return setting


MOST_CHANGES = 10
"""Dated changes one stage can have."""


def _check_changes(run: Run, stage_id: int, from_day: int) -> None:
    """Refuse one change more than a stage can have."""
    days = changes_in(set_beside(run)).get(stage_id, ())
    if from_day and from_day not in days and len(days) >= MOST_CHANGES:
        raise CanopyError(
            f"{MOST_CHANGES} changes are the most one stage can have; take one out.", "from_day"
        )


def keep_setting(
    run: Run,
    stage_id: int,
    from_day: int,
    height_cm: float,
    dial_pct: float,
    hours: float,
    on_minute: int,
    locked: list[str],
    key: UUID | None = None,
) -> Setting:
    """Keep the levers planned for a stage from a day on; those kept before stay in the history."""
    values = {
        "height_cm": height_cm,
        "dial_pct": dial_pct,
        "windows": [{"on_minute": on_minute, "hours": hours}],
        "locked": locked,
    }
    with held(run) as row:
        check_goes_on(row)
        present = kept_setting(row, stage_id, from_day)
        if present is not None and all(getattr(present, n) == v for n, v in values.items()):
            return present
        _check_changes(row, stage_id, from_day)
        return set_planned(row, stage_id, from_day, 0, values, key)


def free_setting(run: Run, stage_id: int, from_day: int, key: UUID | None = None) -> None:
    """Let the plan choose the levers of a stage again; a change within it is none any more."""
    with held(run) as row:
        check_goes_on(row)
        if kept_setting(row, stage_id, from_day) is not None:
            set_planned(row, stage_id, from_day, 0, None, key)


def keep_group(
    run: Run,
    stage_id: int,
    from_day: int,
    group: int,
    dial_pct: float,
    windows: list[dict[str, Any]],
    key: UUID | None = None,
) -> Setting:
    """Keep what a group of lamps is set to for a stage from a day on; no windows: with the rail's.

    A dial at 0 is a lamp switched off.
    """
    _check_windows(windows)
    with held(run) as row:
        check_goes_on(row)
        if from_day and from_day not in changes_in(set_beside(row)).get(stage_id, ()):
            raise CanopyError(
                "Nothing else changes on that day; set the group from the stage's first day, or "
                "keep a change of the levers first.",
                "from_day",
            )
        values = {"dial_pct": dial_pct, "windows": windows}
        return set_planned(row, stage_id, from_day, group, values, key)


def free_group(run: Run, stage_id: int, from_day: int, group: int, key: UUID | None = None) -> None:
    """Let a group of lamps do again as they would in none, or as before the change."""
    with held(run) as row:
        check_goes_on(row)
        if (stage_id, from_day, group, 0) in set_beside(row):
            set_planned(row, stage_id, from_day, group, None, key)


def _free_switches(run: Run) -> None:
    """Let the switches of a run's lamp go with its dial: another lamp has others."""
    for stage_id, from_day, group, switch in planned_now(run):
        if switch:
            at = {"stage_id": stage_id, "from_day": from_day, "group": group, "channel": switch}
            _append(run, None, kind="planned", freed=True, **at)


def _check_windows(windows: list[dict[str, Any]]) -> None:
    """Refuse on-windows that are longer than a day together, or overlap."""
    if sum(window["hours"] for window in windows) > DAY_H:
        raise CanopyError("The windows are longer than a day together; shorten one.", "windows")
    if overlapping(windows):
        raise CanopyError("Two of the windows overlap; make one of them.", "windows")


def log_setting(
    run: Run, stage_id: int, holds_from: datetime | None, values: dict[str, Any], key: UUID | None
) -> Setting:
    """Keep what was really set, or measured, at the tent from a moment on."""
    now = timezone.now()
    moment = holds_from or now
    if moment > now + AHEAD:
        raise CanopyError("That moment is still to come; keep it when it is done.", "holds_from")
    if values["dial_pct"] is None and values["watts"] is None:
        raise CanopyError("Say where the dial stands, or what watts it draws.", "dial_pct")
    _check_windows(values["windows"])
    with held(run) as row:
        begun_on = _running(row)
        if moment.astimezone(row.owner.zone).date() < begun_on:
            raise CanopyError(f"That was before the run began on {begun_on}.", "holds_from")
        known = _known(row, key)
        if known is not None:
            return known
        setting = _append(row, key, stage_id=stage_id, holds_from=moment, **values)
        touch(row)
    return setting
