"""A dial's curve from readings at its positions."""

from typing import Any

from canopy.measure.dialcurve import MOST_POSITIONS as MOST_POSITIONS
from canopy.measure.dialcurve import MOST_SPOTS as MOST_SPOTS
from canopy.measure.dialcurve import MOST_STEPS as MOST_STEPS
from canopy.measure.dialcurve import DialCurve as DialCurve
from canopy.measure.dialcurve import DialReading, dial_curve


def curve_of(rows: list[dict[str, Any]]) -> DialCurve:
    """Return the curve that readings at a dial's positions make."""
    return dial_curve(
        [DialReading(row["position_pct"], row["watts"], tuple(row["ppfd"])) for row in rows]
    )
