"""How low and how high a fixture can hang."""

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError

Array = NDArray[np.float64]

HEIGHT_STEP_CM = 1.0


def highest_hang_cm(
    tent_height_cm: float, canopy_top_cm: float, body_cm: float, hangers_cm: float
) -> float:
    """Return the largest distance from canopy top to light-giving face the tent leaves.

    Parameters
    ----------
    tent_height_cm : float
    canopy_top_cm : float
        Pot and plant together.
    body_cm : float
        The fixture's own height above its light-giving face.
    hangers_cm : float
        Ropes, hooks and bar above the fixture.
    """
    return tent_height_cm - canopy_top_cm - body_cm - hangers_cm


def reachable_heights_cm(lowest_cm: float, highest_cm: float) -> Array:
    """Return the hanging heights in whole centimetres from lowest to highest.

    Raises
    ------
    CanopyError
        When there are none, saying how much headroom is missing.
    """
    first, last = np.ceil(lowest_cm - 1e-9), np.floor(highest_cm + 1e-9)
    if last < first:
        raise CanopyError(
            f"The plants leave {highest_cm:.0f} cm for the lamp and it must stay {first:.0f} cm "
            f"away: {first - highest_cm:.0f} cm more headroom is needed. "
            "A lower pot, a shorter crop or a flatter fixture would give it.",
            "height_cm",
        )
    result: Array = np.arange(first, last + HEIGHT_STEP_CM / 2, HEIGHT_STEP_CM)
    return result


def fitting_turn_deg(
    frame_x_cm: float, frame_y_cm: float, width_cm: float, depth_cm: float
) -> float:
    """Return how a fixture is turned to fit a space, 0 or 90 degrees.

    Both fit: its long side lies along the space's long side.

    Raises
    ------
    CanopyError
        When it fits neither way.
    """
    straight = frame_x_cm <= width_cm and frame_y_cm <= depth_cm
    turned = frame_y_cm <= width_cm and frame_x_cm <= depth_cm
    if not straight and not turned:
        raise CanopyError(
            f"The lamp is {frame_x_cm:g} x {frame_y_cm:g} cm and the space "
            f"{width_cm:g} x {depth_cm:g} cm: it does not go in. Choose a smaller lamp.",
            "fixture_id",
        )
    if straight and turned:
        return 0.0 if (frame_x_cm >= frame_y_cm) == (width_cm >= depth_cm) else 90.0
    return 0.0 if straight else 90.0


def check_headroom(tent_height_cm: float, pot_cm: float, hangers_cm: float) -> None:
    """Check that pot and hangers leave room for plant and lamp.

    Raises
    ------
    CanopyError
        When they do not.
    """
    left = tent_height_cm - pot_cm - hangers_cm
    if left <= 0:
        raise CanopyError(
            f"Pot and hangers fill all {tent_height_cm:g} cm of the space: headroom would be "
            f"{left:g} cm. Use lower pots, shorter hangers or a higher space.",
            "pot_cm",
        )
