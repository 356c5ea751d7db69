"""Who may reckon when: few at a time, some wait, the others are asked to come back.

Two heavy computations run at once, and apart from them a few of the bench's quick ones, so that
nothing light stands behind anything heavy. What nobody waits for any more is given up, in the queue
as well as while it runs.
"""

import re
import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from threading import Condition

from django.http import HttpRequest, HttpResponse

from canopy.wanted import NotWanted, asked_by
from server.common.problems import WAIT_S, problem

LOOK_S = 0.2
"""How often one that waits looks whether somebody still waits for it."""

BUSY = "Much is being worked out just now; what you typed is still here. Try again in a moment."


class Full(Exception):  # noqa: N818 - it is no mistake of ours
    """So many wait already, or it has waited long enough."""


@dataclass
class Turnstile:
    """So many go through at once, so many wait in line, each so long."""

    at_once: int
    waiting: int
    longest_s: float
    _inside: int = 0
    _line: deque[object] = field(default_factory=deque)
    _room: Condition = field(default_factory=Condition)

    @contextmanager
    def turn(self, still_there: Callable[[], bool]) -> Iterator[None]:
        """Wait for a turn and have it.

        Raises
        ------
        Full
            When too many wait, or none came in time.
        NotWanted
            When who asked has gone meanwhile.
        """
        with self._room:
            if self._inside >= self.at_once or self._line:
                if len(self._line) >= self.waiting:
                    raise Full
                self._wait(still_there)
            self._inside += 1
        try:
            yield
        finally:
            with self._room:
                self._inside -= 1
                self._room.notify_all()

    def _wait(self, still_there: Callable[[], bool]) -> None:
        ticket = object()
        self._line.append(ticket)
        try:
            until = time.monotonic() + self.longest_s
            while self._inside >= self.at_once or self._line[0] is not ticket:
                if not still_there():
                    raise NotWanted
                if time.monotonic() >= until:
                    raise Full
                self._room.wait(LOOK_S)
        finally:
            self._line.remove(ticket)
            self._room.notify_all()


HEAVY = re.compile(
    r"^/api/(runs/\d+/(season|shelf|compare|beside|lining|positions|power|sheets|install|plans/\d+)"
    r"|runs/racks/|runs/\d+/stages/\d+/opinions|readings/runs/\d+/fits|readings/change|review/"
    r"|logbook/(today|runs/\d+/(light|away))|archive/|fixtures/(table|estimate|\d+/maps))"
)
QUICK = re.compile(r"^/api/runs/\d+/(stages/\d+/)?bench")

STILES = {"heavy": Turnstile(2, 8, 20.0), "quick": Turnstile(2, 24, 20.0)}


def _stile(path: str) -> Turnstile | None:
    if QUICK.match(path):
        return STILES["quick"]
    return STILES["heavy"] if HEAVY.match(path) else None


class Queue:
    """Middleware: requests that take reckoning have it in turn."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        stile = _stile(request.path)
        if stile is None:
            return self.get_response(request)
        gone: Callable[[], bool] = request.META.get("waitress.client_disconnected", bool)

        def still_there() -> bool:
            return not gone()

        try:
            with stile.turn(still_there), asked_by(still_there):
                return self.get_response(request)
        except Full:
            response = problem(503, "Busy", BUSY)
            response["Retry-After"] = str(WAIT_S)
            return response
        except NotWanted:
            # nobody reads this
            return problem(503, "Given up", "Nobody waited for it any more.")
