"""The simulated tent with its devices, played by a clock that catches up with the present."""

import logging
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from threading import Event

from django.conf import settings
from django.db import close_old_connections
from django.utils import timezone

from server.common.problems import CanopyError
from server.devices.adapters.messages import windows_of
from server.devices.adapters.planned import PlannedDay, planned_day
from server.devices.adapters.simulated import (
    channels_of,
    day_prices,
    light_in_hand,
    true_lamp,
)
from server.devices.broker import Address
from server.devices.models import Device
from server.devices.services.standins import topic_of
from server.devices.simulated import standins
from server.devices.simulated.clock import FastClock
from server.devices.simulated.hand import Hand, hands
from server.devices.simulated.senders import HttpSender, MqttSender, Sender
from server.devices.simulated.standins import Controller, StandIn
from server.devices.simulated.tent import Channel, Tent, Truth
from server.runs.adapters.standing import kept_of, standing_of
from server.runs.models import Run

log = logging.getLogger(__name__)

POST_EVERY_S = 5.0
LOOK_EVERY_S = 1.0
"""So often it turns, for whoever carries the light sensor."""
HANG_EVERY_S = 600.0
"""How often the simulated lamp is hung and lit anew, as the plan of the day has it."""
PRICES_EVERY_S = 3600.0
BACK = timedelta(hours=26)
"""The stand-ins' story begins so long ago: yesterday is in it."""


class Play:
    """The simulated tent with its devices, played by a clock."""

    def __init__(
        self,
        run: Run,
        speaking: list[tuple[Device, str]],
        base: str,
        address: Address | None = None,
        clock: FastClock | None = None,
    ) -> None:
        self.run = run
        self.clock = clock or FastClock(_silent_for(speaking), settings.STAND_IN_RATE)
        zone = run.owner.zone
        # to plan and to light it takes seconds: the story begins before
        began = self.clock.time()
        planned = self._planned()
        self.tent = Tent(true_lamp(standing_of(run), planned, Truth()), zone)
        self._weather(planned, speaking, began)
        self.tent.step(began)
        self.planned = planned
        self.hand: Hand | None = None
        hands.play(run.space_id)
        self.devices: list[StandIn] = []
        self.feed: HttpSender | None = None
        kinds: dict[str, Callable[[Tent], list[standins.Read]]] = {
            "meter": standins.meter,
            "controller": standins.controller,
            "thermometer": standins.thermometer,
            "light": standins.light,
        }
        for device, token in speaking:
            if device.kind == "prices":
                self.feed = HttpSender(base, token)
                continue
            sender: Sender = HttpSender(base, token)
            if address is not None:
                sender = MqttSender(
                    address, device.topic or topic_of(device), f"stand-in-{device.pk}"
                )
            make = Controller if device.kind == "controller" else StandIn
            self.devices.append(make(device.name, sender, kinds[device.kind]))

    def _planned(self) -> PlannedDay:
        run = self.run
        return planned_day(standing_of(run), kept_of(run), run.owner.today())

    def _weather(
        self, planned: PlannedDay, speaking: list[tuple[Device, str]], began: datetime
    ) -> None:
        """Set the controller as it was found, a power cut at night, and sun on the roof."""
        tent, zone = self.tent, self.tent.zone
        last = {
            (device.kind, series.quantity): series.last_value
            for device, _ in speaking
            for series in device.series.all()
        }
        # a counter counts on, and air does not leap, where its story goes on
        tent.kwh = last.get(("meter", "energy")) or 0.0
        goes_on = last.get(("thermometer", "temperature"))
        found = next((d.schedule for d, _ in speaking if d.kind == "controller"), None)
        tent.channels = channels_of(windows_of(found) if found else planned.channels)
        if found is None and tent.channels:
            # whoever set it misread the clock by an hour
            first = tent.channels[0]
            early = (first.on_minute - 60) % 1440
            tent.channels[0] = Channel(
                first.channel, early, first.off_minute, first.ramp_min, first.output_pct
            )
        start = began.astimezone(zone)
        if goes_on is not None:
            tent.at, tent.celsius = began, goes_on
        for days in range(30):
            noon = (start + timedelta(days=days)).replace(hour=13, minute=0, second=0)
            tent.heat_waves.append((noon, noon + timedelta(minutes=50), 9.0))
        night = start.replace(hour=22, minute=10, second=0)
        if goes_on is None:
            # once in its story, not each time it goes on
            tent.cuts.append((night, night + timedelta(minutes=17)))

    def turn(self) -> None:
        """Let the tent go on to now, and everything send."""
        now = self.clock.time()
        behind = datetime.now(UTC) - now > timedelta(minutes=2)
        standins.live(self.tent, self.devices, now, behind)
        for device in self.devices:
            device.post()
            if isinstance(device, Controller):
                device.obey(self.tent)

    def carry(self) -> None:
        """Show what the light sensor sees where it is held, each time this is asked."""
        hand = hands.held(self.run.space_id)
        lamp = self.tent.lamp
        if hand is None:
            self.hand, lamp.in_hand = None, None
            return
        if hand != self.hand:
            close_old_connections()
            try:
                standing = standing_of(self.run)
                light = light_in_hand(standing, self.planned, self.tent.truth, hand)
            except CanopyError:
                log.warning("nothing can be held there", exc_info=True)
                return
            _, share = lamp.shares(100.0 if hand.dial_pct is None else hand.dial_pct)
            self.hand, lamp.in_hand = hand, light * share if hand.lit else 0.0
        now = self.clock.time()
        for device in self.devices:
            if device.read is standins.light:
                device.last = None
                device.look(self.tent, now)
                device.post()

    def send_prices(self) -> None:
        """Send what power costs yesterday, today and tomorrow."""
        if self.feed is None:
            return
        zone = self.tent.zone
        today = datetime.now(UTC).astimezone(zone).date()
        for days in (-1, 0, 1):
            self.feed.send_prices(day_prices(today + timedelta(days=days), zone))

    def go_on(self, stopped: Event) -> None:
        """Go on until this server stops."""
        hung = priced = time.monotonic()
        turned, next_turn = 0, hung + LOOK_EVERY_S
        while not stopped.wait(LOOK_EVERY_S):
            now = time.monotonic()
            self.carry()
            if now < next_turn:
                continue
            next_turn = now + POST_EVERY_S
            if turned == 1 or now - priced > PRICES_EVERY_S:
                self.send_prices()
                priced = now
            if now - hung > HANG_EVERY_S:
                hung = now
                self._hang()
            self.turn()
            turned += 1

    def _hang(self) -> None:
        """Hang the lamp as the plan of the day has it: its grower does as planned."""
        close_old_connections()
        try:
            self.run.refresh_from_db()
            self.planned = self._planned()
            lamp = true_lamp(standing_of(self.run), self.planned, self.tent.truth)
        except Exception:
            log.warning("the simulated lamp stays as it hangs: the plan cannot be", exc_info=True)
        else:
            lamp.in_hand = self.tent.lamp.in_hand
            self.tent.lamp = lamp


def _silent_for(speaking: list[tuple[Device, str]]) -> timedelta:
    """Return how long ago the stand-ins were last heard of, or how far their story goes back."""
    heard = [
        datetime.fromtimestamp(series.last_at / 1000, UTC)
        for device, _ in speaking
        for series in device.series.all()
        if series.last_at is not None
    ]
    return min(timezone.now() - max(heard), BACK) if heard else BACK
