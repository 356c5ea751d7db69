"""Run files (`*.run.json`): a run's own copy of all it stands on. Grammar: docs/formats/run.md.

A run that has begun is planned from its run file alone, whatever becomes of the space, crop and
lamps it was made of.
"""

import json
from dataclasses import dataclass
from typing import Any, Final, get_args

from canopy.errors import CanopyError
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.fixture.record import FIGURES, Limit
from canopy.formats.fixturefile import read_fixture_record, read_light_file
from canopy.formats.growing import (
    BURNED_H,
    DAYLIGHT_DLI,
    DIAL,
    LAMP_LIMITS,
    MINUTE,
    MOST_BARS,
    MOST_GROUPS,
    MOST_NAME,
    MOST_STAGES,
    limited,
    maybe,
    read_crop,
    read_linings,
    read_space,
    read_tariff,
    read_wishes,
    rows,
    text,
)
from canopy.formats.layout import SIDE_CM
from canopy.formats.maptable import LIMITS as READING_LIMITS
from canopy.formats.maptable import MOST_READINGS
from canopy.formats.reader import Fields, load_json, number
from canopy.formats.scene import HEIGHT_CM
from canopy.light.sources import MOST_DEAD, Side

FORMAT: Final = "idle-canopy/run"
VERSION: Final = 1
MOST_WINDOWS: Final = 24
MOST_LAMPS: Final = 16
"""Lamps one space can have."""


@dataclass(frozen=True)
class RunFile:
    """A run file as read: every part by its figures' names, and fields nobody knows.

    ``fixtures`` holds a record a kind of lamp with its ``id``; ``main`` is the id of the one the
    dial is of; ``lamps`` say which kind hangs where, none means the main one in the middle.
    ``above`` is what falls through from a shelf above, by the stages' ids.
    """

    space: dict[str, Any]
    tariff: dict[str, Any]
    crop: dict[str, Any]
    fixtures: list[dict[str, Any]]
    main: int
    lamps: list[dict[str, Any]]
    wishes: dict[str, Any]
    above: list[dict[str, Any]]
    ignored: tuple[str, ...]


def _reading(fields: Fields) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, (low, high) in READING_LIMITS.items():
        if name in ("dial_pct", "watts"):
            found[name] = maybe(fields, name, Limit(low, high))
        else:
            found[name] = fields.number(name, low, high)
    found["note"] = text(fields, "note", 500)
    fields.done()
    return found


def read_map_copy(fields: Fields) -> dict[str, Any]:
    """Return a light map by its figures' names: its readings, and where they were taken."""
    sides = {
        "width_cm": Limit(*SIDE_CM),
        "depth_cm": Limit(*SIDE_CM),
        "height_cm": Limit(*HEIGHT_CM),
    }
    places = {
        "floor_reflectance": Limit(0, 0.99),
        "lamp_x_cm": Limit(0, SIDE_CM[1]),
        "lamp_y_cm": Limit(0, SIDE_CM[1]),
        "turn_deg": Limit(-360, 360),
    }
    found = {
        "name": text(fields, "name", MOST_NAME, 1),
        "origin": fields.word("origin", ("maker", "own")),
        "readings": [_reading(row) for row in rows(fields, "readings", MOST_READINGS)],
        **limited(fields, sides | places),
        **read_linings(fields),
    }
    fields.done()
    return found


def _fixture(fields: Fields) -> dict[str, Any]:
    record = Fields(fields.raw("record"), fields.name_of("record"), fields.ignored)
    found: dict[str, Any] = {
        "id": fields.whole("id", 0, 2**53),
        "record": read_fixture_record(record),
        "light_source": fields.word("light_source", ("model", "photometric", "map")),
        "light_file": None,
        "map": None,
    }
    record.done()
    if fields.raw("light_file", None) is not None:
        found["light_file"] = read_light_file(fields.object("light_file"))
    if fields.raw("map", None) is not None:
        found["map"] = read_map_copy(fields.object("map"))
    needed = {"photometric": "light_file", "map": "map"}.get(found["light_source"])
    if needed and found[needed] is None:
        raise CanopyError(f"{fields.name_of(needed)} is missing.", fields.name_of(needed))
    fields.done()
    return found


