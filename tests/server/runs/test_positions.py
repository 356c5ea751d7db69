"""Heights and dials as a table over the API: the bench's figures, in the grower's unit."""

import csv
import io

import pytest

from server.runs.demo import BOX_ROOM
from tests.server.sent import LEVERS


def test_a_table_is_of_the_benches_it_stands_for(grower, run):
    body = {"stage_id": run["stage_id"], **LEVERS}
    status, found = grower("post", f"runs/{run['id']}/positions", body)
    assert status == 200
    at = found["at"]
    assert (at["height_cm"], at["dial_pct"]) == (LEVERS["height_cm"], LEVERS["dial_pct"])
    for row in (found["heights"][0], found["dials"][-1]):
        moved = {**body, "height_cm": row["height_cm"], "dial_pct": row["dial_pct"]}
        bench = grower("post", f"runs/{run['id']}/bench", moved)[1]
        assert row["dli"] == pytest.approx(bench["outcome"]["dli"])
        assert row["watts"] == pytest.approx(bench["outcome"]["watts"])
        assert row["captured"] == pytest.approx(bench["capture"])
        assert row["efficacy_umol_j"] == pytest.approx(
            bench["canopy_umol_s"] / bench["outcome"]["watts"]
        )
    grower("put", "accounts/preferences", {"length_unit": "in"})
    inches = grower("post", f"runs/{run['id']}/positions", body)[1]
    lines = list(csv.DictReader(io.StringIO(inches["height_text"])))
    heights = [row["height_cm"] / 2.54 for row in inches["heights"]]
    assert [float(line["height_in"]) for line in lines] == pytest.approx(heights, abs=0.006)
    assert "cm" not in inches["height_text"] + inches["dial_text"]
    # every second inch, and where it hangs
    assert sum(abs(h / 2 - round(h / 2)) < 0.07 for h in heights) >= len(heights) - 1


def test_lamps_that_are_fixed_have_one_height(grower, run):
    space = grower("get", "spaces")[1][0]
    body = {**BOX_ROOM, "lamps_fixed": True, "hangers_cm": 2, "height_cm": 100}
    assert grower("put", f"spaces/{space['id']}", body)[0] == 200
    asked = {"stage_id": run["stage_id"], **LEVERS}
    found = grower("post", f"runs/{run['id']}/positions", asked)[1]
    assert len(found["heights"]) == 1
    assert len(found["dials"]) > 5
