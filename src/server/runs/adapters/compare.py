"""Up to four lamps side by side in a run's tent: floors, costs over years, maps."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from canopy.errors import CanopyError
from canopy.fixture.ownership import CostLine, Ownership, cost_line, crossing_years
from canopy.plan.compare import (
    FloorDifference,
    MapTaken,
    floor_difference,
    map_notes,
    taken_from_readings,
)
from server.fixtures.adapters import MAP
from server.fixtures.adapters.record import sound
from server.fixtures.models import Fixture
from server.runs.adapters.shelf import (
    DECIMALS,
    HungShelf,
    ShelfWishes,
    candidate_row,
    does_the_job,
    hung_shelf,
)
from server.runs.models import Run


@dataclass(frozen=True)
class ComparedAnswer:
    """The lamps' rows, cost lines, payback against the present lamp, and what to know of maps.

    ``cheapest`` is the place of the row that does the job for the least in all; ``lines``,
    ``payback_years`` and ``differences`` go with the rows; a line is ``None`` without a
    price, a difference ``None`` for the first lamp and for those that are kept out.
    """

    stage_id: int
    stage: str
    dli_low: float
    dli_high: float
    x_cm: list[float]
    y_cm: list[float]
    rows: list[dict[str, Any]]
    cheapest: int | None
    lines: list[list[dict[str, float]] | None]
    payback_years: list[float | None]
    differences: list[dict[str, Any] | None]
    notes: list[str]


def compared_lamps(
    run: Run, lamps: Sequence[tuple[Fixture, int]], present: int | None, wishes: ShelfWishes
) -> ComparedAnswer:
    """Return lamps side by side; the one at the present place costs nothing to buy.

    Raises
    ------
    CanopyError
        When no lamp is at that place.
    """
    if present is not None and present >= len(lamps):
        raise CanopyError("The lamp there now has to be one of those compared.", "present")
    hung = hung_shelf(run, wishes)
    rows = [candidate_row(run, hung, fixture, count, wishes) for fixture, count in lamps]
    lines = [
        _line(row, fixture, wishes, i == present)
        for i, (row, (fixture, _)) in enumerate(zip(rows, lamps, strict=True))
    ]
    old = None if present is None else lines[present]
    payback = [
        None if line is None or old is None or line is old else crossing_years(line, old)
        for line in lines
    ]
    return ComparedAnswer(
        **hung.head(),
        rows=rows,
        cheapest=_cheapest(rows),
        lines=[
            None if line is None else [{"year": at, "cost": cost} for at, cost in line.points()]
            for line in lines
        ],
        payback_years=payback,
        differences=_differences(hung, rows),
        # one and two of a lamp have one map
        notes=list(map_notes([_taken(f) for f in {f.pk: f for f, _ in lamps}.values()])),
    )


def _cheapest(rows: list[dict[str, Any]]) -> int | None:
    doing = [i for i, row in enumerate(rows) if does_the_job(row) and row["cost"]]
    return min(doing, key=lambda i: float(rows[i]["cost"]["total"]), default=None)


def _line(
    row: dict[str, Any], fixture: Fixture, wishes: ShelfWishes, owned: bool
) -> CostLine | None:
    if row["cost"] is None:
        return None
    lit_a_year = row["setting"].hours * wishes.days_a_year
    cost = Ownership(**{n: row["cost"][n] for n in Ownership.__dataclass_fields__})
    price = row["purchase"] or 0.0
    return cost_line(cost, lit_a_year, fixture.life_h, wishes.years, price, owned)


def _differences(hung: HungShelf, rows: list[dict[str, Any]]) -> list[dict[str, Any] | None]:
    floors = [np.array(row["floor"]).ravel() if row["floor"] else None for row in rows]
    first, grid = floors[0], hung.shelf.grid
    found: list[dict[str, Any] | None] = []
    for i, floor in enumerate(floors):
        if i == 0 or floor is None or first is None:
            found.append(None)
            continue
        less: FloorDifference = floor_difference(floor, first, hung.shelf.weights)
        shown = np.round(less.map_.reshape(grid.ny, grid.nx), DECIMALS).tolist()
        found.append({**asdict(replace(less, map_=less.map_[:0])), "floor": shown})
    return found


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
