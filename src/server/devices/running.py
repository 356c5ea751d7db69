"""What runs beside the requests: summing up, the broker, and the demo's stand-ins."""

import logging
import time
from collections.abc import Callable
from threading import Event, Thread

from django.conf import settings
from django.db import close_old_connections
from django.utils import timezone

from server.accounts.models import Grower
from server.devices import broker
from server.devices.broker import Broker
from server.devices.services.keeping import sum_up, tidy
from server.devices.services.standins import add_stand_ins, speaking_stand_ins
from server.devices.simulated.play import Play
from server.runs.adapters.planning import plan_in
from server.runs.models import Run
from server.spaces.models import Space

log = logging.getLogger(__name__)

SUM_EVERY_S = 60.0
TIDY_EVERY_S = 3600.0

stopped = Event()


def start(port: str | None) -> None:
    """Start what runs beside the requests; the stand-ins in a demo whose port is known."""
    _thread("devices-keeper", _keep)
    found = broker.start()
    if settings.DEMO and settings.STAND_INS and port:
        _thread("stand-ins", lambda: stand_in(f"http://127.0.0.1:{port}", found))


def _thread(name: str, work: Callable[[], None]) -> None:
    def guarded() -> None:
        try:
            work()
        except Exception:
            log.exception("%s", name)

    Thread(target=guarded, name=name, daemon=True).start()


def _keep() -> None:
    last = 0.0
    while not stopped.wait(SUM_EVERY_S):
        try:
            close_old_connections()
            sum_up()
            if time.monotonic() - last > TIDY_EVERY_S:
                tidy(timezone.now())
                last = time.monotonic()
        except Exception:
            log.exception("readings could not be summed up; it is tried again")


def _tent_and_shelf(grower: Grower) -> tuple[Run, Space | None] | None:
    """Return the plan of the demo's largest space, and another space for the price feed."""
    spaces = sorted(
        Space.objects.of(grower).filter(removed=False),
        key=lambda space: -space.width_cm * space.depth_cm * space.height_cm,
    )
    run = plan_in(spaces[0]) if spaces else None
    return None if run is None else (run, spaces[1] if len(spaces) > 1 else None)


def stand_in(base: str, through: Broker | None = None) -> None:
    """Let the stand-ins live until this server stops."""
    grower = Grower.objects.filter(is_demo=True).first()
    found = None if grower is None else _tent_and_shelf(grower)
    if grower is None or found is None:
        return
    run, shelf = found
    add_stand_ins(grower, run.space, shelf)
    address = None if through is None else through.address
    speaking = speaking_stand_ins(grower, address is not None)
    if speaking:
        Play(run, speaking, base, address).go_on(stopped)
