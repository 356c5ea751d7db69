"""The fit: known tents recovered, slips left aside, ray-traced tents predicted at other heights."""

import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import interpolate

from canopy.errors import CanopyError
from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, PlacedLamp
from canopy.light.transport import prepare
from canopy.measure.diagnosis import LEANS, diagnosis, findings
from canopy.measure.fit import Quality, fit, left_out, predict, prepared_for, unknowns
from canopy.measure.prepared import Prepared, Spread, Tent, Through
from canopy.measure.readings import Readings
from tests.core.measure.fit_scenes import FILE, GRID, SCENES

BOX = Enclosure(100, 80, 120, (0.77,) * 4, 0.77, 0.15)
LAMP = PlacedLamp(Bars.even(4, 60, 70), 500, 50, 40, 40, beam=CosineBeam(1.2))
SPOTS = np.array([(50, 40), (8, 8), (92, 8), (8, 72), (92, 72), (50, 40)], dtype=float)
HEIGHTS = np.array([40.0] * 5 + [60.0])


def readings(ppfd, spots=SPOTS, heights=HEIGHTS, fraction=1.0, **more):
    zero = np.zeros(len(spots))
    return Readings(
        spots[:, 0], spots[:, 1], zero, heights, zero + fraction, np.asarray(ppfd, float), **more
    )


def light(box, lamp, spots=SPOTS, heights=HEIGHTS):
    """What the engine has at spots with the lamp at heights."""
    found = np.zeros(len(spots))
    transport = prepare(box, np.column_stack([spots, np.zeros(len(spots))]))
    for height in np.unique(heights):
        at = heights == height
        found[at] = transport.irradiance(replace(lamp, height_cm=float(height)))[at]
    return found


READY = {}


def fitted(read, quality=Quality(), box=BOX, lamp=LAMP):  # noqa: B008 - frozen
    """A fit in the one tent of these tests, prepared once."""
    if "tent" not in READY:
        READY["tent"] = prepared_for(BOX, [LAMP], (), readings(np.ones(6)), Quality())[0]
    known = unknowns(box, [lamp], read, quality)
    same = box is BOX and lamp is LAMP and len(read.ppfd) == 6
    return fit(box, [lamp], (), read, quality, (READY["tent"], known) if same else None)


@pytest.fixture(scope="module")
def as_noted():
    return light(BOX, LAMP)


def test_what_is_prepared_is_the_engine_itself():
    points = np.array([(50.0, 40, 0), (8, 8, 0), (90, 30, 5)])
    spreads = {
        "walls": Spread((0.0, -0.4, 0.4)),
        "mirror": Spread((0.0, 0.2, 0.4)),
        "canopy": Spread((0.0, -0.08, 0.08)),
        "beam": Spread((1.2, 0.9, 1.5)),
    }
    found = Prepared(BOX, [LAMP], (), points, [25, 60], spreads)
    noted = {"walls": 0.0, "mirror": 0.0, "canopy": 0.0, "beam": 1.2}
    for height, tent, beam in (
        (31.0, {}, 1.2),
        (52.0, {"walls": -0.3}, 1.2),
        (40.0, {"mirror": 0.25}, 1.2),
        (27.0, {"canopy": 0.05}, 1.05),
        (45.0, {"walls": 0.2, "mirror": 0.1}, 1.35),
    ):
        told = found.indirect(height, {**noted, **tent, "beam": beam})[0]
        lamp = replace(LAMP, height_cm=height, beam=CosineBeam(beam))
        assert told == pytest.approx(found.transport(Tent(**tent)).indirect(lamp), rel=0.02)


def test_weights_through_nodes_are_those_of_scipys_polynomial():
    nodes, values = np.array([0.1, 0.7, 1.1, 2.0]), np.array([3.0, 1.0, 4.0, 1.5])
    for at in (0.0, 0.5, 0.7, 2.2):
        told = Through(nodes).weights(at) @ values
        assert told == pytest.approx(float(interpolate.lagrange(nodes, values)(at)))


def test_what_the_model_leaves_out_is_a_covariance():
    spots = np.column_stack([SPOTS, np.zeros(6)])
    found = left_out(BOX, spots, HEIGHTS, spots, HEIGHTS)
    assert found == pytest.approx(found.T)
    assert np.linalg.eigvalsh(found).min() > -1e-12
    # corners are less sure than the middle, and heights fade
    assert found[1, 1] > found[0, 0] > found[0, 5]


