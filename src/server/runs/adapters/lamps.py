"""Where a run's lamps hang: rows to core values."""

from dataclasses import dataclass, replace

from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING, Ageing, MaintenancePoint, ageing
from canopy.fixture.dimming import Dimmer
from canopy.light.sources import Bars
from canopy.plan.problem import HungLamp
from canopy.power.hanging import Frame, check_inside, fitting_turn_deg
from server.fixtures.adapters import (
    Placement,
    dimmer_of,
    lamp_at,
    layout_of,
    map_in_use,
    measured_map,
)
from server.fixtures.models import Fixture, LightMap
from server.runs.models import Run, RunLamp
from server.spaces.models import Space

SAME_CM = 1.0


@dataclass(frozen=True)
class HungFixture:
    """A lamp of a run: its fixture, its place and, if it has one, its own dial."""

    fixture: Fixture
    x_cm: float
    y_cm: float
    turn_deg: float = 0.0
    tilt_deg: float = 0.0
    raise_cm: float = 0.0
    bars_off: tuple[int, ...] = ()
    own_dial_pct: float | None = None

    @property
    def fixture_id(self) -> int:
        """The fixture's id."""
        return self.fixture.pk

    @property
    def bars_x_cm(self) -> tuple[float, ...]:
        """The axes of its bars, none for other shapes."""
        layout = layout_of(self.fixture.layout)
        return layout.bar_x_cm if isinstance(layout, Bars) else ()

    def frame(self) -> Frame:
        """Return its frame on the rail."""
        return Frame(
            frame_x_cm=self.fixture.frame_x_cm,
            frame_y_cm=self.fixture.frame_y_cm,
            body_cm=self.fixture.body_cm,
            closest_cm=self.fixture.closest_cm,
            x_cm=self.x_cm,
            y_cm=self.y_cm,
            turn_deg=self.turn_deg,
            tilt_deg=self.tilt_deg,
            raise_cm=self.raise_cm,
        )


def in_the_middle(space: Space, fixture: Fixture) -> HungFixture:
    """Return a fixture hung in the middle of a space, turned to fit.

    Raises
    ------
    CanopyError
        When it does not go in.
    """
    turn = fitting_turn_deg(fixture.frame_x_cm, fixture.frame_y_cm, space.width_cm, space.depth_cm)
    return HungFixture(fixture, space.width_cm / 2, space.depth_cm / 2, turn)


MOST_LAMPS = 16


def another_lamp(run: Run, fixture: Fixture, hung: int) -> HungFixture:
    """Return one more lamp for a run: in the middle, turned to fit, beside so many others.

    One of the run's own kind follows the dial, another is held at its own.

    Raises
    ------
    CanopyError
        When there are lamps enough, or it does not go in.
    """
    if hung >= MOST_LAMPS:
        raise CanopyError(f"{MOST_LAMPS} lamps are the most one space can have; take one out.")
    lamp = in_the_middle(run.space, fixture)
    return lamp if fixture.pk == run.fixture_id else replace(lamp, own_dial_pct=100.0)


def lamps_of(run: Run) -> list[HungFixture]:
    """Return a run's lamps as the grower hung them, or its fixture in the middle."""
    rows = list(
        RunLamp.objects.filter(
            arrangement__run=run,
            arrangement__space=run.space_id,
            arrangement__fixture=run.fixture_id,
        ).select_related("fixture", "fixture__light_map")
    )
    if not rows:
        return [in_the_middle(run.space, run.fixture)]
    return [_hung(row) for row in rows]


def _hung(row: RunLamp) -> HungFixture:
    return HungFixture(
        row.fixture,
        row.x_cm,
        row.y_cm,
        row.turn_deg,
        row.tilt_deg,
        row.raise_cm,
        tuple(row.bars_off),
        row.own_dial_pct,
    )


def check_lamps(space: Space, main: Fixture, lamps: list[HungFixture]) -> None:
    """Raise a sentence when lamps cannot hang like this."""
    if not any(follows(lamp, main) for lamp in lamps):
        raise CanopyError(
            f"At least one {main.name} has to follow the dial; free one or choose another lamp "
            "for the plan.",
            "lamps",
        )
    check_inside([lamp.frame() for lamp in lamps], space.width_cm, space.depth_cm)
    for i, lamp in enumerate(lamps):
        dial = lamp.own_dial_pct
        if dial is not None and not follows(lamp, main):
            positions = _dimmer(lamp.fixture).positions_pct()
            if not positions[0] <= dial <= positions[-1]:
                raise CanopyError(
                    f"The dial of {lamp.fixture.name} goes from {positions[0]:g} to "
                    f"{positions[-1]:g}; choose a position there.",
                    f"lamps.{i}.own_dial_pct",
                )
        if not lamp.bars_off:
            continue
        try:
            lamp_at(lamp.fixture, _placement(lamp))
        except CanopyError as error:
            raise error.at(f"lamps.{i}.{error.field}") from error


def follows(lamp: HungFixture, main: Fixture) -> bool:
    """Return whether a lamp follows the rail's dial, which is the main fixture's."""
    return lamp.fixture.pk == main.pk and lamp.own_dial_pct is None


def _dimmer(fixture: Fixture) -> Dimmer:
    return dimmer_of(fixture.dial_kind, fixture.dial_table)


def life_of(fixture: Fixture) -> Ageing:
    """Return how a fixture's light fades, as its maker states it."""
    if fixture.life_share is None or fixture.life_h is None:
        return NO_AGEING
    return ageing((MaintenancePoint(fixture.life_share, fixture.life_h),))


def _placement(lamp: HungFixture) -> Placement:
    return Placement(lamp.x_cm, lamp.y_cm, lamp.turn_deg, lamp.tilt_deg, lamp.bars_off)


def _measured_here(light_map: LightMap, space: Space) -> bool:
    """Return whether a map's readings were taken in this space: same size, same lining."""
    names = ("lining", "lining_left", "lining_right", "lining_front", "lining_back")
    return (
        light_map.origin == "own"
        and abs(light_map.width_cm - space.width_cm) < SAME_CM
        and abs(light_map.depth_cm - space.depth_cm) < SAME_CM
        and all(getattr(light_map, name) == getattr(space, name) for name in names)
    )


def hung_lamp(lamp: HungFixture, space: Space, main: Fixture) -> HungLamp:
    """Return a run's lamp as the core's."""
    placed = lamp_at(lamp.fixture, _placement(lamp))
    whole = lamp_at(lamp.fixture, Placement(lamp.x_cm, lamp.y_cm)) if lamp.bars_off else placed
    dimmer = _dimmer(lamp.fixture)
    # an unplugged bar draws nothing: its share of the light is taken as its share of the watts
    watts = lamp.fixture.watts * placed.ppf_umol_s / whole.ppf_umol_s
    own_light, own_watts = None, 0.0
    if not follows(lamp, main):
        dial = 100.0 if lamp.own_dial_pct is None else lamp.own_dial_pct
        own_light = float(dimmer.light_fraction(dial))
        own_watts = watts * float(dimmer.watts_fraction(dial))
    light_map = map_in_use(lamp.fixture)
    return HungLamp(
        lamp=placed,
        watts=watts,
        raise_cm=lamp.raise_cm,
        own_light=own_light,
        own_watts=own_watts,
        measured=None if light_map is None else measured_map(light_map, lamp.fixture),
        measured_here=light_map is not None and _measured_here(light_map, space),
        whole=whole if light_map is not None else None,
        life=life_of(lamp.fixture),
    )
