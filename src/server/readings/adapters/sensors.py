"""A grower's sensor and what of its readings is put right, to core values."""

from dataclasses import dataclass
from datetime import date
from typing import Any

from canopy.fixture.record import Details, is_wide
from canopy.light.spectrum import LightFigures
from canopy.measure.sensor import FACTOR as FACTOR
from canopy.measure.sensor import MOST_PAIRS as MOST_PAIRS
from canopy.measure.sensor import Correction, Sensor, calibration_sd, corrections
from canopy.measure.sensor import CorrectionName as CorrectionName
from canopy.measure.sensor import SensorKind as SensorKind
from canopy.words import Said
from server.fixtures.models import Fixture
from server.readings.models import Sensor as SensorRow

PLAIN = Sensor("cheap")


def core_sensor(row: SensorRow | None) -> Sensor:
    """Return a sensor as a core value; a cheap quantum sensor where nobody says."""
    if row is None:
        return PLAIN
    kinds: dict[str, SensorKind] = {k: k for k in ("quantum", "cheap", "phone", "lux")}
    return Sensor(
        kinds[row.kind],
        row.factor,
        row.calibrated_on,
        tuple((float(own), float(trusted)) for own, trusted in row.pairs),
    )


def check_sensor(values: dict[str, Any]) -> None:
    """Refuse a sensor whose figures cannot be, before it is kept."""
    core_sensor(SensorRow(**values))


def _counts_all(fixture: Fixture) -> bool:
    band = {name: fixture.details.get(name) for name in ("band_low_nm", "band_high_nm")}
    return is_wide(Details(**band))


@dataclass(frozen=True)
class ShownCorrection:
    """One thing that can be put right of readings, and whether it is."""

    name: CorrectionName
    factor: float
    sd: float
    why: Said
    used: bool


def corrections_for(
    sensor: Sensor, fixture: Fixture, colour: LightFigures | None, left_out: list[str]
) -> list[ShownCorrection]:
    """Return what can be put right of a sensor's readings under a lamp's light."""
    found = corrections(sensor, colour, _counts_all(fixture))
    return [ShownCorrection(c.name, c.factor, c.sd, c.why, c.name not in left_out) for c in found]


def used_of(shown: list[ShownCorrection]) -> tuple[Correction, ...]:
    """Return those that are applied."""
    return tuple(Correction(c.name, c.factor, c.sd, c.why) for c in shown if c.used)


def sensor_sd(sensor: Sensor, on: date, shown: list[ShownCorrection]) -> float:
    """Return how far its readings may all be off together, one standard deviation."""
    return calibration_sd(sensor, on, used_of(shown))
