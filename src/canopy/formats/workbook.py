"""Tables as workbooks of one sheet (XLSX), which stay small while they are read."""

import io
import zipfile
from collections.abc import Iterable, Sequence
from typing import Any, Final

from openpyxl import Workbook, load_workbook
from openpyxl.utils import get_column_letter

from canopy.errors import CanopyError

FORMULA_STARTS: Final = ("=", "+", "-", "@", "\t")
CHUNK: Final = 65_536

MOST_PARTS = 60
MOST_BYTES: Final = (
    ("xl/worksheets/", 8_000_000),
    ("xl/sharedStrings.xml", 8_000_000),
    ("", 500_000),
)
"""What a part of a workbook may be once unpacked, by the beginning of its name; the first that
fits counts. A shelf of 500 lamps takes a quarter
of it."""

MOST_ELEMENTS: Final = (
    ("xl/worksheets/", 200_000),
    ("xl/sharedStrings.xml", 200_000),
    ("xl/workbook.xml", 250),
    ("", 10_000),
)
"""And how many XML elements it may hold: each costs time and memory, however short."""


def safe_cell(value: Any) -> Any:
    """Return a cell no spreadsheet takes for a formula."""
    if isinstance(value, str) and value and value[0] in FORMULA_STARTS:
        return "'" + value
    return value


def first_sheet(content: bytes, most_rows: int, most_columns: int, field: str) -> list[list[Any]]:
    """Return the cells of a workbook's first sheet.

    Raises
    ------
    CanopyError
        When it is no workbook, or too large once unpacked; ``field`` is what it came in.
    """
    try:
        _check(content, field)
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
        sheet = book.worksheets[0]
        rows = sheet.iter_rows(max_row=most_rows, max_col=most_columns, values_only=True)
        found = [list(row) for row in rows]
        book.close()
    except CanopyError:
        raise
    except Exception as error:  # whatever a broken workbook makes openpyxl raise
        raise CanopyError("This is no XLSX workbook; save it as .xlsx or .csv.", field) from error
    return found


def one_sheet(title: str, rows: Iterable[Sequence[Any]], frozen: str | None = None) -> bytes:
    """Return rows as a workbook, none of its cells a formula; columns as wide as the first row."""
    book = Workbook()
    sheet = book.active
    sheet.title = title
    for row in rows:
        sheet.append([safe_cell(value) for value in row])
    sheet.freeze_panes = frozen
    for i in range(1, sheet.max_column + 1):
        width = max(len(str(sheet.cell(1, i).value or "")) + 2, 10)
        sheet.column_dimensions[get_column_letter(i)].width = width
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _check(content: bytes, field: str) -> None:
    """Check that unpacking and reading a workbook stays small, before anything is read of it.

    Raises
    ------
    CanopyError
        Naming the part that is too large.
    """
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        parts = packed.infolist()
        if len(parts) > MOST_PARTS:
            raise CanopyError("The workbook has too many parts; keep only the table.", field)
        for part in parts:
            name = part.filename.lstrip("/")
            most_bytes, most_elements = (
                next(most for start, most in limits if name.startswith(start))
                for limits in (MOST_BYTES, MOST_ELEMENTS)
            )
            elements, left, begins = 0, most_bytes + 1, False
            if part.file_size <= most_bytes:
                with packed.open(part) as file:
                    # the size in the directory may lie
                    while left > 0 and (chunk := file.read(min(CHUNK, left))):
                        # every sheet is opened up to its data, as often as the workbook names it
                        begins = begins or (elements == 0 and b"sheetData" in chunk)
                        elements += chunk.count(b"<")
                        left -= len(chunk)
            late = name.startswith("xl/worksheets/") and name.endswith(".xml") and not begins
            if part.file_size > most_bytes or left <= 0 or elements > most_elements or late:
                raise CanopyError(
                    f"The workbook's part {name[:60]} is too large; copy only the table's cells "
                    "into a new workbook, or save it as CSV.",
                    field,
                )
