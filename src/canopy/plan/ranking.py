"""In which order lamps stand once each is known at its best, and which are recommended."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final, TypeVar

import numpy as np
from numpy.typing import NDArray

from canopy.fixture.ownership import pareto

Row = TypeVar("Row")

EXACT_LEAD: Final = 3
"""So many of the first rows of a long shelf are asked on the bench's own engine before they are
shown."""

SHORT_SHELF: Final = 16
"""Rows of a shelf so short that all of them are: no slower than preparing estimates."""


@dataclass(frozen=True)
class Merit:
    """What one row is judged by.

    Parameters
    ----------
    refused : bool
        It is kept out.
    cannot_be : bool
        Its claims cannot be: it is never recommended.
    meets : bool
        It meets every target.
    total : float, optional
        What it costs in all; none without a price.
    kwh_per_day : float
    inside_share : float
        Of the floor that it lights in the band.
    """

    refused: bool
    cannot_be: bool
    meets: bool
    total: float | None
    kwh_per_day: float
    inside_share: float

    @property
    def does_the_job(self) -> bool:
        """Whether it may be recommended: it meets every target, by claims that can be."""
        return self.meets and not self.cannot_be and not self.refused

    def place(self) -> tuple[bool, bool, int, float]:
        """Return what rows stand in order of.

        Those that meet every target by cost, without a price by energy; then those that miss one,
        by the floor they light in the band; then those that cannot be; then those kept out.
        """
        if not self.meets:
            last = 2, -self.inside_share
        elif self.total is not None:
            last = 0, self.total
        else:
            last = 1, self.kwh_per_day
        return self.refused, self.cannot_be, *last


def in_order(rows: Sequence[Row], merit: Callable[[Row], Merit]) -> list[Row]:
    """Return rows in order, the best first."""
    return sorted(rows, key=lambda row: merit(row).place())


def exact_first(
    rows: Sequence[Row],
    merit: Callable[[Row], Merit],
    is_exact: Callable[[Row], bool],
    exactly: Callable[[Sequence[Row]], Sequence[Row]],
) -> list[Row]:
    """Return rows in order, the first few of those that can be asked exactly.

    An exact answer may put another estimate among the first; a few rounds are enough in practice,
    and bound the work where they are not.
    """
    found = in_order(rows, merit)
    for _ in range(2 * EXACT_LEAD):
        able = [i for i, row in enumerate(found) if not _out(merit(row))][:EXACT_LEAD]
        open_ = [i for i in able if not is_exact(found[i])]
        if not open_:
            break
        for i, row in zip(open_, exactly([found[i] for i in open_])):
            found[i] = row
        found = in_order(found, merit)
    return found


def _out(merit: Merit) -> bool:
    return merit.refused or merit.cannot_be


def edge(merits: Sequence[Merit]) -> NDArray[np.bool_]:
    """Return which rows that do the job no other beats in both cost and lit floor, shape (n,)."""
    known = [m.total is not None and m.does_the_job for m in merits]
    costs = np.array([m.total if k else np.nan for m, k in zip(merits, known)], dtype=float)
    return pareto(costs, np.array([m.inside_share for m in merits], dtype=float))


def cheapest(merits: Sequence[Merit]) -> int | None:
    """Return the place of the row that does the job for the least in all, if one does."""
    totals = {i: m.total for i, m in enumerate(merits) if m.does_the_job and m.total is not None}
    return min(totals, key=lambda i: totals[i], default=None)
