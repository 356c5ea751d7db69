"""Spectrum files: taken back unchanged, and read as colour-science reads them."""

import warnings

import numpy as np
import pytest

from canopy.errors import CanopyError
from canopy.formats.spd import read_spectrum, write_spd_csv
from canopy.light.spectrum import light_figures, white_spectrum

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour


def test_a_spectrum_comes_back_unchanged():
    spectrum = white_spectrum(3500)
    assert read_spectrum(write_spd_csv(spectrum)) == spectrum


def test_a_tm27_file_reads_as_in_colour_science(tmp_path):
    path = tmp_path / "lamp.spdx"
    at = np.arange(400, 701, 10.0)
    values = dict(zip(at, np.linspace(0.1, 1.0, at.size)))
    header = colour.io.tm2714.Header_IESTM2714(description="invented lamp")
    theirs = colour.SpectralDistribution_IESTM2714(
        str(path), data=values, header=header, spectral_quantity="relative"
    )
    theirs.write()
    mine = read_spectrum(path.read_text())
    again = colour.SpectralDistribution_IESTM2714(str(path)).read()
    np.testing.assert_allclose(mine.wavelength_nm, again.wavelengths)
    np.testing.assert_allclose(mine.power, again.values, rtol=1e-9)


@pytest.mark.parametrize(
    "text",
    [
        "nm,W\n400,1\n500,2\n700,3\n",
        "# a note\n400;1,0\n500;2,0\n700;3,0\n",
        "400\t1\n500\t2\n700\t3",
        "400 1\n500 2\n700 3",
    ],
)
def test_tables_in_many_dresses(text):
    found = read_spectrum(text)
    assert found.wavelength_nm == (400, 500, 700)
    assert found.power == (1, 2, 3)


def test_a_header_of_photons_holds_whatever_rows_come_between():
    rows = "400,1\n550,1\n700,1\n"
    plain = read_spectrum(f"nm,umol/s/nm\n{rows}")
    for between in ("lamp: Tallow\n", "# a note\n\n", "wavelength;value\nmeasured by hand\n"):
        assert read_spectrum(f"nm,umol/s/nm\n{between}{rows}") == plain
    assert read_spectrum(f"# photons per nm\nnm,value\n{rows}") == plain
    # a word in a note after the figures is none
    assert read_spectrum(f"nm,W\n{rows}# photons\n") == read_spectrum(f"nm,W\n{rows}")


def test_a_wavelength_that_is_there_twice_is_told():
    with pytest.raises(CanopyError, match=r"450 nm is there 2 times"):
        read_spectrum("400,1\n450,1\n450,2\n700,1\n")
    data = "".join(f'<SpectralData wavelength="{nm}">1</SpectralData>' for nm in (400, 400, 700))
    with pytest.raises(CanopyError, match=r"400 nm is there"):
        read_spectrum(f"<IESTM2714><SpectralDistribution>{data}</SpectralDistribution></IESTM2714>")


def test_photons_become_power():
    # equal photons at 400 and 700 nm: power goes with 1 / wavelength
    found = read_spectrum("nm,umol/s/nm\n400,1\n700,1\n")
    assert found.power[0] / found.power[1] == pytest.approx(700 / 400)
    assert light_figures(found).par_share == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "empty"),
        ("nm,W\n400,1\nfive hundred,2\n", "Line 3"),
        ("only words", "No lines"),
        ("<a><b></a>", "not whole XML"),
        ('<!DOCTYPE x [<!ENTITY a "b">]><x>&a;</x>', "entities"),
        ("<x><SpectralQuantity>reflectance</SpectralQuantity></x>", "not light"),
        ("<x><SpectralData wavelength='400'>one</SpectralData></x>", "SpectralData 1"),
        ("<x></x>", "TM-27"),
        ("500,1\n400,1\n", "rise"),
    ],
)
def test_files_that_are_no_spectrum(text, says):
    with pytest.raises(CanopyError, match=says):
        read_spectrum(text)
