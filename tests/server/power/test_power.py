"""Power over the API: what a plan's light costs, what bears it, prices by the hour."""

from datetime import UTC, datetime, timedelta

import pytest

from server.runs.demo import BOX_ROOM, CIRCUIT, MOUNT
from server.spaces.models import PriceFile
from tests.server.conftest import fields, said
from tests.server.sent import body_of, crop_body


@pytest.fixture
def to(run):
    return f"runs/{run['id']}"


@pytest.fixture
def room(grower, run):
    """Say what carries, cools and feeds the space's lamps."""

    def keep(circuit=None, mount=None, air=None):
        made = None
        if circuit is not None:
            status, row = grower("post", "spaces/circuits", {**CIRCUIT, **circuit})
            assert status == 201, row
            made = row["id"]
        body = {"circuit_id": made, "mount": mount or {}, "air": air or {}}
        status, kept = grower("put", f"spaces/{run['space_id']}/power", body)
        assert status == 200, kept
        return kept

    return keep


def hourly(first, prices):
    lines = [f"{(first + timedelta(hours=k)).isoformat()},{p}" for k, p in enumerate(prices)]
    return "\n".join(["from,price_per_kwh", *lines])


def test_it_says_what_bench_and_season_say(grower, run, to):
    """One plan, one answer: the same watts, kWh and money wherever they stand."""
    power = grower("get", f"{to}/power")[1]
    bench = grower("get", f"{to}/stages/{power['stage_id']}/bench")[1]
    season = grower("get", f"{to}/season")[1]
    assert power["day"]["kwh"] == pytest.approx(bench["outcome"]["kwh_per_day"])
    assert power["day"]["cost"] == pytest.approx(bench["cost_per_day"])
    assert power["most_watts"] == pytest.approx(bench["outcome"]["watts"])
    assert power["season"]["kwh"] == pytest.approx(season["kwh"])
    assert power["season"]["cost"] == pytest.approx(season["cost"])
    # a flat price: 0.31 a kWh
    assert power["season"]["cost"] == pytest.approx(season["kwh"] * 0.31)
    # 1.2 x 0.9 m and the day's mol a square metre
    assert power["day"]["mol"] == pytest.approx(bench["outcome"]["dli"] * 1.08)
    now = power["same"]["now"]
    assert (now["kwh"], now["cost"]) == pytest.approx((power["day"]["kwh"], power["day"]["cost"]))
    assert power["heat"]["btu_per_h"] == pytest.approx(power["heat"]["watts"] * 3.412)
    assert said(power["said"])[0].startswith(f"{round(now['kwh'], 2)} kWh and ")


def test_every_way_that_can_be_chosen_does_what_it_says(grower, run, to):
    """Followed on the bench, a way gives the light, for its price, and keeps every target."""
    power = grower("get", f"{to}/power")[1]
    stage, same = power["stage_id"], power["same"]
    able = [way for way in same["here"] + same["anywhere"] if not way["hindrance"]]
    assert able
    for way in [*able[::5], power["cheapest"], power["cheapest_here"]]:
        body = {name: way[name] for name in ("height_cm", "dial_pct", "hours", "on_minute")}
        status, bench = grower("post", f"{to}/bench", {"stage_id": stage, **body, "locked": []})
        assert status == 200
        outcome = bench["outcome"]
        assert outcome["dli"] >= same["dli"] - 1e-6
        assert 10 <= outcome["dli"] <= 20
        assert outcome["peak"] <= bench["hot_spot_cap"] + 1e-6
        assert outcome["kwh_per_day"] == pytest.approx(way["kwh"])
        assert bench["cost_per_day"] == pytest.approx(way["cost"])
    assert power["cheapest"]["cost"] <= power["cheapest_here"]["cost"] <= same["now"]["cost"]
    # a short-day crop's night is never broken for money
    assert power["eighteen"]["hindrance"] == "hours"
    assert all(way["hindrance"] for way in same["here"] if way["hours"] > 12)


