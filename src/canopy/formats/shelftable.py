"""A shelf of lamps as a table: CSV, and XLSX. Grammar: docs/formats/shelf-table.md."""

import csv
import io
import json
import re
from collections import Counter
from dataclasses import dataclass
from typing import Any, Final

from canopy.errors import CanopyError
from canopy.fixture.record import (
    DETAIL_LIMITS,
    DETAIL_TEXTS,
    DETAIL_WORDS,
    FIGURES,
    ORIGINS,
    RECORD_TEXTS,
)
from canopy.formats.fixturefile import read_fixture_record
from canopy.formats.pasted import FIGURE, GROUPED, SPACES, decimal_sign, figure_value, shown_sign
from canopy.formats.reader import Fields, load_json
from canopy.formats.workbook import FORMULA_STARTS, first_sheet, one_sheet, safe_cell
from canopy.words import Said

LAYOUT_NUMBERS: Final = (
    "bars",
    "bar_length_cm",
    "spread_cm",
    "board_x_cm",
    "board_y_cm",
    "ring_cm",
)
NUMBERS: Final = frozenset((*FIGURES, *LAYOUT_NUMBERS, *DETAIL_LIMITS))
DETAIL_COLUMNS: Final = (*DETAIL_LIMITS, *DETAIL_TEXTS, *DETAIL_WORDS)
COLUMNS: Final = (
    "name",
    "kind",
    *FIGURES,
    "dial_kind",
    "dial_table",
    *LAYOUT_NUMBERS,
    "layout",
    *DETAIL_COLUMNS,
    "spectrum",
    "switches",
    *(f"{name}_from" for name in ORIGINS),
    *RECORD_TEXTS,
)

TOO_MANY_CELLS: Final = "The table has too many cells; keep only the shelf in it."
MOST_ROWS = 500
MOST_COLUMNS = 200
MOST_CELLS = 50_000
MOST_CHARACTERS = 2_500_000
MOST_CELL = 20_000


@dataclass(frozen=True)
class Trouble:
    """What cannot be used: the row as the table counts it, its column, and what to do."""

    row: int
    column: str
    said: Said


@dataclass(frozen=True)
class ShelfTable:
    """The lamps of a table that can be used, what is wrong with the others, and unknown columns."""

    records: tuple[dict[str, Any], ...]
    troubles: tuple[Trouble, ...]
    ignored: tuple[str, ...]


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, float) and value == int(value) and abs(value) < 1e15:
        return str(int(value))
    text = str(value).strip()
    return text[1:] if text[:1] == "'" and text[1:2] in FORMULA_STARTS else text


def _number(text: str, column: str) -> float:
    plain = text.replace("\u00a0", "").replace(" ", "")
    if re.fullmatch(r"[-+]?\d+,\d+", plain):
        plain = plain.replace(",", ".")
    try:
        return float(plain)
    except ValueError as error:
        raise CanopyError(f"“{text[:40]}” is not a number; type a plain number.", column) from error


@dataclass(frozen=True)
class _Signs:
    """The decimal sign of each column of figures; ``None`` where nothing tells.

    ``pointed`` says that commas part the table's cells, so that a point alone parts a figure.
    """

    of: dict[str, str | None]
    pointed: bool

    def plain(self, value: Any, column: str) -> str:
        """Return a cell's figure as Python writes it; what is no figure as it stands.

        Raises
        ------
        CanopyError
            Where it could be two figures, and neither column nor table tells which.
        """
        text = _cell(value)
        figure = SPACES.sub("", text)
        known = column not in NUMBERS or not isinstance(value, str) or not FIGURE.fullmatch(figure)
        if known or (self.pointed and "," not in figure):
            return text
        sign = shown_sign(figure) or self.of.get(column)
        if sign is None and any(grouped.fullmatch(figure) for grouped in GROUPED.values()):
            thousands, broken = figure_value(figure, "."), figure_value(figure, ",")
            if "." in figure:
                thousands, broken = broken, thousands
            raise CanopyError(
                f"“{text[:40]}” can be {thousands:.0f} or {broken:g}; "
                "write it without parting its thousands, or with a decimal 0 at its end.",
                column,
            )
        try:
            return repr(figure_value(figure, sign or "."))
        except ValueError:
            return text


