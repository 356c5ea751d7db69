"""A lamp that hangs in a run: its fixture, its own past and its place, to core values."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from canopy.daylight.lampday import Window
from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING, Ageing, MaintenancePoint, ageing
from canopy.fixture.dimming import Dimmer
from canopy.fixture.piece import as_it_is
from canopy.light.sources import Bars, Side
from canopy.plan.problem import HungLamp
from canopy.power.hanging import Frame, check_inside, fitting_turn_deg
from server.fixtures.adapters import (
    Placement,
    dead_of,
    dial_of,
    lamp_at,
    layout_of,
    map_in_use,
    measured_map,
)
from server.fixtures.adapters.known import known_of
from server.fixtures.adapters.switches import ALL_ON, Standing, switched_dial
from server.fixtures.models import Fixture, LightMap, OwnedLamp
from server.spaces.models import Space

SAME_CM = 1.0


@dataclass(frozen=True)
class HungFixture:
    """A lamp of a run: its fixture, its place and, if it has them, its own dial and past."""

    fixture: Fixture
    x_cm: float
    y_cm: float
    turn_deg: float = 0.0
    tilt_deg: float = 0.0
    raise_cm: float = 0.0
    bars_off: tuple[int, ...] = ()
    own_dial_pct: float | None = None
    piece: OwnedLamp | None = None
    group: int = 0

    @property
    def piece_id(self) -> int | None:
        """Which of the grower's own lamps it is."""
        return None if self.piece is None else self.piece.pk

    @property
    def dark_bars(self) -> tuple[int, ...]:
        """Bars that give no light: unplugged, or dead."""
        dead = () if self.piece is None else self.piece.dead_bars
        return tuple(sorted({*self.bars_off, *dead}))

    @property
    def dead(self) -> tuple[Side, float] | None:
        """From which side how much else of it is dead; none where nothing is."""
        return None if self.piece is None else dead_of(vars(self.piece))

    def dial(self) -> Dimmer:
        """Return the dial of what of it has one: its own as measured, else that of its kind."""
        own = None if self.piece is None else self.piece.dial_table
        return dial_of(self.fixture.dial_kind, own or self.fixture.dial_table)

    def dimmer(self, standing: Standing = ALL_ON) -> Dimmer:
        """Return its dial with its switches standing somehow."""
        return switched_dial(self.fixture, self.dial(), standing)

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


def rail_lamp(lamps: list[HungFixture], main: Fixture) -> HungFixture:
    """Return the lamp whose dial is the rail's: the first that always follows it."""
    return next((lamp for lamp in lamps if _leads(lamp, main)), HungFixture(main, 0.0, 0.0))


def _check_pieces(lamps: list[HungFixture]) -> None:
    hung: set[int] = set()
    for i, lamp in enumerate(lamps):
        piece = lamp.piece
        if piece is None:
            continue
        if piece.fixture_id != lamp.fixture.pk:
            raise CanopyError(
                f"{piece.name} is no {lamp.fixture.name}; choose one that is.",
                f"lamps.{i}.piece_id",
            )
        if piece.pk in hung:
            raise CanopyError(
                f"{piece.name} hangs here already; one lamp cannot hang twice.",
                f"lamps.{i}.piece_id",
            )
        hung.add(piece.pk)


def check_lamps(space: Space, main: Fixture, lamps: list[HungFixture]) -> None:
    """Raise a sentence when lamps cannot hang like this."""
    if not any(_leads(lamp, main) for lamp in lamps):
        raise CanopyError(
            f"At least one {main.name} has to follow the dial, in no group of its own; free one "
            "or choose another lamp for the plan.",
            "lamps",
        )
    _check_pieces(lamps)
    check_inside([lamp.frame() for lamp in lamps], space.width_cm, space.depth_cm)
    for i, lamp in enumerate(lamps):
        dial = lamp.own_dial_pct
        if dial is not None and not follows(lamp, main):
            positions = lamp.dimmer().positions_pct()
            if not positions[0] <= dial <= positions[-1]:
                raise CanopyError(
                    f"The dial of {lamp.fixture.name} goes from {positions[0]:g} to "
                    f"{positions[-1]:g}; choose a position there.",
                    f"lamps.{i}.own_dial_pct",
                )
        if not lamp.dark_bars and lamp.dead is None:
            continue
        try:
            lamp_at(lamp.fixture, _placement(lamp))
        except CanopyError as error:
            raise error.at(f"lamps.{i}.{error.field}") from error


