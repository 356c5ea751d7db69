"""How often a device may speak: buckets that fill with time, in this process's memory."""

import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock

MOST_BUCKETS = 10_000


@dataclass
class Allowance:
    """So many a second in the long run, and a reserve for a burst; each key by itself."""

    per_second: float
    reserve: float
    clock: Callable[[], float] = time.monotonic
    _buckets: OrderedDict[object, tuple[float, float]] = field(default_factory=OrderedDict)
    _lock: Lock = field(default_factory=Lock)

    def wait_s(self, key: object, count: float = 1.0) -> float:
        """Take so many; return 0, or take none and return the seconds until there are."""
        with self._lock:
            now = self.clock()
            left, at = self._buckets.pop(key, (self.reserve, now))
            left = min(left + (now - at) * self.per_second, self.reserve)
            wait = max((count - left) / self.per_second, 0.0)
            self._buckets[key] = (left if wait else left - count, now)
            if len(self._buckets) > MOST_BUCKETS:
                self._buckets.popitem(last=False)
            return wait


REQUESTS = Allowance(10, 100)
MESSAGES = Allowance(20, 72_000)
"""An hour's backlog of twenty a second."""
STRANGERS = Allowance(0.5, 30)
"""Requests with tokens nobody knows, by address."""