def test_prices_by_the_hour_move_the_cheapest_hours_and_stay_with_the_night(grower, run, to):
    first = datetime(2026, 1, 1, tzinfo=UTC)
    # cheap from 20:00 to 08:00, paid for at 02:00
    day = [0.1 if h < 8 or h >= 20 else 0.5 for h in range(24)]
    day[2] = -0.2
    body = {"text": hourly(first, day * 14), "adds_per_kwh": 0.05}
    status, kept = grower("put", f"spaces/{run['space_id']}/prices", body)
    assert status == 200, kept
    assert (kept["prices"]["hours"], kept["prices"]["below_zero"]) == (14 * 24, 14)
    dear = grower("get", f"{to}/power")[1]
    wishes = {"aim": "likely", "started_on": "2026-01-01", "on_wish": "cheap", "on_minute": 360}
    wishes |= {"rise_pct": 15, "shift_days": 1}
    grower("put", f"{to}/wishes", wishes)
    cheap = grower("get", f"{to}/power")[1]
    assert cheap["prices_known_until"] == "2026-01-14"
    assert cheap["season"]["kwh"] == pytest.approx(dear["season"]["kwh"])
    assert cheap["season"]["cost"] < dear["season"]["cost"]
    on = cheap["groups"][0]["windows"][0]
    assert on["on_minute"] >= 18 * 60 or on["on_minute"] <= 60
    assert on["hours"] <= 12
    # by hand: a day's cost by its hours
    kwh = cheap["same"]["now"]["kwh"]
    hours = [(on["on_minute"] // 60 + k) % 24 for k in range(int(on["hours"]))]
    if on["on_minute"] % 60 == 0 and on["hours"] == int(on["hours"]):
        mean = sum(day[h] + 0.05 for h in hours) / len(hours)
        assert cheap["same"]["now"]["cost"] == pytest.approx(kwh * mean)
    # every day is like the others: nothing is gained by moving
    assert "power.daily" not in [line["code"] for line in cheap["said"]]
    odd = [0.1 if (h < 12) == (d % 2 == 0) else 0.5 for d in range(14) for h in range(24)]
    body["text"] = hourly(first, odd)
    grower("put", f"spaces/{run['space_id']}/prices", body)
    # the first stage is the one whose days the file knows
    stage = grower.named("crops", "Potted chrysanthemums")["stages"][0]["id"]
    wild = grower("get", f"{to}/power?stage_id={stage}")[1]
    daily = next(line for line in wild["said"] if line["code"] == "power.daily")
    assert 0 < daily["figures"]["saved"] < wild["whole_stage"]["cost"]
    gone = grower("put", f"spaces/{run['space_id']}/prices", {"text": ""})[1]
    assert gone["prices"] is None
    assert grower("get", f"{to}/power")[1]["prices_known_until"] is None
    for _ in range(7):
        grower("put", f"spaces/{run['space_id']}/prices", body)
    assert PriceFile.objects.count() == 5


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("from,price_per_kwh\n2026-01-01T00:00Z,0.1\n2026-01-01T02:00Z,0.1", "1 hour missing"),
        ("from,price_per_kwh\nnoon,0.1", "no time"),
    ],
)
def test_price_files_that_cannot_be_used_leave_what_was(grower, run, text, words):
    status, problem = grower("put", f"spaces/{run['space_id']}/prices", {"text": text})
    assert status == 422
    assert words in problem["detail"]
    assert not PriceFile.objects.exists()


def test_tiers_weekends_standing_charge_and_plants(grower, run, to):
    before = grower("get", f"{to}/power")[1]
    tariff = {"per_kwh": 0.31, "standing_per_day": 0.42, "other_kwh_a_day": 10}
    tariff |= {"tiers": [{"above_kwh": 0, "adds_per_kwh": 0.1}], "grid_g_per_kwh": 400}
    status, space = grower("put", f"spaces/{run['space_id']}/tariff", tariff)
    assert status == 200
    assert space["tariffs"][-1]["standing_per_day"] == 0.42
    grower("put", f"{to}/plants", {"plants": 9})
    after = grower("get", f"{to}/power")[1]
    # every kWh lies above the first tier
    more = before["season"]["kwh"] * 0.1
    assert after["season"]["cost"] == pytest.approx(before["season"]["cost"] + more)
    assert after["each"] == pytest.approx(after["season"]["cost"] / 9)
    assert after["season"]["carbon_kg"] == pytest.approx(before["season"]["kwh"] * 0.4)
    assert after["standing_per_day"] == 0.42
    # the space's own form says nothing of tiers, and they stay
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "tariff_per_kwh": 0.35})
    assert grower("get", "spaces")[1][0]["tariffs"][-1]["tiers"] == tariff["tiers"]
    for bands, field in (
        (
            [
                {
                    "from_minute": 0,
                    "to_minute": 60,
                    "per_kwh": 0.1,
                    "first": "02-30",
                    "last": "03-01",
                }
            ],
            "first",
        ),
        ([{"from_minute": 0, "to_minute": 60, "per_kwh": 0.1, "first": "02-03"}], "first"),
    ):
        status, problem = grower(
            "put", f"spaces/{run['space_id']}/tariff", {"per_kwh": 0.3, "bands": bands}
        )
        assert (status, fields(problem)) == (422, [f"bands.0.{field}"])


