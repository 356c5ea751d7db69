"""The stand-ins: what each reads of the simulated tent, and what the controller does when told."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from server.devices.adapters.messages import QuantityName, message_of, schedule_body, windows_of
from server.devices.adapters.simulated import channels_of, switchings_of
from server.devices.simulated.senders import MOST_AT_ONCE, Sender
from server.devices.simulated.tent import Tent

MOST_KEPT = 20_000
"""Messages a stand-in keeps while nobody can be reached; the oldest go."""

Read = tuple[QuantityName, float, int]


@dataclass
class StandIn:
    """A device of the simulated tent: it reads every so often, and sends when it can."""

    name: str
    sender: Sender
    read: Callable[[Tent], Iterable[Read]]
    every_s: float = 10.0
    behind_every_s: float = 60.0
    waiting: list[dict[str, Any]] = field(default_factory=list)
    last: datetime | None = None

    def look(self, tent: Tent, now: datetime, behind: bool = False) -> None:
        """Read, if it is time to and there is power; less often while it catches up."""
        every_s = self.behind_every_s if behind else self.every_s
        if self.last is not None and (now - self.last).total_seconds() < every_s:
            return
        self.last = now
        if not tent.powered():
            return
        for quantity, value, channel in self.read(tent):
            known = f"{int(now.timestamp() * 1000)}-{quantity}-{channel}"
            self.waiting.append(message_of(known, now, quantity, value, channel))
        del self.waiting[:-MOST_KEPT]

    def post(self) -> bool:
        """Send what waits; what cannot be sent waits on."""
        while self.waiting:
            if not self.sender.send(self.waiting[:MOST_AT_ONCE]):
                return False
            del self.waiting[:MOST_AT_ONCE]
        return True


@dataclass
class Controller(StandIn):
    """A two-channel timer and dimmer: it takes a schedule, and reads it back."""

    untold: bool = True

    def obey(self, tent: Tent) -> None:
        """Do what it is told, and tell the schedule it keeps."""
        for told in self.sender.commands():
            if told.get("command") == "schedule":
                tent.channels = channels_of(windows_of(told))
                tent.set_output_pct.clear()
                self.untold = True
            elif told.get("command") == "set":
                value = float(told["value"])
                output = value if told["quantity"] == "output" else value * 100
                tent.set_output_pct[int(told.get("channel", 1))] = output
        if self.untold and self.sender.send([schedule_body(switchings_of(tent.channels))]):
            self.untold = False


def meter(tent: Tent) -> list[Read]:
    """Return what the plug-in meter shows."""
    watts, volts = tent.read_watts(), tent.read_volts()
    return [
        ("power", watts, 1),
        ("voltage", volts, 1),
        ("current", round(watts / volts / 0.96, 3), 1),
        ("energy", round(tent.kwh, 3), 1),
    ]


def controller(tent: Tent) -> list[Read]:
    """Return what the controller says of its two channels."""
    found: list[Read] = []
    for channel in (1, 2):
        output = round(tent.output(channel), 1)
        found += [("switch", float(output > 0), channel), ("output", output, channel)]
    return found


def thermometer(tent: Tent) -> list[Read]:
    """Return what the thermometer shows."""
    return [("temperature", tent.read_celsius(), 1), ("humidity", tent.read_humidity(), 1)]


def light(tent: Tent) -> list[Read]:
    """Return what the light sensor shows."""
    return [("ppfd", tent.read_ppfd(), 1)]


STEP = timedelta(seconds=10)


def live(tent: Tent, stand_ins: Iterable[StandIn], until: datetime, behind: bool = False) -> None:
    """Let the tent go on to a moment, in steps in which every device can look."""
    devices = list(stand_ins)
    if tent.at is None:
        tent.step(until)
    while tent.at is not None and tent.at + STEP <= until:
        tent.step(tent.at + STEP)
        for device in devices:
            device.look(tent, tent.at, behind)
