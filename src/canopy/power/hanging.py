"""How low and how high a fixture can hang."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.words import said

Array = NDArray[np.float64]

HEIGHT_STEP_CM = 1.0


def reachable_heights_cm(
    lowest_cm: float, highest_cm: float, step_cm: float = HEIGHT_STEP_CM
) -> Array:
    """Return the hanging heights in whole steps from lowest to highest, whole cm by default.

    Raises
    ------
    CanopyError
        When there are none, saying how much headroom is missing.
    """
    first, last = np.ceil(lowest_cm / step_cm - 1e-9), np.floor(highest_cm / step_cm + 1e-9)
    if last < first:
        raise CanopyError(
            said(
                "hang.no_height",
                room_cm=highest_cm,
                away_cm=first * step_cm,
                missing_cm=first * step_cm - highest_cm,
            ),
            "height_cm",
        )
    result: Array = np.arange(first, last + 0.5) * step_cm
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
            said(
                "hang.too_big",
                x_cm=frame_x_cm,
                y_cm=frame_y_cm,
                width_cm=width_cm,
                depth_cm=depth_cm,
            ),
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
            said("hang.no_headroom", height_cm=tent_height_cm, left_cm=left),
            "pot_cm",
        )


@dataclass(frozen=True)
class Frame:
    """A lamp's frame on the rail: its size in cm and how it hangs.

    Parameters
    ----------
    frame_x_cm, frame_y_cm, body_cm : float
        Across, along and high.
    closest_cm : float
        The least distance it keeps from the tops.
    x_cm, y_cm, turn_deg, tilt_deg : float
        Its middle, and how it is turned and tilted.
    raise_cm : float
        How much higher than the rail it hangs.
    """

    frame_x_cm: float
    frame_y_cm: float
    body_cm: float
    closest_cm: float
    x_cm: float
    y_cm: float
    turn_deg: float = 0.0
    tilt_deg: float = 0.0
    raise_cm: float = 0.0

    def corners_cm(self) -> Array:
        """Return the frame's corners from above, shape (4, 2)."""
        turn = np.radians(self.turn_deg)
        half = self.frame_x_cm / 2 * np.cos(np.radians(self.tilt_deg)), self.frame_y_cm / 2
        corners = np.array(
            [[a * half[0], b * half[1]] for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        )
        c, s = np.cos(turn), np.sin(turn)
        result: Array = corners @ np.array([[c, s], [-s, c]]) + [self.x_cm, self.y_cm]
        return result

    @property
    def droop_cm(self) -> float:
        """How far its lower edge hangs below its middle, and the upper one above it."""
        return float(abs(np.sin(np.radians(self.tilt_deg))) * self.frame_x_cm / 2)


SLACK_CM = 0.05


def check_inside(frames: Sequence[Frame], width_cm: float, depth_cm: float) -> None:
    """Check that every frame is inside the space, seen from above.

    Raises
    ------
    CanopyError
        Naming the lamp, the side and by how much it sticks out.
    """
    for i, frame in enumerate(frames):
        corners = frame.corners_cm()
        out = {
            "left": -corners[:, 0].min(),
            "right": corners[:, 0].max() - width_cm,
            "front": -corners[:, 1].min(),
            "back": corners[:, 1].max() - depth_cm,
        }
        side = max(out, key=lambda name: float(out[name]))
        if out[side] > SLACK_CM:
            raise CanopyError(
                said("hang.sticks_out", lamp=i + 1, by_cm=float(out[side]), side=side),
                f"lamps.{i}",
            )


def rail_limits_cm(
    frames: Sequence[Frame], room_cm: float, lifted_cm: Sequence[float]
) -> tuple[float, float]:
    """Return the lowest and highest the rail can go with all the lamps on it.

    Parameters
    ----------
    frames : sequence of Frame
    room_cm : float
        From the tops to the hangers' lower end.
    lifted_cm : sequence of float
        For each lamp how much the plants under it stand above the canopy plane.
    """
    lowest = max(h.closest_cm + h.droop_cm + up - h.raise_cm for h, up in zip(frames, lifted_cm))
    highest = min(room_cm - h.body_cm - h.droop_cm - h.raise_cm for h in frames)
    return lowest, highest
