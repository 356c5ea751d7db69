"""Map tables: PPFD readings as CSV, one a line or as a matrix; docs/formats/map-table.md.

Lengths come out in cm, PPFD in umol m-2 s-1.
"""

import csv
import io
import re
from dataclasses import dataclass, field
from math import isfinite

from canopy.errors import CanopyError
from canopy.formats.workbook import first_sheet, one_sheet

CM_PER_INCH = 2.54
"""Exact."""

MOST_READINGS = 20_000
MOST_PPFD = 20_000.0
FARTHEST_CM = 1_000.0
MOST_TEXT = 1_000_000

COLUMNS = ("x_cm", "y_cm", "height_cm", "ppfd_umol_m2_s", "dial_pct", "watts", "note")
ALSO = ("z_cm", "light_fraction")
"""Columns that a fit reads besides."""
LIMITS: dict[str, tuple[float, float]] = {
    "x_cm": (-FARTHEST_CM, FARTHEST_CM),
    "y_cm": (-FARTHEST_CM, FARTHEST_CM),
    "height_cm": (1.0, 500.0),
    "ppfd_umol_m2_s": (0.0, MOST_PPFD),
    "dial_pct": (0.0, 100.0),
    "watts": (0.0, 20_000.0),
}
ALSO_LIMITS: dict[str, tuple[float, float]] = {"z_cm": (0.0, 500.0), "light_fraction": (0.0, 1.0)}
OTHER_NAMES = {
    "x_cm": ("x", "from left", "left", "breite"),
    "y_cm": ("y", "from front", "front", "tiefe"),
    "height_cm": ("height", "lamp height", "distance", "höhe", "abstand"),
    "ppfd_umol_m2_s": ("ppfd", "par", "reading", "light", "umol", "µmol", "μmol", "wert"),
    "dial_pct": ("dial", "dimmer", "position"),
    "watts": ("power", "w", "watt"),
    "note": ("comment", "remark"),
}
"""What people head their columns with, without the unit. Common practice, no source."""
UNIT_IN_HEADER = re.compile(r"[\s_]*[(\[]([^)\]]*)[)\]]\s*$|[\s_](cm|in|inch|inches|%|w)$")
INCHES = ("in", "inch", "inches", '"')
HEIGHT_KEY = re.compile(r"^\s*#\s*height(?:_(cm|in))?\s*:\s*(.+)$", re.IGNORECASE)


@dataclass(frozen=True)
class MapReading:
    """One reading: place and distance to the lamp in cm, PPFD, and what else was noted."""

    x_cm: float
    y_cm: float
    height_cm: float
    ppfd_umol_m2_s: float
    dial_pct: float | None = None
    watts: float | None = None
    note: str = ""


@dataclass(frozen=True)
class FitReading(MapReading):
    """A reading as a fit takes it: how high the sensor stood, at which share of full light."""

    z_cm: float = 0.0
    light_fraction: float | None = None


@dataclass(frozen=True)
class MapTable:
    """Readings, what the file's ``#`` lines say, and sentences on how it was read.

    ``bad`` are cells that could not be read, where they were to be kept for mending; readings they
    belong to are not among the others.
    """

    readings: tuple[MapReading, ...]
    about: dict[str, str] = field(default_factory=dict)
    notes: tuple[str, ...] = ()
    bad: tuple["BadCell", ...] = ()


@dataclass(frozen=True)
class BadCell:
    """A cell that could not be read: its line and place there from 1, its column, and why."""

    line: int
    place: int
    column: str
    text: str
    why: str


MOST_BAD = 100
Mended = dict[tuple[int, int], str]
"""Cells as they were corrected, by line and place."""


@dataclass
class _Line:
    number: int
    cells: list[str]


