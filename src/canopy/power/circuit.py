"""Whether a circuit bears what hangs on it. Volts, amps, watts, VA; lengths in m, wires in mm2."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import log, pi

from canopy.errors import CanopyError
from canopy.words import Said, said

WIRE_OHM_MM2_PER_M = 0.01995
"""Flexible copper at 20 degrees: the most IEC 60228 (2004), table 3, class 5, allows for 1.5 and
2.5 mm2 (13.3 and 7.98 ohm/km)."""

COPPER_A_DEGREE = 0.00393
"""Change of copper's resistance a kelvin at 20 degrees; IEC 60228 (2004), annex B."""

WARM_WIRE_C = 40.0
"""A lead in use. Common practice, no source."""

MOST_DROP = 0.03
"""Of the volts, along a lead. Common practice, no source."""

CONTINUOUS_H = 3.0
"""What runs so long counts as continuous; from memory of practice in the USA."""

STAGGER_S = 60
"""Between starts: a timer's least step. Common practice, no source."""

TRIPS_AT = 5.0
"""Times its rating at which a breaker for household use may trip at once; from memory of IEC 60898,
type B (3 to 5 times) and the lower end of type C."""

INRUSH_A_DRIVER = 40.0
"""What an LED driver draws for part of a millisecond, where its maker does not say. Common
practice, no source."""


@dataclass(frozen=True)
class Electrical:
    """What something draws, all that go together."""

    volts: float
    amps: float
    watts: float
    va: float
    power_factor: float
    measured: bool


USUAL_POWER_FACTOR = 0.95
"""Of an LED driver at full power. Common practice, no source."""


def electrical(
    volts: float,
    watts: float | None = None,
    amps: float | None = None,
    power_factor: float | None = None,
    measured: bool = False,
) -> Electrical:
    """Return volts, amps, watts, VA and power factor from those that are known.

    >>> found = electrical(232, 972.3, 4.25)
    >>> round(found.va), round(found.power_factor, 3)
    (986, 0.986)

    Raises
    ------
    CanopyError
        When neither watts nor amps are known, or watts are more than volts times amps.
    """
    if watts is None and amps is None:
        raise CanopyError("Say what it draws: watts, or amps.", "watts")
    if watts is None or amps is None:
        share = USUAL_POWER_FACTOR if power_factor is None else power_factor
        watts = volts * (amps or 0.0) * share if watts is None else watts
        amps = watts / (volts * share) if amps is None else amps
    va = volts * amps
    if watts > va * MOST_FACTOR:
        raise CanopyError(
            f"{watts:.0f} W cannot be drawn by {amps:.2f} A at {volts:.0f} V, which make "
            f"{va:.0f} VA at most; one of the figures is wrong.",
            "amps",
        )
    return Electrical(volts, amps, watts, va, min(watts / va, 1.0) if va else 1.0, measured)


MOST_FACTOR = 1.02
"""Watts over VA that meters' tolerances make of 1."""


@dataclass(frozen=True)
class Load:
    """Something on the circuit.

    Parameters
    ----------
    name : str
    watts : float
        Of all of them together while they run, from the wall.
    power_factor : float
    amps : float, optional
        As measured; wins over watts and power factor.
    count : int
        How many, each with its own inrush.
    duty : float
        Share of the time it runs while it is on.
    inrush_a : float, optional
        Of one when it starts.
    hours : float
        A day.
    timed : bool
        Whether the timer switches it.
    chained : bool
        Whether lamps hang one on another's cord.
    elsewhere : bool
        Whether it hangs on the same breaker by another plug, strip and timer.
    """

    name: str
    watts: float
    power_factor: float = USUAL_POWER_FACTOR
    amps: float | None = None
    count: int = 1
    duty: float = 1.0
    inrush_a: float | None = None
    hours: float = 24.0
    timed: bool = False
    chained: bool = False
    elsewhere: bool = False

    def drawn(self, volts: float) -> Electrical:
        """Return what it draws while it runs."""
        measured = self.amps is not None
        factor = None if measured else self.power_factor
        return electrical(volts, self.watts, self.amps, factor, measured)

    @property
    def start_a(self) -> float:
        """What one draws when it starts."""
        return INRUSH_A_DRIVER if self.inrush_a is None else self.inrush_a