def test_readings_as_noted_change_nothing_and_narrow_what_is_told(as_noted):
    calibrated = as_noted * np.exp(-0.4 * 0.05)
    found = fitted(readings(calibrated))
    assert findings(found) == ()
    assert found.values["scale"] == pytest.approx(0, abs=0.01)
    assert found.weights.min() > 0.9
    assert found.sd("scale") < 0.08
    assert found.fitted == pytest.approx(calibrated, rel=0.01)
    # tilt is never told from light alone
    assert found.sd("tilt_x") > 1.3
    assert found.sd("sensor") == pytest.approx(0.05, rel=0.2)


@given(
    st.floats(-0.15, 0.15),
    st.floats(0.66, 0.86),
    st.floats(-3, 3),
    st.sampled_from([0.01, 0.02]),
)
@settings(max_examples=12, deadline=None)
def test_known_tents_are_recovered(scale, walls, offset, sensor_sd):
    box = replace(BOX, wall_reflectance=(walls,) * 4, ceiling_reflectance=walls)
    lamp = replace(LAMP, ppf_umol_s=500 * float(np.exp(scale)), x_cm=50 + offset)
    found = fitted(readings(light(box, lamp), sensor_sd=sensor_sd))
    for name, true in (("scale", scale), ("offset_x", offset)):
        assert abs(found.values[name] - true) < 3 * found.sd(name)
    assert found.fitted == pytest.approx(found.readings.ppfd, rel=0.03)
    # each to the right side, as far as the readings tell
    if abs(offset) > 2:
        assert found.values["offset_x"] * offset > 0


@given(st.integers(0, 4), st.sampled_from([10.0, 0.1]))
@settings(max_examples=10, deadline=None)
def test_a_slip_is_left_aside_and_named(which, factor):
    clean = light(BOX, LAMP)
    slipped = clean.copy()
    slipped[which] *= factor
    plain, found = fitted(readings(clean)), fitted(readings(slipped))
    assert found.values["scale"] == pytest.approx(plain.values["scale"], abs=0.06)
    named = [each for each in findings(found) if each.code == "slip"]
    assert len(named) == 1
    assert named[0].line.figures["read"] == pytest.approx(slipped[which])


def test_a_dark_reading_is_a_slip_too(as_noted):
    dark = as_noted.copy()
    dark[2] = 0
    found = fitted(readings(dark))
    assert [each.code for each in findings(found)] == ["slip"]
    assert found.values["scale"] == pytest.approx(0.0, abs=0.06)


@pytest.mark.parametrize(("factor", "causes"), [(0.5, 3), (1.8, 2)])
def test_another_dial_than_noted_is_named_with_what_it_looks_like(as_noted, factor, causes):
    found = findings(fitted(readings(as_noted * factor)))
    codes = [each.code for each in found]
    assert "dial" in codes
    assert len(codes) == causes
    # all of them together are no likelier than certain
    assert sum(each.likelihood for each in found) <= 1
    assert abs(found[0].line.figures["share"] - abs(factor - 1)) < 0.2 * factor


def test_an_open_side_is_told_by_the_middles_of_the_walls():
    nine = np.array([(x, y) for y in (7, 40, 73) for x in (7, 50, 93)], dtype=float)
    heights = np.full(9, 40.0)
    box = replace(BOX, wall_reflectance=(0.77, 0.0, 0.77, 0.77))
    found = fitted(readings(light(box, LAMP, nine, heights), nine, heights))
    first = findings(found)[0]
    assert (first.code, first.line.figures["side"]) == ("open_side", "right")


def test_a_dead_third_is_told_by_three_by_three():
    nine = np.array([(x, y) for y in (14, 40, 66) for x in (14, 50, 86)], dtype=float)
    heights = np.full(9, 30.0)
    half = replace(LAMP, layout=replace(LAMP.layout, bar_share=(0.0, 1 / 3, 1 / 3, 1 / 3)))
    half = replace(half, ppf_umol_s=375)
    found = fitted(readings(light(BOX, half, nine, heights), nine, heights))
    first = findings(found)[0]
    assert (first.code, first.line.figures["side"]) == ("dead_part", "left")


THREE = np.array([(x, y) for y in (7, 40, 73) for x in (7, 50, 93)], dtype=float)


def causes(box, lamp, height):
    heights = np.full(9, height)
    return diagnosis(fitted(readings(light(box, lamp, THREE, heights), THREE, heights))).causes


