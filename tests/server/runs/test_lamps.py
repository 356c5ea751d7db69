"""Several lamps of a run over the API: hung, moved, turned, tilted, unplugged, held, taken out."""

import pytest

from server.runs.demo import BOX_ROOM


@pytest.fixture
def lamps(grower, run):
    def hang(*lamps):
        return grower("put", f"runs/{run['id']}/lamps", {"lamps": list(lamps)})

    return hang


@pytest.fixture
def one(run):
    return {"fixture_id": run["fixture_id"], "x_cm": 60, "y_cm": 45, "turn_deg": 0}


def bench(grower, run, **levers):
    body = {"stage_id": run["stage_id"], "height_cm": 40, "dial_pct": 50, "hours": 16, **levers}
    return grower("post", f"runs/{run['id']}/bench", body)[1]


def test_a_run_begins_with_its_lamp_in_the_middle(grower, run):
    status, found = grower("get", f"runs/{run['id']}/lamps")
    assert status == 200
    assert [(lamp["x_cm"], lamp["y_cm"], lamp["own_dial_pct"]) for lamp in found] == [
        (60, 45, None)
    ]
    assert len(found[0]["bars_x_cm"]) == 6


def test_the_server_says_how_another_lamp_begins(grower, run, one):
    path = f"runs/{run['id']}/lamps/another"
    long = grower.named("fixtures", "Tallow Long 150")["id"]
    status, lamp = grower("get", f"{path}?fixture_id={long}&hung=1")
    # in the middle, its long side along the tent's, held at its own dial
    assert (status, lamp["x_cm"], lamp["y_cm"], lamp["own_dial_pct"]) == (200, 60, 45, 100)
    assert lamp["turn_deg"] in (0, 90)
    assert grower("get", f"{path}?fixture_id={run['fixture_id']}")[1]["own_dial_pct"] is None
    for query, words in (("hung=16", "are the most"), ("hung=many", "not a number")):
        status, problem = grower("get", f"{path}?fixture_id={long}&{query}")
        assert (status, words in problem["detail"]) == (422, True)
    big = grower.named("fixtures", "Wickerlight Eight")["id"]
    assert "does not go in" in grower("get", f"{path}?fixture_id={big}")[1]["detail"]
    assert len(grower("get", f"runs/{run['id']}/lamps")[1]) == 1


def test_lamps_stay_where_they_hang_when_another_lamp_or_space_is_tried(grower, run, lamps, one):
    """Three placed and tilted lamps are there again with the first lamp, and the first space."""
    six, board = run["fixture_id"], grower.named("fixtures", "Hearth Pair")["id"]
    hung = [
        one | {"x_cm": 55},
        {"fixture_id": board, "x_cm": 25, "y_cm": 45, "tilt_deg": 10},
        {"fixture_id": board, "x_cm": 95, "y_cm": 45, "tilt_deg": -10, "own_dial_pct": 100},
    ]
    kept = lamps(*hung)[1]
    assert len(kept) == 3
    other = grower("post", "spaces", BOX_ROOM | {"name": "Cupboard", "width_cm": 100})[1]["id"]
    put = {name: run[name] for name in ("space_id", "fixture_id", "crop_id")}

    def now(**change):
        status, answer = grower("put", f"runs/{run['id']}", put | change)
        assert status == 200, answer
        return grower("get", f"runs/{run['id']}/lamps")[1]

    with_board = now(fixture_id=board)
    # the new lamp hangs where the old one did, beside the others
    assert [lamp["fixture_id"] for lamp in with_board] == [board] * 3
    assert now() == kept
    # what does not fit into a smaller space begins in the middle there, and is not lost here
    assert len(now(space_id=other)) in (1, 3)
    assert now() == kept
    # put back to the middle stays so, with this lamp only
    assert len(lamps()[1]) == 1
    assert now(fixture_id=board) == with_board
    assert len(now(fixture_id=six)) == 1


