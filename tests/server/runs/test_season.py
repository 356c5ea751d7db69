"""Seasons, second opinions, locks, daylight and tariffs over the API."""

import csv
import io
from datetime import date, timedelta
from itertools import pairwise

import pytest
from icalendar import Calendar

from server.runs.demo import BOX_ROOM
from tests.server.sent import WISHES

WINDOW = {
    "kind": "reckoned",
    "latitude_deg": 50,
    "longitude_deg": 10,
    "utc_offset_h": 1,
    "tilt_deg": 90,
    "azimuth_deg": 180,
    "transmission": 0.8,
    "cloud_factor": 0.6,
    "reach": 0.4,
}


@pytest.fixture
def wish(grower, run):
    return lambda **more: grower("put", f"runs/{run['id']}/wishes", {**WISHES, **more})


@pytest.fixture
def season(grower, run):
    return lambda: grower("get", f"runs/{run['id']}/season")[1]


@pytest.fixture
def refit(grower, space):
    """Change the space and get the new one."""

    def refit(**more):
        status, kept = grower("put", f"spaces/{space['id']}", {**BOX_ROOM, **more})
        assert status == 200, kept
        return kept

    return refit


def test_every_day_of_the_run_is_planned(season, wish):
    assert wish()[0] == 200
    found = season()
    assert found["first"] == "2026-03-01"
    assert len(found["rows"]) == found["days"] == 91
    assert [stage["first_day"] for stage in found["stages"]] == [0, 14, 35]
    assert found["kwh"] == pytest.approx(sum(row["kwh"] for row in found["rows"]))
    assert found["cost"] == pytest.approx(found["kwh"] * BOX_ROOM["tariff_per_kwh"])
    for stage in found["stages"]:
        plan = stage["planned"]
        assert not plan["relaxed"]
        assert stage["dli_low"] <= plan["outcome"]["dli"] <= stage["dli_high"]
        assert plan["on_minute"] == 420
        sure = plan["certainty"]
        squares = sum(part["mean"] ** 2 for part in sure["parts"])
        assert squares == pytest.approx(sure["mean_tolerance"] ** 2, rel=0.01)


def test_the_bench_and_the_season_give_one_answer(grower, run, season):
    for stage in season()["stages"]:
        bench = grower("get", f"runs/{run['id']}/stages/{stage['stage_id']}/bench")[1]
        assert bench["solution"]["setting"] == stage["planned"]["setting"]


def test_what_is_set_on_the_bench_stands_until_the_plan_may_choose_again(grower, run, season):
    stage = season()["stages"][1]
    path = f"runs/{run['id']}/stages/{stage['stage_id']}/setting"
    mine = {"height_cm": 60, "dial_pct": 45, "hours": 15, "on_minute": 300, "locked": ["hours"]}
    assert grower("put", path, mine)[0] == 200
    kept = season()["stages"][1]["planned"]
    assert kept["kept"]
    assert kept["setting"] == {"height_cm": 60, "dial_pct": 45, "hours": 15}
    assert kept["on_minute"] == 300
    # the lock holds the plan's own choice too
    bench = grower("get", f"runs/{run['id']}/stages/{stage['stage_id']}/bench")[1]
    assert bench["locked"] == ["hours"]
    assert bench["solution"]["setting"]["hours"] == 15
    grower.client.delete(f"/api/{path}")
    assert season()["stages"][1]["planned"]["setting"] == stage["planned"]["setting"]


def test_aims_and_cheap_hours(refit, wish, season):
    refit(tariff_bands=[{"from_minute": 1320, "to_minute": 360, "per_kwh": 0.1}])
    wish()
    middle = season()
    wish(aim="energy")
    least = season()
    assert least["kwh"] < middle["kwh"]
    wish(aim="even")
    even = season()["stages"][1]["planned"]["outcome"]["evenness"]
    assert even >= middle["stages"][1]["planned"]["outcome"]["evenness"]
    wish(aim="moves")

    def moves(found):
        lamp = [row["lamp_cm"] for row in found["rows"]]
        return sum(a != b for a, b in pairwise(lamp))

    assert moves(season()) <= moves(middle)
    wish(on_wish="cheap")
    cheap = season()
    assert cheap["cost"] < middle["cost"]
    assert cheap["kwh"] == pytest.approx(middle["kwh"])
    # the cheap hours lie wholly inside an 18 h day, and the lamp's are wholly inside a 12 h one
    assert [span["per_kwh"] for span in cheap["price"]] == [0.1, 0.31, 0.1]


