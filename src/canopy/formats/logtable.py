"""A run's log as a table, the oldest entry first, CSV or XLSX; docs/formats/log-table.md."""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from canopy.formats.workbook import one_sheet, safe_cell

FIGURES = (
    "tops_cm",
    "height_cm",
    "dial_pct",
    "hours",
    "on_minute",
    "watts",
    "celsius",
    "minutes",
    "from_minute",
    "count",
    "what",
    "part",
    "where",
    "many",
    "since_days",
    "cause",
    "due",
)
COLUMNS = ("date", "time", "day", "kind", *FIGURES, "words")


@dataclass(frozen=True)
class LogLine:
    """An entry as it stands; ``at`` by the grower's clock, ``day`` of the run, from 1."""

    at: datetime
    day: int
    kind: str
    values: Mapping[str, Any]
    words: str


def _rows(lines: Iterable[LogLine]) -> list[Sequence[Any]]:
    return [
        (
            line.at.strftime("%Y-%m-%d"),
            line.at.strftime("%H:%M"),
            line.day,
            line.kind,
            *(line.values.get(name) for name in FIGURES),
            line.words,
        )
        for line in lines
    ]


def log_csv(lines: Iterable[LogLine]) -> str:
    """Return the log as CSV in UTF-8, none of its cells a formula; lengths in cm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in _rows(lines):
        writer.writerow(["" if cell is None else safe_cell(cell) for cell in row])
    return out.getvalue()


def log_xlsx(lines: Iterable[LogLine]) -> bytes:
    """Return the log as a workbook, its first row standing still."""
    return one_sheet("Log", [COLUMNS, *_rows(lines)], frozen="A2")
