"""The same work on several things at once, on as many cores as there are, few at most.

Worth it where most of the time passes in compiled loops and in linear algebra, which leave the
interpreter to others meanwhile.
"""

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from typing import TypeVar

Given = TypeVar("Given")
Found = TypeVar("Found")

MOST_THREADS = 4


def at_once(function: Callable[[Given], Found], given: Iterable[Given]) -> list[Found]:
    """Return what a function makes of each, in order; what one raises is raised.

    >>> at_once(len, ["a", "bc"])
    [1, 2]
    """
    each = list(given)
    threads = min(os.cpu_count() or 1, MOST_THREADS, len(each))
    if threads < 2:
        return [function(one) for one in each]
    # who waits for it is known to every thread
    asked = [copy_context() for _ in each]
    with ThreadPoolExecutor(threads) as pool:
        return list(pool.map(lambda context, one: context.run(function, one), asked, each))
