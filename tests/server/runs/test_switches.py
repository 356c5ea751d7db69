"""A lamp with two switches on the bench, over the season, and in readings taken under it."""

import pytest

from tests.server.conftest import fields
from tests.server.sent import body_of

CHANNELS = {
    "channels": [
        {"share": 0.8, "cct_k": 3500, "cri": 90, "switch": 1},
        {"share": 0.2, "peak_nm": 660, "switch": 2},
    ]
}
SWITCHES = [
    {"name": "Whites", "watts_share": 0.75, "fan": True},
    {"name": "Reds", "watts_share": 0.25},
]


@pytest.fixture
def lamp(grower, run):
    """The run's lamp, with its whites and reds apart."""
    row = next(r for r in grower("get", "fixtures")[1] if r["id"] == run["fixture_id"])
    body = body_of(row) | {"spectrum": CHANNELS, "switches": SWITCHES}
    status, shown = grower("put", f"fixtures/{row['id']}", body)
    assert status == 200, shown
    return shown


@pytest.fixture
def bench(grower, run):
    def ask(**more):
        levers = {"stage_id": run["stage_id"], "height_cm": 40, "dial_pct": 100, "hours": 11}
        status, answer = grower("post", f"runs/{run['id']}/bench", levers | more)
        assert status == 200, answer
        return answer

    return ask


def put(grower, run, switch, dial_pct, **more):
    path = f"runs/{run['id']}/stages/{run['stage_id']}/switches/{switch}"
    return grower("put", path, {"dial_pct": dial_pct} | more)


def test_each_switch_has_its_share_of_the_light(lamp, bench):
    whites, reds = lamp["switches"]
    assert whites["light_share"] + reds["light_share"] == pytest.approx(1)
    assert reds["light_share"] == pytest.approx(0.2, abs=0.02)
    plain = bench()
    assert [each["dial_pct"] for each in plain["switches"]] == [None, None]
    assert plain["fan"] is True


def test_a_switch_off_takes_its_light_watts_and_colour(grower, run, lamp, bench):
    every = bench()
    assert put(grower, run, 2, 0)[0] == 204
    whites = bench()
    share = lamp["switches"][0]["light_share"]
    assert whites["outcome"]["mean"] == pytest.approx(share * every["outcome"]["mean"], rel=1e-6)
    assert whites["outcome"]["dli"] == pytest.approx(share * every["outcome"]["dli"], rel=1e-6)
    assert whites["outcome"]["watts"] == pytest.approx(0.75 * every["outcome"]["watts"])
    assert whites["outcome"]["evenness"] == pytest.approx(every["outcome"]["evenness"])
    # less red: fewer µmol for what the eye sees, so more lux in each
    assert whites["colour"]["red_blue"] < every["colour"]["red_blue"]
    assert whites["colour"]["lux_per_umol"] > every["colour"]["lux_per_umol"]
    assert put(grower, run, 2, None)[0] == 204
    assert bench()["outcome"] == every["outcome"]


def test_a_switch_held_stays_while_the_dial_turns(grower, run, lamp, bench):
    full, half = bench(), bench(dial_pct=50)
    assert put(grower, run, 2, 100)[0] == 204
    held = bench(dial_pct=50)
    reds = lamp["switches"][1]["light_share"]
    wanted = (1 - reds) * half["outcome"]["mean"] + reds * full["outcome"]["mean"]
    assert held["outcome"]["mean"] == pytest.approx(wanted, rel=1e-3)
    assert held["colour"]["red_blue"] > full["colour"]["red_blue"]


def test_without_its_fans_switch_the_fan_stands_still(grower, run, lamp, bench):
    put(grower, run, 1, 0)
    shown = bench()
    assert shown["fan"] is False
    assert shown["colour"]["red_blue"] is None


def test_the_other_stages_stay_as_they_are_and_the_season_says_so(grower, run, lamp):
    before = {s["stage_id"]: s for s in grower("get", f"runs/{run['id']}/season")[1]["stages"]}
    put(grower, run, 2, 0)
    season = grower("get", f"runs/{run['id']}/season")[1]
    for stage in season["stages"]:
        off = stage["planned"]["switches"][1]["dial_pct"]
        assert off == (0 if stage["stage_id"] == run["stage_id"] else None)
    told = [t["code"] for row in season["rows"] for t in row["tasks"]]
    assert "season.switch_off" in told
    last = season["stages"][-1]["stage_id"]
    if last != run["stage_id"]:
        assert "season.switch_with" in told
    assert set(before) == {stage["stage_id"] for stage in season["stages"]}


def test_it_can_be_taken_back(grower, run, lamp, bench):
    every = bench()["outcome"]
    put(grower, run, 2, 0)
    status, turned = grower("post", f"runs/{run['id']}/undo", {})
    assert (status, turned["what"]) == (200, "switch")
    assert bench()["outcome"] == every
    grower("post", f"runs/{run['id']}/redo", {})
    assert bench()["switches"][1]["dial_pct"] == 0


def test_a_copy_and_a_begun_run_keep_it_and_another_lamp_does_not(grower, run, lamp, bench):
    put(grower, run, 2, 0)
    kept = bench()["outcome"]
    copy = grower("post", f"runs/{run['id']}/copy", {"name": "Again"})[1]
    assert copy["fixture_id"] == run["fixture_id"]
    levers = {"stage_id": run["stage_id"], "height_cm": 40, "dial_pct": 100, "hours": 11}
    assert grower("post", f"runs/{copy['id']}/bench", levers)[1]["outcome"] == kept
    assert grower("put", f"runs/{copy['id']}/begin", {})[0] == 200
    # the run's own copy has the lamp's switches, whatever becomes of its record
    body = body_of(lamp) | {"switches": []}
    assert grower("put", f"fixtures/{lamp['id']}", body)[0] == 200
    assert grower("post", f"runs/{copy['id']}/bench", levers)[1]["outcome"] == kept
    assert bench()["switches"] == []


@pytest.mark.parametrize(
    ("switch", "dial_pct", "field"),
    [(3, 0, "switch"), (2, 3, "dial_pct"), (2, 101, "dial_pct"), (0, 0, "switch")],
)
def test_switches_that_cannot_stand_so(grower, run, lamp, switch, dial_pct, field):
    status, problem = put(grower, run, switch, dial_pct)
    assert (status, fields(problem)) == (422, [field])


def test_not_every_switch_can_be_off(grower, run, lamp):
    put(grower, run, 1, 0)
    status, problem = put(grower, run, 2, 0)
    assert status == 422
    assert "leave one on" in problem["detail"]


def test_records_with_switches_that_cannot_be(grower, lamp):
    for change, field in (
        ({"switches": SWITCHES[:1]}, "switches"),
        ({"spectrum": {"lamp": "sodium"}}, "spectrum"),
        ({"switches": [SWITCHES[0], SWITCHES[1] | {"watts_share": 0.5}]}, "switches.0.watts_share"),
        (
            {"spectrum": {"channels": [CHANNELS["channels"][0]]}},
            "switches.1.name",
        ),
    ):
        status, problem = grower("put", f"fixtures/{lamp['id']}", body_of(lamp) | change)
        assert (status, fields(problem)) == (422, [field])


def test_a_fixture_file_keeps_them(grower, lamp):
    text = grower("get", f"fixtures/{lamp['id']}/file")[1]["text"]
    status, added = grower("post", "fixtures/file", {"text": text})
    assert (status, added["ignored"]) == (201, [])
    assert added["fixture"]["switches"] == lamp["switches"]