def follows(lamp: HungFixture, main: Fixture) -> bool:
    """Return whether a lamp follows the rail's dial, which is the main fixture's."""
    return lamp.fixture.pk == main.pk and lamp.own_dial_pct is None


def _leads(lamp: HungFixture, main: Fixture) -> bool:
    """Return whether a lamp follows the rail's dial at every stage, in no group of its own."""
    return follows(lamp, main) and not lamp.group


def life_of(fixture: Fixture) -> Ageing:
    """Return how a fixture's light fades, as its maker states it."""
    if fixture.life_share is None or fixture.life_h is None:
        return NO_AGEING
    return ageing((MaintenancePoint(fixture.life_share, fixture.life_h),))


def _placement(lamp: HungFixture) -> Placement:
    return Placement(lamp.x_cm, lamp.y_cm, lamp.turn_deg, lamp.tilt_deg, lamp.dark_bars, lamp.dead)


def measured_here(light_map: LightMap, space: Space) -> bool:
    """Return whether a map's readings were taken in this space: same size, same lining."""
    return (
        light_map.origin == "own"
        and abs(light_map.width_cm - space.width_cm) < SAME_CM
        and abs(light_map.depth_cm - space.depth_cm) < SAME_CM
        and light_map.lined_like(space)
    )


@dataclass(frozen=True)
class GroupSetting:
    """Where a group's dial stands, 0 for off, and when it is on; no windows: with the rail's."""

    dial_pct: float
    windows: tuple[Window, ...] = ()


def overlapping(windows: list[dict[str, Any]]) -> bool:
    """Return whether on-windows overlap."""
    lit = [Window(**window).lit() for window in windows]
    return bool((np.sum(lit, axis=0) > 1).any()) if lit else False


def hung_lamp(
    lamp: HungFixture, space: Space, main: Fixture, own: GroupSetting | None = None
) -> HungLamp:
    """Return a run's lamp as the core's: as its kind, but for what is known of this one.

    ``own`` is its group's setting, where it has one.
    """
    fixture, piece = lamp.fixture, lamp.piece
    placed = lamp_at(fixture, _placement(lamp))
    whole = (
        lamp_at(fixture, Placement(lamp.x_cm, lamp.y_cm)) if lamp.dark_bars or lamp.dead else placed
    )
    light_map = map_in_use(fixture)
    dead = whole
    if piece is not None and (piece.dead_bars or lamp.dead):
        off = tuple(piece.dead_bars)
        alive = Placement(lamp.x_cm, lamp.y_cm, bars_off=off, dead=lamp.dead)
        dead = lamp_at(fixture, alive)
    own_readings = light_map is not None and light_map.origin == "own"
    now = as_it_is(
        fixture.watts,
        lit_share=placed.ppf_umol_s / whole.ppf_umol_s,
        alive_share=dead.ppf_umol_s / whole.ppf_umol_s,
        measured_watts=None if piece is None else piece.watts,
        # own readings are of the lamp as it is by now
        life=None if own_readings else life_of(fixture),
        burned_h=0.0 if piece is None else piece.burned_h,
    )
    if now.light_share < 1:
        placed = replace(placed, ppf_umol_s=placed.ppf_umol_s * now.light_share)
    own_light, own_watts = None, 0.0
    windows: tuple[Window, ...] = ()
    if own is not None and own.dial_pct == 0:
        own_light = 0.0
    elif own is not None or not follows(lamp, main):
        dial = 100.0 if lamp.own_dial_pct is None else lamp.own_dial_pct
        if own is not None:
            dial, windows = own.dial_pct, own.windows
        dimmer = lamp.dimmer()
        own_light = float(dimmer.light_fraction(dial))
        own_watts = now.watts * float(dimmer.watts_fraction(dial))
    return HungLamp(
        lamp=placed,
        watts=now.watts,
        raise_cm=lamp.raise_cm,
        own_light=own_light,
        own_watts=own_watts,
        own_windows=windows,
        group=0 if own is None else lamp.group,
        measured=None if light_map is None else measured_map(light_map, fixture),
        measured_here=light_map is not None and measured_here(light_map, space),
        whole=whole if light_map is not None else None,
        life=life_of(fixture),
        known=known_of(fixture, piece, light_map),
    )