def test_a_limit_that_is_passed_is_the_first_sentence(grower, run, to, room):
    room(circuit={"timer_a": 0.5}, mount=MOUNT)
    power = grower("get", f"{to}/power")[1]
    assert power["findings"][0]["code"] == "circuit.timer"
    assert power["circuit"]["check"]["over"]
    # with everything at full power: 240 W at 230 V and a power factor of 0.97
    lamp = power["circuit"]["loads"][0]
    assert (lamp["watts"], lamp["timed"]) == (240, True)
    assert lamp["amps"] == pytest.approx(240 / 230 / lamp["power_factor"])
    room(circuit={}, mount={**MOUNT, "rating_kg": 7, "away_cm": 300})
    codes = [each["code"] for each in grower("get", f"{to}/power")[1]["findings"]]
    assert codes[0] == "heavy.over"
    assert {"cord.short", "cord.too_short"} & set(codes)
    room(circuit={}, mount=MOUNT)
    assert [f["code"] for f in grower("get", f"{to}/power")[1]["findings"]] == ["circuit.well"]


def test_lamps_of_another_space_on_the_same_circuit_count(grower, run, to, room):
    kept = room(circuit={"breaker_a": 1.5, "loads": []})
    alone = grower("get", f"{to}/power")[1]["circuit"]["check"]
    other = grower("post", "spaces", {**BOX_ROOM, "name": "Second tent"})[1]
    made = {name: run[name] for name in ("fixture_id", "crop_id")} | {"space_id": other["id"]}
    grower("post", "runs", made)
    body = {"circuit_id": kept["circuit_id"], "mount": {}, "air": {}}
    grower("put", f"spaces/{other['id']}/power", body)
    circuit = grower("get", f"{to}/power")[1]["circuit"]
    assert [load["name"] for load in circuit["loads"]][1].endswith("in Second tent")
    assert circuit["check"]["total"]["amps"] == pytest.approx(2 * alone["total"]["amps"])
    assert "circuit.breaker" in [each["code"] for each in circuit["check"]["findings"]]


def test_a_lamp_lit_for_two_hours_is_no_load_for_hours(grower, run, to, room):
    room(circuit={"loads": []})
    strains = grower("get", f"{to}/power")[1]["circuit"]["check"]["strains"]
    assert next(s for s in strains if s["part"] == "continuous")["drawn_a"] > 1
    crop = grower.named("crops", "Potted chrysanthemums")
    stages = [{**s, "hours_low": 1, "hours_high": 2} for s in crop["stages"]]
    status, kept = grower("put", f"crops/{crop['id']}", crop_body(crop, stages=stages))
    assert status == 200, kept
    strains = grower("get", f"{to}/power")[1]["circuit"]["check"]["strains"]
    assert next(s for s in strains if s["part"] == "continuous")["drawn_a"] == 0


def test_measured_watts_and_other_loads_count(grower, run, to, room):
    room(circuit={"loads": [{"name": "Heater", "watts": 900, "amps": 4.25}]})
    six = grower.named("fixtures", "Wickerlight Six")
    grower("post", f"fixtures/{six['id']}/pieces", {"name": "Ours", "watts": 251.0})
    pieces = grower.named("fixtures", "Wickerlight Six")["pieces"]
    lamps = grower("get", f"{to}/lamps")[1]
    own = {k: lamps[0][k] for k in ("fixture_id", "x_cm", "y_cm", "turn_deg")}
    grower("put", f"{to}/lamps", {"lamps": [{**own, "piece_id": pieces[0]["id"]}]})
    power = grower("get", f"{to}/power")[1]
    assert power["measured_watts"]
    lamp, heater = power["circuit"]["loads"]
    assert lamp["watts"] == 251
    assert (heater["amps"], heater["measured"]) == (4.25, True)
    assert heater["va"] == pytest.approx(230 * 4.25)


def test_two_groups_have_their_own_watts_hours_and_cost(grower, run, to):
    stage = run["stage_id"]
    six = grower.named("fixtures", "Wickerlight Six")
    lamp = {"fixture_id": six["id"], "x_cm": 60, "y_cm": 45, "turn_deg": 0}
    four = grower.named("fixtures", "Sill Strip 30")["id"]
    strip = {"fixture_id": four, "x_cm": 60, "y_cm": 45, "turn_deg": 0, "group": 1}
    status, kept = grower("put", f"{to}/lamps", {"lamps": [lamp, strip]})
    assert status == 200, kept
    windows = [{"on_minute": 300, "hours": 2}]
    body = {"dial_pct": 100, "windows": windows}
    assert grower("put", f"{to}/stages/{stage}/groups/1", body)[0] in (200, 204)
    power = grower("get", f"{to}/power?stage_id={stage}")[1]
    rail, group = power["groups"]
    assert group["windows"] == windows
    assert group["kwh"] == pytest.approx(group["watts"] * 2 / 1000)
    assert group["cost"] == pytest.approx(group["kwh"] * 0.31)
    assert power["day"]["kwh"] == pytest.approx(rail["kwh"] + group["kwh"])
    together = any(300 <= w["on_minute"] < 420 for w in rail["windows"])
    apart = max(rail["watts"], group["watts"])
    wanted = rail["watts"] + group["watts"] if together else apart
    assert power["most_watts"] == pytest.approx(wanted)


