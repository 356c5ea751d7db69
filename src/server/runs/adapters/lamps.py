"""Where a run's lamps hang: rows to core values."""

from dataclasses import dataclass

from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.light.sources import Bars
from canopy.light.stands import Stand
from canopy.plan.bench import HungLamp
from canopy.power.hanging import Hang, check_inside, fitting_turn_deg, rail_limits_cm
from server.fixtures.adapters import (
    Hanging,
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
class Hung:
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

    def hang(self) -> Hang:
        """Return its frame on the rail."""
        return Hang(
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


def in_the_middle(space: Space, fixture: Fixture) -> Hung:
    """Return a fixture hung in the middle of a space, turned to fit.

    Raises
    ------
    CanopyError
        When it does not go in.
    """
    turn = fitting_turn_deg(fixture.frame_x_cm, fixture.frame_y_cm, space.width_cm, space.depth_cm)
    return Hung(fixture, space.width_cm / 2, space.depth_cm / 2, turn)


def lamps_of(run: Run) -> list[Hung]:
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


def _hung(row: RunLamp) -> Hung:
    return Hung(
        row.fixture,
        row.x_cm,
        row.y_cm,
        row.turn_deg,
        row.tilt_deg,
        row.raise_cm,
        tuple(row.bars_off),
        row.own_dial_pct,
    )


def check_lamps(space: Space, main: Fixture, lamps: list[Hung]) -> None:
    """Raise a sentence when lamps cannot hang like this."""
    if not any(follows(lamp, main) for lamp in lamps):
        raise CanopyError(
            f"At least one {main.name} has to follow the dial; free one or choose another lamp "
            "for the plan.",
            "lamps",
        )
    check_inside([lamp.hang() for lamp in lamps], space.width_cm, space.depth_cm)
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
            lamp_at(lamp.fixture, _hanging(lamp))
        except CanopyError as error:
            raise CanopyError(error.sentence, f"lamps.{i}.{error.field}") from error


def follows(lamp: Hung, main: Fixture) -> bool:
    """Return whether a lamp follows the rail's dial, which is the main fixture's."""
    return lamp.fixture.pk == main.pk and lamp.own_dial_pct is None


def _dimmer(fixture: Fixture) -> Dimmer:
    return dimmer_of(fixture.dial_kind, fixture.dial_table)


def _hanging(lamp: Hung) -> Hanging:
    return Hanging(lamp.x_cm, lamp.y_cm, lamp.turn_deg, lamp.tilt_deg, lamp.raise_cm, lamp.bars_off)


def _measured_here(light_map: LightMap, space: Space) -> bool:
    """Return whether a map's readings were taken in this space: same size, same lining."""
    names = ("lining", "lining_left", "lining_right", "lining_front", "lining_back")
    return (
        light_map.origin == "own"
        and abs(light_map.width_cm - space.width_cm) < SAME_CM
        and abs(light_map.depth_cm - space.depth_cm) < SAME_CM
        and all(getattr(light_map, name) == getattr(space, name) for name in names)
    )


def hung_lamp(lamp: Hung, space: Space, main: Fixture) -> HungLamp:
    """Return a run's lamp as the core's."""
    placed = lamp_at(lamp.fixture, _hanging(lamp))
    whole = lamp_at(lamp.fixture, Hanging(lamp.x_cm, lamp.y_cm)) if lamp.bars_off else placed
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
        own_light=own_light,
        own_watts=own_watts,
        measured=None if light_map is None else measured_map(light_map, lamp.fixture),
        measured_here=light_map is not None and _measured_here(light_map, space),
        whole=whole if light_map is not None else None,
    )


def _lifted_cm(lamp: Hung, stands: tuple[Stand, ...]) -> float:
    """Return the highest step that a lamp's frame, seen from above, hangs over."""
    corners = lamp.hang().corners_cm()
    low, high = corners.min(axis=0), corners.max(axis=0)
    over = [
        stand.raise_cm
        for stand in stands
        if stand.x_cm < high[0]
        and stand.x_cm + stand.width_cm > low[0]
        and stand.y_cm < high[1]
        and stand.y_cm + stand.depth_cm > low[1]
    ]
    return max(over, default=0.0)


def rail_span_cm(
    lamps: list[Hung], space: Space, top_cm: float, stands: tuple[Stand, ...]
) -> tuple[float, float]:
    """Return how low and how high the rail goes over tops at a height above the floor."""
    return rail_limits_cm(
        [lamp.hang() for lamp in lamps],
        space.height_cm - top_cm - space.hangers_cm,
        [_lifted_cm(lamp, stands) for lamp in lamps],
    )