class _Source:
    """The file's lines, and how its numbers are written."""

    def __init__(self, text: str, also: tuple[str, ...] = (), mended: Mended | None = None) -> None:
        self.also = also
        self.mended = mended
        self.bad: list[BadCell] = []
        self.kind: type[MapReading] = FitReading if also else MapReading
        if len(text) > MOST_TEXT:
            raise CanopyError("The file is over a million characters; take fewer readings.", "text")
        self.about: dict[str, str] = {}
        self.notes: dict[str, None] = {}
        self.raw = text.lstrip("\ufeff").splitlines()
        data = next((line for line in self.raw if line.strip() and line.lstrip()[0] != "#"), "")
        self.delimiter = max(";\t,", key=data.count)
        self.inches = False

    def cells(self, line: str, at: int) -> list[str]:
        row = next(csv.reader(io.StringIO(line), delimiter=self.delimiter), [])
        mended = self.mended or {}
        return [mended.get((at, i), cell).strip() for i, cell in enumerate(row, 1)]

    def figure(self, line: "_Line", place: int, column: str) -> float:
        """Return the number in a cell; nan where it is bad and kept for mending."""
        text = line.cells[place] if 0 <= place < len(line.cells) else ""
        try:
            return self.number(text, line.number, column)
        except CanopyError as error:
            if self.mended is None or len(self.bad) >= MOST_BAD:
                raise
            self.bad.append(BadCell(line.number, place + 1, column, text[:40], str(error)))
            return float("nan")

    def number(self, text: str, at: int, column: str) -> float:
        """Return a number in its column's unit of this format, or raise with line and column."""
        plain = text.replace("\u2212", "-")
        if re.fullmatch(r"[+-]?\d+,\d+", plain):
            plain = plain.replace(",", ".")
            self.notes["Decimal commas were read as such: 12,5 is twelve and a half."] = None
        try:
            value = float(plain)
        except ValueError:
            value = float("nan")
        if not isfinite(value):
            shown = f'"{text[:20]}" is not a number' if text else "nothing stands there"
            raise CanopyError(f"Line {at}, {column}: {shown}; write one like 412.5.", "text")
        if self.inches and column in ("x_cm", "y_cm", "height_cm", "z_cm"):
            value *= CM_PER_INCH
        low, high = (LIMITS | ALSO_LIMITS)[column]
        if not low <= value <= high:
            raise CanopyError(
                f"Line {at}, {column}: {text} is outside {low:g} to {high:g}; correct it.", "text"
            )
        return value

    def use_inches(self) -> None:
        self.inches = True
        self.notes["Lengths were in inches and are kept in centimetres."] = None


def _column(name: str, also: tuple[str, ...] = ()) -> tuple[str, bool]:
    """Return a header cell's column, "" if unknown, and whether it is in inches."""
    key = name.strip().lower()
    columns = (*COLUMNS, *also)
    if key in columns:
        return key, False
    if key.endswith("_in") and f"{key[:-3]}_cm" in columns:
        return f"{key[:-3]}_cm", True
    unit = UNIT_IN_HEADER.search(key)
    plain = key[: unit.start()] if unit else key
    inches = unit is not None and (unit[1] or unit[2] or "").strip() in INCHES
    plain = re.sub(r"[\s_]+", " ", plain).removesuffix(" µmol/m²/s").strip()
    found = next((column for column, names in OTHER_NAMES.items() if plain in names), "")
    return found, inches and found.endswith("_cm")


def _is_number(text: str) -> bool:
    return bool(re.fullmatch(r"[+-]?\d+([.,]\d+)?", text))


def _listed(
    source: _Source, header: _Line, lines: list[_Line], height: float | None
) -> list[MapReading]:
    columns: dict[str, int] = {}
    for place, name in enumerate(header.cells):
        column, inches = _column(name, source.also)
        if column in columns:
            raise CanopyError(f"Line {header.number}: column {column} stands there twice.", "text")
        if column:
            columns[column] = place
        elif name:
            source.notes[f'Column "{name[:30]}" is not used.'] = None
        if inches:
            source.use_inches()
    missing = [c for c in COLUMNS[:4] if c not in columns]
    if height is not None and "height_cm" in missing:
        missing.remove("height_cm")
    if missing:
        raise CanopyError(
            f"Line {header.number}: the header has no {' and no '.join(missing)}; it should read "
            "x_cm,y_cm,height_cm,ppfd_umol_m2_s, or give the height in a line # height_cm: 45.",
            "text",
        )

    def cell(line: _Line, column: str) -> str:
        place = columns.get(column, -1)
        return line.cells[place] if 0 <= place < len(line.cells) else ""

    found = []
    for line in lines:
        figures = {c: source.figure(line, columns[c], c) for c in COLUMNS[:4] if c in columns}
        if "height_cm" not in columns and height is not None:
            figures["height_cm"] = height
        optional = {
            c: source.figure(line, columns[c], c) if cell(line, c) else None
            for c in ("dial_pct", "watts", *source.also)
            if c in columns or c in ("dial_pct", "watts")
        }
        if not all(isfinite(v) for v in (*figures.values(), *optional.values()) if v is not None):
            continue
        if optional.get("z_cm", 0) is None:
            optional["z_cm"] = 0.0
        found.append(source.kind(**figures, **optional, note=cell(line, "note")[:200]))  # type: ignore[arg-type]
    return found


