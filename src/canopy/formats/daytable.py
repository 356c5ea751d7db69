"""The day table of a planned run as CSV; docs/formats/day-table.md."""

import csv
import io
from datetime import date, timedelta

from canopy.daylight.lampday import clock, windows_words
from canopy.formats.workbook import safe_cell
from canopy.plan.season import DayRow
from canopy.words import CM_PER_INCH, Unit, worded

COLUMNS = (
    "date",
    "day",
    "stage",
    "on",
    "off",
    "hours",
    "dial_pct",
    "lamp_above_floor",
    "tops_above_floor",
    "lamp_above_tops",
    "dli_mol_m2_d",
    "dli_low",
    "dli_high",
    "kwh",
    "cost",
    "tasks",
    "on_windows",
    "watts",
)

LENGTHS = ("lamp_above_floor", "tops_above_floor", "lamp_above_tops")


def day_table(rows: list[DayRow], first: date, unit: Unit = "cm") -> str:
    """Return the rows as CSV with a header line, in a unit of length; tasks parted by ;."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([f"{name}_{unit}" if name in LENGTHS else name for name in COLUMNS])
    scale, decimals = (1 / CM_PER_INCH, 2) if unit == "in" else (1.0, 1)
    for row in rows:
        writer.writerow(
            [
                (first + timedelta(days=row.day)).isoformat(),
                row.day,
                safe_cell(row.stage),
                clock(row.on_minute),
                clock(row.off_minute),
                f"{row.hours:g}",
                f"{row.dial_pct:g}",
                f"{row.lamp_cm * scale:.{decimals}f}",
                f"{row.tops_cm * scale:.{decimals}f}",
                f"{(row.lamp_cm - row.tops_cm) * scale:.{decimals}f}",
                f"{row.dli:.2f}",
                f"{row.dli_low:g}",
                f"{row.dli_high:g}",
                f"{row.kwh:.3f}",
                f"{row.cost:.4f}",
                safe_cell("; ".join(worded(task, unit) for task in row.tasks)),
                windows_words(row.windows),
                f"{row.watts:.0f}",
            ]
        )
    return out.getvalue()
