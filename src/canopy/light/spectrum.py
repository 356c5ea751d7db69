"""A lamp's spectrum, and what it says of its light.

Wavelengths in nm; spectral power relative, per nm. Photon figures follow ASABE S640: PAR 400-700,
blue 400-500, red 600-700, far red 700-800 nm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.constants import UMOL_PER_J_AND_NM
from canopy.errors import CanopyError
from canopy.tables import table

Array = NDArray[np.float64]

PAR_NM = (400.0, 700.0)
BLUE_NM = (400.0, 500.0)
RED_NM = (600.0, 700.0)
FAR_RED_NM = (700.0, 800.0)
WAVELENGTH_NM = (100.0, 4000.0)
MOST_POINTS = 5_000
POWER = (1e-12, 1e12)
"""Between these the highest value of a spectrum has to lie, whatever its unit."""

LEAST_PAR = 1e-6
"""Share of a lamp's photons that lie between 400 and 700 nm at least, and of its red ones that are
blue before a ratio is said: below it ratios grow without bound."""

LUMENS_PER_WATT = 683.002
"""K_cd, lm W-1, times V at 555.016 nm, of the SI definition of the candela (2019)."""

GRID_NM = np.arange(350.0, 851.0, 2.0)
DIODE_WIDTH_NM = 20.0
"""Width at half height of a single-colour diode. Common practice, no source."""


@dataclass(frozen=True)
class Spectrum:
    """Spectral power at rising wavelengths, as tuples of one length."""

    wavelength_nm: tuple[float, ...]
    power: tuple[float, ...]

    def __post_init__(self) -> None:
        nm, power = np.asarray(self.wavelength_nm), np.asarray(self.power)
        if nm.size != power.size or not 2 <= nm.size <= MOST_POINTS:
            raise CanopyError(
                f"A spectrum needs 2 to {MOST_POINTS} wavelengths with one value each."
            )
        if not (np.isfinite(nm).all() and np.isfinite(power).all()):
            raise CanopyError("Every wavelength and value has to be a number.")
        if (np.diff(nm) <= 0).any():
            at = float(nm[1:][np.diff(nm) <= 0][0])
            raise CanopyError(f"Wavelengths have to rise; {at:g} nm does not.")
        if nm[0] < WAVELENGTH_NM[0] or nm[-1] > WAVELENGTH_NM[1]:
            raise CanopyError(f"Wavelengths go from {nm[0]:g} to {nm[-1]:g}; give them in nm.")
        if (power < 0).any() or not (power > 0).any():
            raise CanopyError("Spectral power cannot be negative, nor all zero.")
        if not POWER[0] <= power.max() <= POWER[1]:
            raise CanopyError(
                f"The highest value is {power.max():g}; give the spectrum in a unit that makes it "
                f"from {POWER[0]:g} to {POWER[1]:g}."
            )
        if self.photons(*PAR_NM) <= LEAST_PAR * self.photons():
            raise CanopyError("There is no light between 400 and 700 nm in it.")

    def _between(self, low_nm: float, high_nm: float) -> tuple[Array, Array]:
        nm, power = np.asarray(self.wavelength_nm), np.asarray(self.power)
        inside = nm[(nm > low_nm) & (nm < high_nm)]
        edges = [edge for edge in (low_nm, high_nm) if nm[0] <= edge <= nm[-1]]
        at = np.union1d(inside, edges)
        return at, np.interp(at, nm, power)

    def watts(self, low_nm: float = 0.0, high_nm: float = np.inf) -> float:
        """Return radiant power between two wavelengths, in the spectrum's own unit."""
        nm, power = self._between(low_nm, high_nm)
        return float(np.trapezoid(power, nm))

    def photons(self, low_nm: float = 0.0, high_nm: float = np.inf) -> float:
        """Return photon flux between two wavelengths, umol s-1 where `watts` are W."""
        nm, power = self._between(low_nm, high_nm)
        return float(np.trapezoid(power * nm / UMOL_PER_J_AND_NM, nm))

    def lumens(self) -> float:
        """Return luminous flux, lm where `watts` are W: weighed by the CIE photopic curve."""
        nm, _, photopic, _ = _observer()
        at = np.union1d(np.asarray(self.wavelength_nm), nm)
        power = np.interp(at, self.wavelength_nm, self.power, left=0.0, right=0.0)
        weighed = power * np.interp(at, nm, photopic, left=0.0, right=0.0)
        return float(LUMENS_PER_WATT * np.trapezoid(weighed, at))


