"""A dial's curve from what a watt meter and a light sensor show at its positions.

Light falls at every spot alike, so that readings of each spot over its own at full are averaged.
Where only watts are known light follows from them: lamps grow more efficient when dimmed.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import isotonic_regression

from canopy.constants import NINETY
from canopy.errors import CanopyError
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.measure.readings import SPOT_SD
from canopy.words import Said, said

Array = NDArray[np.float64]

DROOP, DROOP_SD = 0.88, 0.065
"""Light is a share of full watts to this power. Common practice, no source: measured on three
lamps it came to 0.82 to 0.92 around half."""

WATTS_SD = 0.01
"""Of a watt meter's reading."""

MOST_POSITIONS = 101
MOST_SPOTS = 25
OUT_OF_ORDER_SD = 3.0
"""More light at a lower position, by so many standard deviations, is a slip."""

LEAST_SHARE = 1e-3


@dataclass(frozen=True)
class DialReading:
    """What was read at a position of the dial: watts at the plug, PPFD at each spot."""

    position_pct: float
    watts: float | None = None
    ppfd: tuple[float | None, ...] = ()


@dataclass(frozen=True)
class CurvePoint:
    """A position of the curve; the ends of light's 90 % range are shares of full light too."""

    row: DialRow
    light_low: float
    light_high: float


@dataclass(frozen=True)
class DialCurve:
    """A dial's curve, what it rests on, and what does not go together in the readings."""

    points: tuple[CurvePoint, ...]
    by_light: bool
    by_watts: bool
    notes: tuple[Said, ...]

    def rows(self) -> tuple[DialRow, ...]:
        """Return it as a dial's table."""
        return tuple(point.row for point in self.points)


QUARTERS = (25.0, 50.0, 75.0, 100.0)
MOST_STEPS = 12


def steps_to_read(dimmer: Dimmer) -> tuple[float, ...]:
    """Return the positions a dial is measured at, from its highest down; none without a dial.

    Its own steps, or where it has none the quarters of its way.
    """
    marks = [float(position) for position in dimmer.positions_pct()]
    if dimmer.kind == "none":
        return ()
    if dimmer.kind == "stepped":
        return tuple(marks[::-1][:MOST_STEPS])
    low, high = marks[0], marks[-1]
    return tuple(at for at in sorted({low, high, *QUARTERS}, reverse=True) if low <= at <= high)


def _checked(readings: Sequence[DialReading]) -> list[DialReading]:
    if len(readings) < 2:
        raise CanopyError("Read at two positions at least, one of them the highest.", "readings")
    if len(readings) > MOST_POSITIONS:
        raise CanopyError(f"{MOST_POSITIONS} positions are the most a dial has.", "readings")
    rows = sorted(readings, key=lambda each: each.position_pct)
    for before, after in pairwise(rows):
        if after.position_pct == before.position_pct:
            raise CanopyError(
                f"Position {after.position_pct:g} is there twice; give each once, and its spots "
                "beside one another.",
                "readings",
            )
    full = rows[-1]
    if not (full.watts or any(full.ppfd)):
        raise CanopyError(
            "Nothing was read at the highest position; all others are shares of it.", "readings"
        )
    for row in rows:
        if len(row.ppfd) > MOST_SPOTS:
            raise CanopyError(f"{MOST_SPOTS} spots are the most that count.", "readings")
        for value in (row.watts, *row.ppfd):
            if value is not None and not (np.isfinite(value) and value >= 0):
                raise CanopyError(
                    f"At position {row.position_pct:g} something is below 0 or no number.",
                    "readings",
                )
    return rows


def _light(rows: list[DialReading]) -> tuple[Array, Array]:
    """Return ln of the share of full light by spots, and its sd; nan where none was read."""
    full = rows[-1].ppfd
    logs, sds = [], []
    for row in rows:
        ratios = [
            np.log(max(here / whole, LEAST_SHARE))
            for here, whole in zip(row.ppfd, full)
            if here is not None and whole
        ]
        count = len(ratios)
        logs.append(float(np.mean(ratios)) if count else np.nan)
        hand = SPOT_SD * np.sqrt(2 / max(count, 1))
        apart = float(np.std(ratios, ddof=1)) / np.sqrt(count) if count > 1 else 0.0
        sds.append(max(hand, apart))
    sds[-1] = SPOT_SD / 10
    return np.array(logs), np.array(sds)


