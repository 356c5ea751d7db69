"""What is said to a grower: codes with figures, worded from one catalogue.

The core says ``Said("season.raise", by_cm=8.2)``; the edges (interface, calendar, card, tables,
refusals) word it in the grower's unit. The catalogue is ``tables/words.json``, from code to
sentence; the interface bundles the same file. Figures in braces carry how they are written:

``length`` whole cm or tenths of an inch, ``hang`` whole cm or quarters of an inch, ``fine`` tenths
of a cm or hundredths of an inch, each with its unit, ``bare`` as fine without it; ``weight`` kg or
pounds; ``heat`` watts, or BTU/h of them; ``n0`` to ``n3`` so many decimals at most; ``g0`` a whole
number in groups of three; ``days`` a number of days with the word; ``warmer`` a difference of
temperatures; ``pct`` a share in per cent;
``text`` as it stands. Lengths are given in cm, weights in kg.
"""

import re
from dataclasses import dataclass, field
from functools import lru_cache
from math import floor
from typing import Final, Literal

from canopy.constants import BTU_PER_H_PER_W
from canopy.tables import table

Unit = Literal["cm", "in"]
Figure = float | str

CM_PER_INCH: Final = 2.54
"""Exact."""

KG_PER_LB: Final = 0.45359237
"""Exact."""

QUARTER_INCH_CM: Final = CM_PER_INCH / 4

MOST_GROUPED: Final = 1e15
"""Above it a figure has more digits than it is known to."""

PLACE: Final = re.compile(r"\{(\w+):(\w+)\}")


@dataclass(frozen=True)
class Said:
    """A code of the catalogue, and the figures its sentence takes."""

    code: str
    figures: dict[str, Figure] = field(default_factory=dict)


def said(code: str, **figures: Figure) -> Said:
    """Return what is said by a code of the catalogue.

    Raises
    ------
    KeyError
        When the catalogue has no such code or its sentence takes other figures.
    """
    wanted = {name for name, _ in PLACE.findall(catalogue()[code])}
    if wanted != figures.keys():
        raise KeyError(f"{code} takes {sorted(wanted)}, not {sorted(figures)}")
    return Said(code, {k: v if isinstance(v, str) else float(v) for k, v in figures.items()})


def plain(sentence: str) -> Said:
    """Return a sentence that stands in no catalogue: it has no figures with a unit."""
    return Said("plain", {"text": sentence})


@lru_cache(maxsize=1)
def catalogue() -> dict[str, str]:
    """Return the sentences by code."""
    words: dict[str, str] = table("words")["sentences"]
    return words


def worded(what: Said, unit: Unit = "cm") -> str:
    """Return what is said as a sentence in a unit of length.

    >>> much = said("map.short_x", by_cm=8.2)
    >>> worded(much)[:37], worded(much, "in")[:39]
    ('The readings stop 8 cm short of the l', 'The readings stop 3.2 in short of the l')
    """
    return PLACE.sub(
        lambda found: _written(what.figures[found[1]], found[2], unit), catalogue()[what.code]
    )


def _written(value: Figure, kind: str, unit: Unit) -> str:
    if isinstance(value, str):
        return value
    inches = unit == "in"
    length = value / CM_PER_INCH if inches else value
    if kind == "weight":
        return f"{_trimmed(value / KG_PER_LB if inches else value, 2)} {'lb' if inches else 'kg'}"
    if kind == "heat":
        return f"{_trimmed(value * BTU_PER_H_PER_W, 0)} BTU/h" if inches else _w(value)
    match kind:
        case "length":
            return f"{_trimmed(length, 1 if inches else 0)} {unit}"
        case "hang":
            quarters = round(length * 4) / 4
            return f"{_trimmed(quarters, 2) if inches else _trimmed(length, 0)} {unit}"
        case "fine":
            return f"{_trimmed(length, 2 if inches else 1)} {unit}"
        case "bare":
            return _trimmed(length, 2 if inches else 1)
        case "g0":
            whole = _trimmed(value, 0)
            return f"{int(whole):,}".replace(",", "\u202f") if abs(value) < MOST_GROUPED else whole
        case "warmer":
            return f"{_trimmed(value * 1.8 if inches else value, 1)} °{'F' if inches else 'C'}"
        case "days":
            whole = _trimmed(value, 0)
            return f"{whole} day" if whole == "1" else f"{whole} days"
        case "pct":
            return f"{_trimmed(value * 100, 0)} %"
        case _:
            return _trimmed(value, int(kind[1:]))


def _w(watts: float) -> str:
    return f"{_trimmed(watts, 1)} W"


def _trimmed(value: float, decimals: int) -> str:
    """Return a number with at most so many decimals, halves away from zero, no trailing zeros."""
    scale = 10**decimals
    whole = floor(abs(value) * scale + 0.5 + 1e-9) / scale
    return (
        f"{-whole if value < 0 and whole else whole:.{decimals}f}".rstrip("0").rstrip(".")
        if decimals
        else f"{-whole if value < 0 and whole else whole:.0f}"
    )
