"""Spectra against colour-science, CIE data and published factors."""

import warnings

import numpy as np
import pytest

from canopy.errors import CanopyError
from canopy.light.spectrum import (
    Channel,
    Spectrum,
    lamp_spectrum,
    light_figures,
    mixed_spectrum,
    white_spectrum,
)
from canopy.tables import table

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

SHAPE = colour.SpectralShape(380, 780, 5)


def as_colours(spectrum):
    """Return a spectrum as colour-science has them, at 5 nm."""
    at = np.arange(380, 781, 5.0)
    power = np.interp(at, spectrum.wavelength_nm, spectrum.power, left=0, right=0)
    return colour.SpectralDistribution(power, at)


def cct_of(distribution):
    uv = colour.UCS_to_uv(colour.XYZ_to_UCS(colour.sd_to_XYZ(distribution)))
    return float(colour.temperature.uv_to_CCT(uv)[0])


def test_the_observer_is_the_cies():
    curves = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(SHAPE).values
    kept = np.array(table("observer")["rows"])
    np.testing.assert_allclose(kept[:, 1:], curves, atol=1e-6)
    photopic = (
        colour.colorimetry.SDS_LEFS_PHOTOPIC["CIE 1924 Photopic Standard Observer"]
        .copy()
        .align(SHAPE)
    )
    np.testing.assert_allclose(kept[:, 2], photopic.values, atol=2e-4)


@pytest.mark.parametrize("row", table("lamp_spectra")["rows"], ids=lambda row: row["key"])
def test_old_lamps_are_the_cies_illuminants(row):
    theirs = colour.SDS_ILLUMINANTS[row["illuminant"]].copy().align(SHAPE)
    np.testing.assert_allclose(row["power"], theirs.values, atol=1e-3)
    spectrum = lamp_spectrum(row["key"])
    # lumens by colour-science's own luminous flux, 683 lm/W
    assert spectrum.lumens() == pytest.approx(float(colour.luminous_flux(theirs)), rel=2e-3)


@pytest.mark.parametrize(
    ("key", "lux_per_umol"),
    # Thimijan and Heins 1983, HortScience 18(6), table 3: lux for each umol m-2 s-1 (from memory);
    # their lamps are not quite the CIE's illuminants, so within 5 %
    [("sun", 54.0), ("tube", 74.0), ("sodium", 82.0), ("filament", 50.0), ("halide", 71.0)],
)
def test_lux_per_umol_is_as_published(key, lux_per_umol):
    within = 0.07 if key == "halide" else 0.05
    assert light_figures(lamp_spectrum(key)).lux_per_umol == pytest.approx(lux_per_umol, rel=within)


@pytest.mark.parametrize("cct_k", [2700, 3000, 3500, 4000, 5000, 6500])
@pytest.mark.parametrize("cri", [70, 80, 90])
def test_whites_have_the_colour_asked_for(cct_k, cri):
    mine = as_colours(white_spectrum(cct_k, cri))
    assert cct_of(mine) == pytest.approx(cct_k, rel=0.01)
    assert float(colour.colour_rendering_index(mine)) == pytest.approx(cri, abs=7)


@pytest.mark.parametrize("name", ["LED-B1", "LED-B2", "LED-B3", "LED-B4", "LED-B5"])
def test_whites_are_near_the_cies_typical_leds(name):
    # CIE 015:2018, table 12: typical phosphor-converted white LEDs
    theirs = colour.SDS_ILLUMINANTS[name].copy().align(SHAPE)
    measured = Spectrum(tuple(theirs.wavelengths), tuple(theirs.values))
    rendering = float(colour.colour_rendering_index(theirs))
    mine = light_figures(white_spectrum(cct_of(theirs), rendering))
    # a guess from two numbers: the factor of a lux meter within 6 %, efficacy's ceiling within 4
    assert mine.lux_per_umol == pytest.approx(light_figures(measured).lux_per_umol, rel=0.06)
    assert mine.highest_efficacy == pytest.approx(
        light_figures(measured).highest_efficacy, rel=0.04
    )


def flat(low, high):
    nm = np.arange(low, high + 1.0)
    return Spectrum(tuple(nm), tuple(np.ones_like(nm)))


def test_shares_of_a_flat_spectrum_by_hand():
    # equal power per nm: photons go with the integral of wavelength, w2^2 - w1^2
    found = light_figures(flat(400, 800))
    assert found.red_blue == pytest.approx((700**2 - 600**2) / (500**2 - 400**2))
    assert found.far_red_share == pytest.approx((800**2 - 700**2) / (800**2 - 400**2))
    assert found.par_share == pytest.approx((700**2 - 400**2) / (800**2 - 400**2))
    # over 400-700 alone: (700^2 - 400^2) / 2 / 119.627 umol in 300 J
    assert light_figures(flat(400, 700)).highest_efficacy == pytest.approx(
        (700**2 - 400**2) / 2 / 119.627 / 300, rel=1e-6
    )


def test_a_mix_has_the_photons_it_was_given():
    mix = mixed_spectrum(
        [Channel(0.8, cct_k=3500), Channel(0.1, peak_nm=660), Channel(0.1, peak_nm=735)]
    )
    white = light_figures(mixed_spectrum([Channel(1.0, cct_k=3500)]))
    found = light_figures(mix)
    # all of the 735 nm channel and little else lies beyond 700
    assert found.far_red_share == pytest.approx(0.1 + 0.8 * white.far_red_share, abs=0.01)
    assert found.red_blue > white.red_blue


def test_red_and_blue_photons_by_share():
    found = light_figures(mixed_spectrum([Channel(4, peak_nm=660), Channel(1, peak_nm=450)]))
    assert found.red_blue == pytest.approx(4.0, rel=0.01)
    # 660 nm holds 5.52 umol a joule, 450 nm 3.76: photons a joule of four to one, by hand
    assert found.highest_efficacy == pytest.approx(5 / (4 / 5.517 + 1 / 3.762), rel=0.005)


@pytest.mark.parametrize(
    "broken",
    [
        lambda: Spectrum((400.0, 500.0), (1.0,)),
        lambda: Spectrum((500.0, 400.0), (1.0, 1.0)),
        lambda: Spectrum((400.0, 500.0), (-1.0, 1.0)),
        lambda: Spectrum((0.4, 0.7), (1.0, 1.0)),
        lambda: Spectrum((800.0, 900.0), (1.0, 1.0)),
        lambda: Spectrum((400.0, 500.0), (float("nan"), 1.0)),
        lambda: white_spectrum(1000),
        lambda: lamp_spectrum("candle"),
        lambda: mixed_spectrum([]),
        lambda: mixed_spectrum([Channel(0, cct_k=3000)]),
        lambda: mixed_spectrum([Channel(1)]),
        lambda: mixed_spectrum([Channel(1, peak_nm=1000)]),
    ],
)
def test_spectra_that_are_none(broken):
    with pytest.raises(CanopyError):
        broken()
