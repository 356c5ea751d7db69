"""The simulated tent: what is really so, and how it changes from one moment to the next.

The lamp is not quite what its record says, the sensor not quite right, and the room has weather.
Nothing here looks at the plan or at what was kept.
"""

import math
import random
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo


@dataclass(frozen=True)
class Truth:
    """What the grower does not know of the lamp, the lining, the sensor and the room."""

    # a lamp with some thousand hours behind it, in a lining that was wiped too often
    light_scale: float = 0.97
    aged: float = 0.96
    # of its light, at the right end
    dead_share: float = 0.04
    watts_scale: float = 1.02
    tilt_deg: float = 1.5
    offset_x_cm: float = 2.0
    walls: dict[str, float] = field(
        default_factory=lambda: {"left": 0.74, "right": 0.8, "front": 0.7, "back": 0.8}
    )
    sensor_scale: float = 1.03
    sensor_noise: float = 0.012
    # how much too little it shows of light that comes in at 60 degrees
    cosine_error: float = 0.06
    meter_noise_w: float = 0.4
    room_c: float = 20.5
    room_swing_c: float = 1.8
    # at full watts, and how fast it gets there
    rise_k: float = 6.5
    slow_s: float = 1500.0


@dataclass(frozen=True)
class Channel:
    """What one channel is to do in a window: minutes after midnight, output in per cent."""

    channel: int
    on_minute: int
    off_minute: int
    ramp_min: int = 0
    output_pct: float = 100.0

    def output_at(self, minute: float) -> float:
        """Return its output at a minute of the day, with its ramps."""
        length = (self.off_minute - self.on_minute) % 1440 or 1440
        into = (minute - self.on_minute) % 1440
        if into >= length:
            return 0.0
        if not self.ramp_min or length == 1440:
            return self.output_pct
        edge = min(into, length - into) / self.ramp_min
        return self.output_pct * min(edge, 1.0)


@dataclass
class Lamp:
    """The lamp as it hangs: the record's watts and dial, and the light at the sensor at full."""

    full_watts: float
    dial: list[tuple[float, float, float]]
    """Position in per cent, share of the watts, share of the light."""
    ppfd_full: float
    in_hand: float | None = None
    """What a sensor that is carried would show now, were it true; none: it stands in its place."""

    def shares(self, output_pct: float) -> tuple[float, float]:
        """Return the shares of watts and light at an output; nothing below the lowest mark."""
        if output_pct <= 0:
            return 0.0, 0.0
        rows = self.dial or [(0.0, 0.0, 0.0), (100.0, 1.0, 1.0)]
        if output_pct <= rows[0][0]:
            part = output_pct / rows[0][0] if rows[0][0] else 1.0
            return rows[0][1] * part, rows[0][2] * part
        for low, high in pairwise(rows):
            if output_pct <= high[0]:
                part = (output_pct - low[0]) / (high[0] - low[0])
                watts, light = (a + part * (b - a) for a, b in zip(low[1:], high[1:]))
                return watts, light
        return rows[-1][1], rows[-1][2]


OFF_ABOVE_C = 31.0
ON_AGAIN_C = 28.0


@dataclass
class Tent:
    """The tent at a moment; ``step`` takes it to a later one.

    The controller switches the lamp off in the heat, and does nothing while the power is cut; its
    clock and schedule live on a small battery.
    """

    lamp: Lamp
    zone: ZoneInfo
    truth: Truth = field(default_factory=Truth)
    channels: list[Channel] = field(default_factory=list)
    set_output_pct: dict[int, float] = field(default_factory=dict)
    cuts: list[tuple[datetime, datetime]] = field(default_factory=list)
    heat_waves: list[tuple[datetime, datetime, float]] = field(default_factory=list)
    celsius: float = 20.5
    hot: bool = False
    kwh: float = 0.0
    at: datetime | None = None
    chance: random.Random = field(default_factory=lambda: random.Random(8))  # noqa: S311

    def powered(self) -> bool:
        """Return whether there is power."""
        return not any(first <= self._now < end for first, end in self.cuts)

    @property
    def _now(self) -> datetime:
        assert self.at is not None
        return self.at

    def minute(self) -> float:
        """Return the minute of the day there."""
        local = self._now.astimezone(self.zone)
        return local.hour * 60 + local.minute + local.second / 60

    def output(self, channel: int) -> float:
        """Return a channel's output in per cent."""
        if not self.powered() or (self.hot and channel == 1):
            return 0.0
        if channel in self.set_output_pct:
            return self.set_output_pct[channel]
        mine = [each for each in self.channels if each.channel == channel]
        return max((each.output_at(self.minute()) for each in mine), default=0.0)

    def watts(self) -> float:
        """Return what the lamp draws at the socket."""
        share, _ = self.lamp.shares(self.output(1))
        return self.lamp.full_watts * self.truth.watts_scale * share

    def ppfd(self) -> float:
        """Return the light at the sensor, as it truly is."""
        _, share = self.lamp.shares(self.output(1))
        return self.lamp.ppfd_full * share

    def room_c(self) -> float:
        """Return how warm the room is: coolest before dawn, and warmer while a wave lasts."""
        swing = math.cos(2 * math.pi * (self.minute() - 16 * 60) / 1440)
        wave = sum(more for first, end, more in self.heat_waves if first <= self._now < end)
        return self.truth.room_c + self.truth.room_swing_c * swing + wave

    def step(self, until: datetime) -> None:
        """Go on to a later moment, no further than a minute at a time."""
        if self.at is None:
            self.at = until
            self.celsius = self.room_c()
            return
        while self.at < until:
            seconds = min((until - self.at).total_seconds(), 60.0)
            self.at += timedelta(seconds=seconds)
            watts = self.watts()
            target = self.room_c() + self.truth.rise_k * watts / max(self.lamp.full_watts, 1.0)
            self.celsius += (target - self.celsius) * (1 - math.exp(-seconds / self.truth.slow_s))
            self.kwh += watts * seconds / 3.6e6
            self.hot = self.celsius > (ON_AGAIN_C if self.hot else OFF_ABOVE_C)

    def read_watts(self) -> float:
        """Return what the meter shows."""
        watts = self.watts()
        return round(max(watts + self.chance.gauss(0, self.truth.meter_noise_w), 0.0), 1)

    def read_volts(self) -> float:
        """Return what the meter shows of the mains."""
        return round(231.0 + 2.0 * math.sin(self.minute() / 97) + self.chance.gauss(0, 0.3), 1)

    def read_celsius(self) -> float:
        """Return what the thermometer shows."""
        return round(self.celsius + self.chance.gauss(0, 0.05), 2)

    def read_humidity(self) -> float:
        """Return what it shows of the air's moisture: less as the air gets warmer."""
        return round(min(max(60 - 2.2 * (self.celsius - 22) + self.chance.gauss(0, 0.4), 5), 99), 1)

    def read_ppfd(self) -> float:
        """Return what the light sensor shows."""
        there = self.lamp.in_hand
        light = (self.ppfd() if there is None else there) * self.truth.sensor_scale
        return round(light * (1 + self.chance.gauss(0, self.truth.sensor_noise)), 1)
