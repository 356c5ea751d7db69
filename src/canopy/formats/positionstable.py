"""Heights and dials as CSV; docs/formats/positions.md."""

import csv
import io
from collections.abc import Sequence
from dataclasses import fields

from canopy.plan.positions import Position
from canopy.words import CM_PER_INCH, Unit

COLUMNS = tuple(field.name for field in fields(Position) if field.name != "height_cm")


def positions_table(rows: Sequence[Position], unit: Unit = "cm") -> str:
    """Return positions as CSV, one a line, their height in the grower's unit.

    PPFD in umol m-2 s-1, the DLI in mol m-2, efficacy in umol of light on the canopy a joule; what
    does not apply is empty.
    """
    scale, decimals = (1 / CM_PER_INCH, 2) if unit == "in" else (1.0, 1)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([f"height_{unit}", *COLUMNS])
    for row in rows:
        figures = (getattr(row, name) for name in COLUMNS)
        writer.writerow(
            [
                f"{row.height_cm * scale:.{decimals}f}",
                *("" if value is None else f"{value:.4g}" for value in figures),
            ]
        )
    return out.getvalue()