def test_daylight_does_part_of_the_work_and_shortens_a_short_days_night(refit, wish, season):
    wish(started_on="2026-05-01")
    dark = season()
    refit(daylight=WINDOW)
    lit = season()
    for before, after in zip(dark["stages"], lit["stages"]):
        assert after["daylight_dli"] > 1
        assert after["dli_low"] <= after["planned"]["outcome"]["dli"] <= after["dli_high"]
        assert (
            after["planned"]["outcome"]["kwh_per_day"] < before["planned"]["outcome"]["kwh_per_day"]
        )
    assert lit["kwh"] < dark["kwh"]
    # in June the sun alone keeps a short-day crop awake
    assert lit["stages"][2]["planned"]["night_conflict"]["code"] == "night.short_sun"
    assert dark["stages"][2]["planned"]["night_conflict"] is None


def test_ramps_and_heat_cost_light_and_it_is_counted(grower, run, refit, season):
    stage = season()["stages"][2]["stage_id"]
    body = {"stage_id": stage, "height_cm": 40, "dial_pct": 60, "hours": 12}

    def bench():
        return grower("post", f"runs/{run['id']}/bench", body)[1]

    plain = bench()
    refit(ramp_min=30)
    ramped = bench()
    # ramps of r minutes each inside the on-time cost r minutes of full light
    assert ramped["outcome"]["dli"] == pytest.approx(plain["outcome"]["dli"] * 11.5 / 12)
    assert ramped["lost_h"] == 0.5
    refit(heat={"off_above_c": 28, "mean_c": 26, "swing_c": 8})
    hot = bench()
    assert hot["lost_h"] == pytest.approx(7, abs=0.2)  # 11 to 19, lit from 6 to 18
    assert hot["outcome"]["dli"] < plain["outcome"]["dli"] / 2


def test_only_where_plants_stand_the_light_counts(grower, run, refit, season):
    stage = season()["stages"][2]["stage_id"]
    body = {"stage_id": stage, "height_cm": 20, "dial_pct": 60, "hours": 12}
    whole = grower("post", f"runs/{run['id']}/bench", body)[1]
    refit(plots=[{"x_cm": 40, "y_cm": 30, "width_cm": 40, "depth_cm": 30}])
    middle = grower("post", f"runs/{run['id']}/bench", body)[1]
    assert middle["outcome"]["mean"] > whole["outcome"]["mean"]
    assert middle["outcome"]["evenness"] > whole["outcome"]["evenness"]
    assert middle["floor"] == whole["floor"]
    assert middle["capture"] == pytest.approx(whole["capture"])


def test_co2_raises_the_cap(grower, run, refit, season):
    refit(co2_enriched=True)
    # half as much again, 1500 at most (common practice, no source)
    assert [stage["hot_spot_cap"] for stage in season()["stages"]] == [375, 900, 1200]


def test_second_opinions(grower, run, season):
    stage = season()["stages"][2]["stage_id"]
    found = grower("get", f"runs/{run['id']}/stages/{stage}/opinions")[1]
    schools = [opinion["school"] for opinion in found["opinions"]]
    assert len(schools) == len(set(schools)) == 12
    assert {"lumens_an_area", "watts_an_area"} < set(schools)
    ours = next(o for o in found["opinions"] if o["school"] == "dli_first")
    assert not ours["missed"]
    assert found["doubled"]["mean_share"] > 0.5 > found["doubled"]["inverse_square"]