@lru_cache(maxsize=1)
def _observer() -> tuple[Array, Array, Array, Array]:
    """Return wavelengths and x, y (the photopic curve), z of the CIE 1931 observer."""
    rows = np.array(table("observer")["rows"], dtype=float)
    return rows[:, 0], rows[:, 1], rows[:, 2], rows[:, 3]


@dataclass(frozen=True)
class LightFigures:
    """What a spectrum says.

    ``lux_per_umol`` turns a lux meter's reading into PPFD. ``red_blue`` is photons 600-700 over
    400-500 nm, ``None`` without blue. ``far_red_share`` is photons 700-800 over 400-800 nm.
    ``par_share`` is photons 400-700 nm over all. ``highest_efficacy`` is umol of PAR in a joule of
    this light: what a lamp without any loss would reach.
    """

    lux_per_umol: float
    red_blue: float | None
    far_red_share: float
    par_share: float
    highest_efficacy: float


def light_figures(spectrum: Spectrum) -> LightFigures:
    """Return what a spectrum says of its light."""
    par, every = spectrum.photons(*PAR_NM), spectrum.photons()
    blue, red, far = (spectrum.photons(*band) for band in (BLUE_NM, RED_NM, FAR_RED_NM))
    radiant = spectrum.watts()
    return LightFigures(
        lux_per_umol=spectrum.lumens() / par,
        red_blue=red / blue if blue > LEAST_PAR * red else None,
        far_red_share=far / (par + far),
        par_share=par / every,
        highest_efficacy=par / radiant,
    )


# white diodes: a blue pump, and a green and a red phosphor mixed to the colour wanted
_PUMP_NM, _PUMP_SIGMA = 450.0, 9.0
_GREEN_NM, _GREEN_SIGMA = 530.0, (30.0, 50.0)
_RED_SIGMA = 40.0
_RENDERING = ((60.0, 597.0), (70.0, 603.0), (80.0, 614.0), (90.0, 630.0), (96.0, 640.0))
"""Which peak of the red phosphor gives which colour rendering; fitted so that CIE 13.3 Ra comes
out within 7 between 2700 and 6500 K (a test holds it to colour-science)."""

CCT_K = (2000.0, 10_000.0)
USUAL_CRI = 80.0


def _bell(centre_nm: float, low_sigma: float, high_sigma: float | None = None) -> Array:
    sigma = np.where(centre_nm > GRID_NM, low_sigma, high_sigma or low_sigma)
    bell: Array = np.exp(-0.5 * ((GRID_NM - centre_nm) / sigma) ** 2)
    return bell


def _white_point(cct_k: float) -> tuple[float, float]:
    """Return CIE 1931 x and y: a Planckian radiator below 5000 K, CIE daylight from there.

    CIE 015:2018, equations 3.3 and 3.4 for daylight; IEC 60081 parts the two at 5000 K too.
    """
    if cct_k < 5000:
        nm, x, y, z = _observer()
        power = nm**-5 / np.expm1(1.438777e7 / (nm * cct_k))
        sums = [float((power * curve).sum()) for curve in (x, y, z)]
        return sums[0] / sum(sums), sums[1] / sum(sums)
    t = 1000.0 / cct_k
    if cct_k <= 7000:
        x_d = 0.244063 + 0.09911 * t + 2.9678 * t**2 - 4.6070 * t**3
    else:
        x_d = 0.237040 + 0.24748 * t + 1.9018 * t**2 - 2.0064 * t**3
    return x_d, -3.0 * x_d**2 + 2.870 * x_d - 0.275


