"""Run files: taken back unchanged, every complaint at its place, nothing dropped unsaid."""

import json
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.growing import LAMP_LIMITS, SPACE_LIMITS, STAGE_LIMITS, TARGET_FIELDS
from canopy.formats.runfile import read_run_file, read_run_text, write_run_file

FORMATS = Path(__file__).parents[3] / "docs" / "formats"
EXAMPLE = (FORMATS / "example.run.json").read_text()
SCHEMA = json.loads((FORMATS / "run.schema.json").read_text())
WINDOW = {
    "kind": "reckoned",
    "latitude_deg": 52,
    "longitude_deg": 5,
    "utc_offset_h": 1,
    "tilt_deg": 90,
    "azimuth_deg": 180,
    "transmission": 0.8,
    "cloud_factor": 0.5,
    "reach": 0.3,
}
READING = {"x_cm": 60, "y_cm": 45, "height_cm": 40, "ppfd_umol_m2_s": 500}
MAP = {
    "name": "Walk",
    "origin": "own",
    "readings": [READING],
    "width_cm": 120,
    "depth_cm": 90,
    "height_cm": 180,
    "lining": "silver",
    "floor_reflectance": 0.2,
    "lamp_x_cm": 60,
    "lamp_y_cm": 45,
    "turn_deg": 0,
}


def changed(path, value):
    """The example with one value put at a dotted path."""
    found = json.loads(EXAMPLE)
    at, parts = found, path.split(".")
    for part in parts[:-1]:
        at = at[int(part)] if isinstance(at, list) else at[part]
    at[int(parts[-1]) if isinstance(at, list) else parts[-1]] = value
    return found


def test_the_example_comes_back_unchanged_and_fits_its_schema():
    read = read_run_text(EXAMPLE)
    assert read.ignored == ()
    assert write_run_file(read) == EXAMPLE
    jsonschema.validate(json.loads(EXAMPLE), SCHEMA)


def test_the_schema_has_the_readers_fields():
    parts = SCHEMA["properties"]
    assert set(SPACE_LIMITS) <= set(parts["space"]["properties"])
    stage = parts["crop"]["properties"]["stages"]["items"]["properties"]
    assert {*STAGE_LIMITS, *TARGET_FIELDS} <= set(stage)
    lamp = parts["lamps"]["items"]["properties"]
    for name, limit in LAMP_LIMITS.items():
        assert (lamp[name]["minimum"], lamp[name]["maximum"]) == (limit.low, limit.high)


@pytest.mark.parametrize(
    ("path", "value"),
    [
        ("lamps", []),
        ("space.daylight", WINDOW),
        ("space.daylight", {"kind": "measured", "dli": 3, "sunrise_min": 480, "sunset_min": 960}),
        ("space.heat", {"off_above_c": 30, "mean_c": 24, "swing_c": 8}),
        ("space.lining_back", "open"),
        ("space.stands", [{"x_cm": 0, "y_cm": 0, "width_cm": 9, "depth_cm": 9, "raise_cm": 5}]),
        ("fixtures.0.map", MAP),
        ("tariff.bands", [{"from_minute": 0, "to_minute": 360, "per_kwh": 0.1}]),
        ("lamps.0.piece", None),
    ],
)
def test_what_may_stand_there_is_taken_back_unchanged(path, value):
    document = changed(path, value)
    jsonschema.validate(document, SCHEMA)
    read = read_run_file(document)
    assert read.ignored == ()
    written = write_run_file(read)
    assert read_run_text(written) == read
    jsonschema.validate(json.loads(written), SCHEMA)


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        ("format", "idle-canopy/scene", "format"),
        ("version", 2, "version"),
        ("space.width_cm", 5, "space.width_cm"),
        ("space.lining", "gold", "space.lining"),
        ("space.timer_step_min", 7, "space.timer_step_min"),
        ("space.daylight", {"kind": "guessed"}, "space.daylight.kind"),
        ("space.daylight", WINDOW | {"reach": 2}, "space.daylight.reach"),
        ("space.daylight", WINDOW | {"latitude_deg": 80}, "space.daylight.latitude_deg"),
        ("space.co2_enriched", "yes", "space.co2_enriched"),
        ("space.plots", [{"x_cm": 0}], "space.plots.0.y_cm"),
        ("space.name", "", "space.name"),
        ("tariff.per_kwh", -1, "tariff.per_kwh"),
        ("crop.habit", "vine", "crop.habit"),
        ("crop.stages", [], "crop.stages"),
        ("crop.stages.1.id", 1, "crop.stages"),
        ("crop.stages.0.days", 1.5, "crop.stages.0.days"),
        ("crop.stages.0.dli_low", 99, "crop.stages.0.dli_low"),
        ("crop.stages.0.night_h", None, "crop.stages.0.night_h"),
        ("crop.stages.0.plant_start_cm", 300, "crop.stages.0.plant_end_cm"),
        ("fixtures.0.record.watts", 0, "fixtures.0.record.watts"),
        ("fixtures.0.light_source", "map", "fixtures.0.map"),
        ("fixtures.0.light_source", "photometric", "fixtures.0.light_file"),
        ("fixtures.0.map", MAP | {"readings": [{}]}, "fixtures.0.map.readings.0.x_cm"),
        ("main", 9, "main"),
        ("lamps.0.fixture", 9, "lamps.0.fixture"),
        ("lamps.0.tilt_deg", 91, "lamps.0.tilt_deg"),
        ("lamps.0.bars_off", [41], "lamps.0.bars_off.0"),
        ("lamps.0.piece.burned_h", -1, "lamps.0.piece.burned_h"),
        ("lamps", [{}] * 17, "lamps"),
        ("wishes.started_on", "soon", "wishes.started_on"),
        ("wishes.started_on", "9999-12-31", "wishes.started_on"),
        ("wishes.rise_pct", 0, "wishes.rise_pct"),
        ("wishes.aim", "most", "wishes.aim"),
    ],
)
def test_what_cannot_be_is_named(path, value, field):
    with pytest.raises(CanopyError) as refused:
        read_run_file(changed(path, value))
    assert refused.value.field == field
    assert refused.value.sentence.endswith(".")


def test_unknown_fields_are_named():
    for path in ("weather", "space.colour", "crop.stages.0.mood", "lamps.0.piece.smell"):
        assert read_run_file(changed(path, 1)).ignored == (path,)


JUNK = st.one_of(
    st.none(),
    st.booleans(),
    st.floats(),
    st.text(max_size=3),
    st.just([]),
    st.just({}),
    st.just([{}]),
)
PATHS = [
    "space",
    "tariff",
    "crop",
    "fixtures",
    "lamps",
    "wishes",
    "main",
    *(f"space.{name}" for name in json.loads(EXAMPLE)["space"]),
    *(f"crop.stages.0.{name}" for name in json.loads(EXAMPLE)["crop"]["stages"][0]),
    *(f"lamps.0.{name}" for name in json.loads(EXAMPLE)["lamps"][0]),
    *(f"fixtures.0.{name}" for name in json.loads(EXAMPLE)["fixtures"][0]),
    *(f"wishes.{name}" for name in json.loads(EXAMPLE)["wishes"]),
]


@given(path=st.sampled_from(PATHS), value=JUNK)
def test_whatever_stands_there_it_is_read_or_refused_in_a_sentence(path, value):
    try:
        read = read_run_file(changed(path, value))
    except CanopyError:
        return
    # what was let in is let in again
    assert read_run_file(json.loads(write_run_file(read))) == read
