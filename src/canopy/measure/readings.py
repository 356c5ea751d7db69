"""Readings as a fit takes them: where, how high the lamp hung, at which share of its light."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError

Array = NDArray[np.float64]

SPOT_SD = 0.015
"""Of a reading, as a share: the hand, the level, the lamp's own moods."""

PLACE_CM = 1.0
"""How far from where it is noted a reading may have been taken."""

SENSOR_SD = 0.05
"""Of a sensor's calibration where nobody says what it is: a cheap quantum sensor's."""

SENSOR_BIAS = -0.4
"""Sensors read low: so many times their standard deviation. Fitted to practice, no source."""

MOST_READINGS = 400
"""So many are fitted; of more the fit would learn nothing that a person cares about."""


@dataclass(frozen=True)
class Readings:
    """PPFD as it was read.

    Parameters
    ----------
    x_cm, y_cm, z_cm : array, shape (n,)
        From the front left corner; z is the sensor above the canopy plane.
    height_cm : array, shape (n,)
        The lowest lamp's light-giving face above the canopy plane; others keep their distance.
    light_fraction : array, shape (n,)
        Share of full light it was read at.
    ppfd : array, shape (n,)
        In umol m-2 s-1, as the sensor showed it.
    sensor_sd, spot_sd : float
        Of the calibration, common to all, and of each reading by itself; shares.
    daylight : bool
        Whether daylight was there besides, and not taken off.
    """

    x_cm: Array
    y_cm: Array
    z_cm: Array
    height_cm: Array
    light_fraction: Array
    ppfd: Array
    sensor_sd: float = SENSOR_SD
    spot_sd: float = SPOT_SD
    daylight: bool = False

    def __post_init__(self) -> None:
        if not len(self.ppfd):
            raise CanopyError("There are no readings; give at least one.", "readings")
        if len(self.ppfd) > MOST_READINGS:
            raise CanopyError(
                f"{len(self.ppfd)} readings; a fit takes {MOST_READINGS} at most.", "readings"
            )
        if not (self.ppfd > 0).any():
            raise CanopyError(
                "Every reading is 0: was the lamp on, was the sensor's cap off?", "readings"
            )

    @property
    def lit(self) -> NDArray[np.bool_]:
        """Return which readings are above 0; a dark one is a slip, whatever the lamp."""
        return self.ppfd > 0

    def points_cm(self) -> Array:
        """Return where they were taken, shape (n, 3)."""
        return np.column_stack([self.x_cm, self.y_cm, self.z_cm])
