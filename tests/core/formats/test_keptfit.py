"""A fit as it is kept goes out and in without loss, and what it has no place for is refused."""

import json
from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.keptfit import (
    KeptFit,
    KeptReading,
    WhoseLamp,
    kept_fit_document,
    opened,
    read_kept_fit,
)
from canopy.formats.scene import read_scene, scene_document
from canopy.light.beam import CandelaBeam, CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.scene import Scene
from canopy.light.sources import Bars, Board, Body, Listed, PlacedLamp, PointSource, Ring
from canopy.light.stands import Stand
from canopy.measure.fit import Quality
from canopy.measure.sensor import Correction
from canopy.words import said

BOX = Enclosure(100, 80, 120, (0.77, 0.0, 0.7, 0.6), 0.77, 0.1, (0.2, 0.0, 0.1, 0.3))
TABLE = CandelaBeam((0.0, 45.0, 90.0), (0.0,), ((1.0, 0.7, 0.0),))
LAYOUTS = (
    Bars.even(3, 50, 60),
    Bars((-20.0, 20.0), 40, (0.4, 0.6), 1.2),
    Board(30, 20),
    Ring(25),
    PointSource(),
    Listed(((0.0, 0.0, 0.0, 0.25), (5.0, 5.0, 0.0, 0.75))),
)
layouts = st.sampled_from(LAYOUTS)


@given(
    layouts,
    st.sampled_from([CosineBeam(1.0), CosineBeam(2.5), TABLE]),
    st.floats(5, 2000),
    st.floats(-180, 180),
    st.sampled_from([None, Body(0.4, 0.2), Body(0.3, 0.5, 20, 20)]),
    st.sampled_from([Grid(3, 2), Grid(4, 4, "edges"), ((10.0, 10.0, 12.0), (50.0, 40.0, 0.0))]),
)
@settings(max_examples=40, deadline=None)
def test_a_scene_goes_out_and_in_without_loss(layout, beam, ppf, turn, body, grid):
    if isinstance(layout, PointSource) and body is not None:
        body = replace(body, x_cm=10, y_cm=10)
    lamp = PlacedLamp(layout, ppf, 50, 40, 60, turn, 3.0, 0.7, beam, body)
    scene = Scene(BOX, (lamp,), grid, (Stand(5, 5, 20, 20, 12),))
    read, ignored = read_scene(json.dumps(scene_document(scene)))
    assert read == scene
    assert ignored == []


def kept():
    lamp = PlacedLamp(Board(30, 20), 300, 50, 40, 45)
    return KeptFit(
        scene=Scene(replace(BOX, wall_reflectance=(0.7,) * 4), (lamp,), Grid(1, 1)),
        whose=(WhoseLamp(4, None),),
        readings=(
            KeptReading(50, 40, 0, 45, 50.0, 0.39, 12_000),
            KeptReading(8, 8, 0, 45, None, 1, 5),
        ),
        sensor="lux",
        sensor_sd=0.08,
        spot_sd=0.015,
        corrections=(Correction("lux", 1 / 68, 0.03, said("sensor.lux", lux=68)),),
        daylight=False,
        open_read="front",
        open_now="",
        read_on=date(2026, 11, 20),
        quality=Quality(0.12, 0.09, 4.0),
    )


def test_a_kept_fit_goes_out_and_in_without_loss():
    document = json.loads(json.dumps(kept_fit_document(kept())))
    assert read_kept_fit(document) == kept()


def test_raw_readings_stay_and_are_put_right_when_taken():
    fit = kept()
    assert fit.readings[0].reading == 12_000
    rows = fit.taken().rows
    assert rows[0][5] == pytest.approx(12_000 / 68)
    assert replace(fit, corrections=()).taken().rows[0][5] == 12_000


def test_a_wall_that_was_open_is_open():
    fit = kept()
    assert fit.taken().box.wall_reflectance == (0.7, 0.7, 0.0, 0.7)
    assert fit.scene.box.wall_reflectance == (0.7,) * 4
    assert opened(BOX, "") == BOX
    assert opened(BOX, "left").wall_mirror_share[0] == 0


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"version": 2}, "format"),
        ({"format": "idle-canopy/fit"}, "format"),
        ({"more": 1}, "more"),
        ({"sensor": "eye"}, "sensor"),
        ({"open_read": "top"}, "open_read"),
        ({"whose": []}, "whose"),
        ({"sensor_sd": 0}, "sensor_sd"),
        ({"readings": []}, "readings"),
        (
            {"corrections": [{"name": "guess", "factor": 1, "sd": 0, "why": {}}]},
            "corrections[0].name",
        ),
    ],
)
def test_what_it_has_no_place_for_is_refused(change, field):
    with pytest.raises(CanopyError) as refused:
        read_kept_fit(kept_fit_document(kept()) | change)
    assert refused.value.field == field


def test_readings_outside_the_tent_or_above_the_ceiling_are_refused():
    for place in ({"x_cm": 101}, {"height_cm": 120.5}, {"z_cm": 60}):
        document = kept_fit_document(kept())
        document["readings"][0] |= place
        with pytest.raises(CanopyError):
            read_kept_fit(document)
