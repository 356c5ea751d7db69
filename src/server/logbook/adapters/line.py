"""A typed line, as what would be kept of it."""

from dataclasses import dataclass

from canopy.formats.quickline import LIMITS as LIMITS
from canopy.formats.quickline import MOST_LINE as MOST_LINE
from canopy.formats.quickline import EntryKind as EntryKind
from canopy.formats.quickline import Understood, Value, read_line
from canopy.words import Said
from server.accounts.models import Grower


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
