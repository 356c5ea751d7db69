"""Clear-sky light on a plane, from place and date, by pvlib.

Irradiance in W m-2, PPFD in umol m-2 s-1, DLI in mol m-2 d-1, angles in degrees. Clock times are
those of a fixed offset from UTC; no change to summer time is made.
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from canopy.constants import MOL_PER_UMOL, SECONDS_PER_HOUR
from canopy.errors import CanopyError

Array = NDArray[np.float64]

PAR_PHOTONS_PER_JOULE = 2.05
"""umol of PAR photons a joule of global irradiance; 2.0-2.1, from memory of horticultural texts."""

STEP_MIN = 30
MOST_DAYS = 400


@dataclass(frozen=True)
class Place:
    """Where it is, and the plane the light falls on.

    Parameters
    ----------
    latitude_deg, longitude_deg : float
        North and east positive.
    utc_offset_h : float
        Of the clock the timer follows.
    tilt_deg, azimuth_deg : float
        Of the window or cover: 0 lies flat, 90 stands upright; clockwise from north.
    """

    latitude_deg: float
    longitude_deg: float
    utc_offset_h: float = 0.0
    tilt_deg: float = 0.0
    azimuth_deg: float = 180.0

    def __post_init__(self) -> None:
        for name, value, low, high in (
            ("latitude_deg", self.latitude_deg, -66.0, 66.0),
            ("longitude_deg", self.longitude_deg, -180.0, 180.0),
            ("utc_offset_h", self.utc_offset_h, -14.0, 14.0),
            ("tilt_deg", self.tilt_deg, 0.0, 90.0),
            ("azimuth_deg", self.azimuth_deg, 0.0, 360.0),
        ):
            if not low <= value <= high:
                label = name.replace("_deg", "").replace("_h", "").replace("_", " ")
                raise CanopyError(
                    f"The {label} is {value:g}; give a number from {low:g} to {high:g}.", name
                )


@dataclass(frozen=True)
class SkyDays:
    """Direct and diffuse PPFD on the plane, shape (days, steps), at the middle of every step.

    ``sun_up`` has the same shape.
    """

    direct: Array
    diffuse: Array
    sun_up: NDArray[np.bool_]

    @property
    def step_h(self) -> float:
        """Length of a step in h."""
        return 24.0 / int(self.direct.shape[1])


def sun_library() -> Any:
    """Return pvlib, loaded when it is first needed: with pandas it takes seconds."""
    import pvlib  # noqa: PLC0415 - see above; the server loads it beside its first requests

    return pvlib


def _times(first: date, days: int, utc_offset_h: float) -> Any:
    """Return the middles of the steps of days in a row as a pandas index, UTC."""
    pandas = sun_library().tools.pd
    start = datetime.combine(first, time(), UTC) - timedelta(hours=utc_offset_h)
    middle = timedelta(minutes=STEP_MIN / 2)
    steps = days * 24 * 60 // STEP_MIN
    return pandas.date_range(start + middle, periods=steps, freq=timedelta(minutes=STEP_MIN))


@lru_cache(maxsize=64)
def clear_sky(place: Place, first: date, days: int) -> SkyDays:
    """Return the clear-sky light on a plane for days in a row.

    Ineichen's clear sky with pvlib's climatological turbidity at sea level, isotropic diffuse
    light on a tilted plane, ground reflectance 0.2.

    Raises
    ------
    CanopyError
        When the days are none or too many.
    """
    if not 0 < days <= MOST_DAYS:
        raise CanopyError(f"Daylight can be reckoned for 1 to {MOST_DAYS} days.", "days")
    pvlib = sun_library()
    times = _times(first, days, place.utc_offset_h)
    where = pvlib.location.Location(place.latitude_deg, place.longitude_deg, "UTC", 0.0)
    sun = where.get_solarposition(times)
    sky = where.get_clearsky(times, solar_position=sun)
    on_plane = pvlib.irradiance.get_total_irradiance(
        place.tilt_deg,
        place.azimuth_deg,
        sun["apparent_zenith"],
        sun["azimuth"],
        sky["dni"],
        sky["ghi"],
        sky["dhi"],
        albedo=0.2,
    )
    shape = (days, -1)

    def ppfd(column: str) -> Array:
        values = np.nan_to_num(on_plane[column].to_numpy(dtype=float)) * PAR_PHOTONS_PER_JOULE
        result: Array = np.maximum(values, 0.0).reshape(shape)
        return result

    up = (sun["apparent_elevation"].to_numpy(dtype=float) > 0).reshape(shape)
    return SkyDays(ppfd("poa_direct"), ppfd("poa_diffuse"), up)


def dli(ppfd: Array, step_h: float) -> Array:
    """Return the days' light sums, shape (days,)."""
    result: Array = ppfd.sum(axis=1) * step_h * SECONDS_PER_HOUR * MOL_PER_UMOL
    return result


def extraterrestrial_mj_m2(latitude_deg: float, day: date) -> float:
    """Return the day's radiation on a level plane above the air, MJ m-2: no sky gives more."""
    pvlib = sun_library()
    times = _times(day, 1, 0.0)
    sun = pvlib.solarposition.get_solarposition(times, latitude_deg, 0.0)
    normal = pvlib.irradiance.get_extra_radiation(times)
    upright = np.maximum(np.cos(np.radians(sun["zenith"].to_numpy(dtype=float))), 0.0)
    total = (np.asarray(normal, dtype=float) * upright).sum() * STEP_MIN * 60 / 1e6
    return float(total)