def read_piece(fields: Fields, kind: str) -> dict[str, Any]:
    """Return one lamp's own figures: burning hours, measured watts and dial, and what is dead.

    ``kind`` is its fixture's kind of dial.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    dial = [
        {
            "position_pct": row.number("position_pct", 0, 100),
            "watts_fraction": row.number("watts_fraction", 0, 1),
            "light_fraction": row.number("light_fraction", 0, 1),
        }
        for row in rows(fields, "dial_table", 101)
    ]
    if dial:
        Dimmer(kind, tuple(DialRow(**row) for row in dial))  # type: ignore[arg-type]
    watts = FIGURES["watts"]
    found = {
        "burned_h": fields.number("burned_h", BURNED_H.low, BURNED_H.high),
        "watts": maybe(fields, "watts", watts),
        "dial_table": dial,
        "dead_bars": read_bars(fields, "dead_bars"),
        # files written before parts could be dead have none
        "dead_share": fields.number("dead_share", 0, MOST_DEAD, default=0),
        "dead_side": fields.word("dead_side", get_args(Side), "all"),
    }
    return found


def read_bars(fields: Fields, name: str) -> list[int]:
    """Return a list of bars by their numbers."""
    value, where = fields.raw(name, []), fields.name_of(name)
    if not isinstance(value, list) or len(value) > MOST_BARS:
        raise CanopyError(f"{where} should be a list of at most {MOST_BARS} bars.", where)
    return [int(number(bar, f"{where}.{i}", 0, MOST_BARS)) for i, bar in enumerate(value)]


def _lamp(fields: Fields, kinds: dict[int, str]) -> dict[str, Any]:
    fixture = fields.whole("fixture", 0, 2**53)
    if fixture not in kinds:
        where = fields.name_of("fixture")
        raise CanopyError(f"{where} is {fixture}; no fixture of this file has that id.", where)
    found = {
        "fixture": fixture,
        **limited(fields, LAMP_LIMITS),
        "bars_off": read_bars(fields, "bars_off"),
        "own_dial_pct": maybe(fields, "own_dial_pct", DIAL),
        # files written before there were groups have none
        "group": fields.whole("group", 0, MOST_GROUPS, 0),
        "piece": None,
    }
    if fields.raw("piece", None) is not None:
        piece = fields.object("piece")
        found["piece"] = {
            "id": piece.whole("id", 0, 2**53),
            "name": text(piece, "name", MOST_NAME, 1),
            **read_piece(piece, kinds[fixture]),
        }
        piece.done()
    fields.done()
    return found


def _above(fields: Fields) -> dict[str, Any]:
    """Return what falls through to a stage from the shelf above."""
    windows = []
    for row in rows(fields, "windows", MOST_WINDOWS):
        on = row.whole("on_minute", int(MINUTE.low), int(MINUTE.high))
        windows.append({"on_minute": on, "hours": row.number("hours", 0, 24)})
        row.done()
    found = {
        "stage": fields.whole("stage", 0, 2**53),
        "dli": fields.number("dli", DAYLIGHT_DLI.low, DAYLIGHT_DLI.high),
        "windows": windows,
    }
    fields.done()
    return found


def read_run_file(value: Any) -> RunFile:
    """Return the run in a parsed run file.

    Raises
    ------
    CanopyError
        With the field's name and what to do.
    """
    ignored: list[str] = []
    fields = Fields(value, "", ignored)
    if fields.raw("format", None) != FORMAT:
        raise CanopyError(f'This is no run file: its format should be "{FORMAT}".', "format")
    if fields.raw("version", None) != VERSION:
        raise CanopyError(f"Only version {VERSION} of run files can be read.", "version")
    fixtures = [_fixture(row) for row in rows(fields, "fixtures", MOST_LAMPS + 1)]
    kinds = {row["id"]: row["record"]["dial_kind"] for row in fixtures}
    main = fields.whole("main", 0, 2**53)
    if main not in kinds or len(kinds) < len(fixtures):
        raise CanopyError(
            "main should be the id of one of the fixtures, each with its own.", "main"
        )
    found = RunFile(
        space=read_space(fields.object("space")),
        tariff=read_tariff(fields.object("tariff")),
        crop=read_crop(fields.object("crop")),
        fixtures=fixtures,
        main=main,
        lamps=[_lamp(row, kinds) for row in rows(fields, "lamps", MOST_LAMPS)],
        wishes=read_wishes(fields.object("wishes")),
        # files written before there were racks have none
        above=[_above(row) for row in rows(fields, "above", MOST_STAGES)],
        ignored=(),
    )
    fields.done()
    return RunFile(**{**vars(found), "ignored": tuple(ignored)})


def read_run_text(content: str) -> RunFile:
    """Return the run in a run file's text."""
    return read_run_file(load_json(content.lstrip("\ufeff"), "The run file"))


def run_document(run: RunFile) -> dict[str, Any]:
    """Return a run as JSON has it; :func:`read_run_file` takes it back unchanged."""
    wishes = run.wishes | {"started_on": run.wishes["started_on"].isoformat()}
    parts = {name: getattr(run, name) for name in ("space", "tariff", "crop", "fixtures", "main")}
    return {
        "format": FORMAT,
        "version": VERSION,
        **parts,
        "lamps": run.lamps,
        "wishes": wishes,
        "above": run.above,
    }


def write_run_file(run: RunFile) -> str:
    """Return a run as a run file's text."""
    return json.dumps(run_document(run), ensure_ascii=False, indent=1) + "\n"
