"""What a listing says, as the command line tells it; docs/formats/listing.md."""

from typing import Any, Final

from canopy.fixture.listing import Reading, Value, read_listing
from canopy.fixture.listing.apart import lamps_apart
from canopy.fixture.listing.offer import price_currency
from canopy.fixture.listing.readings import alike

FORMAT: Final = "idle-canopy/listing"
VERSION: Final = 1
DECIMALS: Final = 6


def listing_document(text: str) -> dict[str, Any]:
    """Return what a text says of a lamp, or of two, as JSON has it.

    Raises
    ------
    CanopyError
        When there is no text, or too much.
    """
    whole = read_listing(text)
    apart = lamps_apart(text)
    if len(apart) < 2:
        return _head() | {"fields": [_field(text, reading) for reading in whole]}
    lamps = [[_field(each, reading) for reading in read_listing(each)] for each in apart]
    return _head() | {"fields": _together(*lamps), "lamps": lamps}


def _head() -> dict[str, Any]:
    return {"format": FORMAT, "version": VERSION}


def _field(text: str, reading: Reading) -> dict[str, Any]:
    words = [" ".join(text[m.start : m.end].split()) for m in reading.mentions]
    value = reading.value
    shown: Any = None if value is None else _plain(value)
    if reading.field == "price" and value is not None:
        shown = [_plain(value), price_currency(text, reading)]
    return {
        "field": reading.field,
        "value": shown,
        "question": reading.why or "Which is it?" if value is None else None,
        "words": words[0] if len(words) == 1 else "; ".join(words),
    }


def _plain(value: Value) -> Any:
    if isinstance(value, str):
        return value
    if isinstance(value, tuple):
        return [round(each, DECIMALS) for each in value]
    return round(value, DECIMALS)


def _together(one: list[dict[str, Any]], two: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return fields of two lamps: those that differ are asked."""
    theirs = {each["field"]: each for each in two}
    found = []
    for field in dict.fromkeys([*(each["field"] for each in one), *theirs]):
        mine = next((each for each in one if each["field"] == field), None)
        other = theirs.get(field)
        if mine and other and _same(mine["value"], other["value"]):
            found.append(mine)
            continue
        words = "; ".join(each["words"] for each in (mine, other) if each)
        why = "It describes two lamps: which is yours?"
        found.append({"field": field, "value": None, "question": why, "words": words})
    return found


def _same(one: Any, two: Any) -> bool:
    if one is None or two is None:
        return False
    if isinstance(one, list) and any(isinstance(each, str) for each in one):
        return bool(one == two)
    return alike(*(tuple(each) if isinstance(each, list) else each for each in (one, two)))
