"""The same tent with its lining a little brighter or darker: how much of the light hangs on it.

On coarse diffuse patches, as a ratio at every point of reflected light with the other lining to
reflected light with its own; mirrors count as matt. Lengths in cm.
"""

import numpy as np
from numpy.typing import NDArray

from canopy.light.body import Screens

Array = NDArray[np.float64]

BRIGHTEST_LINING = 0.97


def relined(tent: Screens, by: float, first: Array) -> Array:
    """Return reflected light in a tent whose walls and ceiling reflect more, (points, k).

    What does not reflect, an open side, stays as it is, and so does the canopy. ``first``
    (patches, k) is the coarse patches' direct irradiance from k lamps.
    """
    faces, rho = tent.faces, tent.patches.reflectance
    lined = np.concatenate([np.full(face.size, face is not faces[-1]) for face in faces])
    other = np.where(lined & (rho > 0), np.clip(rho + by, 0.0, BRIGHTEST_LINING), rho)
    return tent.reflected(tent.free, tent.seen, other, first)
