"""A run looked back on: the ledger's own light, bills worked by hand, and the next run from it."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from django.utils import timezone

from server.devices.models import Device, Hour, Series
from server.runs.models import Run
from tests.server.conftest import said
from tests.server.logbook.test_entries import log  # noqa: F401 - a fixture
from tests.server.sent import ASKED

DAYS = 20


def at(day, hour=0, minute=0):
    """A moment of the run's day by the clock of UTC, its grower's."""
    first = (timezone.now() - timedelta(days=DAYS)).date()
    return datetime(first.year, first.month, first.day, hour, minute, tzinfo=UTC) + timedelta(day)


def keep(grower, run, *entries):
    rows = [
        {"key": str(uuid4()), "kind": kind, "at": moment.isoformat(), "values": values, **more}
        for kind, moment, values, more in entries
    ]
    status, answer = grower("post", f"logbook/runs/{run['id']}/entries", {"entries": rows})
    assert status == 201, answer
    return rows


SET = {"height_cm": 45.0, "dial_pct": 50.0, "hours": 12.0, "on_minute": 360.0}


@pytest.fixture
def lived(grower, run):
    """A run of twenty days, its lamp set once before the first dawn."""
    begun = {"on": at(0).date().isoformat()}
    status, made = grower("put", f"runs/{run['id']}/begin", begun)
    assert status == 200
    keep(grower, run, ("setting", at(0), SET, {}))
    return made


def review(grower, run):
    status, answer = grower("get", f"review/runs/{run['id']}")
    assert status == 200, answer
    return answer


def test_light_is_the_ledgers_and_the_bill_is_one_worked_by_hand(grower, lived, space):
    found = review(grower, lived)
    light = grower("get", f"logbook/runs/{lived['id']}/light")[1]["days"][:DAYS]
    assert [day["dli"] for day in found["days"]] == [day["dli"] for day in light]
    whole = found["whole"]
    assert (whole["days"], whole["known_days"]) == (DAYS, DAYS)
    assert whole["mol_m2"] == pytest.approx(sum(day["dli"] for day in light))
    # the lamp's own table: dial 50 draws 0.44 of 240 W; 20 days of 12 h at 0.31 a kWh
    kwh = 240 * 0.44 * 12 * DAYS / 1000
    assert whole["kwh"] == pytest.approx(kwh)
    assert whole["cost"] == pytest.approx(kwh * 0.31)
    assert whole["metered_days"] == 0
    area = space["width_cm"] * space["depth_cm"] / 1e4
    assert found["shares"]["cost_a_mol"] == pytest.approx(kwh * 0.31 / (whole["mol_m2"] * area))
    assert found["shares"]["cost_a_plant"] is None
    assert not found["over"]
    assert found["currency"] == "€"


def test_stages_beside_their_plan_make_the_whole(grower, lived):
    second = grower.named("crops", "Potted chrysanthemums")["stages"][1]
    on = {"on": at(12).date().isoformat()}
    assert grower("put", f"runs/{lived['id']}/stages/{second['id']}/begin", on)[0] == 200
    keep(grower, lived, ("setting", at(12), {"dial_pct": 80.0}, {}))
    found = review(grower, lived)
    first, leafy = found["stages"]
    assert (first["sums"]["days"], first["planned_days"]) == (12, 14)
    assert (leafy["sums"]["first_day"], leafy["sums"]["days"]) == (12, 8)
    assert first["done"]
    assert not leafy["done"]
    for name in ("kwh", "cost", "mol_m2", "planned_kwh", "moves", "inside_days"):
        parts = first["sums"][name] + leafy["sums"][name]
        assert parts == pytest.approx(found["whole"][name]), name
    assert leafy["sums"]["moves"] == 1
    season = grower("get", f"runs/{lived['id']}/season")[1]
    planned = sum(row["kwh"] for row in season["rows"] if row["day"] < DAYS)
    assert found["whole"]["planned_kwh"] == pytest.approx(planned)


def test_a_meter_at_the_lamp_tells_the_energy_of_days_it_was_there(grower, lived, space):
    plug = {"name": "Plug", "kind": "meter", "space_id": space["id"]}
    device = Device.objects.get(pk=grower("post", "devices", plug)[1]["device"]["id"])
    series = Series.objects.create(device=device, quantity="power", last_at=1, last_value=1)
    ms = int(at(3).timestamp() * 1000)

    def hour(k, watts):
        n = 12
        return Hour(series=series, at=ms + k * 3_600_000, n=n, low=0, high=watts, total=watts * n)

    # two whole days, one of 130 W for twelve hours, and half of another
    Hour.objects.bulk_create(
        hour(day * 24 + k, 130.0 if 6 <= k < 18 else 0.0) for day in (0, 1) for k in range(24)
    )
    Hour.objects.bulk_create(hour(48 + k, 500.0) for k in range(12))
    found = review(grower, lived)
    reckoned = 240 * 0.44 * 12 / 1000
    assert found["whole"]["metered_days"] == 2
    assert found["whole"]["kwh"] == pytest.approx(reckoned * (DAYS - 2) + 2 * 0.130 * 12)
    assert found["whole"]["cost"] == pytest.approx(found["whole"]["kwh"] * 0.31)


def test_what_was_harvested_and_how_many_there_were(grower, lived):
    run = f"runs/{lived['id']}"
    assert grower("put", f"{run}/plants", {"plants": 9})[0] == 200
    over = {"on": at(DAYS).date().isoformat(), "how": "harvested", "harvest": 420, "unit": "g"}
    status, answer = grower("put", f"{run}/end", over)
    assert status == 200, answer
    found = review(grower, lived)
    assert found["over"]
    assert found["shares"]["cost_a_plant"] == pytest.approx(found["whole"]["cost"] / 9)
    assert found["shares"]["cost_a_unit"] == pytest.approx(found["whole"]["cost"] / 420)
    assert found["shares"]["units_a_kwh"] == pytest.approx(420 / found["whole"]["kwh"])


def test_what_was_seen_tried_and_came_of_it(grower, lived):
    sign, other = keep(
        grower,
        lived,
        ("symptom", at(4, 9), {"what": "pale", "part": "lower leaves"}, {}),
        ("symptom", at(9, 9), {"what": "curled"}, {}),
    )
    keep(
        grower,
        lived,
        ("try", at(5, 9), {"of": sign["key"], "cause": "little_light"}, {"text": "dial 60"}),
        ("outcome", at(8, 9), {"of": sign["key"], "what": "better"}, {"text": "greener"}),
    )
    first, second = review(grower, lived)["signs"]
    assert first["values"]["what"] == "pale"
    assert (first["tried"], first["outcome"], first["outcome_text"]) == (
        "dial 60",
        "better",
        "greener",
    )
    assert (second["tried"], second["outcome"]) == ("", "")
    assert other["key"] != sign["key"]


def test_nothing_is_made_up_where_nothing_was_kept(grower, run):
    status, problem = grower("get", f"review/runs/{run['id']}")
    assert status == 422
    assert "not begun" in problem["detail"]
    begun = {"on": at(0).date().isoformat()}
    grower("put", f"runs/{run['id']}/begin", begun)
    assert grower("get", f"review/runs/{run['id']}") == (200, None)
    # set on its fifth day: of those before nobody knows
    keep(grower, run, ("setting", at(5), SET, {}))
    found = review(grower, run)
    assert found["whole"]["known_days"] == DAYS - 5
    assert any("nobody knows" in line for line in said(found["lines"]))


def test_a_run_that_began_today_is_looked_back_on_tomorrow(grower, run):
    grower("put", f"runs/{run['id']}/begin", {})
    now = timezone.now()
    keep(grower, run, ("setting", now, SET, {}))
    found = review(grower, run)
    assert found["whole"]["days"] == 0
    assert found["stages"] == []
    assert found["shares"]["cost_a_mol"] is None


def test_the_next_run_takes_along_what_this_one_taught(grower, lived):
    stages = grower.named("crops", "Potted chrysanthemums")["stages"]
    keep(
        grower,
        lived,
        *(("tops", at(day), {"tops_cm": 21.0 + day}, {}) for day in (0, 5, 10, 15, 19)),
    )
    on = {"on": at(10).date().isoformat()}
    grower("put", f"runs/{lived['id']}/stages/{stages[1]['id']}/begin", on)
    found = review(grower, lived)
    assert found["differs"]
    status, made = grower("post", f"review/runs/{lived['id']}/next", {"as_grown": True})
    assert status == 201
    assert made["begun_on"] is None
    assert made["copied_from_id"] == lived["id"]
    crop = next(row for row in grower("get", "crops")[1] if row["id"] == made["crop_id"])
    assert crop["name"] == "Potted chrysanthemums, as grown"
    first, second, third = crop["stages"]
    # ten days, and ten centimetres from the 5 above the pot of 16
    assert (first["days"], first["plant_start_cm"], first["plant_end_cm"]) == (10, 5.0, 15.0)
    # what is under way is as planned, and never lower than what went before
    assert (second["days"], second["plant_start_cm"]) == (stages[1]["days"], 15.0)
    assert second["plant_end_cm"] == stages[1]["plant_end_cm"]
    assert third["days"] == stages[2]["days"]
    assert grower("get", f"runs/{made['id']}/season")[0] == 200
    # as it was planned, where that is wished
    status, plain = grower("post", f"review/runs/{lived['id']}/next", {"as_grown": False})
    assert status == 201
    assert plain["crop_id"] == lived["crop_id"]


# drift


SPOTS = ((60, 45), (10, 10), (110, 10), (10, 80), (110, 80))
LIGHT = (420.0, 230.0, 236.0, 228.0, 232.0)


def walk(grower, run, day, share, height=45, asked=None, spots=SPOTS):
    key = str(uuid4())
    entries = [
        {
            "key": str(uuid4()),
            "number": k,
            "state": "read",
            "x_cm": x,
            "y_cm": y,
            "height_cm": height,
            "dial_pct": 70,
            "shown": light * share,
            "at": (at(day, 19) + timedelta(minutes=k)).isoformat(),
        }
        for k, ((x, y), light) in enumerate(zip(spots, LIGHT))
    ]
    body = {"asked": {**ASKED, **(asked or {})}, "entries": entries}
    path = f"readings/runs/{run['id']}/walks/{key}"
    status, answer = grower("post", f"{path}/entries", body)
    assert status == 201, answer
    return path


def drift(grower, run):
    status, answer = grower("get", f"review/runs/{run['id']}/drift")
    assert status == 200, answer
    return answer


def test_one_walk_tells_no_drift_and_says_what_to_do(grower, lived):
    assert "five spots" in said(drift(grower, lived)["lines"])[0]
    walk(grower, lived, 1, 1.0)
    found = drift(grower, lived)
    assert "again" in said(found["lines"])[0]
    assert not found["walks"]
    assert not found["lost"]


def test_light_that_falls_from_walk_to_walk_is_told_with_its_causes(grower, lived):
    for day, share in ((-100, 1.0), (-60, 0.95), (-20, 0.9), (15, 0.86)):
        walk(grower, lived, day, share)
    found = drift(grower, lived)
    assert found["lost"]
    assert [round(point["share"], 2) for point in found["walks"]] == [1.0, 0.95, 0.9, 0.86]
    last = found["course"][-1]
    assert last["low"] <= 0.86 <= last["high"]
    assert found["causes"][0]["code"] in ("dirt", "ageing", "lining")
    assert "wipe" in said([found["causes"][0]["do"]])[0].lower()
    assert any("stated" in line["code"] or "until" in line["code"] for line in found["lines"])
    # wiped, and the light came back: it was dust
    keep(grower, lived, ("cleaned", at(16, 9), {"what": "lamp"}, {}))
    walk(grower, lived, 17, 0.995)
    found = drift(grower, lived)
    assert found["causes"][0]["code"] == "dirt"
    assert found["causes"][0]["likelihood"] > 0.8
    # a walk that is put away counts no more
    path = walk(grower, lived, 18, 0.3)
    assert drift(grower, lived)["causes"] != found["causes"]
    grower("put", f"{path}/aside", {"removed": True})
    assert drift(grower, lived)["causes"] == found["causes"]


def test_walks_in_a_tent_that_was_lined_anew_are_not_compared(grower, lived, space):
    walk(grower, lived, 1, 1.0)
    walk(grower, lived, 15, 0.97, asked={"open_read": "front"})
    found = drift(grower, lived)
    assert found["left_out"] == 1
    assert not found["walks"]


def test_another_grower_sees_nothing(grower, stranger, lived):
    for path in (f"review/runs/{lived['id']}", f"review/runs/{lived['id']}/drift"):
        assert stranger("get", path)[0] == 404
    assert stranger("post", f"review/runs/{lived['id']}/next", {})[0] == 404
    assert Run.objects.filter(copied_from=lived["id"]).count() == 0