@dataclass(frozen=True)
class Lead:
    """An extension lead: its length in m, its copper in mm2."""

    length_m: float
    copper_mm2: float

    def ohm(self, wire_c: float = WARM_WIRE_C) -> float:
        """Return its resistance there and back.

        >>> round(Lead(500, 1.5).ohm(20), 1)
        13.3
        """
        warm = 1 + COPPER_A_DEGREE * (wire_c - 20)
        return 2 * self.length_m * WIRE_OHM_MM2_PER_M / self.copper_mm2 * warm

    def drop_volts(self, amps: float) -> float:
        """Return what of the volts is lost along it."""
        return amps * self.ohm()

    @property
    def rated_a(self) -> float:
        """What it bears unrolled; between the table's rows as the smaller."""
        fit = [amps for mm2, amps in LEAD_AMPS if mm2 <= self.copper_mm2 + 1e-6]
        return fit[-1] if fit else 3.0


LEAD_AMPS = (
    (0.5, 3.0),
    (0.75, 6.0),
    (0.8, 10.0),
    (1.3, 13.0),
    (1.5, 16.0),
    (2.5, 20.0),
    (4.0, 25.0),
)
"""Flexible cords of so many mm2 and what they bear; from memory of IEC 60335 and of cords' own
labels (gauge 18 is 0.82 mm2, 16 is 1.31, 14 is 2.08, 12 is 3.31). Common practice where no law says
otherwise."""


def gauge_mm2(gauge: float) -> float:
    """Return the copper of a wire by its American gauge; ASTM B258, its closed form.

    >>> round(gauge_mm2(14), 2)
    2.08
    """
    diameter_mm = 0.127 * 92 ** ((36 - gauge) / 39)
    return float(pi / 4 * diameter_mm**2)


def gauge_of(copper_mm2: float) -> float:
    """Return the American gauge nearest to so much copper."""
    diameter_mm = (4 * copper_mm2 / pi) ** 0.5
    return float(round(36 - 39 * log(diameter_mm / 0.127) / log(92)))


@dataclass(frozen=True)
class Limits:
    """What a circuit's parts bear, in amps; not known where left out.

    ``continuous_share`` of the breaker is what may be drawn for hours.
    """

    volts: float
    breaker_a: float
    continuous_share: float = 0.8
    plug_a: float | None = None
    strip_a: float | None = None
    timer_a: float | None = None
    cord_a: float | None = None
    lead: Lead | None = None


PRESETS = {
    "230": Limits(230.0, 16.0, plug_a=13.0, strip_a=16.0, timer_a=16.0, cord_a=10.0),
    "120": Limits(120.0, 15.0, plug_a=15.0, strip_a=15.0, timer_a=15.0, cord_a=10.0),
}
"""Common practice, no source; what stands on the parts themselves, and local code, rule."""


@dataclass(frozen=True)
class Strain:
    """One part of the circuit: what it may carry and what it does, in amps."""

    part: str
    limit_a: float
    drawn_a: float

    @property
    def over(self) -> bool:
        """Whether it carries more than it may."""
        return self.drawn_a > self.limit_a + 1e-9


@dataclass(frozen=True)
class CircuitCheck:
    """What a circuit carries at most, part by part, and what has to be said of it."""

    total: Electrical
    strains: tuple[Strain, ...]
    drop_volts: float | None
    inrush_a: float
    starts: tuple[tuple[str, ...], ...]
    findings: tuple[Said, ...] = field(default=())

    @property
    def over(self) -> bool:
        """Whether some limit is passed."""
        return any(strain.over for strain in self.strains)


