"""The daylight at the canopy: measured, or reckoned from the sky, the cover and the clouds.

PPFD in umol m-2 s-1, DLI in mol m-2 d-1.
"""

from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from canopy.daylight.sky import (
    PAR_PHOTONS_PER_JOULE,
    Place,
    clear_sky,
    dli,
    extraterrestrial_mj_m2,
)
from canopy.errors import CanopyError

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

OLD_COVER = (0.55, 0.60)
NEW_COVER = (0.80, 0.85)
"""Shares of daylight covers pass, old and new. Common practice, no source."""


@dataclass(frozen=True)
class Cover:
    """What stands between sky and canopy, as shares of the light that pass.

    Parameters
    ----------
    transmission : float
        Of the glass or film.
    cloud_factor : float
        What clouds leave of a clear day's light, on average.
    reach : float
        What of the light inside the window falls on the canopy; 1 under a greenhouse cover.
    """

    transmission: float = 0.6
    cloud_factor: float = 0.6
    reach: float = 1.0

    def __post_init__(self) -> None:
        for name in ("transmission", "cloud_factor", "reach"):
            value = getattr(self, name)
            if not 0 <= value <= 1:
                label = name.replace("_", " ")
                raise CanopyError(f"The {label} is {value:g}; give a share from 0 to 1.", name)

    @property
    def share(self) -> float:
        """What is left of a clear sky's light at the canopy."""
        return self.transmission * self.cloud_factor * self.reach


@dataclass(frozen=True)
class Background:
    """Daylight at the canopy over days in a row.

    ``dli`` has shape (days,), ``ppfd`` and ``light`` shape (days, steps): the course of the day,
    and when there is any daylight at all.
    """

    dli: Array
    ppfd: Array
    light: Mask

    def any_day(self) -> Mask:
        """Return when there is daylight on at least one of the days, shape (steps,)."""
        light: Mask = np.any(self.light, axis=0)
        return light


def reckoned(place: Place, cover: Cover, first: date, days: int) -> Background:
    """Return the daylight a clear sky, the cover and the clouds leave at the canopy.

    Clouds are taken to weaken direct and diffuse light alike.
    """
    sky = clear_sky(place, first, days)
    ppfd = (sky.direct + sky.diffuse) * cover.share
    return Background(dli(ppfd, sky.step_h), ppfd, sky.sun_up & (cover.share > 0))


def measured(dli_mol: float, sunrise_min: int, sunset_min: int, days: int) -> Background:
    """Return a daylight measured as a light sum, spread as half a sine over the day.

    Raises
    ------
    CanopyError
        When the sun sets before it rises, or the sum is below zero.
    """
    if not 0 <= sunrise_min < sunset_min <= 1440:
        raise CanopyError("Sunset has to come after sunrise, both on one day.", "sunset_min")
    if not 0 <= dli_mol <= 80:
        raise CanopyError("The measured daylight is a DLI from 0 to 80.", "dli")
    middle = (np.arange(48) + 0.5) * 30
    up = (middle > sunrise_min) & (middle < sunset_min)
    course = np.where(up, np.sin(np.pi * (middle - sunrise_min) / (sunset_min - sunrise_min)), 0.0)
    total = course.sum() * 0.5 * 0.0036
    ppfd = np.tile(course * (dli_mol / total if total else 0.0), (days, 1))
    return Background(np.full(days, float(dli_mol)), ppfd, np.tile(up & (dli_mol > 0), (days, 1)))


def none(days: int) -> Background:
    """Return the background of a closed tent."""
    return Background(np.zeros(days), np.zeros((days, 48)), np.zeros((days, 48), dtype=bool))


def most_dli(latitude_deg: float, day: date) -> float:
    """Return the DLI of a day without any air: no reading can be above it."""
    return extraterrestrial_mj_m2(latitude_deg, day) * PAR_PHOTONS_PER_JOULE


def too_warm(mean_c: float, swing_c: float, off_above_c: float) -> NDArray[np.bool_]:
    """Return in which minutes of a day the air is above a temperature, shape (1440,).

    It runs as a cosine, warmest at three in the afternoon; ``swing_c`` is warmest less coldest.

    >>> int(too_warm(25, 8, 25.001).sum())
    719
    >>> int(too_warm(20, 8, 30).sum())
    0
    """
    minute = np.arange(1440)
    air = mean_c + swing_c / 2 * np.cos(2 * np.pi * (minute - 15 * 60) / 1440)
    warm: NDArray[np.bool_] = air > off_above_c
    return warm
