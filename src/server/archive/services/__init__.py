"""Taking an account out as one file, and bringing one in."""

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

from server.common.problems import CanopyError

ONE_AT_A_TIME = Lock()
"""An archive keeps a core busy for seconds, and its rows in memory."""

WAIT_S = 20


class BusyError(CanopyError):
    """Another archive is being made or read; it can be asked for again."""


@contextmanager
def alone() -> Iterator[None]:
    """Let one archive at a time be made or read.

    Raises
    ------
    BusyError
        When others take too long.
    """
    if not ONE_AT_A_TIME.acquire(timeout=WAIT_S):
        raise BusyError("Another archive is being made or read; try again in a moment.")
    try:
        yield
    finally:
        ONE_AT_A_TIME.release()