def check_circuit(loads: Sequence[Load], limits: Limits) -> CircuitCheck:
    """Return what a circuit carries when everything on it runs at once.

    The worst part comes first in what is said. Amps of several loads are added as they are:
    they are never less than the truth.
    """
    drawn = [load.drawn(limits.volts) for load in loads]
    amps, watts = sum(d.amps for d in drawn), sum(d.watts for d in drawn)
    va = limits.volts * amps
    total = Electrical(
        limits.volts,
        amps,
        watts,
        va,
        watts / va if va else 1.0,
        bool(drawn) and all(d.measured for d in drawn),
    )
    long = sum(
        d.amps for d, load in zip(drawn, loads) if load.duty >= 1 and load.hours >= CONTINUOUS_H
    )
    here = [(d.amps, load) for d, load in zip(drawn, loads) if not load.elsewhere]
    plugged = sum(a for a, _ in here)
    timed = sum(a for a, load in here if load.timed)
    chained = sum(a for a, load in here if load.chained)
    known = (
        ("breaker", limits.breaker_a, amps),
        ("continuous", limits.breaker_a * limits.continuous_share, long),
        ("plug", limits.plug_a, plugged),
        ("strip", limits.strip_a, plugged),
        ("timer", limits.timer_a, timed),
        ("cord", limits.cord_a, chained),
        ("lead", None if limits.lead is None else limits.lead.rated_a, plugged),
    )
    strains = tuple(Strain(part, limit, a) for part, limit, a in known if limit is not None)
    drop = None if limits.lead is None else limits.lead.drop_volts(plugged)
    starts = together(loads, limits)
    inrush = sum(load.start_a * load.count for load in loads if load.timed)
    return CircuitCheck(
        total, strains, drop, inrush, starts, _findings(strains, drop, inrush, starts, limits)
    )


def together(loads: Sequence[Load], limits: Limits) -> tuple[tuple[str, ...], ...]:
    """Return which of the timed loads may start at the same moment, in the order to start them.

    So that what starts, and what runs already, stays under what trips the breaker at once. A load
    that alone draws more stands by itself. One lamp is never parted: its parts start together.
    """
    most = TRIPS_AT * limits.breaker_a
    running = sum(load.drawn(limits.volts).amps for load in loads if not load.timed)
    groups: list[list[str]] = []
    starting = 0.0
    waiting = 0.0
    for load in (load for load in loads if load.timed):
        for number in range(load.count):
            name = load.name if load.count == 1 else f"{load.name} {number + 1}"
            if not groups or running + starting + load.start_a > most:
                groups.append([])
                running, starting, waiting = running + waiting, 0.0, 0.0
            groups[-1].append(name)
            starting += load.start_a
            waiting += load.drawn(limits.volts).amps / load.count
    return tuple(tuple(group) for group in groups)


def _findings(
    strains: Sequence[Strain],
    drop: float | None,
    inrush_a: float,
    starts: tuple[tuple[str, ...], ...],
    limits: Limits,
) -> tuple[Said, ...]:
    over = sorted((s for s in strains if s.over), key=lambda s: s.limit_a - s.drawn_a)
    found = [
        said(
            f"circuit.{s.part}", drawn_a=s.drawn_a, limit_a=s.limit_a, over_a=s.drawn_a - s.limit_a
        )
        for s in over
    ]
    if drop is not None and drop > MOST_DROP * limits.volts:
        share = drop / limits.volts
        found.append(said("circuit.drop", volts=drop, share=share, length_m=limits.lead.length_m))  # type: ignore[union-attr]
    if len(starts) > 1:
        found.append(
            said(
                "circuit.inrush",
                inrush_a=inrush_a,
                limit_a=TRIPS_AT * limits.breaker_a,
                starts=len(starts),
                apart_s=STAGGER_S,
            )
        )
    return tuple(found)
