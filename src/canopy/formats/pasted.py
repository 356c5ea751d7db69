"""Blocks of figures as they are typed, or pasted from a spreadsheet of whatever country.

Tabs, semicolons, commas or spaces part the cells; 1.234,5 and 1,234.5 and 1 234,5 are one figure.
"""

import re
from dataclasses import dataclass
from math import log

from canopy.errors import CanopyError
from canopy.words import Said, said

MOST_TEXT = 200_000
MOST_SIDE = 100
"""Rows, and columns, of a block."""

SPACES = re.compile("[ \u00a0\u2009\u202f'\u2019]")
FIGURE = re.compile(r"[+-]?\d[\d.,]*|[+-]?[.,]\d+")
GROUPED = {sign: re.compile(rf"[+-]?[1-9]\d{{0,2}}(\{sign}\d{{3}})+") for sign in ".,"}
SMALL = 20.0
"""Light of no more, to three decimals, is thousands. Our judgement."""


@dataclass(frozen=True)
class Block:
    """Rows of figures, all as long as the longest, ``None`` where nothing stands.

    ``notes`` tell how they were read where that was not plain.
    """

    rows: tuple[tuple[float | None, ...], ...]
    notes: tuple[Said, ...] = ()


def _cells(line: str) -> list[str]:
    """Return a line's cells."""
    for sign in "\t;":
        if sign in line:
            return [SPACES.sub("", cell) for cell in line.split(sign)]
    # a figure's own thin spaces stay with it
    words = [word for word in re.split(r"[ ]+", line.strip()) if word]
    if len(words) == 1 and line.count(",") > 1 and not GROUPED[","].fullmatch(words[0]):
        words = words[0].split(",")
    elif len(words) > 1 and all(word.endswith(",") for word in words[:-1]):
        words = [word.rstrip(",") for word in words]
    return [SPACES.sub("", word) for word in words]


def shown_sign(figure: str) -> str:
    """Return the decimal sign a figure shows by itself; empty where it could be either.

    >>> shown_sign("1.250,5"), shown_sign("2,7"), shown_sign("1,250")
    (',', ',', '')
    """
    if "," in figure and "." in figure:
        return "," if figure.rfind(",") > figure.rfind(".") else "."
    # what is in no groups of three is no thousands
    sign = next((sign for sign in ",." if sign in figure), "")
    return sign if sign and not GROUPED[sign].fullmatch(figure) else ""


def decimal_sign(figures: list[str]) -> str | None:
    """Return the sign that parts whole from broken in figures all written alike.

    ``None`` where none of them tells, or they disagree: 1,250 alone, or beside 2.125.

    >>> decimal_sign(["1,250", "2,7"]), decimal_sign(["1,250", "980"]), decimal_sign(["1,250"])
    (',', '.', None)
    """
    shown = {sign for sign in map(shown_sign, figures) if sign}
    if shown:
        return shown.pop() if len(shown) == 1 else None
    signed = {sign: [f for f in figures if sign in f] for sign in ".,"}
    plain = [abs(float(f)) for f in figures if "." not in f and "," not in f]
    near = [value for value in plain if value > 0]
    if signed[","] and signed["."]:
        return None
    for sign, other in (",.", ".,"):
        if signed[sign] and near:
            return other if _as_thousands(signed[sign], sign, near) else sign
    return None if signed[","] or signed["."] else "."


def _of_a_map(figures: list[str]) -> str:
    """Return the decimal sign of light, which is seldom told to three decimals where it is dim."""
    told = decimal_sign(figures)
    if told is not None:
        return told
    grouped = {s: [f for f in figures if GROUPED[s].fullmatch(f)] for s in ".,"}
    if bool(grouped[","]) == bool(grouped["."]):
        return "."
    sign, other = (",", ".") if grouped[","] else (".", ",")
    return other if max(_broken(figure, sign) for figure in grouped[sign]) < SMALL else sign


def _broken(figure: str, sign: str) -> float:
    """Return a figure in groups of three with its first group as the whole part."""
    first, *groups = figure.lstrip("+-").split(sign)
    return float(f"{first}.{''.join(groups)}")


def _as_thousands(grouped: list[str], sign: str, near: list[float]) -> bool:
    """Return whether figures in groups of three are thousands: so they lie nearer to the others."""
    small = [_broken(figure, sign) for figure in grouped]
    middle = sum(map(log, near)) / len(near)
    least = sum(abs(log(value) - middle) for value in small if value > 0)
    most = sum(abs(log(value * 1000) - middle) for value in small if value > 0)
    return most < least


def figure_value(text: str, sign: str) -> float:
    """Return a figure's value; one that shows its decimal sign by itself is read by that.

    >>> figure_value("1,250", "."), figure_value("1,250", ","), figure_value("12.5", ",")
    (1250.0, 1.25, 12.5)
    """
    sign = shown_sign(text) or sign
    other = "." if sign == "," else ","
    return float(text.replace(other, "").replace(sign, "."))


def read_block(text: str) -> Block:
    """Return the figures in a text.

    Raises
    ------
    CanopyError
        With row and column, where something is no figure; when there are none, or too many.
    """
    if len(text) > MOST_TEXT:
        raise CanopyError("That is too long for a light map; paste its figures alone.", "text")
    lines = [line.rstrip("\r") for line in text.strip("\r\n").split("\n")]
    cut = [_cells(line.replace("\u2212", "-")) for line in lines if line.strip()]
    wide = max((len(row) for row in cut), default=0)
    if len(cut) > MOST_SIDE or wide > MOST_SIDE:
        raise CanopyError(f"At most {MOST_SIDE} rows and columns can be read.", "text")
    for r, row in enumerate(cut, start=1):
        for c, cell in enumerate(row, start=1):
            if cell and not FIGURE.fullmatch(cell):
                shown = cell[:20]
                raise CanopyError(
                    f'Row {r}, column {c}: "{shown}" is no figure; correct it or leave it empty.',
                    "text",
                )
    figures = [cell for row in cut for cell in row if cell]
    if not figures:
        raise CanopyError("There are no figures yet; type or paste some.", "text")
    sign = _of_a_map(figures)
    try:
        rows = tuple(
            tuple(figure_value(cell, sign) if cell else None for cell in row)
            + (None,) * (wide - len(row))
            for row in cut
        )
    except ValueError:
        raise CanopyError("One of the figures has two decimal signs; correct it.", "text") from None
    return Block(rows, _told(figures, sign))


def _told(figures: list[str], sign: str) -> tuple[Said, ...]:
    """Return how figures were read, one of them as an example."""
    other = "." if sign == "," else ","
    notes = []
    for mark in (other, sign):
        found = next((figure for figure in figures if mark in figure), None)
        if found is not None and (mark == other or sign == ","):
            notes.append(said("read.figure", text=found, value=figure_value(found, sign)))
    return tuple(notes)