def _watts(rows: list[DialReading]) -> Array:
    full = rows[-1].watts
    return np.array(
        [
            np.log(max(row.watts / full, LEAST_SHARE)) if full and row.watts is not None else np.nan
            for row in rows
        ]
    )


def dial_curve(readings: Sequence[DialReading]) -> DialCurve:
    """Return the curve that readings at a dial's positions make.

    Parameters
    ----------
    readings : sequence of DialReading
        In any order; the highest position is full.

    Raises
    ------
    CanopyError
        With fewer than two positions, one twice, nothing at the highest, or at any.
    """
    rows = _checked(readings)
    light, light_sd = _light(rows)
    watts = _watts(rows)
    by_watts, watts_sd = watts * DROOP, np.hypot(WATTS_SD, DROOP_SD * np.abs(watts))
    read, drawn = ~np.isnan(light), ~np.isnan(watts)
    for row, some in zip(rows, read | drawn):
        if not some:
            raise CanopyError(
                f"At position {row.position_pct:g} nothing was read that was at the highest too; "
                "read watts or light there, or leave it out.",
                "readings",
            )
    # each by its weight where both are known
    weight_l = np.where(read, 1 / light_sd**2, 0.0)
    weight_w = np.where(drawn, 1 / np.maximum(watts_sd, 1e-3) ** 2, 0.0)
    whole = weight_l + weight_w
    logs = (np.where(read, light, 0) * weight_l + np.where(drawn, by_watts, 0) * weight_w) / whole
    sd = 1 / np.sqrt(whole)
    logs[-1], sd[-1] = 0.0, 1e-6
    notes = [*_out_of_order(rows, logs, sd), *_apart(rows, light, by_watts, light_sd, watts_sd)]
    rising = np.minimum(isotonic_regression(logs, weights=1 / sd**2).x, 0.0)
    power = np.where(drawn, watts, rising / DROOP)
    drawn_rising = np.minimum(isotonic_regression(power).x, 0.0)
    points = tuple(
        CurvePoint(
            DialRow(row.position_pct, _share(w), _share(at)),
            _share(at - NINETY * float(s)),
            _share(at + NINETY * float(s)),
        )
        for row, w, at, s in zip(rows, drawn_rising, rising, sd)
    )
    return DialCurve(points, bool(read[:-1].any()), bool(drawn[:-1].any()), tuple(notes))


def _share(log_share: float) -> float:
    share = min(float(np.exp(log_share)), 1.0)
    return 0.0 if share <= LEAST_SHARE * 1.001 else share


def _out_of_order(rows: list[DialReading], logs: Array, sd: Array) -> list[Said]:
    found = []
    for k in range(len(rows) - 1):
        if logs[k] - logs[k + 1] > OUT_OF_ORDER_SD * float(np.hypot(sd[k], sd[k + 1])):
            found.append(
                said(
                    "dial.out_of_order",
                    low=rows[k].position_pct,
                    high=rows[k + 1].position_pct,
                )
            )
    return found


def _apart(
    rows: list[DialReading], light: Array, by_watts: Array, light_sd: Array, watts_sd: Array
) -> list[Said]:
    """Return where watts and light do not go together."""
    found = []
    for k, row in enumerate(rows[:-1]):
        off = abs(light[k] - by_watts[k])
        if np.isfinite(off) and off > OUT_OF_ORDER_SD * float(np.hypot(light_sd[k], watts_sd[k])):
            found.append(
                said(
                    "dial.apart",
                    at=row.position_pct,
                    light=float(np.exp(light[k])),
                    watts=float(np.exp(by_watts[k] / DROOP)),
                )
            )
    return found
