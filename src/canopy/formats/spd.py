"""Reading and writing spectra: CSV, and the IES TM-27-14 XML for spectral data."""

import re
from collections import Counter

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from canopy.constants import UMOL_PER_J_AND_NM
from canopy.errors import CanopyError
from canopy.light.spectrum import Spectrum

_ENERGY = {"flux", "intensity", "irradiance", "radiance", "exitance", "relative", "other"}
"""TM-27 quantities that are power per wavelength; its reflectances and factors are not."""

_PHOTONS = re.compile(r"umol|µmol|μmol|photon", re.IGNORECASE)


def read_spectrum(text: str) -> Spectrum:
    """Return a spectrum from CSV or TM-27 XML.

    Raises
    ------
    CanopyError
        Naming the line or element that cannot be read.
    """
    text = text.lstrip("\ufeff").strip()
    if not text:
        raise CanopyError("The file is empty.", "text")
    return read_tm27(text) if text.startswith("<") else read_spd_csv(text)


def read_tm27(text: str) -> Spectrum:
    """Return the spectrum of a TM-27-14 document, as W per nm.

    Raises
    ------
    CanopyError
        When it is no XML, declares entities, holds no power, or a value is no number.
    """
    try:
        root = fromstring(re.sub(r"^<\?xml[^>]*\?>", "", text), forbid_dtd=True)
    except DefusedXmlException as error:
        sentence = "This XML declares entities, which a spectrum has no use for."
        raise CanopyError(sentence, "text") from error
    except ParseError as error:
        raise CanopyError(f"This is not whole XML: {error}.", "text") from error
    for element in root.iter():
        element.tag = element.tag.rsplit("}", 1)[-1]
    quantity = (root.findtext(".//SpectralQuantity") or "relative").strip().lower()
    if quantity not in _ENERGY:
        raise CanopyError(
            f"Its quantity is {quantity}, not light; choose the file of a lamp's spectrum.", "text"
        )
    rows: list[tuple[float, float]] = []
    for data in root.iter("SpectralData"):
        try:
            rows.append((float(data.attrib["wavelength"]), float(data.text or "")))
        except (KeyError, ValueError) as error:
            raise CanopyError(
                f"SpectralData {len(rows) + 1} lacks a wavelength or a number.", "text"
            ) from error
    if len(rows) < 2:
        raise CanopyError("It holds no SpectralData; is it a TM-27 file?", "text")
    _once([nm for nm, _ in rows])
    rows.sort()
    return Spectrum(tuple(nm for nm, _ in rows), tuple(value for _, value in rows))


def read_spd_csv(text: str) -> Spectrum:
    """Return the spectrum of a table: wavelength in nm, value; photons where its header says so.

    Comma, semicolon, tab or spaces part the two; lines beginning with # are notes.

    Raises
    ------
    CanopyError
        Naming the line that cannot be read.
    """
    nm: list[float] = []
    values: list[float] = []
    photons = False
    for number, raw in enumerate(text.splitlines(), start=1):
        line = raw.strip()
        if not line or line.startswith("#"):
            photons = photons or (not nm and bool(_PHOTONS.search(line)))
            continue
        cells = [cell.strip() for cell in re.split(_separator(line), line) if cell.strip()]
        try:
            pair = [float(cell.replace(",", ".")) for cell in cells[:2]]
            if len(pair) < 2:
                raise ValueError
        except ValueError as error:
            if not nm:
                # whatever rows come between it and the first figure
                photons = photons or bool(_PHOTONS.search(line))
                continue
            raise CanopyError(
                f"Line {number} of the spectrum reads “{line[:40]}”; give a wavelength in nm and "
                "a value.",
                "text",
            ) from error
        nm.append(pair[0])
        values.append(pair[1])
    if len(nm) < 2:
        raise CanopyError("No lines of wavelength and value were found.", "text")
    _once(nm)
    power = np.array(values)
    if photons:
        power = power * UMOL_PER_J_AND_NM / np.array(nm)
    return Spectrum(tuple(nm), tuple(power.tolist()))


def _once(nm: list[float]) -> None:
    """Refuse wavelengths that are there twice."""
    doubled = [each for each, count in Counter(nm).items() if count > 1]
    if doubled:
        more = "" if len(doubled) == 1 else f", and {len(doubled) - 1} more"
        raise CanopyError(
            f"{doubled[0]:g} nm is there {nm.count(doubled[0])} times{more}: keep one value for "
            "each wavelength.",
            "text",
        )


def _separator(line: str) -> str:
    for mark in (";", "\t"):
        if mark in line:
            return mark
    if "," in line and not re.fullmatch(r"\s*\S+\s+\S+\s*", line):
        return ","
    return r"\s+" if " " in line else ","


def write_spd_csv(spectrum: Spectrum) -> str:
    """Return a spectrum as CSV that `read_spd_csv` takes back unchanged."""
    rows = (f"{nm!r},{value!r}" for nm, value in zip(spectrum.wavelength_nm, spectrum.power))
    return "wavelength_nm,power_per_nm\n" + "\n".join(rows) + "\n"
