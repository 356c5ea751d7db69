"""The scene file: what it takes, what it refuses and how it says so."""

import json
from copy import deepcopy
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.cli import main
from canopy.errors import CanopyError
from canopy.formats.scene import read_scene

FORMATS = Path(__file__).parents[3] / "docs" / "formats"
EXAMPLE = FORMATS / "example.scene.json"
SCHEMA = json.loads((FORMATS / "scene.schema.json").read_text())


@pytest.fixture
def scene():
    return json.loads(EXAMPLE.read_text())


def changed(scene, path, value):
    """A copy with one field set; a value of ... takes it out."""
    copy = deepcopy(scene)
    *parents, last = path
    place = copy
    for step in parents:
        place = place[step]
    if value is ...:
        del place[last]
    else:
        place[last] = value
    return copy


def run(tmp_path, capsys, text):
    file = tmp_path / "a.scene.json"
    file.write_text(text)
    code = main(["map", str(file)])
    out, err = capsys.readouterr()
    return code, out, err


def test_the_example_answers(tmp_path, capsys, scene):
    jsonschema.validate(scene, SCHEMA)
    code, out, err = run(tmp_path, capsys, json.dumps(scene))
    assert (code, err) == (0, "")
    answer = json.loads(out)
    assert answer["format"] == "idle-canopy/map"
    assert [len(row) for row in answer["ppfd_umol_m2_s"]] == [5] * 4
    flat = [value for row in answer["ppfd_umol_m2_s"] for value in row]
    # the definitions, by hand
    assert answer["mean"] == pytest.approx(sum(flat) / 20)
    assert answer["min_over_max"] == pytest.approx(min(flat) / max(flat))
    assert answer["canopy_umol_s"] == pytest.approx(answer["area_mean"] * 120 * 90 / 1e4)
    assert answer["capture"] == pytest.approx(answer["canopy_umol_s"] / 520)
    assert "ignored" not in answer


def test_free_points_and_edges(tmp_path, capsys, scene):
    free = changed(scene, ["grid"], {"at": [[60, 45], [0, 0]]})
    answer = json.loads(run(tmp_path, capsys, json.dumps(free))[1])
    assert len(answer["ppfd_umol_m2_s"]) == 2
    assert [answer[k] for k in ("area_mean", "canopy_umol_s", "capture")] == [None] * 3
    edges = changed(scene, ["grid"], {"nx": 3, "ny": 2, "points": "edges"})
    answer = json.loads(run(tmp_path, capsys, json.dumps(edges))[1])
    assert answer["x_cm"] == [0, 60, 120]
    assert answer["ppfd_umol_m2_s"][0][0] == pytest.approx(
        json.loads(run(tmp_path, capsys, json.dumps(free))[1])["ppfd_umol_m2_s"][1]
    )


def test_a_dark_lamp_leaves_ratios_open(tmp_path, capsys, scene):
    dark = changed(scene, ["lamps", 0, "light_fraction"], 0)
    answer = json.loads(run(tmp_path, capsys, json.dumps(dark))[1])
    assert answer["mean"] == 0
    assert [answer[k] for k in ("min_over_max", "min_over_mean", "capture")] == [None] * 3


def test_unknown_fields_are_named(tmp_path, capsys, scene):
    odd = changed(scene, ["space", "colour"], "green")
    odd["lamps"][0]["layout"]["glow"] = 1
    answer = json.loads(run(tmp_path, capsys, json.dumps(odd))[1])
    assert sorted(answer["ignored"]) == ["lamps[0].layout.glow", "space.colour"]


STEP = {"x_cm": 10, "y_cm": 20, "width_cm": 30, "depth_cm": 20, "raise_cm": 15}


def test_steps_lift_points_and_shade_those_beside_them(tmp_path, capsys, scene):
    spots = {"at": [[20, 30], [20, 30, 15], [20, 30, 20], [60, 80], [5, 30]]}
    flat = changed(scene, ["grid"], spots)
    lifted = changed(flat, ["space", "stands"], [STEP])
    jsonschema.validate(lifted, SCHEMA)
    plain, stepped = (
        json.loads(run(tmp_path, capsys, json.dumps(each))[1])["ppfd_umol_m2_s"]
        for each in (flat, lifted)
    )
    # without a height a point lies on the step's top
    assert stepped[0] == pytest.approx(stepped[1])
    assert stepped[0] > 1.03 * plain[0]
    # far from it little changes, in its shade much
    assert stepped[3] == pytest.approx(plain[3], rel=0.04)
    assert stepped[4] < 0.8 * plain[4]


