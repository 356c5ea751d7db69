"""Readings that come as a table: pasted, or a file."""

import base64
import re
from dataclasses import dataclass
from typing import Any

from canopy.errors import CanopyError
from canopy.formats.maptable import BadCell, Mended, map_sheet_text, read_map_table
from canopy.formats.pasted import read_block
from canopy.measure.readings import MOST_READINGS
from canopy.words import said, worded
from server.runs.adapters.standing import Standing

ZIP = b"PK"
FIGURE = re.compile(r"[+-]?[\d.,]+")


@dataclass(frozen=True)
class TableReading:
    """A reading of a table; its place in cm from the left and the front."""

    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    ppfd: float


@dataclass(frozen=True)
class WalkTable:
    """A table's readings, the cells to be mended, and how it was read."""

    readings: list[TableReading]
    bad: list[BadCell]
    notes: list[str]


def _text(content: str) -> str:
    try:
        data = base64.b64decode(content, validate=True)
        return map_sheet_text(data) if data[:2] == ZIP else data.decode("utf-8-sig")
    except ValueError as error:  # not base64, not ASCII, or not UTF-8
        if isinstance(error, CanopyError):
            raise
        sentence = "This is neither CSV in UTF-8 nor an XLSX workbook; save it as one of them."
        raise CanopyError(sentence, "content") from error


def _headless(text: str) -> bool:
    """Return whether a table begins with figures at once: its places are the tent's own cells."""
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines or any(line.lstrip().startswith("#") for line in lines[:1]):
        return False
    cells = [cell.strip() for cell in re.split(r"[\t; ]+", lines[0].strip())]
    return all(FIGURE.fullmatch(cell) for cell in cells if cell)


def _block(run: Standing, text: str, height_cm: float | None) -> WalkTable:
    if height_cm is None:
        raise CanopyError("Say how high the lamp hung above the sensor.", "height_cm")
    block = read_block(text)
    rows, columns = len(block.rows), len(block.rows[0])
    width, depth = run.space.width_cm, run.space.depth_cm
    found = [
        TableReading(
            (i + 0.5) * width / columns, depth - (j + 0.5) * depth / rows, height_cm, None, value
        )
        for j, row in enumerate(block.rows)
        for i, value in enumerate(row)
        if value is not None
    ]
    notes = [worded(note, "cm") for note in block.notes]
    notes.append(f"Read as {columns} × {rows} equal cells of this tent, the first row at the back.")
    return WalkTable(found, [], notes)


def walk_table(run: Standing, values: dict[str, Any]) -> WalkTable:
    """Return the readings in a table, and the cells of it that are to be mended.

    Raises
    ------
    CanopyError
        When it is no such table, has too many readings, or one outside the tent.
    """
    if bool(values["text"].strip()) == bool(values["content"]):
        raise CanopyError("Paste a table, or choose a file of one; one of the two.", "text")
    text = _text(values["content"]) if values["content"] else values["text"]
    if _headless(text):
        found = _block(run, text, values["height_cm"])
    else:
        mended: Mended = {(m["line"], m["place"]): m["text"] for m in values["mended"]}
        table = read_map_table(text, values["height_cm"], mended=mended)
        rows = [
            TableReading(r.x_cm, r.y_cm, r.height_cm, r.dial_pct, r.ppfd_umol_m2_s)
            for r in table.readings
        ]
        found = WalkTable(rows, list(table.bad), list(table.notes))
    if len(found.readings) > MOST_READINGS:
        raise CanopyError(
            f"{len(found.readings)} readings are in it; a walk takes {MOST_READINGS} at most. "
            "Take every second one.",
            "text",
        )
    space = run.space
    for row in found.readings:
        if not (0 <= row.x_cm <= space.width_cm and 0 <= row.y_cm <= space.depth_cm):
            raise CanopyError(
                said(
                    "table.outside",
                    x_cm=row.x_cm,
                    y_cm=row.y_cm,
                    width_cm=space.width_cm,
                    depth_cm=space.depth_cm,
                ),
                "text",
            )
    return found
