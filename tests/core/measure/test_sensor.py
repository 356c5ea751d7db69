"""Each thing that is put right of a reading, with an uncertainty of its own."""

from datetime import date
from math import hypot, log

import colour
import numpy as np
import pytest

from canopy.errors import CanopyError
from canopy.light.spectrum import Spectrum, light_figures, white_spectrum
from canopy.measure.sensor import (
    KIND_SD,
    Sensor,
    applied,
    calibration_sd,
    corrections,
)

ON = date(2026, 11, 1)
WHITE = white_spectrum(4000.0)


def far_red():
    """White with a far-red channel: about 7 % of its photons beyond 700 nm."""
    nm = np.array(WHITE.wavelength_nm)
    bump = 0.35 * max(WHITE.power) * np.exp(-(((nm - 735) / 9) ** 2) / 2)
    return Spectrum(tuple(nm.tolist()), tuple((np.array(WHITE.power) + bump).tolist()))


def test_lux_become_light_by_the_lamps_spectrum_as_colour_science_has_it():
    (found,) = corrections(Sensor("lux"), light_figures(WHITE), False)
    nm = np.arange(360, 831)
    power = np.interp(nm, WHITE.wavelength_nm, WHITE.power)
    lumens = colour.luminous_flux(colour.SpectralDistribution(dict(zip(nm.tolist(), power))))
    within = (nm >= 400) & (nm <= 700)
    # photon energy by CODATA: umol per J = nm / 119.627
    umol = np.trapezoid((power * nm / 119.627)[within], nm[within])
    assert 1 / found.factor == pytest.approx(lumens / umol, rel=0.005)
    assert found.sd < 0.05


def test_lux_of_an_unknown_spectrum_are_guessed_and_said_to_be():
    (found,) = corrections(Sensor("lux"), None, False)
    # about 70 lux a umol under a white LED; common practice, no source
    assert 1 / found.factor == pytest.approx(70)
    known = corrections(Sensor("lux"), light_figures(WHITE), False)[0]
    assert found.sd > 2 * known.sd
    assert found.why.code != known.why.code


def test_a_sensor_that_ends_at_700_misses_what_the_ppf_counts():
    light = light_figures(far_red())
    (found,) = corrections(Sensor("quantum"), light, True)
    # about 3 to 10 % on such fixtures. Common practice, no source
    assert 1.03 < found.factor < 1.10
    assert found.factor == pytest.approx(1 / light.par_share)
    assert 0 < found.sd < log(found.factor)
    # where the PPF counts 400-700 nm alone there is nothing to put right
    assert corrections(Sensor("quantum"), light, False) == ()
    # and of a white lamp, whatever its PPF counts, next to nothing lies outside
    assert all(c.factor < 1.03 for c in corrections(Sensor("quantum"), light_figures(WHITE), True))


def test_a_phone_compared_with_something_trusted_is_as_good_as_a_cheap_sensor():
    pairs = ((100, 118), (400, 481), (250, 302))
    phone = Sensor("phone", pairs=pairs)
    used = corrections(phone, None, False)
    assert applied(used) == pytest.approx(1.2, rel=0.01)
    alone = calibration_sd(Sensor("phone"), ON, ())
    assert alone == KIND_SD["phone"]
    assert calibration_sd(phone, ON, used) < alone * 0.65
    # left out, it is the phone it was
    assert calibration_sd(phone, ON, ()) == alone
    one = Sensor("phone", pairs=pairs[:1])
    assert calibration_sd(one, ON, corrections(one, None, False)) > calibration_sd(phone, ON, used)


def test_a_lux_meter_compared_needs_no_spectrum():
    meter = Sensor("lux", pairs=((14_000, 200), (28_500, 400)))
    (found,) = corrections(meter, light_figures(WHITE), False)
    assert 20_000 * found.factor == pytest.approx(284, rel=0.01)


def test_a_calibration_grows_old():
    new = Sensor("quantum", factor=1.03, calibrated_on=date(2026, 10, 1))
    old = Sensor("quantum", factor=1.03, calibrated_on=date(2021, 10, 1))
    used = corrections(new, None, False)
    assert applied(used) == 1.03
    fresh, stale = (calibration_sd(s, ON, used) for s in (new, old))
    assert fresh <= KIND_SD["quantum"] * 1.01
    # a hundredth a year, as a square; common practice, no source
    assert stale == pytest.approx(hypot(fresh, 0.0508), rel=0.02)


def test_uncertainties_add_as_squares():
    sensor = Sensor("lux")
    used = corrections(sensor, light_figures(far_red()), True)
    assert [each.name for each in used] == ["lux", "band"]
    assert calibration_sd(sensor, ON, used) == pytest.approx(
        hypot(KIND_SD["lux"], *(each.sd for each in used))
    )


@pytest.mark.parametrize(
    ("values", "field"),
    [
        ({"factor": 0.01}, "factor"),
        ({"pairs": ((0.0, 100.0),)}, "pairs"),
        ({"pairs": ((100.0, 100.0), (100.0, 900.0))}, "pairs"),
        ({"pairs": ((1.0, 1.0),) * 21}, "pairs"),
    ],
)
def test_what_no_sensor_is(values, field):
    with pytest.raises(CanopyError) as refused:
        Sensor("cheap", **values)
    assert refused.value.field == field
