"""The same work on several things at once, on as many cores as there are, few at most.

Worth it where most of the time passes in compiled loops and in linear algebra, which leave the
interpreter to others meanwhile. More threads than cores only wait for one another: work within
such work goes on in its own thread, unless others of the same work have ended by then.
"""

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from contextvars import ContextVar, copy_context
from threading import Lock
from typing import TypeVar

Given = TypeVar("Given")
Found = TypeVar("Found")

MOST_THREADS = 4


class _Crew:
    """The threads that work on one thing somebody asked for, whatever is split within it."""

    def __init__(self) -> None:
        self._guard = Lock()
        self._working = 1

    def start(self, wanted: int) -> int:
        """Return how many may go on in the present one's place, of so many: itself if only one."""
        with self._guard:
            spare = min(os.cpu_count() or 1, MOST_THREADS) - self._working + 1
            threads = max(min(spare, wanted), 1)
            self._working += threads - 1
            return threads

    def end(self, threads: int) -> None:
        """Count so many less."""
        with self._guard:
            self._working -= threads


_crew: ContextVar[_Crew] = ContextVar("crew")


def at_once(function: Callable[[Given], Found], given: Iterable[Given]) -> list[Found]:
    """Return what a function makes of each, in order; what one raises is raised.

    >>> at_once(len, ["a", "bc"])
    [1, 2]
    """
    each = list(given)
    crew = _crew.get(None) or _Crew()
    threads = crew.start(len(each))
    if threads < 2:
        return [function(one) for one in each]
    # who waits for it is known to every thread, and so is the crew
    contexts = [copy_context() for _ in each]
    found: dict[int, Found] = {}
    left = iter(range(len(each)))

    def made(k: int) -> Found:
        _crew.set(crew)
        return function(each[k])

    def work() -> None:
        try:
            # every number is handed to one thread alone
            for k in left:
                found[k] = contexts[k].run(made, k)
        except BaseException:
            # the others need not go on
            for _ in left:
                pass
            raise
        finally:
            crew.end(1)

    try:
        with ThreadPoolExecutor(threads) as pool:
            asked = [pool.submit(work) for _ in range(threads)]
        for done in asked:
            done.result()
    finally:
        # who waited for them goes on
        crew.end(-1)
    return [found[k] for k in range(len(each))]
