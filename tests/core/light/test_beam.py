"""Beams as tables."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.light.beam import STEPS, CandelaBeam, CosineBeam
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, PlacedLamp
from canopy.light.transport import prepare

U = np.linspace(0, 1, STEPS)


def flux(table):
    """Integral over the lower half: dOmega = 2 pi d(cos), cos = 1 - u^2."""
    return 2 * np.pi * np.trapezoid(table * 2 * U, U, axis=-1).mean()


@given(st.floats(0.5, 80))
def test_a_cosine_beam_has_its_closed_form(power):
    # (m + 1) / 2 pi along the normal, for a flux of 1
    table = CosineBeam(power).intensity()
    assert table[0, 0] == pytest.approx((power + 1) / (2 * np.pi), rel=2e-4)
    assert flux(table) == pytest.approx(1, rel=2e-4)


def test_a_table_of_a_cosine_is_that_cosine(tent):
    angles = tuple(np.linspace(0, 90, 181))
    row = tuple(np.cos(np.radians(angles)) ** 2)
    measured = CandelaBeam(angles, (0.0,), (row,))
    ready = prepare(tent, Grid(5, 5).points_cm(120, 90))
    lamps = [
        PlacedLamp(Bars.even(3, 60, 50), 400, 60, 45, 40, tilt_deg=10, beam=beam)
        for beam in (measured, CosineBeam(2))
    ]
    assert ready.irradiance(lamps[0]) == pytest.approx(ready.irradiance(lamps[1]), rel=1e-3)


def test_equal_planes_are_no_planes():
    one = CandelaBeam((0.0, 45.0, 90.0), (0.0,), ((3.0, 2.0, 0.0),))
    many = CandelaBeam((0.0, 45.0, 90.0), (0.0, 90.0, 180.0), ((3.0, 2.0, 0.0),) * 3)
    assert np.allclose(many.intensity(), one.intensity())


def test_turning_the_lamp_is_turning_its_planes(tent):
    rows = ((9.0, 8.0, 0.0), (9.0, 5.0, 0.0), (9.0, 1.0, 0.0), (9.0, 4.0, 0.0))
    planes = (0.0, 90.0, 180.0, 270.0)
    beam = CandelaBeam((0.0, 50.0, 90.0), planes, rows)
    quarter = CandelaBeam((0.0, 50.0, 90.0), planes, rows[-1:] + rows[:-1])
    point = Bars((0.0,), 1e-3)
    ready = prepare(tent, Grid(6, 5).points_cm(120, 90))
    turned = ready.irradiance(PlacedLamp(point, 100, 60, 45, 50, turn_deg=90, beam=beam))
    shifted = ready.irradiance(PlacedLamp(point, 100, 60, 45, 50, beam=quarter))
    assert turned == pytest.approx(shifted, rel=2e-3)


def test_nothing_is_sent_beyond_the_last_angle():
    spot = CandelaBeam((0.0, 20.0), (0.0,), ((1.0, 1.0),)).intensity()[0]
    outside = np.degrees(np.arccos(1 - U**2)) > 20.2
    assert (spot[outside] == 0).all()
    # an even cone of half angle a: 1 / (2 pi (1 - cos a))
    assert spot[0] == pytest.approx(1 / (2 * np.pi * (1 - np.cos(np.radians(20)))), rel=0.01)
