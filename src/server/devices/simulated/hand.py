"""The hand that carries the simulated light sensor through its tent, spot by spot.

The browser says where the grower stands, as a grower's own legs would; what is read there is the
simulated tent's own affair.
"""

import time
from dataclasses import dataclass, field
from threading import Lock

HELD_S = 120.0
"""A hand nobody heard of for so long has put the sensor back."""


@dataclass(frozen=True)
class Hand:
    """Where the sensor is held, the lamp above it, and how it is lit."""

    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    lit: bool
    since: float = field(default_factory=time.monotonic)


class Hands:
    """The hand in each space whose tent is simulated here."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._held: dict[int, Hand | None] = {}

    def play(self, space_id: int) -> None:
        """Note that a space's tent is simulated."""
        with self._lock:
            self._held.setdefault(space_id, None)

    def hold(self, space_id: int, hand: Hand) -> bool:
        """Take the sensor to a spot; false where no tent is simulated."""
        with self._lock:
            if space_id not in self._held:
                return False
            self._held[space_id] = hand
            return True

    def held(self, space_id: int) -> Hand | None:
        """Return the hand in a space, while it is there."""
        with self._lock:
            hand = self._held.get(space_id)
        return None if hand is None or time.monotonic() - hand.since > HELD_S else hand


hands = Hands()