def _signs(rows: list[list[Any]], header: list[str], pointed: bool) -> _Signs:
    """Return how each column's figures are written: by the column, else by the whole table."""
    columns: dict[str, list[str]] = {name: [] for name in header if name in NUMBERS}
    for row in rows:
        for name, value in zip(header, row):
            figure = SPACES.sub("", _cell(value)) if isinstance(value, str) else ""
            if name in columns and FIGURE.fullmatch(figure):
                columns[name].append(figure)
    shown = {shown_sign(figure) for figures in columns.values() for figure in figures} - {""}
    usual = shown.pop() if len(shown) == 1 else "." if pointed else None
    return _Signs(
        {name: decimal_sign(figures) or usual for name, figures in columns.items()}, pointed
    )


def _json(text: str, column: str) -> Any:
    try:
        return load_json(text, "The cell")
    except CanopyError as error:
        raise error.at(column) from error


def _dial_rows(text: str) -> list[dict[str, float]]:
    """Return the dial's rows from position:watts:light, parted by semicolons, in per cent."""
    rows = []
    for part in re.split(r"[;\n]", text):
        if not part.strip():
            continue
        cells = part.split(":")
        if len(cells) != 3:
            raise CanopyError(
                f"“{part.strip()[:30]}” should be position:watts:light in per cent, like 50:44:48.",
                "dial_table",
            )
        position, watts, light = (_number(cell, "dial_table") for cell in cells)
        rows.append(
            {"position_pct": position, "watts_fraction": watts / 100, "light_fraction": light / 100}
        )
    return rows


def _layout(cells: dict[str, str]) -> dict[str, Any]:
    if cells.get("layout"):
        found = _json(cells["layout"], "layout")
        return found if isinstance(found, dict) else {"layout": found}
    given = {n: _number(cells[n], n) for n in LAYOUT_NUMBERS if cells.get(n)}
    if not given and cells.get("kind") in ("puck", "bulb"):
        return {"point": True}
    if not given:
        raise CanopyError(
            "It does not say where the light comes from: fill in bars, board or ring.", "bars"
        )
    return given


def _record(cells: dict[str, str]) -> dict[str, Any]:
    """Return a row's record as a fixture file would hold it.

    Raises
    ------
    CanopyError
        Naming the column.
    """
    kind = cells.get("dial_kind") or "none"
    rows = _dial_rows(cells.get("dial_table", ""))
    full = [{"position_pct": 100.0, "watts_fraction": 1.0, "light_fraction": 1.0}]
    value: dict[str, Any] = {
        "name": cells.get("name", ""),
        "kind": cells.get("kind") or "board",
        "layout": _layout(cells),
        "dial_kind": kind,
        "dial_table": rows or full,
        **{name: cells.get(name, "") for name in RECORD_TEXTS},
    }
    for name in FIGURES:
        if cells.get(name):
            value[name] = _number(cells[name], name)
    details = {n: _number(cells[n], n) for n in DETAIL_LIMITS if cells.get(n)}
    details |= {n: cells[n] for n in (*DETAIL_TEXTS, *DETAIL_WORDS) if cells.get(n)}  # type: ignore[misc]
    if details:
        value["details"] = details
    origins = {n: cells[f"{n}_from"] for n in ORIGINS if cells.get(f"{n}_from")}
    if origins:
        value["origins"] = origins
    for name in ("spectrum", "switches"):
        if cells.get(name):
            value[name] = _json(cells[name], name)
    return read_fixture_record(Fields(value, "", []))


def _read_rows(rows: list[list[Any]], pointed: bool = False) -> ShelfTable:
    header_at = next((i for i, row in enumerate(rows) if any(_cell(c) for c in row)), None)
    if header_at is None:
        raise CanopyError("The table is empty.", "table")
    header = [_cell(cell).lower() for cell in rows[header_at]]
    if "name" not in header or "ppf_umol_s" not in header:
        raise CanopyError(
            "The first line should name the columns, at least name, ppf_umol_s and watts; "
            "write your shelf out once to see them all.",
            "table",
        )
    if len(header) > MOST_COLUMNS:
        raise CanopyError(
            f"The table has {len(header):,} columns; {MOST_COLUMNS} at most. Keep only the shelf.",
            "table",
        )
    twice = sorted(name for name, count in Counter(header).items() if name and count > 1)
    if twice:
        raise CanopyError(f"The column {twice[0][:40]} stands there twice; keep one.", "table")
    records, troubles = [], []
    body = [(i + 1, row) for i, row in enumerate(rows) if i > header_at and any(map(_cell, row))]
    if len(body) > MOST_ROWS:
        raise CanopyError(f"{len(body)} lamps are too many; {MOST_ROWS} at once.", "table")
    signs = _signs([row for _, row in body], header, pointed)
    for number, row in body:
        try:
            cells = {
                name: signs.plain(cell, name)[:MOST_CELL] for name, cell in zip(header, row) if name
            }
            records.append(_record(cells))
        except CanopyError as error:
            troubles.append(Trouble(number, _column(error.field), error.said))
    ignored = [
        name for name in header if name and name not in COLUMNS and name != "efficacy_umol_j"
    ]
    return ShelfTable(tuple(records), tuple(troubles), tuple(ignored))