def test_a_step_is_under_the_grid_too(tmp_path, capsys, scene):
    stepped = changed(scene, ["space", "stands"], [STEP | {"x_cm": 0, "width_cm": 120}])
    answer = json.loads(run(tmp_path, capsys, json.dumps(stepped))[1])
    plain = json.loads(run(tmp_path, capsys, json.dumps(scene))[1])
    rows = [
        [sum(row) for row in each["ppfd_umol_m2_s"]] for each in (answer, plain)
    ]  # y = 11.25, 33.75, ...
    assert rows[0][1] > 1.02 * rows[1][1]
    assert changed(scene, ["space", "stands"], []) != scene
    none = json.loads(run(tmp_path, capsys, json.dumps(changed(scene, ["space", "stands"], [])))[1])
    assert none == plain


def test_a_body_under_another_lamp_shades_it(tmp_path, capsys, scene):
    bar = {
        "ppf_umol_s": 1, "x_cm": 60, "y_cm": 45, "height_cm": 20,
        "layout": {"bars": 1, "bar_length_cm": 60, "spread_cm": 0},
        "body": {"coverage": 1, "reflectance": 0.5, "x_cm": 20, "y_cm": 60},
    }  # fmt: skip
    both = changed(scene, ["lamps"], [*scene["lamps"], bar])
    jsonschema.validate(both, SCHEMA)
    both = changed(both, ["grid"], {"at": [[60, 45]]})
    without = changed(both, ["lamps", 1, "body"], ...)
    dark, bright = (
        json.loads(run(tmp_path, capsys, json.dumps(each))[1])["mean"] for each in (both, without)
    )
    assert dark < 0.8 * bright


SPACE, LAMP, LAYOUT = ["space"], ["lamps", 0], ["lamps", 0, "layout"]
CANDELA = [*LAMP, "beam"]


def table(vertical, horizontal, values):
    candela = {"vertical_deg": vertical, "horizontal_deg": horizontal, "values": values}
    return {"candela": candela}


STANDS, BODY = [*SPACE, "stands"], [*LAMP, "body"]
REFUSED = [
    (STANDS, {}, "space.stands"),
    (STANDS, [STEP] * 17, "space.stands"),
    (STANDS, [STEP | {"raise_cm": 0.5}], "space.stands[0].raise_cm"),
    (STANDS, [STEP, STEP | {"raise_cm": 39.5}], "space.stands[1].raise_cm"),
    (STANDS, [STEP | {"x_cm": 100}], "space.stands[0]"),
    (STANDS, [STEP | {"y_cm": -1}], "space.stands[0].y_cm"),
    (STANDS, [STEP | {"width_cm": 0}], "space.stands[0].width_cm"),
    (STANDS, [[1, 2, 3, 4, 5]], "space.stands[0]"),
    (BODY, {"coverage": 1, "reflectance": 0.5, "x_cm": 10}, "lamps[0].body.y_cm"),
    (BODY, {"coverage": 1, "reflectance": 0.5, "x_cm": 0, "y_cm": 5}, "lamps[0].body.x_cm"),
    (BODY, {"coverage": 1.5, "reflectance": 0.5}, "lamps[0].body.coverage"),
    ([*SPACE, "width_cm"], -120, "space.width_cm"),
    ([*SPACE, "width_cm"], 1001, "space.width_cm"),
    ([*SPACE, "width_cm"], True, "space.width_cm"),
    ([*SPACE, "width_cm"], "120", "space.width_cm"),
    ([*SPACE, "width_cm"], 10**400, "space.width_cm"),
    ([*SPACE, "width_cm"], ..., "space.width_cm"),
    ([*SPACE, "height_cm"], 30, "space.height_cm"),
    ([*SPACE, "canopy_cm"], 180, "space.canopy_cm"),
    ([*SPACE, "walls", "reflectance"], 1.0, "space.walls.reflectance"),
    ([*SPACE, "walls"], {"left": None, "right": None, "front": None}, "space.walls.back"),
    ([*SPACE, "ceiling_reflectance"], -0.1, "space.ceiling_reflectance"),
    (["lamps"], [], "lamps"),
    (["lamps"], {}, "lamps"),
    ([*LAMP, "ppf_umol_s"], 0, "lamps[0].ppf_umol_s"),
    ([*LAMP, "ppf_umol_s"], 20001, "lamps[0].ppf_umol_s"),
    ([*LAMP, "light_fraction"], 1.1, "lamps[0].light_fraction"),
    ([*LAMP, "height_cm"], 0.5, "lamps[0].height_cm"),
    ([*LAMP, "height_cm"], 136, "lamps[0]"),
    ([*LAMP, "x_cm"], 20, "lamps[0]"),
    ([*LAMP, "turn_deg"], 361, "lamps[0].turn_deg"),
    ([*LAMP, "beam"], {"cosine_power": 0.4}, "lamps[0].beam.cosine_power"),
    (LAYOUT, {"point": True, "ring_cm": 5}, "lamps[0].layout"),
    (LAYOUT, {"point": False}, "lamps[0].layout.point"),
    (LAYOUT, {}, "lamps[0].layout"),
    ([*LAYOUT, "bars"], 41, "lamps[0].layout.bars"),
    ([*LAYOUT, "bars"], 2.5, "lamps[0].layout.bars"),
    ([*LAYOUT, "bar_share"], [0.5, 0.5], "lamps[0].layout.bar_share"),
    ([*LAYOUT, "bar_share"], [0.2] * 6, "lamps[0].layout.bar_share"),
    (LAYOUT, {"emitters": [[0, 0, 0, 0.5]]}, "lamps[0].layout.emitters"),
    (LAYOUT, {"emitters": [[0, 0, 1]]}, "lamps[0].layout.emitters[0]"),
    (["grid", "nx"], 0, "grid.nx"),
    (["grid"], {"nx": 1, "ny": 3, "points": "edges"}, "grid.nx"),
    (["grid"], {"nx": 200, "ny": 200, "points": "cells"}, "grid"),
    (["grid", "points"], "corners", "grid.points"),
    (["grid"], {"at": [[130, 1]]}, "grid.at[0][0]"),
    (["format"], "something else", "format"),
    (["version"], 2, "version"),
    ([*SPACE, "walls"], {"reflectance": 0.95, "specular_share": 1}, "space.walls.specular_share"),
    ([*LAMP, "tilt_deg"], 91, "lamps[0].tilt_deg"),
    # a 96 cm wide lamp tilted by 89 degrees at 40 cm reaches below the canopy
    ([*LAMP, "tilt_deg"], 89, "lamps[0]"),
    ([*LAMP, "body"], {"coverage": 1.3, "reflectance": 0.5}, "lamps[0].body.coverage"),
    ([*LAMP, "body"], {"coverage": 0.3}, "lamps[0].body.reflectance"),
    ([*LAMP, "beam"], {"candela": {}}, "lamps[0].beam.candela.vertical_deg"),
    (CANDELA, table([0, 45, 30], [0], [[1, 1, 1]]), "lamps[0].beam.candela.vertical_deg"),
    (CANDELA, table([10, 45], [0], [[1, 1]]), "lamps[0].beam.candela.vertical_deg"),
    (CANDELA, table([0, 45], [0, 60], [[1, 1], [1, 1]]), "lamps[0].beam.candela.horizontal_deg"),
    (CANDELA, table([0, 45], [0, 90], [[1, 1]]), "lamps[0].beam.candela.values"),
    (CANDELA, table([0, 45], [0], [[1]]), "lamps[0].beam.candela.values[0]"),
    (CANDELA, table([0, 45], [0], [[1, -1]]), "lamps[0].beam.candela.values[0][1]"),
    (CANDELA, table([0, 45], [0], [[0, 0]]), "lamps[0].beam.candela.values"),
    ([*LAMP, "beam"], {"cosine_power": 1, "candela": {}}, "lamps[0].beam"),
    (["grid"], {"at": [[60, 45, 140]]}, "grid.at[0][2]"),
]


