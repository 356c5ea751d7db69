"""What Today says of a run that is lived: what is due, done once, and where things stand."""

from datetime import datetime, time, timedelta

import pytest
import time_machine
from django.test import Client
from django.utils import timezone

from server.common.problems import CanopyError
from server.logbook.demo import live_demo
from server.logbook.services import days
from server.runs.demo import BOX_ROOM, make_demo
from server.runs.models import Run
from server.runs.services import name_run
from tests.server.conftest import Api, said
from tests.server.logbook.test_entries import entry


def at_noon(days=0):
    """Noon of so many days ago."""
    day = timezone.localdate() - timedelta(days=days)
    return datetime.combine(day, time(12), tzinfo=timezone.get_current_timezone())


@pytest.fixture(autouse=True)
def noon():
    with time_machine.travel(at_noon(), tick=True):
        yield


@pytest.fixture
def begun(grower, run):
    on = (timezone.localdate() - timedelta(days=10)).isoformat()
    status, made = grower("put", f"runs/{run['id']}/begin", {"on": on})
    assert status == 200, made
    return made


@pytest.fixture
def log(begun):
    return f"logbook/runs/{begun['id']}"


def day_of(grower, run_id):
    rows = grower("get", "logbook/today")[1]
    return next(row for row in rows if row["run_id"] == run_id)["day"]


def keep(grower, log, *entries):
    status, found = grower("post", f"{log}/entries", {"entries": list(entries)})
    assert status == 201, found


def kinds(day):
    return [due["kind"] for due in day["due"]]


def set_to(days=10, **values):
    return entry("setting", "", days, values=values)


def as_planned(grower, log, begun, days=10):
    """Set lamp, dial and timer as the run's season has them on its first day."""
    row = grower("get", f"runs/{begun['id']}/season")[1]["rows"][0]
    values = {
        "height_cm": row["lamp_cm"] - row["tops_cm"],
        "dial_pct": row["dial_pct"],
        "hours": row["hours"],
        "on_minute": row["on_minute"],
    }
    keep(grower, log, set_to(days, **values))


def test_only_what_is_under_way_is_told(grower, run, begun):
    assert [row["run_id"] for row in grower("get", "logbook/today")[1]] == [run["id"]]
    grower("put", f"runs/{run['id']}/end", {"how": "given_up"})
    assert grower("get", "logbook/today") == (200, [])


def test_first_the_lamp_is_to_be_set_as_planned_and_then_nothing_of_it(grower, log, begun):
    day = day_of(grower, begun["id"])
    assert (day["day"], day["stage_day"], day["stands"]) == (11, 11, None)
    first = day["due"][0]
    assert (first["key"], first["to_set"]["windows"]) == (
        "set:first",
        day["due"][0]["to_set"]["windows"],
    )
    to_set = first["to_set"]
    window = to_set["windows"][0]
    done = {"height_cm": to_set["height_cm"], "dial_pct": to_set["dial_pct"]}
    keep(grower, log, set_to(0, **done, hours=window["hours"], on_minute=window["on_minute"]))
    day = day_of(grower, begun["id"])
    assert not {"set", "timer"} & set(kinds(day))
    stands = day["stands"]
    assert stands["height_cm"] == pytest.approx(to_set["height_cm"], abs=0.5)
    # a whole day is inside the band, and of today not all is given yet
    assert day["dli_low"] <= stands["dli"] <= day["dli_high"]
    assert stands["dli_so_far"] < stands["dli"]


def test_an_answer_hides_what_it_answers_and_later_means_tomorrow(grower, log, begun):
    as_planned(grower, log, begun)
    before = day_of(grower, begun["id"])["due"]
    assert {"walk", "tops"} <= {due["kind"] for due in before}
    walk = next(due for due in before if due["kind"] == "walk")
    later = entry("answer", "a walk", values={"due": walk["key"], "what": "later"})
    keep(grower, log, later)
    assert "walk" not in kinds(day_of(grower, begun["id"]))
    with time_machine.travel(at_noon(-1), tick=True):
        assert "walk" in kinds(day_of(grower, begun["id"]))
        never = entry("answer", "a walk", values={"due": walk["key"], "what": "never"})
        keep(grower, log, never)
        assert "walk" not in kinds(day_of(grower, begun["id"]))
    # with all of it answered it does not say that all is well
    rest = day_of(grower, begun["id"])["due"]
    answers = [entry("answer", "x", values={"due": due["key"], "what": "later"}) for due in rest]
    keep(grower, log, *answers)
    day = day_of(grower, begun["id"])
    assert (day["due"], day["nothing"]["code"]) == ([], "today.put_off")
    # what it answers is only taken where it says how
    wrong = entry("answer", "", values={"due": walk["key"], "what": "perhaps"})
    assert grower("post", f"{log}/entries", {"entries": [wrong]})[0] == 422


