"""A clock that begins in the past and runs fast until it has caught up with the present."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta


def _now() -> datetime:
    return datetime.now(UTC)


@dataclass
class FastClock:
    """Begins so long ago, and goes by the monotonic clock times a rate; never ahead of now."""

    ago: timedelta
    rate: float = 1.0
    now: Callable[[], datetime] = _now
    monotonic: Callable[[], float] = time.monotonic
    _first: datetime = field(init=False)
    _since: float = field(init=False)

    def __post_init__(self) -> None:
        self._first, self._since = self.now() - self.ago, self.monotonic()

    def time(self) -> datetime:
        """Return what time it is there."""
        gone = (self.monotonic() - self._since) * self.rate
        return min(self._first + timedelta(seconds=gone), self.now())
