"""A typed line, as what would be kept of it."""

from collections.abc import Iterable
from dataclasses import dataclass

from canopy.formats.logtable import LogLine, log_csv, log_xlsx
from canopy.formats.quickline import LIMITS as LIMITS
from canopy.formats.quickline import MOST_LINE as MOST_LINE
from canopy.formats.quickline import EntryKind as EntryKind
from canopy.formats.quickline import Understood, Value, read_line
from canopy.words import Said
from server.accounts.models import Grower
from server.logbook.adapters.tops import day_of
from server.logbook.models import Entry
from server.runs.models import Run


@dataclass(frozen=True)
class ReadPiece:
    """A piece of a line: its kind and figures, or why it was not read."""

    text: str
    kind: EntryKind | None
    values: dict[str, Value]
    why: Said | None


def read_for(grower: Grower, line: str) -> list[ReadPiece]:
    """Return what a line says, figures without a unit in the grower's own."""
    inches = grower.length_unit == "in"
    degrees = grower.temperature_unit or ("F" if inches else "C")
    found = []
    for each in read_line(line, "in" if inches else "cm", "F" if degrees == "F" else "C"):
        if isinstance(each, Understood):
            found.append(ReadPiece(each.text, each.kind, each.values, None))
        else:
            found.append(ReadPiece(each.text, None, {}, each.why))
    return found


def log_file(run: Run, entries: Iterable[Entry], kind: str) -> bytes:
    """Return a log as a table, CSV or XLSX; ``entries`` that stand, the oldest first."""
    zone = run.owner.zone
    lines = [
        LogLine(
            at=entry.at.astimezone(zone).replace(tzinfo=None),
            day=int(day_of(run, entry.at)) + 1,
            kind=entry.kind,
            values=entry.values,
            words=entry.text,
        )
        for entry in entries
    ]
    return log_xlsx(lines) if kind == "xlsx" else log_csv(lines).encode()