@lru_cache(maxsize=256)
def white_spectrum(cct_k: float, cri: float = USUAL_CRI) -> Spectrum:
    """Return a plausible spectrum of a white diode by colour temperature and rendering.

    Raises
    ------
    CanopyError
        Outside 2000 to 10 000 K.
    """
    if not CCT_K[0] <= cct_k <= CCT_K[1]:
        raise CanopyError(
            f"White diodes have {CCT_K[0]:g} to {CCT_K[1]:g} K; {cct_k:g} K is none.", "cct_k"
        )
    red_nm = float(np.interp(cri, *np.array(_RENDERING).T))
    parts = np.array(
        [
            _bell(_PUMP_NM, _PUMP_SIGMA),
            _bell(_GREEN_NM, *_GREEN_SIGMA),
            _bell(red_nm, _RED_SIGMA),
        ]
    )
    nm, *curves = _observer()
    seen = np.array([np.interp(GRID_NM, nm, c, left=0.0, right=0.0) for c in curves])
    x, y = _white_point(cct_k)
    wanted = np.array([x / y, 1.0, (1 - x - y) / y])
    mix = np.linalg.solve(seen @ parts.T, wanted)
    return Spectrum(tuple(GRID_NM), tuple(np.maximum(mix @ parts, 0.0)))


def lamp_spectrum(key: str) -> Spectrum:
    """Return the spectrum of an older lamp or of sunlight: tube, sodium, halide, filament, sun.

    Raises
    ------
    CanopyError
        When there is no such lamp.
    """
    known = table("lamp_spectra")
    for row in known["rows"]:
        if row["key"] == key:
            power = row["power"]
            nm = known["start_nm"] + known["step_nm"] * np.arange(len(power))
            return Spectrum(tuple(nm.astype(float)), tuple(power))
    raise CanopyError(f"No spectrum is kept of {key}; choose one from the list.", "lamp")


@dataclass(frozen=True)
class Channel:
    """A part of a lamp's light: a white by ``cct_k``, or single-colour diodes by ``peak_nm``.

    ``share`` is of all its photons, ``switch`` the place of the switch it hangs on where the lamp
    has several.
    """

    share: float
    cct_k: float | None = None
    cri: float = USUAL_CRI
    peak_nm: float | None = None
    switch: int = -1


def mixed_spectrum(channels: Sequence[Channel]) -> Spectrum:
    """Return the spectrum of a mix of channels by their shares of the photons.

    Raises
    ------
    CanopyError
        When there is none, a share is not above zero, or a channel is neither white nor coloured.
    """
    if not channels:
        raise CanopyError("Give at least one channel.", "channels")
    total = np.zeros_like(GRID_NM)
    for i, channel in enumerate(channels):
        if not channel.share > 0:
            raise CanopyError("A channel's share has to be above 0.", f"channels.{i}.share")
        if (channel.cct_k is None) == (channel.peak_nm is None):
            raise CanopyError(
                "A channel is either a white with its K or a colour with its nm.", f"channels.{i}"
            )
        if channel.cct_k is not None:
            power = np.array(white_spectrum(channel.cct_k, channel.cri).power)
        else:
            assert channel.peak_nm is not None
            sigma = DIODE_WIDTH_NM / np.sqrt(8 * np.log(2))
            if not GRID_NM[0] <= channel.peak_nm <= GRID_NM[-1]:
                raise CanopyError(
                    f"{channel.peak_nm:g} nm is outside {GRID_NM[0]:g} to {GRID_NM[-1]:g} nm.",
                    f"channels.{i}.peak_nm",
                )
            power = _bell(channel.peak_nm, sigma)
        total += channel.share * power / float(np.trapezoid(power * GRID_NM, GRID_NM))
    return Spectrum(tuple(GRID_NM), tuple(total / total.max()))
