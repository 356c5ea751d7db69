"""The same work on several things at once, on as many cores as there are, few at most.

Worth it where most of the time passes in compiled loops and in linear algebra, which leave the
interpreter to others meanwhile. More threads than cores only wait for one another: work within
such work goes on in its own thread, unless cores are idle by then.
"""

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from threading import Lock, local
from typing import TypeVar

Given = TypeVar("Given")
Found = TypeVar("Found")

MOST_THREADS = 4


class _Here(local):
    """Whether the present thread is counted among those that work."""

    working = False


_here = _Here()
_guard = Lock()
_working = 0


def _started(wanted: int) -> int:
    """Return how many threads may start, of so many, and count them; fewer than two are none."""
    global _working
    with _guard:
        # who waits for the others does not work meanwhile
        spare = min(os.cpu_count() or 1, MOST_THREADS) - _working + _here.working
        threads = min(spare, wanted)
        if threads > 1:
            _working += threads - _here.working
        return threads


def _ended(threads: int) -> None:
    global _working
    with _guard:
        _working -= threads


def at_once(function: Callable[[Given], Found], given: Iterable[Given]) -> list[Found]:
    """Return what a function makes of each, in order; what one raises is raised.

    >>> at_once(len, ["a", "bc"])
    [1, 2]
    """
    each = list(given)
    threads = _started(len(each))
    if threads < 2:
        return [function(one) for one in each]
    # who waits for it is known to every thread
    contexts = [copy_context() for _ in each]
    found: dict[int, Found] = {}
    left = iter(range(len(each)))

    def work() -> None:
        _here.working = True
        try:
            # every number is handed to one thread alone
            for k in left:
                found[k] = contexts[k].run(function, each[k])
        except BaseException:
            for _ in left:
                pass
            raise
        finally:
            _ended(1)

    try:
        with ThreadPoolExecutor(threads) as pool:
            for done in [pool.submit(work) for _ in range(threads)]:
                done.result()
    finally:
        _ended(-_here.working)
    return [found[k] for k in range(len(each))]