def test_in_how_many_days_a_sheet_pays(grower, run, to):
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "lining": "black"})
    found = grower("get", f"{to}/sheets?price=18")[1]
    assert found
    for each in found:
        if each["days"] is not None:
            assert each["days"] * each["saved_per_day"] == pytest.approx(18)
    assert any(each["days"] for each in found)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"volts": 12}, "volts"),
        ({"breaker_a": 0}, "breaker_a"),
        ({"lead_m": 5, "lead_mm2": None}, "lead_m"),
        ({"loads": [{"name": "Heater", "watts": 3000, "amps": 2}]}, "loads.0.amps"),
        ({"loads": [{"name": "Fan", "watts": -5}]}, "loads.0.watts"),
        ({"origins": {"plug_a": "hearsay"}}, "origins.plug_a"),
    ],
)
def test_circuits_that_cannot_be(grower, change, field):
    status, problem = grower("post", "spaces/circuits", {**CIRCUIT, **change})
    assert (status, fields(problem)) == (422, [field])


def test_a_lead_is_known_by_its_gauge_too(grower):
    given = {**CIRCUIT, "lead_m": 9.144, "lead_mm2": None, "lead_gauge": 14}
    made = grower("post", "spaces/circuits", given)[1]
    # ASTM B258 (from memory): 14 gauge is 2.08 mm2
    assert made["lead_mm2"] == pytest.approx(2.08, abs=0.005)
    assert made["lead_gauge"] == 14
    # sent back as it was answered, it stays; the copper is what counts
    same = {name: made[name] for name in given}
    assert grower("put", f"spaces/circuits/{made['id']}", same)[1]["lead_mm2"] == made["lead_mm2"]


def test_circuits_are_put_away_and_come_back_and_a_late_change_is_told(grower, run, to, room):
    kept = room(circuit={})
    path = f"spaces/circuits/{kept['circuit_id']}"
    assert grower("put", f"{path}/aside", {"removed": True})[1]["removed"]
    assert grower("put", f"{path}/aside", {"removed": False})[1]["version"] == 3
    # what it hangs on stays, and so does the answer
    assert grower("get", f"{to}/power")[1]["circuit"]["name"] == CIRCUIT["name"]
    presets = grower("get", "spaces/circuits/presets")[1]
    assert {each["volts"] for each in presets} == {120, 230}


def test_a_begun_run_stands_on_its_tariff_and_on_the_room_as_it_is(grower, run, to, room):
    before = grower("get", f"{to}/power")[1]
    grower("put", f"{to}/begin", {})
    grower("put", f"spaces/{run['space_id']}/tariff", {"per_kwh": 9})
    room(circuit={}, mount=MOUNT)
    after = grower("get", f"{to}/power")[1]
    assert after["season"]["cost"] == pytest.approx(before["season"]["cost"])
    assert after["circuit"]["name"] == CIRCUIT["name"]


def test_a_lamp_says_its_inrush_its_hangers_and_what_is_sold_apart(grower, run, to, room):
    six = grower.named("fixtures", "Wickerlight Six")
    details = {**six["details"], "inrush_a": 90, "hangers": 2, "sold_apart": "dimmer knob"}
    status, kept = grower("put", f"fixtures/{six['id']}", {**body_of(six), "details": details})
    assert status == 200, kept
    room(circuit={})
    power = grower("get", f"{to}/power")[1]
    lamp = power["hanging"]["lamps"][0]
    assert (lamp["hangers"], len(lamp["marks_cm"]), lamp["sold_apart"]) == (2, 2, "dimmer knob")
    assert power["circuit"]["check"]["inrush_a"] == 90


def test_what_cannot_be_is_refused_in_words(grower, run, to):
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "height_cm": 60.0, "pot_cm": 10})
    status, problem = grower("get", f"{to}/power")
    assert status == 422
    assert problem["detail"]
    assert grower("put", f"{to}/plants", {"plants": 0})[0] == 422
    assert grower("get", f"{to}/sheets?price=-1")[0] == 422
    assert grower("get", f"{to}/power?stage_id=999999")[0] == 404
