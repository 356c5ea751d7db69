"""Whether anybody still waits for what is being worked out.

Whoever asks says how that is told; long work looks now and then, and is given up when nobody waits.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_ASKED: ContextVar[Callable[[], bool] | None] = ContextVar("asked", default=None)


class NotWanted(BaseException):
    """Nobody waits for this any more: it passes by whoever mends errors."""


@contextmanager
def asked_by(still_there: Callable[[], bool]) -> Iterator[None]:
    """Work for somebody who may go away; ``still_there`` says whether they are."""
    token = _ASKED.set(still_there)
    try:
        yield
    finally:
        _ASKED.reset(token)


def check_wanted() -> None:
    """Go on, or give up.

    Raises
    ------
    NotWanted
        When who asked has gone.
    """
    still_there = _ASKED.get()
    if still_there is not None and not still_there():
        raise NotWanted