@pytest.mark.parametrize(("path", "value", "field"), REFUSED)
def test_one_sentence_names_the_field(tmp_path, capsys, scene, path, value, field):
    bad = changed(scene, path, value)
    with pytest.raises(CanopyError) as refused:
        read_scene(json.dumps(bad))
    assert refused.value.field == field
    code, out, err = run(tmp_path, capsys, json.dumps(bad))
    assert (code, out) == (2, "")
    assert err.count("\n") == 1
    assert err.strip() == refused.value.sentence


@pytest.mark.parametrize(
    "text",
    ["", "{", "[]", "nonsense", '{"format": NaN}', '{"a": 1, "a": 2}', "[" * 100_000],
)
def test_what_is_not_a_scene(tmp_path, capsys, text):
    code, out, err = run(tmp_path, capsys, text)
    assert (code, out) == (2, "")
    assert err.count("\n") == 1


def test_files_that_cannot_be_read(tmp_path, capsys):
    assert main(["map", str(tmp_path / "missing.json")]) == 2
    assert "cannot be opened" in capsys.readouterr().err
    (tmp_path / "binary").write_bytes(b"\xff\xfe\x00")
    assert main(["map", str(tmp_path / "binary")]) == 2
    assert "UTF-8" in capsys.readouterr().err


JSON = st.recursive(
    st.one_of(st.none(), st.booleans(), st.floats(allow_nan=False), st.text(max_size=5)),
    lambda inner: st.one_of(
        st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=5), inner, max_size=3)
    ),
    max_leaves=6,
)


@given(st.sampled_from([path for path, *_ in REFUSED]), JSON)
def test_nothing_crashes_it(path, value):
    bad = changed(json.loads(EXAMPLE.read_text()), path, value)
    try:
        read_scene(json.dumps(bad))
    except CanopyError as refused:
        assert refused.sentence  # noqa: PT017 - a scene may also be good


