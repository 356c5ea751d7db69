"""Hanging a lamp, step by step: what to do, in which order, and what to read on the way.

Lengths in cm, weights in kg, temperatures in degrees Celsius.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from canopy.errors import CanopyError
from canopy.power.circuit import CircuitCheck, electrical
from canopy.power.cords import CordPath, Socket
from canopy.power.hangers import MARGIN, Travel, Weighed
from canopy.power.heat import DRIVER_RISE_K, SINK_RISE_K, too_warm
from canopy.words import Said, said

StepName = Literal[
    "glasses",
    "frame",
    "marks",
    "hang",
    "driver",
    "cord",
    "strip",
    "circuit",
    "timer",
    "light",
    "watts",
    "warm",
    "plants",
]
STEPS: tuple[StepName, ...] = get_args(StepName)

SAFETY: frozenset[StepName] = frozenset(
    {"glasses", "frame", "driver", "cord", "strip", "circuit", "warm"}
)
"""Those that stay in sight until they are done."""

ReadingName = Literal[
    "watts",
    "volts",
    "amps",
    "sink_c",
    "driver_c",
    "room_c",
    "tent_c",
    "on_minute",
    "off_minute",
    "second_on_minute",
    "second_off_minute",
]
SECOND: tuple[ReadingName, ...] = ("second_on_minute", "second_off_minute")
"""Of the timer's second channel, where there is one."""

READINGS: dict[StepName, tuple[ReadingName, ...]] = {
    "timer": ("on_minute", "off_minute", *SECOND),
    "watts": ("watts", "volts", "amps"),
    "warm": ("sink_c", "driver_c", "room_c", "tent_c"),
}
NEEDED: dict[StepName, tuple[ReadingName, ...]] = {
    "timer": ("on_minute", "off_minute"),
    "watts": ("watts",),
    "warm": ("sink_c", "room_c"),
}
READING_LIMITS: dict[ReadingName, tuple[float, float]] = {
    "watts": (0.0, 100_000.0),
    "volts": (50.0, 500.0),
    "amps": (0.0, 400.0),
    "sink_c": (-40.0, 200.0),
    "driver_c": (-40.0, 200.0),
    "room_c": (-40.0, 60.0),
    "tent_c": (-40.0, 80.0),
    "on_minute": (0.0, 1439.0),
    "off_minute": (0.0, 1439.0),
    "second_on_minute": (0.0, 1439.0),
    "second_off_minute": (0.0, 1439.0),
}

WATTS_AGREE = 0.08
"""A plug-in meter and a lamp of its kind differ by so much at most. Common practice, no source."""


@dataclass(frozen=True)
class Step:
    """One step: what to do, in sentences, and what to read when it is done."""

    name: StepName
    lines: tuple[Said, ...]
    readings: tuple[ReadingName, ...] = ()

    @property
    def safety(self) -> bool:
        """Whether it stays in sight until it is done."""
        return self.name in SAFETY


@dataclass(frozen=True)
class Channel:
    """One channel of the timer: a group's on and off times, and where its dial stands."""

    group: int
    on_minute: int
    off_minute: int
    dial_pct: float


@dataclass(frozen=True)
class HungAt:
    """One lamp: where its hangers go, how high it hangs at first, its cord's way.

    ``sold_apart`` is what does not come with it.
    """

    marks_cm: tuple[tuple[float, float], ...]
    face_cm: float
    cord: CordPath
    sold_apart: str = ""


@dataclass(frozen=True)
class Facts:
    """What the steps are made of.

    Parameters
    ----------
    weight : Weighed
    lamps : tuple of HungAt
    height_cm : float
        From the rail to the tops on the first day.
    ratchets : Travel
    socket : Socket
    driver_outside, ultraviolet : bool
    circuit : CircuitCheck, optional
        Not known without.
    channels : tuple of Channel
        The rail's first.
    ramp_min : float
    watts : float
        At the wall on the first day.
    tent_rise_k : float, optional
    """

    weight: Weighed
    lamps: tuple[HungAt, ...]
    height_cm: float
    ratchets: Travel
    socket: Socket
    driver_outside: bool
    ultraviolet: bool
    circuit: CircuitCheck | None
    channels: tuple[Channel, ...]
    ramp_min: float
    watts: float
    tent_rise_k: float | None