def _matrix(
    source: _Source, header: _Line, lines: list[_Line], height: float | None
) -> list[MapReading]:
    if re.search(r"(^|[^a-z])in(ch|ches)?([^a-z]|$)", header.cells[0].lower().replace("_", " ")):
        source.use_inches()
    if height is None:
        raise CanopyError(
            f"Line {header.number}: a matrix needs the lamp's distance in a line before it, "
            "like # height_cm: 45.",
            "text",
        )
    x = [source.figure(header, i, "x_cm") for i, text in enumerate(header.cells) if i and text]
    found = []
    for line in lines:
        y = source.figure(line, 0, "y_cm")
        values = list(line.cells[1:])
        if len([v for v in values if v]) != len(x):
            raise CanopyError(
                f"Line {line.number}: {len([v for v in values if v])} readings for {len(x)} "
                "places in the first row; fill or correct it.",
                "text",
            )
        at = [i for i, text in enumerate(line.cells) if i and text]
        read = [source.figure(line, i, "ppfd_umol_m2_s") for i in at]
        found += [
            source.kind(place, y, height, ppfd)
            for place, ppfd in zip(x, read)
            if isfinite(place + y + ppfd)
        ]
    return found


def read_map_table(
    text: str,
    height_cm: float | None = None,
    also: tuple[str, ...] = (),
    mended: Mended | None = None,
) -> MapTable:
    """Return the readings in a map table.

    Parameters
    ----------
    text : str
    height_cm : float, optional
        Distance to the lamp where the file gives none.
    also : tuple of str
        Columns of :data:`ALSO` to read besides.
    mended : dict, optional
        Cells as they were corrected since. With it, empty at first, cells that cannot be read are
        returned for mending.

    Raises
    ------
    CanopyError
        With line and column, when something is missing, no number or out of range.
    """
    source = _Source(text, also, mended)
    height = height_cm
    found: list[MapReading] = []
    header: _Line | None = None
    block: list[_Line] = []

    def close() -> None:
        nonlocal header, block
        if header is not None:
            matrix = len(header.cells) > 1 and all(_is_number(c) for c in header.cells[1:] if c)
            found.extend((_matrix if matrix else _listed)(source, header, block, height))
        header, block = None, []

    for at, line in enumerate(source.raw, start=1):
        if not line.strip():
            continue
        if line.lstrip().startswith("#"):
            key, colon, value = line.lstrip()[1:].partition(":")
            says_height = HEIGHT_KEY.match(line)
            if says_height:
                close()  # the next block of the file was read at another height
                scale = CM_PER_INCH if says_height[1] == "in" else 1.0
                inches, source.inches = source.inches, False
                height = source.number(says_height[2].strip(), at, "height_cm") * scale
                source.inches = inches
            elif key.strip().lower() == "unit":
                if value.strip().lower() in ("in", "inch", "inches"):
                    source.use_inches()
            elif colon:
                source.about[key.strip()] = value.strip()
            continue
        cells = source.cells(line, at)
        if header is None:
            header = _Line(at, cells)
        else:
            block.append(_Line(at, cells))
    close()
    if not found and not source.bad:
        raise CanopyError(
            "The file has no readings. It should have a header line x_cm,y_cm,height_cm,"
            "ppfd_umol_m2_s and one reading a line.",
            "text",
        )
    if len(found) > MOST_READINGS:
        raise CanopyError(f"At most {MOST_READINGS} readings can be used.", "text")
    return MapTable(tuple(found), source.about, tuple(source.notes), tuple(source.bad))


def write_map_table(table: MapTable) -> str:
    """Return a map table as text that :func:`read_map_table` takes back unchanged."""
    out = io.StringIO()
    for key, value in table.about.items():
        out.write(f"# {key}: {value}\n")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in table.readings:
        writer.writerow(
            [
                "" if value is None else value if isinstance(value, str) else repr(value)
                for value in (getattr(row, column) for column in COLUMNS)
            ]
        )
    return out.getvalue()


MOST_COLUMNS = 200


def map_sheet_text(content: bytes) -> str:
    """Return the first sheet of a workbook as the text of a map table, its cells parted by tabs.

    Raises
    ------
    CanopyError
        When it is no workbook, or too large.
    """
    rows = first_sheet(content, MOST_READINGS + 200, MOST_COLUMNS, "content")

    def cell(value: object) -> str:
        if value is None:
            return ""
        plain = str(value).strip()
        return re.sub(r"\s+", " ", plain).replace('"', "'").removeprefix("'")

    return "\n".join("\t".join(cell(value) for value in row).rstrip("\t") for row in rows)


def write_map_sheet(table: MapTable) -> bytes:
    """Return a map table as a workbook that :func:`map_sheet_text` takes back."""
    about = [[f"# {key}: {value}"] for key, value in table.about.items()]
    rows = [[getattr(row, column) for column in COLUMNS] for row in table.readings]
    return one_sheet("Readings", [*about, list(COLUMNS), *rows])
