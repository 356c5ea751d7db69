"""Sums asked for, to the core's and back."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from canopy.errors import CanopyError
from canopy.formats.maptable import MapReading, MapTable, write_map_table
from canopy.formats.pasted import MOST_SIDE as MOST_SIDE
from canopy.formats.pasted import MOST_TEXT as MOST_TEXT
from canopy.formats.pasted import read_block
from canopy.light.lightmap import MapStatistics
from canopy.light.typed import typed_map
from canopy.sums import Worked as Worked
from canopy.sums import (
    at_the_dial,
    by_the_eye,
    day_sum,
    from_the_eye,
    hours_on_a_timer,
    map_sum,
    measures,
    needed_ppfd,
    running,
)
from canopy.words import Said
from server.fixtures.adapters import dimmer_of
from server.fixtures.adapters.record import light_of
from server.fixtures.models import Fixture


def worked(values: dict[str, Any], fixture: Fixture | None) -> Worked:
    """Return a sum by its kind and figures; some need a lamp.

    Raises
    ------
    CanopyError
        When it cannot be, with the figure's name.
    """
    figures = {name: value for name, value in values.items() if name not in ("kind", "fixture_id")}
    match values["kind"]:
        case "dli":
            return day_sum(**figures)
        case "hours":
            return hours_on_a_timer(**figures)
        case "ppfd":
            return needed_ppfd(**figures)
        case "cost":
            return running(**figures)
        case "measures":
            return measures(**figures)
        case "dial":
            lamp = _lamp(fixture)
            dimmer = dimmer_of(lamp)
            return at_the_dial(dimmer, lamp.watts, lamp.ppf_umol_s, **figures)
        case "lux":
            return by_the_eye(figures["ppfd"], _factor(fixture))
        case _:
            return from_the_eye(figures["lux"], _factor(fixture))


def _lamp(fixture: Fixture | None) -> Fixture:
    if fixture is None:
        raise CanopyError("Choose a lamp; that differs from one to the next.", "fixture_id")
    return fixture


def _factor(fixture: Fixture | None) -> float:
    lamp = _lamp(fixture)
    light = light_of(lamp.spectrum)
    if light is None:
        raise CanopyError(
            f"The spectrum of {lamp.name} is not known; give its whites and colours in its record.",
            "fixture_id",
        )
    return light.lux_per_umol


@dataclass(frozen=True)
class ReadMap:
    """A typed or pasted map: its figures where they stand, what they come to, and as a table."""

    rows: tuple[tuple[float | None, ...], ...]
    x_cm: list[float]
    y_cm: list[float]
    count: int
    total: float
    statistics: MapStatistics
    figures: dict[str, float]
    formula: tuple[Said, ...]
    notes: tuple[Said, ...]
    table: str


def read_map(
    rows: Sequence[Sequence[float | None]] | None,
    text: str,
    area: dict[str, Any],
    distance_cm: float | None,
    dial_pct: float | None,
    dli: float,
    timer_step_min: int,
) -> ReadMap:
    """Return a map from rows of figures, or from a text that holds them.

    Raises
    ------
    CanopyError
        When it cannot be read, with row and column.
    """
    notes: tuple[Said, ...] = ()
    if rows is None:
        block = read_block(text)
        rows, notes = block.rows, block.notes
    found = typed_map(rows, **area)
    worked_out = map_sum(found, dli, timer_step_min)
    table = ""
    if distance_cm is not None:
        table = write_map_table(
            MapTable(
                tuple(
                    MapReading(x, y, distance_cm, value, dial_pct)
                    for x, y, value in found.readings()
                )
            )
        )
    return ReadMap(
        rows=found.rows,
        x_cm=found.x_cm.tolist(),
        y_cm=found.y_cm.tolist(),
        count=found.count,
        total=found.total,
        statistics=found.statistics,
        figures=worked_out.figures,
        formula=worked_out.formula,
        notes=notes,
        table=table,
    )