@pytest.mark.parametrize("side", range(4))
def test_what_makes_the_light_lopsided_is_named_with_its_side(side):
    walls = tuple(0.0 if k == side else 0.77 for k in range(4))
    name = ("left", "right", "front", "back")[side]
    found = causes(replace(BOX, wall_reflectance=walls), LAMP, 40.0)
    assert (found[0].code, found[0].side) == ("open_side", name)
    # what is told is believed: one of them is so, whichever
    assert LEANS <= sum(each.likelihood for each in found) <= 1


@pytest.mark.parametrize(("offset", "side"), [(-9.0, "left"), (9.0, "right")])
def test_a_lamp_that_hangs_far_off_is_a_cause_with_its_size(offset, side):
    found = causes(BOX, replace(LAMP, x_cm=50 + offset), 30.0)
    hung = next(each for each in found if each.code == "offset")
    assert (hung.side, hung.by_cm) == (side, pytest.approx(abs(offset), abs=4))


def test_a_tent_as_noted_does_not_lean():
    assert causes(BOX, LAMP, 40.0) == ()
    # nor one that is dimmer all over
    assert causes(BOX, replace(LAMP, ppf_umol_s=400), 40.0) == ()


def test_ranges_grow_away_from_what_was_read(as_noted):
    found = fitted(readings(as_noted, sensor_sd=0.01))
    points = GRID.points_cm(100, 80)
    spans = {}
    for height in (20, 40, 100):
        drawn = predict(found, BOX, [replace(LAMP, height_cm=height)], (), points)
        low, middle, high = drawn.of(drawn.draws.mean(axis=1))
        spans[height] = (high - low) / middle
        assert np.all(drawn.range()[0] <= drawn.median())
    assert 1.2 * spans[40] < min(spans[20], spans[100])
    # at a dial nobody read it is less sure, and the light goes with the dial
    half = predict(found, BOX, [replace(LAMP, light_fraction=0.5)], (), points)
    whole = predict(found, BOX, [LAMP], (), points)
    assert np.median(half.draws) == pytest.approx(np.median(whole.draws) / 2, rel=0.02)
    low, middle, high = half.of(half.draws.mean(axis=1))
    assert (high - low) / middle > spans[40]


def test_daylight_and_poor_sensors_make_it_less_sure(as_noted):
    plain = fitted(readings(as_noted, sensor_sd=0.02))
    assert fitted(readings(as_noted, sensor_sd=0.02, daylight=True)).sd("scale") > plain.sd("scale")
    assert fitted(readings(as_noted, sensor_sd=0.10)).sd("scale") > plain.sd("scale")


def test_readings_that_cannot_be():
    with pytest.raises(CanopyError, match="at least one"):
        readings(np.zeros(0), SPOTS[:0], HEIGHTS[:0])
    with pytest.raises(CanopyError, match="Every reading is 0"):
        readings(np.zeros(6))
    many = np.ones((401, 2))
    with pytest.raises(CanopyError, match="400 at most"):
        readings(np.ones(401), many, np.ones(401))


@pytest.mark.parametrize("name", SCENES)
def test_ray_traced_tents_are_predicted_at_other_heights(name):
    """Five spots at one height; Radiance's own noise here is about half a per cent."""
    told, traced = SCENES[name], json.loads(FILE.read_text())[name]
    spots, heights = told.spots(), np.full(5, told.read_cm)
    read = readings(traced["read"], spots, heights, sensor_sd=0.02)
    found = fit(told.box, [told.lamp], (), read)
    points = GRID.points_cm(told.box.width_cm, told.box.depth_cm)
    for which, height in zip(("nearer", "farther"), told.asked_cm):
        true = np.array(traced[which])
        drawn = predict(found, told.box, [replace(told.lamp, height_cm=height)], (), points)
        low, mean, high = drawn.of(drawn.draws.mean(axis=1))
        assert low * 0.99 < true.mean() < high * 1.01
        assert mean == pytest.approx(true.mean(), rel=0.04)
        plain = prepare(told.box, points).irradiance(replace(told.lamp, height_cm=height))
        # without any reading it is 7 to 27 % off, spot by spot
        off, before = drawn.median() / true - 1, plain / true - 1
        assert np.sqrt((off**2).mean()) < 0.04 < np.sqrt((before**2).mean())
        inside = (drawn.range()[0] <= true) & (true <= drawn.range()[1])
        assert inside.mean() > 0.7