def install_steps(facts: Facts) -> tuple[Step, ...]:
    """Return the steps in their order: cords are run and tied before plants and water come."""
    lines: dict[StepName, list[Said]] = {
        "glasses": [said("install.glasses")] + [said("install.uv")] * facts.ultraviolet,
        "frame": _frame(facts.weight),
        "marks": [
            *(
                said("install.apart", lamp=k + 1, what=lamp.sold_apart)
                for k, lamp in enumerate(facts.lamps)
                if lamp.sold_apart
            ),
            *(
                said("install.hangers", lamp=k + 1, count=len(lamp.marks_cm))
                for k, lamp in enumerate(facts.lamps)
            ),
            *(
                said("install.mark", lamp=k + 1, x_cm=x, y_cm=y)
                for k, lamp in enumerate(facts.lamps)
                for x, y in lamp.marks_cm
            ),
        ],
        "hang": [
            *(
                said("install.hang", lamp=k + 1, face_cm=lamp.face_cm)
                for k, lamp in enumerate(facts.lamps)
            ),
            said("install.above", height_cm=facts.height_cm),
            said("install.level"),
            said(
                "install.travel",
                travel_cm=facts.ratchets.travel_cm,
                rope_cm=facts.ratchets.rope_cm,
            ),
        ],
        "driver": [said(f"install.driver_{'outside' if facts.driver_outside else 'on'}")],
        "cord": _cords(facts),
        "strip": [
            said("install.strip", socket_cm=facts.socket.height_cm),
            said("install.one_strip"),
        ],
        "circuit": [*_circuit(facts.circuit), said("install.local")],
        "timer": _channels(facts),
        "light": [said("install.light", dial_pct=facts.channels[0].dial_pct)],
        "watts": [said("install.watts", watts=facts.watts)],
        "warm": [
            said(
                "install.warm", low_k=SINK_RISE_K[0], high_k=SINK_RISE_K[1], driver_k=DRIVER_RISE_K
            )
        ],
        "plants": [said("install.plants")],
    }
    if facts.tent_rise_k is not None:
        lines["warm"].append(said("install.tent", rise_k=facts.tent_rise_k))
    asks = {step: list(names) for step, names in READINGS.items()}
    if len(facts.channels) < len(SECOND):
        asks["timer"] = [name for name in asks["timer"] if name not in SECOND]
    return tuple(Step(name, tuple(lines[name]), tuple(asks.get(name, ()))) for name in STEPS)


def _frame(weight: Weighed) -> list[Said]:
    found = [said("install.frame", total_kg=weight.total_kg)]
    if weight.rating_kg is None:
        found.append(said("install.frame_unknown"))
    else:
        found.append(weight_said(weight))
    return [*found, said("install.ladder")]


def weight_said(weight: Weighed) -> Said:
    """Return whether the frame bears what hangs on it, in words; its rating has to be known."""
    rating, spare = weight.rating_kg or 0.0, weight.spare_kg or 0.0
    bears = rating * MARGIN
    if weight.over:
        return said(
            "heavy.over",
            total_kg=weight.total_kg,
            rating_kg=rating,
            bears_kg=bears,
            over_kg=-spare,
        )
    return said("heavy.well", rating_kg=rating, bears_kg=bears, spare_kg=spare)


def cord_short(lamp: int, cord: CordPath) -> Said | None:
    """Return how much is missing of a lamp's cord, in words, where something is."""
    if not cord.missing_cm:
        return None
    if cord.reaches_from_cm is None:
        return said("cord.too_short", lamp=lamp, missing_cm=cord.missing_cm)
    return said("cord.short", lamp=lamp, missing_cm=cord.missing_cm, least_cm=cord.reaches_from_cm)


def _cords(facts: Facts) -> list[Said]:
    found: list[Said] = []
    for k, lamp in enumerate(facts.lamps):
        legs = {f"{leg.part}_cm": leg.cm for leg in lamp.cord.legs if leg.part != "loop"}
        found.append(
            said(
                "install.cord",
                lamp=k + 1,
                corner=facts.socket.corner.replace("-", " "),
                needed_cm=lamp.cord.needed_cm,
                **legs,
            )
        )
        short = cord_short(k + 1, lamp.cord)
        if short is not None:
            found.append(short)
    return [*found, said("install.tie")]


def _circuit(check: CircuitCheck | None) -> list[Said]:
    if check is None:
        return [said("install.circuit_unknown")]
    return list(check.findings) or [circuit_well(check)]


def circuit_well(check: CircuitCheck) -> Said:
    """Return that a circuit bears what hangs on it, in words."""
    breaker = next(strain for strain in check.strains if strain.part == "breaker")
    return said("circuit.well", drawn_a=breaker.drawn_a, limit_a=breaker.limit_a)


