"""The command `idle-canopy fit`: files in, the shape of docs/formats/fit.md out."""

import json
from pathlib import Path

import numpy as np
import pytest

from canopy.cli import main

ROOT = Path(__file__).parents[3]
SCENE = json.loads((ROOT / "docs/formats/example.scene.json").read_text(encoding="utf-8"))
TABLE = """# sensor_sd: 0.02
x_cm,y_cm,height_cm,ppfd_umol_m2_s
60,45,40,455
8,8,40,270
112,8,40,268
8,82,40,275
112,82,40,262
60,45,60,405
"""


@pytest.fixture
def asked(tmp_path, capsys):
    """Run it on a scene, readings and other scenes; the status, the answer, what is complained."""

    def run(table=TABLE, others=(), **changes):
        scene = tmp_path / "one.scene.json"
        scene.write_text(json.dumps({**SCENE, **changes}))
        (tmp_path / "walk.map.csv").write_text(table)
        words = ["fit", str(scene), str(tmp_path / "walk.map.csv")]
        for k, other in enumerate(others):
            path = tmp_path / f"at{k}.scene.json"
            path.write_text(json.dumps({**SCENE, **other}))
            words += ["--at", str(path)]
        status = main(words)
        out, err = capsys.readouterr()
        return status, json.loads(out) if out else None, err

    return run


def test_the_shape_of_the_answer(asked):
    status, found, _ = asked()
    assert status == 0
    assert (found["format"], found["version"]) == ("idle-canopy/fit", 1)
    assert {"lamp_scale", "sensor_scale", "wall_reflectance", "offset_x_cm"} < set(
        found["parameters"]
    )
    for each in found["parameters"].values():
        assert each["low"] <= each["value"] <= each["high"]
    assert len(found["residuals"]) == 6
    assert found["residuals"][0] | {"fitted": 0} == {
        "x_cm": 60,
        "y_cm": 45,
        "height_cm": 40,
        "measured": 455,
        "fitted": 0,
        "outlier": False,
    }
    (one,) = found["maps"]
    assert (
        np.shape(one["ppfd_umol_m2_s"]) == np.shape(one["low"]) == np.shape(one["high"]) == (4, 5)
    )
    assert np.all(np.array(one["low"]) <= np.array(one["ppfd_umol_m2_s"]))
    for name in ("mean", "max", "min"):
        assert one[f"{name}_low"] <= one[name] <= one[f"{name}_high"]
    assert one["min"] <= np.min(one["ppfd_umol_m2_s"]) * 1.05
    assert one["canopy_umol_s"] == pytest.approx(one["area_mean"] * 1.2 * 0.9)


def test_other_scenes_come_in_their_order(asked):
    lamp = SCENE["lamps"][0]
    others = [
        {"lamps": [{**lamp, "height_cm": 60}]},
        {"lamps": [{**lamp, "light_fraction": 0.5}]},
        {"grid": {"at": [[60, 45], [8, 8]]}},
        {"space": {**SCENE["space"], "canopy_cm": 60}},
    ]
    status, found, _ = asked(others=others)
    assert status == 0
    higher, half, at, taller = found["maps"]
    assert higher["mean"] < 2 * half["mean"]
    assert half["mean"] == pytest.approx(asked()[1]["maps"][0]["mean"] / 2, rel=0.03)
    assert np.shape(at["low"]) == (2,)
    assert at["canopy_umol_s"] is None
    assert taller["mean"] > 0


def test_quality_and_columns_are_used(asked):
    sure = asked(quality={"ppf_sd": 0.01, "walls_sd": 0.01})[1]
    unsure = asked(quality={"ppf_sd": 0.3, "footprint_sd_cm": 5})[1]

    def width(found, name="lamp_scale"):
        each = found["parameters"][name]
        return each["high"] - each["low"]

    assert width(sure) < width(unsure)
    assert "footprint_scale" in unsure["parameters"]
    assert asked(quality={"mood": 1})[1]["ignored"] == ["quality.mood"]
    head = "x_cm,y_cm,height_cm,ppfd_umol_m2_s,z_cm,light_fraction\n"
    lit = asked(head + "60,45,40,230,2.5,0.5\n8,8,40,140,2.5,0.5\n")[1]
    assert lit["residuals"][0]["fitted"] == pytest.approx(230, rel=0.1)


def test_two_lamps_share_a_scale(asked):
    lamp = {**SCENE["lamps"][0], "ppf_umol_s": 260, "layout": {"board_x_cm": 40, "board_y_cm": 60}}
    lamps = [{**lamp, "x_cm": 30}, {**lamp, "x_cm": 90, "height_cm": 45, "light_fraction": 0.9}]
    status, found, _ = asked(lamps=lamps)
    assert status == 0
    assert {"lamp_1", "lamp_2"} < set(found["parameters"])
    assert found["maps"][0]["mean"] > 0


@pytest.mark.parametrize(
    ("table", "words"),
    [
        ("x_cm,y_cm,height_cm,ppfd_umol_m2_s\n", "no readings"),
        (TABLE + "300,45,40,100\n", "outside the tent"),
        (TABLE + "60,45,170,100\n", "above the ceiling"),
        (TABLE.replace("0.02", "much"), "sensor_sd should be a share"),
        ("# daylight: perhaps\n" + TABLE, "yes or no"),
        (TABLE.replace("455", "many"), "not a number"),
        ("x_cm,y_cm,height_cm,ppfd_umol_m2_s,z_cm\n60,45,40,400,39.5\n", "sensor would stand"),
        ("x_cm,y_cm,height_cm,ppfd_umol_m2_s,light_fraction\n60,45,40,400,0\n", "that is off"),
        ("x_cm,y_cm,height_cm,ppfd_umol_m2_s\n60,45,40,0\n", "Every reading is 0"),
    ],
)
def test_what_cannot_be_used_is_one_sentence(asked, table, words):
    status, found, complaint = asked(table)
    assert (status, found) == (2, None)
    assert words in complaint
    assert complaint.count("\n") == 1


@pytest.mark.parametrize(
    "changes", [{"quality": {"ppf_sd": 0}}, {"quality": 3}, {"lamps": []}, {"version": 2}]
)
def test_scenes_that_cannot_be_used(asked, changes):
    status, _, complaint = asked(**changes)
    assert status == 2
    assert complaint


def test_open_walls_and_dark_lamps(asked):
    space = {**SCENE["space"], "walls": dict.fromkeys(("left", "right", "front", "back"))}
    status, found, _ = asked(space=space)
    assert status == 0
    assert "wall_reflectance" not in found["parameters"]
    lamp = {**SCENE["lamps"][0], "light_fraction": 0}
    assert asked(lamps=[lamp])[0] == 2