def test_every_field_has_its_effect(tmp_path, capsys, scene):
    """Nothing that is read is then forgotten: each field changes the mean."""
    changes = [
        ([*SPACE, "walls", "specular_share"], 0.5),
        ([*SPACE, "ceiling_reflectance"], 0.2),
        ([*SPACE, "canopy_reflectance"], 0.4),
        ([*SPACE, "canopy_cm"], 60),
        ([*LAMP, "tilt_deg"], 15),
        ([*LAMP, "turn_deg"], 90),
        ([*LAMP, "body"], {"coverage": 0.4, "reflectance": 0.1}),
        ([*LAMP, "beam"], {"cosine_power": 2}),
        (CANDELA, table([0, 30, 60, 90], [0, 90], [[5, 4, 2, 0], [5, 5, 3, 0]])),
        ([*LAYOUT, "end_density"], 3),
        ([*LAYOUT, "bar_share"], [0, 0.25, 0.25, 0.25, 0.25, 0]),
        ([*LAMP, "light_fraction"], 0.5),
    ]
    scene["lamps"][0]["layout"]["spread_cm"] = 70
    plain = json.loads(run(tmp_path, capsys, json.dumps(scene))[1])["mean"]
    for path, value in changes:
        code, out, err = run(tmp_path, capsys, json.dumps(changed(scene, path, value)))
        assert code == 0, err
        assert json.loads(out)["mean"] != pytest.approx(plain, rel=1e-4), path
    stand = changed(scene, ["grid"], {"at": [[60, 45, 20], [60, 45]]})
    raised, low = json.loads(run(tmp_path, capsys, json.dumps(stand))[1])["ppfd_umol_m2_s"]
    assert raised > low


def test_touching_the_walls_is_allowed(scene):
    wide = changed(scene, LAYOUT, {"board_x_cm": 120, "board_y_cm": 90})
    read_scene(json.dumps(wide))
    assert read_scene(json.dumps(changed(wide, [*LAMP, "height_cm"], 135)))
    walls = {"left": None, **{s: {"reflectance": 0.5} for s in ("right", "front", "back")}}
    box = read_scene(json.dumps(changed(scene, [*SPACE, "walls"], walls)))[0].box
    assert box.wall_reflectance == (0, 0.5, 0.5, 0.5)


def warnings(tmp_path, capsys, scene):
    status, out, _ = run(tmp_path, capsys, json.dumps(scene))
    assert status == 0
    found = json.loads(out).get("warnings", [])
    return {each["code"]: each["sentence"] for each in found}


def test_more_light_than_there_can_be_is_said_with_its_map(tmp_path, capsys, scene):
    """The example's lamp 2 cm above the tops: its grid counts the light two and a half times."""
    low = changed(scene, ("lamps", 0, "height_cm"), 2)
    said = warnings(tmp_path, capsys, low)
    assert set(said) == {"light.beyond_bound", "light.coarse_grid"}
    # 1 / (1 - canopy reflectance), the most a canopy can be lit by, from the definition
    assert "1.11 is the most" in said["light.beyond_bound"]
    assert "2 cm above points" in said["light.coarse_grid"]


def test_a_map_that_can_be_trusted_says_nothing(tmp_path, capsys, scene):
    assert warnings(tmp_path, capsys, scene) == {}
    low = changed(scene, ("lamps", 0, "height_cm"), 2)
    # free points have no area to add up, and miss nothing that was asked
    assert warnings(tmp_path, capsys, changed(low, ("grid",), {"at": [[60, 45]]})) == {}


@pytest.mark.parametrize(
    "layout", [{"bars": 1, "bar_length_cm": 60, "spread_cm": 0}, {"point": True}]
)
def test_a_body_over_a_line_or_a_point_is_refused_without_a_size(tmp_path, capsys, scene, layout):
    thin = changed(scene, ["lamps", 0, "layout"], layout)
    thin = changed(thin, ["lamps", 0, "body"], {"coverage": 0.5, "reflectance": 0.5})
    code, _, err = run(tmp_path, capsys, json.dumps(thin))
    assert code == 2
    assert "lamps[0].body" in err or "give x_cm and y_cm" in err


def test_a_point_inside_a_step_is_refused_and_on_its_border_not(tmp_path, capsys, scene):
    stepped = changed(scene, ["space", "stands"], [STEP])
    inside = changed(stepped, ["grid"], {"at": [[20, 30, 10]]})
    code, _, err = run(tmp_path, capsys, json.dumps(inside))
    assert code == 2
    assert "inside a step" in err
    border = changed(stepped, ["grid"], {"at": [[10, 30, 0]]})
    assert run(tmp_path, capsys, json.dumps(border))[0] == 0
