"""Lamps side by side in the grower's tent, over the API."""

import numpy as np
import pytest

from tests.server.conftest import said

BODY = {"days_a_year": 300}


@pytest.fixture
def compare(grower, run):
    def compare(*names, present=None, **wishes):
        lamps = [{"fixture_id": grower.named("fixtures", name)["id"]} for name in names]
        place = names.index(present) if present else None
        body = {"lamps": lamps, "present": place, **BODY, **wishes}
        status, found = grower("post", f"runs/{run['id']}/compare", body)
        assert status == 200, found
        return found

    return compare


def test_lamps_keep_their_order_and_say_what_the_shelf_says(compare, grower, run):
    found = compare("Tallow Board 200", "Wickerlight Six")
    assert [row["name"] for row in found["rows"]] == ["Tallow Board 200", "Wickerlight Six"]
    ranked = grower("post", f"runs/{run['id']}/shelf", BODY)[1]["rows"]
    for row in found["rows"]:
        same = next(r for r in ranked if r["name"] == row["name"])
        assert row["outcome"] == same["outcome"]
        assert row["cost"] == same["cost"]
    totals = [row["cost"]["total"] if row["meets"] else np.inf for row in found["rows"]]
    assert found["cheapest"] == int(np.argmin(totals))


def test_differences_are_of_the_floors_shown(compare):
    found = compare("Tallow Board 200", "Wickerlight Six")
    first, other = (np.array(row["floor"]) for row in found["rows"])
    assert found["differences"][0] is None
    less = found["differences"][1]
    assert np.array(less["floor"]) == pytest.approx(other - first, abs=0.11)
    assert abs(less["largest"]) == pytest.approx(np.abs(other - first).max(), abs=0.11)
    assert 0 <= less["brighter"] + less["dimmer"] <= 1
    # bars against a board in the middle: dimmer under the board, brighter at the edges
    assert less["brighter"] > 0


def test_replacing_an_old_lamp_pays_back_where_its_lines_cross(compare):
    found = compare(
        "Kiln Sodium 250", "Tallow Board 200", present="Kiln Sodium 250", years=20, days_a_year=365
    )
    sodium, board = found["lines"]
    assert sodium[0] == {"year": 0, "cost": 0}
    price = board[0]["cost"]
    assert price == pytest.approx(found["rows"][1]["purchase"])
    paid = found["payback_years"]
    assert paid[0] is None
    # its price over what it saves in a year, paid before the sodium bulb is due at 10 000 h
    a_year = [row["cost"]["energy"] / 20 for row in found["rows"]]
    by_hand = price / (a_year[0] - a_year[1])
    assert by_hand < 10_000 / (found["rows"][0]["setting"]["hours"] * 365)
    assert paid[1] == pytest.approx(by_hand)


def test_one_and_two_of_a_lamp_are_told_apart(grower, run):
    lamp = grower.named("fixtures", "Tallow Board 100")["id"]
    lamps = [{"fixture_id": lamp, "count": count} for count in (1, 2)]
    path = f"runs/{run['id']}/compare"
    found = grower("post", path, {"lamps": lamps, "present": 0})[1]
    # the one is there, the two would be bought
    assert [line[0]["cost"] for line in found["lines"]] == [0, found["rows"][1]["purchase"]]
    status, problem = grower("post", path, {"lamps": lamps, "present": 2})
    assert (status, problem["errors"][0]["field"]) == (422, "present")


def test_the_present_lamp_is_not_bought(compare):
    bought = compare("Tallow Board 200", "Wickerlight Six")
    owned = compare("Tallow Board 200", "Wickerlight Six", present="Tallow Board 200")
    price = bought["rows"][0]["purchase"]
    assert bought["lines"][0][-1]["cost"] - owned["lines"][0][-1]["cost"] == pytest.approx(price)
    assert bought["payback_years"] == [None, None]


def test_maps_that_cannot_be_compared_are_pointed_out(compare, grower):
    found = compare("Wickerlight Six", "Wickerlight Eight", "Tallow Board 100")
    notes = " ".join(said(found["notes"]))
    assert "90 × 90 cm" in notes
    assert "120 × 120" in notes
    assert "Tallow Board 100 comes without" in notes
    readings = "x_cm,y_cm,height_cm,ppfd\n" + "".join(
        f"{x},{y},30,500\n" for x in (40, 50, 60) for y in (40, 50, 60)
    )
    lamp = grower.named("fixtures", "Tallow Board 100")
    body = {
        "name": "Sheet",
        "origin": "maker",
        "text": readings,
        "width_cm": 100,
        "depth_cm": 100,
        "lining": "open",
    }
    assert grower("post", f"fixtures/{lamp['id']}/maps", body)[0] == 201
    assert "short of the edge" in " ".join(
        said(compare("Tallow Board 100", "Wickerlight Six")["notes"])
    )


@pytest.mark.parametrize("count", [1, 5])
def test_two_to_four_lamps(grower, run, count):
    lamp = grower.named("fixtures", "Wickerlight Six")["id"]
    body = {"lamps": [{"fixture_id": lamp}] * count}
    assert grower("post", f"runs/{run['id']}/compare", body)[0] == 422


def test_a_part_of_the_shelf_is_ranked_alike(grower, run):
    whole = grower("post", f"runs/{run['id']}/shelf", {})[1]["rows"]
    some = [row["fixture_id"] for row in whole][:3]
    part = grower("post", f"runs/{run['id']}/shelf", {"fixture_ids": some})[1]["rows"]
    assert [row["fixture_id"] for row in part] == some
    assert [row["outcome"] for row in part] == [row["outcome"] for row in whole[:3]]


def test_rows_tell_heat_and_noise(grower, run):
    rows = grower("post", f"runs/{run['id']}/shelf", {})[1]["rows"]
    row = next(r for r in rows if r["name"] == "Wickerlight Six")
    # all wall power ends as heat: 3.412 BTU/h a W (NIST SP 811)
    assert row["heat_btu_per_h"] == pytest.approx(row["outcome"]["watts"] * 3.412)
    assert row["cooling"] == "still"