def test_hung_elsewhere_the_light_follows_and_the_place_is_kept(grower, run, lamps, one):
    small = grower.named("fixtures", "Hearth Pair")["id"]
    before = bench(grower, run)
    second = {"fixture_id": small, "x_cm": 25, "y_cm": 45, "own_dial_pct": 100}
    status, kept = lamps(one, second)
    assert (status, len(kept)) == (200, 2)
    after = bench(grower, run)
    assert after["outcome"]["mean"] > before["outcome"]["mean"]
    assert after["outcome"]["watts"] > before["outcome"]["watts"]
    # the second lamp hangs on the left: there more is gained than on the right
    gain = [
        [b / a for a, b in zip(*rows)]
        for rows in zip(before["floor"]["ppfd"], after["floor"]["ppfd"])
    ]
    assert sum(row[0] for row in gain) > sum(row[-1] for row in gain)
    assert [lamp["name"] for lamp in after["geometry"]["lamps"]] == [
        "Wickerlight Six",
        "Hearth Pair",
    ]
    assert grower("get", f"runs/{run['id']}/lamps")[1] == kept
    # none again: the run's lamp in the middle
    assert len(lamps()[1]) == 1
    assert bench(grower, run)["outcome"] == before["outcome"]


def test_an_unplugged_bar_takes_its_light_and_its_watts(grower, run, lamps, one):
    before = bench(grower, run)
    lamps({**one, "bars_off": [0]})
    after = bench(grower, run)
    share = after["outcome"]["watts"] / before["outcome"]["watts"]
    bars = 6
    assert share == pytest.approx(1 - 1 / bars, rel=0.1)
    left = [row[0] for row in after["floor"]["ppfd"]]
    right = [row[-1] for row in after["floor"]["ppfd"]]
    assert sum(left) < sum(right)


def test_tilt_and_steps_shorten_the_rail(grower, run, lamps, one, space):
    before = bench(grower, run)["geometry"]
    lamps({**one, "tilt_deg": 10})
    tilted = bench(grower, run)["geometry"]
    assert tilted["lowest_cm"] > before["lowest_cm"]
    assert tilted["highest_cm"] < before["highest_cm"]
    lamps()
    step = {"x_cm": 40, "y_cm": 30, "width_cm": 30, "depth_cm": 30, "raise_cm": 12}
    assert grower("put", f"spaces/{space['id']}", {**BOX_ROOM, "stands": [step]})[0] == 200
    raised = bench(grower, run)
    assert raised["geometry"]["lowest_cm"] == before["lowest_cm"] + 12
    assert raised["geometry"]["stands"] == [step]
    # the middle stands on the step, 12 cm nearer
    rows = raised["floor"]["ppfd"]
    plain = rows[len(rows) // 2]
    assert plain[len(plain) // 2] > plain[2]


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"x_cm": 10}, "lamps.0", "sticks out"),
        ({"bars_off": [7]}, "lamps.0.bars_off", "6 bars"),
        ({"bars_off": [0, 1, 2, 3, 4, 5]}, "lamps.0.bars_off", "no light"),
        ({"own_dial_pct": 50}, "lamps", "follow the dial"),
        ({"tilt_deg": 91}, "lamps.0.tilt_deg", "at most 90"),
    ],
)
def test_lamps_that_cannot_hang_so(grower, run, lamps, one, change, field, words):
    status, problem = lamps({**one, **change})
    assert status == 422
    assert problem["errors"][0]["field"] == field
    assert words in problem["errors"][0]["sentence"]
    assert len(grower("get", f"runs/{run['id']}/lamps")[1]) == 1


def test_lamps_stay_where_they_fit_and_go_back_where_not(grower, run, lamps, one):
    lamps({**one, "x_cm": 62}, {**one, "x_cm": 60})
    other = grower("post", "spaces", {**BOX_ROOM, "name": "Other"})[1]["id"]
    body = {k: run[k] for k in ("space_id", "fixture_id", "crop_id")}
    assert grower("put", f"runs/{run['id']}", {**body, "space_id": other})[0] == 200
    assert [lamp["x_cm"] for lamp in grower("get", f"runs/{run['id']}/lamps")[1]] == [62, 60]
    strip = grower.named("fixtures", "Hearth Pair")["id"]
    assert grower("put", f"runs/{run['id']}", {**body, "fixture_id": strip})[0] == 200
    assert {lamp["fixture_id"] for lamp in grower("get", f"runs/{run['id']}/lamps")[1]} == {strip}
    narrow = {**BOX_ROOM, "name": "Narrow", "width_cm": 90.0}
    third = grower("post", "spaces", narrow)[1]["id"]
    assert grower("put", f"runs/{run['id']}", {**body, "space_id": third})[0] == 422  # too wide


def test_a_step_beyond_the_space_is_refused(grower, space):
    step = {"x_cm": 100, "y_cm": 0, "width_cm": 30, "depth_cm": 30, "raise_cm": 12}
    status, problem = grower("put", f"spaces/{space['id']}", {**BOX_ROOM, "stands": [step]})
    assert (status, problem["errors"][0]["field"]) == (422, "stands.0.width_cm")