def test_tops_that_rise_too_near_are_seen_days_ahead_and_done_it_is_quiet(grower, log, begun):
    keep(grower, log, entry("tops", "", 10, values={"tops_cm": 21}))
    as_planned(grower, log, begun)
    lamp = day_of(grower, begun["id"])["stands"]["lamp_cm"]
    # rising evenly, today four centimetres from what the lamp has to keep
    rate = (lamp - 15 - 4 - 21) / 10
    rows = [entry("tops", "", d, values={"tops_cm": 21 + rate * (10 - d)}) for d in (8, 6, 4, 2, 0)]
    keep(grower, log, *rows)
    day = day_of(grower, begun["id"])
    due = next(due for due in day["due"] if due["kind"] == "set")
    assert due["why"]["code"].startswith("due.")
    assert due["to_set"] is not None
    done = {k: due["to_set"][k] for k in ("height_cm", "dial_pct")}
    keep(grower, log, set_to(0, **done))
    assert "set" not in kinds(day_of(grower, begun["id"]))


def test_the_timer_is_due_when_it_is_set_to_other_hours(grower, log, begun):
    as_planned(grower, log, begun)
    keep(grower, log, set_to(1, hours=8))
    day = day_of(grower, begun["id"])
    due = next(due for due in day["due"] if due["kind"] == "timer")
    assert said(due["lines"])[0].startswith("Timer: on ")
    window = due["to_set"]["windows"][0]
    keep(grower, log, set_to(0, hours=window["hours"], on_minute=window["on_minute"]))
    assert "timer" not in kinds(day_of(grower, begun["id"]))


def test_a_stage_begins_when_the_grower_says_and_later_ones_move_along(grower, log, begun):
    as_planned(grower, log, begun)
    to = f"runs/{begun['id']}"
    planned = grower("get", f"{to}/season")[1]
    first, second = planned["stages"][0], planned["stages"][1]
    with time_machine.travel(at_noon(-(first["days"] + 3 - 10)), tick=True):
        day = day_of(grower, begun["id"])
        due = next(due for due in day["due"] if due["kind"] == "stage")
        assert (due["late_days"], due["stage_id"]) == (3, second["stage_id"])
        # until it begins the one before goes on, and the rest waits
        late = grower("get", f"{to}/season")[1]["stages"]
        assert late[0]["days"] == first["days"] + 4
        assert late[1]["first_day"] == second["first_day"] + 4
        path = f"{to}/stages/{due['stage_id']}/begin"
        yesterday = (timezone.localdate() - timedelta(days=1)).isoformat()
        assert grower("put", path, {"on": yesterday})[0] == 200
        lived = grower("get", f"{to}/season")[1]["stages"]
        assert lived[0]["days"] == first["days"] + 2
        assert lived[1]["first_day"] == second["first_day"] + 2
        assert [s["days"] for s in lived[1:]] == [s["days"] for s in planned["stages"][1:]]
        day = day_of(grower, begun["id"])
        assert (day["stage"], day["stage_day"]) == (second["name"], 2)
        # back to what has gone by it does not
        assert grower("put", f"{to}/stages/{first['stage_id']}/begin", {})[0] == 422


def test_a_stage_passed_over_takes_no_days(grower, begun):
    to = f"runs/{begun['id']}"
    stages = [s["stage_id"] for s in grower("get", f"{to}/season")[1]["stages"]]
    assert grower("put", f"{to}/stages/{stages[2]}/begin", {})[0] == 200
    lived = grower("get", f"{to}/season")[1]["stages"]
    assert [(s["stage_id"], s["first_day"]) for s in lived] == [(stages[0], 0), (stages[2], 10)]
    refused = grower("put", f"{to}/stages/{stages[1]}/begin", {})[1]
    assert "comes before" in refused["detail"]


