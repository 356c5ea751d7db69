"""The switches of a run's lamp as they stand: what is shown of them, its dial and its colour."""

from dataclasses import dataclass
from datetime import date

from canopy.fixture.dimming import Dimmer
from canopy.light.spectrum import LightFigures
from server.fixtures.adapters.switches import light_standing, shares_of
from server.runs.adapters.lamps import HungFixture, follows, rail_lamp
from server.runs.adapters.standing import StagePart, Standing


@dataclass(frozen=True)
class ShownSwitch:
    """One of the lamp's switches: its shares of light and watts, and where it stands.

    Without ``dial_pct`` it goes with the plan's dial; 0 is off.
    """

    number: int
    name: str
    dimmed: bool
    fan: bool
    light_share: float
    watts_share: float
    dial_pct: float | None


def shown_switches(run: Standing, part: StagePart) -> list[ShownSwitch]:
    """Return the switches of a run's lamp as they stand at a part of a stage."""
    standing = run.switched(part)
    return [
        ShownSwitch(i + 1, switch.name, switch.dimmed, switch.fan, light, watts, standing.get(i))
        for i, (switch, light, watts) in enumerate(shares_of(run.fixture))
    ]


def dial_on(run: Standing, lamp: HungFixture, day: date) -> Dimmer:
    """Return a lamp's dial with its switches as they stand on a day of the run, else all on."""
    part = run.part_on(day)
    if part is None or not follows(lamp, run.fixture):
        return lamp.dimmer()
    return lamp.dimmer(run.switched(part))


def light_on(
    run: Standing, lamp: HungFixture, day: date, dial_pct: float | None
) -> LightFigures | None:
    """Return what a lamp's light is on a day of the run, at a dial or at its highest, if known."""
    part = run.part_on(day)
    standing = {} if part is None or not follows(lamp, run.fixture) else run.switched(part)
    dial = lamp.dial()
    at = dial.rows[-1].position_pct if dial_pct is None else dial_pct
    return light_standing(lamp.fixture, dial, standing, at)


def light_at(run: Standing, part: StagePart, dial_pct: float) -> LightFigures | None:
    """Return what the light of a run's lamp is at a part of a stage and a dial, where known."""
    dial = rail_lamp(run.lamps, run.fixture).dial()
    return light_standing(run.fixture, dial, run.switched(part), dial_pct)