def test_files_to_take_along(grower, run, season, wish):
    wish()
    rows = season()["rows"]
    text = grower("get", f"runs/{run['id']}/season/table")[1]["text"]
    table = list(csv.DictReader(io.StringIO(text)))
    assert len(table) == 91
    assert float(table[40]["dli_mol_m2_d"]) == pytest.approx(rows[40]["dli"], abs=0.01)
    calendar = grower("get", f"runs/{run['id']}/season/calendar")[1]["text"]
    starts = [
        e.decoded("dtstart")
        for e in Calendar.from_ical(calendar).walk("VEVENT")
        if " begins" in str(e["summary"])
    ]
    assert starts == [date(2026, 3, 1) + timedelta(days=d) for d in (0, 14, 35)]


def test_the_library_is_copied_and_stays(grower):
    shelf = grower("get", "crops/library")[1]
    assert len(shelf) >= 20
    tomato = next(crop for crop in shelf if crop["name"] == "Tomato")
    body = {key: tomato[key] for key in ("name", "habit", "stages")}
    status, mine = grower("post", "crops", body)
    assert status == 201
    mine["stages"][0]["dli_high"] = 14
    grower("put", f"crops/{mine['id']}", {k: mine[k] for k in ("name", "habit", "stages")})
    assert grower("get", "crops/library")[1] == shelf


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"daylight": {**WINDOW, "latitude_deg": 95}}, "daylight.latitude_deg"),
        ({"daylight": {**WINDOW, "reach": 2}}, "daylight.reach"),
        (
            {"daylight": {"kind": "measured", "dli": 4, "sunrise_min": 900, "sunset_min": 600}},
            "daylight.sunset_min",
        ),
        ({"plots": [{"x_cm": 100, "y_cm": 0, "width_cm": 40, "depth_cm": 40}]}, "plots.0.width_cm"),
        ({"ramp_min": -1}, "ramp_min"),
    ],
)
def test_spaces_that_cannot_be(grower, space, change, field):
    status, problem = grower("put", f"spaces/{space['id']}", {**BOX_ROOM, **change})
    assert (status, problem["errors"][0]["field"]) == (422, field)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"rise_pct": 0}, "rise_pct"),
        ({"aim": "best"}, "aim"),
        ({"shift_days": 0}, "shift_days"),
        ({"started_on": "soon"}, "started_on"),
    ],
)
def test_wishes_that_cannot_be(wish, change, field):
    status, problem = wish(**change)
    assert (status, problem["errors"][0]["field"]) == (422, field)


def test_a_stage_without_headroom_is_said_with_what_would_help(grower, run, season):
    crop = grower.named("crops", "Potted chrysanthemums")
    crop["stages"][2]["plant_end_cm"] = 150
    grower("put", f"crops/{crop['id']}", {k: crop[k] for k in ("name", "habit", "stages")})
    found = season()
    assert "more headroom is needed" in found["stages"][2]["refused"]
    assert found["stages"][1]["planned"]
    assert len(found["rows"]) == 35


def test_a_plain_timer_pays_by_the_wall_clock_and_its_calendar_says_so(grower, space, run):
    grower("put", "accounts/preferences", {"time_zone": "Europe/Berlin"})
    path = f"runs/{run['id']}"
    grower("put", f"{path}/wishes", WISHES | {"started_on": "2026-03-20", "on_minute": 360})
    lit = grower("get", f"{path}/season")[1]["rows"][8]
    # dear while the lamp is lit by the timer's winter clock: in summer it is lit an hour of the
    # evening at the low price
    bands = [{"from_minute": 360, "to_minute": lit["off_minute"], "per_kwh": 1.0}]
    body = {**BOX_ROOM, "tariff_per_kwh": 0.0, "tariff_bands": bands}
    days = {}
    for follows in (True, False):
        kept = {**body, "follows_summer_time": follows}
        assert grower("put", f"spaces/{space['id']}", kept)[0] == 200
        rows = grower("get", f"{path}/season")[1]["rows"]
        # 29 March 2026 is the run's tenth day
        days[follows] = rows[8], rows[9]
        assert ("clocks have changed" in grower("get", f"{path}/season/calendar")[1]["text"]) != (
            follows
        )
    for day in (*days[True], days[False][0]):
        assert day["cost"] == pytest.approx(day["kwh"])
    summer = days[False][1]
    assert summer["on_minute"] == 360
    assert summer["cost"] == pytest.approx(summer["kwh"] * (1 - 1 / summer["hours"]))
