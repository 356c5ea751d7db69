"""The day table of a planned run as CSV; docs/formats/day-table.md."""

import csv
import io
from datetime import date, timedelta

from canopy.formats.calendar import clock
from canopy.plan.season import DayRow

COLUMNS = (
    "date",
    "day",
    "stage",
    "on",
    "off",
    "hours",
    "dial_pct",
    "lamp_above_floor_cm",
    "tops_above_floor_cm",
    "lamp_above_tops_cm",
    "dli_mol_m2_d",
    "dli_low",
    "dli_high",
    "kwh",
    "cost",
    "tasks",
)


def day_table(rows: list[DayRow], first: date) -> str:
    """Return the rows as CSV with a header line; tasks parted by semicolons."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in rows:
        writer.writerow(
            [
                (first + timedelta(days=row.day)).isoformat(),
                row.day,
                row.stage,
                clock(row.on_minute),
                clock(row.off_minute),
                f"{row.hours:g}",
                f"{row.dial_pct:g}",
                f"{row.lamp_cm:.1f}",
                f"{row.tops_cm:.1f}",
                f"{row.lamp_cm - row.tops_cm:.1f}",
                f"{row.dli:.2f}",
                f"{row.dli_low:g}",
                f"{row.dli_high:g}",
                f"{row.kwh:.3f}",
                f"{row.cost:.4f}",
                "; ".join(row.tasks),
            ]
        )
    return out.getvalue()
