"""Up to four lamps side by side in a run's tent: floors, costs over years, maps."""

from collections.abc import Sequence
from dataclasses import dataclass

from canopy.errors import CanopyError
from canopy.fixture.ownership import CostLine, cost_line, crossing_years
from canopy.light.floors import (
    FloorDifference,
    MapTaken,
    floor_difference,
    map_notes,
    taken_from_readings,
)
from canopy.light.lightmap import Grid
from canopy.plan.ranking import cheapest
from canopy.words import Said
from server.choosing.adapters.ranking import (
    ShelfAnswer,
    ShelfRow,
    ShelfWishes,
    rounded,
    shelf_stage,
)
from server.fixtures.adapters import MAP
from server.fixtures.adapters.record import sound
from server.fixtures.models import Fixture
from server.runs.adapters.standing import Standing


@dataclass(frozen=True)
class CostPoint:
    """What has been spent by a time."""

    year: float
    cost: float


@dataclass(frozen=True)
class Difference:
    """How a floor differs from the first lamp's; see the core's ``FloorDifference``."""

    mean: float
    largest: float
    brighter: float
    dimmer: float
    floor: list[list[float]]

    @classmethod
    def of(cls, less: FloorDifference, grid: Grid) -> "Difference":
        """Return a difference of the core's with its map in rows."""
        return cls(less.mean, less.largest, less.brighter, less.dimmer, rounded(less.map_, grid))


@dataclass(frozen=True)
class ComparedAnswer(ShelfAnswer):
    """The lamps' rows, cost lines, payback against the present lamp, and what to know of maps.

    ``cheapest`` is the place of the row that does the job for the least in all; ``lines``,
    ``payback_years`` and ``differences`` go with the rows; a line is ``None`` without a
    price, a difference ``None`` for the first lamp and for those that are kept out.
    """

    cheapest: int | None
    lines: list[list[CostPoint] | None]
    payback_years: list[float | None]
    differences: list[Difference | None]
    notes: list[Said]


def compared_lamps(
    run: Standing, lamps: Sequence[tuple[Fixture, int]], present: int | None, wishes: ShelfWishes
) -> ComparedAnswer:
    """Return lamps side by side, each as the bench has it.

    The one at the present place costs nothing to buy.

    Raises
    ------
    CanopyError
        When no lamp is at that place.
    """
    if present is not None and present >= len(lamps):
        raise CanopyError("The lamp there now has to be one of those compared.", "present")
    hung = shelf_stage(run, wishes)
    rows = hung.rows(lamps, exact=True)
    lines = [_line(row, wishes, i == present) for i, row in enumerate(rows)]
    old = None if present is None else lines[present]
    return ComparedAnswer(
        *hung.head(),
        rows=rows,
        cheapest=cheapest([row.merit() for row in rows]),
        lines=[
            None if line is None else [CostPoint(at, cost) for at, cost in line.points()]
            for line in lines
        ],
        payback_years=[
            None if line is None or old is None or line is old else crossing_years(line, old)
            for line in lines
        ],
        differences=[None, *(_difference(row, rows[0]) for row in rows[1:])],
        # one and two of a lamp have one map
        notes=list(map_notes([_taken(f) for f in {f.pk: f for f, _ in lamps}.values()])),
    )


def _line(row: ShelfRow, wishes: ShelfWishes, owned: bool) -> CostLine | None:
    if row.cost is None or row.setting is None:
        return None
    lit_a_year = row.setting.hours * wishes.days_a_year
    price, life_h = row.purchase or 0.0, row.fixture.life_h
    return cost_line(row.cost, lit_a_year, life_h, wishes.years, price, owned)


def _difference(row: ShelfRow, first: ShelfRow) -> Difference | None:
    if row.ranked is None or first.ranked is None:
        return None
    grid = row.ranked.grid
    less = floor_difference(row.ranked.floor, first.ranked.floor, grid.area_weights())
    return Difference.of(less, grid)


def _taken(fixture: Fixture) -> MapTaken:
    """Return where a lamp's map was taken: its readings, else its maker's stated mean."""
    chosen = fixture.light_map if fixture.light_source == MAP else None
    chosen = chosen or fixture.maps.filter(removed=False, origin="maker").first()
    if chosen is not None:
        readings = [(r["x_cm"], r["y_cm"], r["height_cm"]) for r in chosen.readings]
        return taken_from_readings(fixture.name, chosen.width_cm, chosen.depth_cm, readings)
    said = sound(fixture).details
    x_cm, y_cm = said.get("map_x_cm"), said.get("map_y_cm")
    area = None if x_cm is None or y_cm is None else (float(x_cm), float(y_cm))
    return MapTaken(fixture.name, area, said.get("map_height_cm"))