def _column(field: str) -> str:
    """Return the column a field of the record stands in."""
    parts = [part for part in re.split(r"[.\[\]]", field) if part and not part.isdigit()]
    for part in reversed(parts):
        if part in COLUMNS:
            return f"{part}_from" if parts[0] == "origins" else part
    return parts[0] if parts else ""


def read_shelf_csv(text: str) -> ShelfTable:
    """Return the lamps of a CSV table; comma or semicolon.

    Raises
    ------
    CanopyError
        When it has no usable header, or far too many rows.
    """
    text = text.lstrip("\ufeff")
    if len(text) > MOST_CHARACTERS:
        raise CanopyError("The table is too large; keep only the shelf in it.", "table")
    first = next((line for line in text.splitlines() if line.strip()), "")
    delimiter = ";" if first.count(";") > first.count(",") else ","
    rows: list[list[Any]] = []
    cells = 0
    try:
        for row in csv.reader(io.StringIO(text), delimiter=delimiter, strict=True):
            # blank lines at the end of a sheet cost nothing
            rows.append(list(row) if any(row) else [])
            cells += len(rows[-1])
            if cells > MOST_CELLS:
                raise CanopyError(TOO_MANY_CELLS, "table")
    except csv.Error as error:
        raise CanopyError(f"This is not a CSV table: {error}.", "table") from error
    return _read_rows(rows, pointed=delimiter == ",")


def read_shelf_xlsx(content: bytes) -> ShelfTable:
    """Return the lamps on the first sheet of a workbook.

    Raises
    ------
    CanopyError
        When it is no workbook, or too large once unpacked.
    """
    rows = first_sheet(content, MOST_ROWS + 50, MOST_COLUMNS, "table")
    return _read_rows(rows)


def _flat(record: dict[str, Any]) -> dict[str, Any]:
    details, origins = record.get("details") or {}, record.get("origins") or {}
    layout = record["layout"]
    simple = set(layout) <= set(LAYOUT_NUMBERS)
    dial = ";".join(
        ":".join(
            _percent(share)
            for share in (row["position_pct"] / 100, row["watts_fraction"], row["light_fraction"])
        )
        for row in record["dial_table"]
    )
    flat = {name: record.get(name) for name in ("name", "kind", *FIGURES, "dial_kind")}
    flat |= {name: record.get(name) for name in RECORD_TEXTS}
    flat |= {"dial_table": dial}
    flat |= dict(layout) if simple else {"layout": json.dumps(layout)}
    flat |= {name: details.get(name) for name in DETAIL_COLUMNS}
    flat |= {f"{name}_from": origin for name, origin in origins.items()}
    for name in ("spectrum", "switches"):
        if record.get(name):
            flat[name] = json.dumps(record[name])
    return flat


def _percent(share: float) -> str:
    return repr(round(share * 100, 10)).removesuffix(".0")


def write_shelf_csv(records: list[dict[str, Any]]) -> str:
    """Return lamps as CSV that `read_shelf_csv` takes back unchanged."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for record in records:
        flat = _flat(record)
        writer.writerow(["" if (v := flat.get(c)) is None else safe_cell(v) for c in COLUMNS])
    return out.getvalue()


def write_shelf_xlsx(records: list[dict[str, Any]]) -> bytes:
    """Return lamps as a workbook of one sheet that `read_shelf_xlsx` takes back unchanged."""
    rows = [[flat.get(column) for column in COLUMNS] for flat in map(_flat, records)]
    return one_sheet("Shelf", [list(COLUMNS), *rows], frozen="B2")