def _channels(facts: Facts) -> list[Said]:
    found = [
        said(
            "install.channel",
            channel=k + 1,
            on=clock_words(each.on_minute),
            off=clock_words(each.off_minute),
            dial_pct=each.dial_pct,
        )
        for k, each in enumerate(facts.channels)
    ]
    if facts.ramp_min:
        found.append(said("install.ramp", ramp_min=facts.ramp_min))
    return [*found, said("install.type_back")]


@dataclass(frozen=True)
class Planned:
    """What readings are held against: the timer's minutes, the wall's watts, the tent's rise."""

    on_minute: int
    off_minute: int
    watts: float
    tent_rise_k: float | None = None
    second_on_minute: int | None = None
    second_off_minute: int | None = None


@dataclass(frozen=True)
class Verdict:
    """What a reading says: whether all is well, and in words."""

    well: bool
    lines: tuple[Said, ...]


def clock_words(minute: float) -> str:
    """Return a minute of the day as people write it.

    >>> clock_words(365)
    '06:05'
    """
    return f"{int(minute) // 60 % 24:02d}:{int(minute) % 60:02d}"


def check_reading(step: StepName, values: Mapping[str, float | None]) -> dict[str, float]:
    """Return what was read at a step, as it is kept.

    Raises
    ------
    CanopyError
        When the step asks for a reading that is missing, or one cannot be.
    """
    kept: dict[str, float] = {}
    for name in READINGS.get(step, ()):
        value = values.get(name)
        if value is None:
            if name in NEEDED[step]:
                raise CanopyError("Give what you read, so that it can be checked.", name)
            continue
        low, high = READING_LIMITS[name]
        if not low <= value <= high:
            raise CanopyError(f"It should be from {low:g} to {high:g}.", name)
        kept[name] = float(value)
    if "volts" in kept and "amps" in kept:
        # refused here, where it can still be read again
        electrical(kept["volts"], kept["watts"], kept["amps"])
    return kept


def verdict(step: StepName, read: Mapping[str, float], planned: Planned) -> Verdict | None:
    """Return what a step's readings say of the plan; nothing where none were asked."""
    if step == "timer":
        return _timer(read, planned)
    if step == "watts":
        return _watts(read, planned)
    if step == "warm":
        return _warm(read, planned)
    return None


def _watts(read: Mapping[str, float], planned: Planned) -> Verdict:
    off = read["watts"] / planned.watts - 1 if planned.watts else 0.0
    figures = {"read": read["watts"], "planned": planned.watts}
    well = abs(off) <= WATTS_AGREE
    if well:
        lines = [said("install.watts_agree", **figures)]
    else:
        code = "install.watts_more" if off > 0 else "install.watts_less"
        lines = [said(code, share=abs(off), **figures)]
    if "volts" in read and "amps" in read:
        drawn = electrical(read["volts"], read["watts"], read["amps"], measured=True)
        lines.append(
            said(
                "install.meter",
                volts=drawn.volts,
                amps=drawn.amps,
                va=drawn.va,
                factor=drawn.power_factor,
            )
        )
    return Verdict(well, tuple(lines))


def _timer(read: Mapping[str, float], planned: Planned) -> Verdict:
    lines = []
    for name, code in (
        ("on_minute", "install.timer_on"),
        ("off_minute", "install.timer_off"),
        ("second_on_minute", "install.second_on"),
        ("second_off_minute", "install.second_off"),
    ):
        wanted = getattr(planned, name)
        if wanted is not None and name in read and round(read[name]) != wanted:
            lines.append(said(code, read=clock_words(read[name]), planned=clock_words(wanted)))
    return Verdict(not lines, tuple(lines) or (said("install.timer_agrees"),))


def _warm(read: Mapping[str, float], planned: Planned) -> Verdict:
    lines: list[Said] = []
    room = read["room_c"]
    sink, driver = read["sink_c"] - room, read.get("driver_c")
    hot_sink, hot_driver = too_warm(read["sink_c"], driver, room)
    if hot_sink:
        lines.append(said("install.sink_hot", rise_k=sink, most_k=SINK_RISE_K[1]))
    if driver is not None and hot_driver:
        lines.append(said("install.driver_hot", rise_k=driver - room, most_k=DRIVER_RISE_K))
    tent = read.get("tent_c")
    if tent is not None and planned.tent_rise_k is not None:
        rise = tent - room
        if rise > planned.tent_rise_k * 1.5 + 1:
            lines.append(said("install.tent_hot", rise_k=rise, planned_k=planned.tent_rise_k))
    return Verdict(not lines, tuple(lines) or (said("install.warm_well", rise_k=sink),))
