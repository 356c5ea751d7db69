"""The steps of hanging a run's lamps: what to do, what was read, what is left."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from canopy.crop.photoperiod import off_minute
from canopy.daylight.lampday import Window
from canopy.errors import CanopyError
from canopy.power.heat import warmth
from canopy.power.install import (
    SAFETY,
    STEPS,
    Channel,
    Facts,
    HungAt,
    Planned,
    Verdict,
    check_reading,
    install_steps,
    verdict,
)
from canopy.power.install import ReadingName as ReadingName
from canopy.power.install import StepName as StepName
from canopy.power.watching import DRAWS_NOTHING
from canopy.words import Said
from server.power.adapters.offers import Offer
from server.power.adapters.power import (
    HangingAnswer,
    circuit_answer,
    drivers_outside,
    hanging_of,
    socket_of,
)
from server.power.models import InstallTick
from server.runs.adapters.planning import Kept
from server.runs.adapters.season import SeasonAnswer, season_of
from server.runs.adapters.standing import Standing
from server.spaces.models import Space


@dataclass(frozen=True)
class ShownStep:
    """A step, whether it is done, and what its reading says of the plan as it now is."""

    name: StepName
    safety: bool
    lines: tuple[Said, ...]
    asks: tuple[ReadingName, ...]
    done_at: datetime | None
    readings: Mapping[str, float]
    by: str
    offers: list[Offer]
    verdict: Verdict | None


@dataclass(frozen=True)
class ShownChannel:
    """One channel of the timer, as it is to be typed in."""

    group: int
    on_minute: int
    off_minute: int
    hours: float
    dial_pct: float


@dataclass(frozen=True)
class Install:
    """All steps of a run's install, and what they are drawn by; lengths in cm."""

    run_id: int
    space: str
    lamp: str
    steps: list[ShownStep]
    left: list[StepName]
    width_cm: float
    depth_cm: float
    height_cm: float
    tops_cm: float
    body_cm: float
    corner: str
    socket_cm: float
    away_cm: float
    driver_outside: bool
    hanging: HangingAnswer
    channels: list[ShownChannel]


def kept_readings(step: StepName, values: dict[str, float | None]) -> dict[str, float]:
    """Return what was read at a step, as it is kept.

    Raises
    ------
    CanopyError
        When a reading is missing or cannot be.
    """
    return check_reading(step, values)


def _off(windows: tuple[Window, ...]) -> int:
    return off_minute(windows[-1].on_minute, windows[-1].hours)


def _channels(season: SeasonAnswer) -> list[ShownChannel]:
    first = next((s.planned for s in season.stages if s.planned is not None), None)
    if first is None or not season.rows:
        raise CanopyError("No stage of this plan can be; look at the season first.", "stages")
    day = season.rows[0]
    found = [
        ShownChannel(0, w.on_minute, off_minute(w.on_minute, w.hours), w.hours, day.dial_pct)
        for w in day.windows
    ]
    for group in first.groups:
        if group.own and group.own_timer and group.windows:
            window = group.windows[0]
            found.append(
                ShownChannel(
                    group.group,
                    window.on_minute,
                    _off(group.windows),
                    sum(w.hours for w in group.windows),
                    group.dial_pct,
                )
            )
    return found


def install_of(
    run: Standing,
    room: Space,
    kept: Kept,
    ticks: Mapping[str, InstallTick],
    offers: Mapping[StepName, list[Offer]],
) -> Install:
    """Return the steps of hanging a run's lamps, as its first day is planned.

    Raises
    ------
    CanopyError
        When none of its stages can be.
    """
    season = season_of(run, kept)
    channels, day = _channels(season), season.rows[0]
    hanging, outside = hanging_of(run, room, season), drivers_outside(run, room)
    circuit, socket = circuit_answer(run, room), socket_of(room)
    air = room.air
    inside = warmth(day.watts, outside, air.get("other_watts", 0.0), air.get("fan_m3_h"))
    facts = Facts(
        weight=hanging.weight,
        lamps=tuple(
            HungAt(tuple(lamp.marks_cm), lamp.face_cm, lamp.cord, lamp.sold_apart)
            for lamp in hanging.lamps
        ),
        height_cm=day.lamp_cm - day.tops_cm,
        ratchets=hanging.ratchets,
        socket=socket,
        driver_outside=outside,
        ultraviolet=run.fixture.details.get("far_red") in ("with", "own"),
        circuit=None if circuit is None else circuit.check,
        channels=tuple(Channel(c.group, c.on_minute, c.off_minute, c.dial_pct) for c in channels),
        ramp_min=run.space.ramp_min,
        watts=day.watts,
        tent_rise_k=inside.tent_rise_k,
    )
    planned = Planned(
        channels[0].on_minute,
        channels[0].off_minute,
        day.watts,
        inside.tent_rise_k,
        channels[1].on_minute if len(channels) > 1 else None,
        channels[1].off_minute if len(channels) > 1 else None,
    )
    return Install(
        run_id=run.run_id,
        space=run.space.name,
        lamp=run.fixture.name,
        steps=[
            _shown(
                step.name,
                step.lines,
                ticks.get(step.name),
                planned,
                step.readings,
                [each for each in offers.get(step.name, []) if _says(each, planned.watts)],
            )
            for step in install_steps(facts)
        ],
        left=left_of(set(ticks)),
        width_cm=run.space.width_cm,
        depth_cm=run.space.depth_cm,
        height_cm=run.space.height_cm,
        tops_cm=day.tops_cm,
        body_cm=max(lamp.fixture.body_cm for lamp in run.lamps),
        corner=socket.corner,
        socket_cm=socket.height_cm,
        away_cm=socket.away_cm,
        driver_outside=outside,
        hanging=hanging,
        channels=channels,
    )


def _says(offer: Offer, planned_watts: float) -> bool:
    """Return whether what a device offers says something: a meter of a dark lamp does not."""
    return offer.readings.get("watts", planned_watts) >= DRAWS_NOTHING * planned_watts


def _shown(
    name: StepName,
    lines: tuple[Said, ...],
    tick: InstallTick | None,
    planned: Planned,
    asks: tuple[ReadingName, ...],
    offers: list[Offer],
) -> ShownStep:
    return ShownStep(
        name=name,
        safety=name in SAFETY,
        lines=lines,
        asks=asks,
        done_at=None if tick is None else tick.made_at,
        readings={} if tick is None else tick.readings,
        by="" if tick is None else tick.by,
        offers=[each for each in offers if each.readings.keys() <= set(asks)],
        verdict=None if tick is None else verdict(name, tick.readings, planned),
    )


def left_of(done: set[str]) -> list[StepName]:
    """Return the steps that keep somebody safe and are not done, in their order."""
    return [step for step in STEPS if step in SAFETY and step not in done]