def test_away_gives_one_setting_that_holds_or_says_until_when(grower, log, begun):
    path = f"{log}/away?days_away=5"
    assert grower("get", path) == (200, None)
    as_planned(grower, log, begun)
    found = grower("get", path)[1]
    # the stage has four days left
    assert (found["asked_days"], found["days"]) == (5, 4)
    assert found["lines"][-1]["code"] == "away.stage"
    assert grower("get", f"{log}/away?days_away=3")[1]["lines"][-1]["code"] == "away.holds"
    assert grower("get", f"{log}/away?days_away=0")[0] == 422
    assert grower("get", f"{log}/away?days_away=61")[0] == 422


def test_a_window_shortens_the_lamps_day(grower, space):
    daylight = {"kind": "measured", "dli": 6.0, "sunrise_min": 480, "sunset_min": 1020}
    status, lit = grower("put", f"spaces/{space['id']}", {**BOX_ROOM, "daylight": daylight})
    assert status == 200, lit
    body = {
        "space_id": space["id"],
        "fixture_id": grower.named("fixtures", "Wickerlight Six")["id"],
        "crop_id": grower.named("crops", "Winter herbs")["id"],
    }
    made = grower("post", "runs", body)[1]
    on = (timezone.localdate() - timedelta(days=10)).isoformat()
    begun = grower("put", f"runs/{made['id']}/begin", {"on": on})[1]
    log = f"logbook/runs/{begun['id']}"
    as_planned(grower, log, begun)
    until = day_of(grower, begun["id"])["until"]
    assert until["line"]["code"].startswith("rest.")
    # half of a sine from eight to five is given by half past twelve: at noon a little less
    assert 2.0 < until["line"]["figures"]["window"] < 3.0


def test_the_demo_is_in_its_40th_day_with_a_re_hang_three_days_late(db):
    demo = make_demo()
    run = live_demo(demo)
    client = Client()
    client.force_login(demo, "django.contrib.auth.backends.ModelBackend")
    grower = Api(client)
    day = day_of(grower, run.pk)
    assert (day["day"], day["stage"], day["stage_day"]) == (40, "Short-day flowering", 4)
    due = day["due"][0]
    assert (due["kind"], due["late_days"]) == ("set", 3)
    light = grower("get", f"logbook/runs/{run.pk}/light")[1]["days"]
    assert len(light) == 40
    # the power cut's day is short, and no other of its stage
    leafy = [d["dli"] for d in light if d["stage"] == "Leafy"]
    assert leafy.index(min(leafy)) == 25 - 14
    assert grower("get", f"runs/{run.pk}/season")[1]["made_of"]["fit"]["readings"] == 5
    # one symptom, and what was tried for it and helped
    log = grower("get", f"logbook/runs/{run.pk}/entries")[1]["entries"]
    sign = next(e for e in log if e["kind"] == "symptom")
    assert next(e for e in log if e["kind"] == "try")["values"]["of"] == sign["key"]
    found = grower("get", f"logbook/runs/{run.pk}/entries/{sign['key']}/causes")[1]["causes"]
    assert found[0]["cause"] == "little_light"
    # the plan to try things in is the one that opens
    assert grower("get", "runs")[1][0]["id"] != run.pk
    # a second call makes no second one, whatever the first is called by then
    name_run(run, "Mine")
    assert live_demo(demo).pk == run.pk
    assert Run.objects.filter(begun_on__isnull=False, ended_on=None).count() == 1
    # herbs were grown before, harvested, and can be looked back on beside it
    herbs = Run.objects.get(ended_on__isnull=False)
    theirs, mine = (grower("get", f"review/runs/{each.pk}")[1] for each in (herbs, run))
    assert theirs["over"]
    assert theirs["shares"]["cost_a_unit"] > 0
    assert mine["whole"]["days"] == 39
    assert mine["signs"][0]["outcome"] == "better"
    # the lamp has lost a little since it was first read
    drift = grower("get", f"review/runs/{run.pk}/drift")[1]
    assert drift["lost"]
    assert 0.9 < drift["course"][-1]["middle"] < 0.97


def test_a_day_that_cannot_be_told_says_why_and_keeps_the_others(grower, log, begun, monkeypatch):
    def cannot(*_):
        raise CanopyError("The lamp does not go in.")

    monkeypatch.setattr(days, "season_of", cannot)
    found = grower("get", "logbook/today")[1]
    assert found[0]["day"] is None
    assert "does not go in" in said([found[0]["why"]])[0]


def test_no_one_elses_day_is_told(grower, stranger, log, begun):
    assert stranger("get", "logbook/today") == (200, [])
    assert stranger("get", f"{log}/away")[0] == 404
