"""What a reading has to be multiplied by before it is light: each correction by itself.

What was read stays as it was read; a correction can be left out. Each has an uncertainty of its
own, and they add as squares to the sensor's calibration.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from math import hypot, log, sqrt
from statistics import fmean, stdev
from typing import Literal

from canopy.errors import CanopyError
from canopy.light.spectrum import LightFigures
from canopy.words import Said, said

SensorKind = Literal["quantum", "cheap", "phone", "lux"]
CorrectionName = Literal["factor", "compared", "lux", "band"]

KIND_SD: dict[SensorKind, float] = {"quantum": 0.02, "cheap": 0.05, "phone": 0.10, "lux": 0.06}
"""A sensor's calibration as it comes, one standard deviation. A telephone is good to about 10 %
after correction; common practice, no source."""

OWN_SD: dict[SensorKind, float] = {"quantum": 0.01, "cheap": 0.02, "phone": 0.04, "lux": 0.03}
"""What is left of it where it was compared or calibrated: angles, temperature, hand. Judgement."""

DRIFT_A_YEAR = 0.01
"""How far a sensor drifts from its calibration in a year; common practice, no source."""

TRUSTED_SD = 0.03
"""Of what a sensor is compared with."""

ONE_PAIR_SD = 0.05
"""Of a single comparison."""

MOST_PAIRS = 20
FACTOR = (0.2, 5.0)
FARTHEST = 2.5
"""Two readings of one light further apart than so many times are none of one light."""

WHITE_LUX = 70.0
"""Lux per umol m-2 s-1 of a lamp whose spectrum nobody knows: a white LED's; lamps with much red
lie far below. Common practice, no source."""

LUX_SD, WHITE_LUX_SD = 0.03, 0.12
BAND_SD = 0.3
"""Of what a sensor that ends at 400 and 700 nm misses, as a share of its logarithm."""

LEAST_BAND = 0.003


@dataclass(frozen=True)
class Sensor:
    """What readings were taken with.

    Parameters
    ----------
    kind : {'quantum', 'cheap', 'phone', 'lux'}
    factor : float, optional
        Of its certificate: what its readings are multiplied by.
    calibrated_on : date, optional
        When that was found, or the sensor was made.
    pairs : tuple of (its reading, a trusted one)
        Of the same light, of any unit as long as it is one.
    """

    kind: SensorKind = "cheap"
    factor: float | None = None
    calibrated_on: date | None = None
    pairs: tuple[tuple[float, float], ...] = ()

    def __post_init__(self) -> None:
        if self.factor is not None and not FACTOR[0] <= self.factor <= FACTOR[1]:
            raise CanopyError(
                f"A calibration factor lies between {FACTOR[0]:g} and {FACTOR[1]:g}; give the "
                "number its readings are multiplied by.",
                "factor",
            )
        if len(self.pairs) > MOST_PAIRS:
            raise CanopyError(f"{MOST_PAIRS} comparisons are the most that count.", "pairs")
        if any(own <= 0 or trusted <= 0 for own, trusted in self.pairs):
            raise CanopyError("Both readings of a comparison have to be above 0.", "pairs")
        ratios = [log(trusted / own) for own, trusted in self.pairs]
        if ratios and max(ratios) - min(ratios) > log(FARTHEST):
            raise CanopyError(
                "The comparisons do not agree with one another; look for a slip in them.", "pairs"
            )


@dataclass(frozen=True)
class Correction:
    """One thing that is put right: the factor on a reading, its standard deviation, and why."""

    name: CorrectionName
    factor: float
    sd: float
    why: Said


def _years(sensor: Sensor, on: date) -> float:
    if sensor.calibrated_on is None:
        return 0.0
    return max((on - sensor.calibrated_on).days, 0) / 365.25


def _compared(pairs: Sequence[tuple[float, float]], lux_per_umol: float | None) -> Correction:
    ratios = [log(trusted / own) for own, trusted in pairs]
    spread = stdev(ratios) / sqrt(len(ratios)) if len(ratios) > 1 else ONE_PAIR_SD
    factor = 2.718281828459045 ** fmean(ratios)
    if lux_per_umol is None:
        why = said("sensor.compared", times=float(len(pairs)), factor=factor)
    else:
        why = said("sensor.lux_compared", times=float(len(pairs)), lux=1 / factor)
    return Correction("compared", factor, hypot(spread, TRUSTED_SD), why)


def corrections(
    sensor: Sensor, light: LightFigures | None, counts_all: bool
) -> tuple[Correction, ...]:
    """Return what can be put right of a sensor's readings under a lamp.

    Parameters
    ----------
    sensor : Sensor
    light : LightFigures, optional
        Of the lamp's spectrum, where it is known.
    counts_all : bool
        Whether the lamp's PPF, by which the plan goes, counts photons outside 400-700 nm.
    """
    found = []
    if sensor.pairs:
        # what was compared with something trusted needs no other factor, lux or not
        found.append(_compared(sensor.pairs, WHITE_LUX if sensor.kind == "lux" else None))
    elif sensor.kind == "lux":
        lux = WHITE_LUX if light is None else light.lux_per_umol
        sd = WHITE_LUX_SD if light is None else LUX_SD
        code = "sensor.lux_guessed" if light is None else "sensor.lux"
        found.append(Correction("lux", 1 / lux, sd, said(code, lux=lux)))
    if sensor.factor is not None and not sensor.pairs:
        why = said("sensor.factor", factor=sensor.factor)
        found.append(Correction("factor", sensor.factor, 0.0, why))
    if counts_all and light is not None:
        factor = 1 / light.par_share
        if factor - 1 > LEAST_BAND:
            sd = BAND_SD * log(factor)
            why = said("sensor.band", share=1 - light.par_share)
            found.append(Correction("band", factor, sd, why))
    return tuple(found)


def calibration_sd(sensor: Sensor, on: date, used: Sequence[Correction]) -> float:
    """Return how far a sensor's corrected readings may all be off together, as a share.

    Parameters
    ----------
    sensor : Sensor
    on : date
        When was read; a calibration grows old.
    used : sequence of Correction
        Those that are applied.
    """
    names = {each.name for each in used}
    known = "compared" in names or ("factor" in names) or sensor.calibrated_on is not None
    own = OWN_SD[sensor.kind] if "compared" in names else KIND_SD[sensor.kind]
    if known and "compared" not in names:
        own = min(hypot(OWN_SD[sensor.kind], TRUSTED_SD), KIND_SD[sensor.kind])
    drift = DRIFT_A_YEAR * _years(sensor, on)
    return hypot(own, drift, *(each.sd for each in used))


def applied(used: Sequence[Correction]) -> float:
    """Return the factor of all corrections that are applied."""
    factor = 1.0
    for each in used:
        factor *= each.factor
    return factor
