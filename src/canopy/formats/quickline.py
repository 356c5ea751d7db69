"""One line as it is typed at the tent, to entries of a log.

"h 24; dial 55; tips bleached back left" is a setting and a symptom. Nothing is guessed: a piece is
read, is a plain note where it holds no figure, or is handed back with what to write. Lengths come
out in cm, temperatures in °C; docs/formats/quick-line.md.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from canopy.quantities import celsius_of
from canopy.words import CM_PER_INCH, Said, Unit, said

EntryKind = Literal[
    "tops",
    "setting",
    "watts",
    "temperature",
    "outage",
    "dead",
    "symptom",
    "cover",
    "cleaned",
    "water",
    "note",
]
Value = float | str

MOST_LINE = 500
MOST_PIECES = 20
MOST_NOTE = 300

SYMPTOMS: dict[str, tuple[str, ...]] = {
    "bleached": ("bleached", "bleaching", "white"),
    "burnt": ("burnt", "burned", "singed", "scorched", "crispy"),
    "curled": ("curled", "curling", "curl", "tacoing"),
    "stretched": ("stretched", "stretching", "leggy", "stretch"),
    "yellow": ("yellow", "yellowing", "chlorotic"),
    "pale": ("pale",),
    "brown": ("brown",),
    "wilted": ("wilted", "wilting", "drooping", "limp"),
    "leaning": ("leaning",),
    "dropped": ("dropped", "dropping", "falling"),
    "small": ("small", "stunted"),
}
PARTS = ("lower leaves", "upper leaves", "new leaves", "leaves", "tips", "edges", "stems", "buds",
         "flowers", "seedlings", "tops")  # fmt: skip
PLACES = ("back left", "back right", "front left", "front right", "under the lamp", "in the middle",
          "middle", "left", "right", "front", "back", "everywhere")  # fmt: skip

LIMITS: dict[str, tuple[float, float]] = {
    "tops_cm": (0, 500),
    "height_cm": (0, 500),
    "dial_pct": (0, 100),
    "hours": (0, 24),
    "watts": (0, 20_000),
    "celsius": (-30, 80),
    "minutes": (1, 14 * 24 * 60),
    "count": (1, 100_000),
    "since_days": (0, 365),
}

MANY: dict[str, tuple[str, ...]] = {
    "one": ("one plant", "a plant"),
    "some": ("some plants", "a few plants", "several plants"),
    "all": ("all plants", "every plant"),
}

NUM = r"(?P<n>\d+(?:[.,]\d+)?)"
LENGTH = NUM + r"\s*(?P<u>cm|mm|in|inch|inches|\")?"
TIME = r"(?P<{}h>\d{{1,2}})(?:[:.](?P<{}m>\d\d))?"
SPAN = TIME.format("a", "a") + r"\s*(?:-|–|to)\s*" + TIME.format("b", "b")
LASTS = r"(?:(?P<lh>\d+(?:[.,]\d+)?)\s*h(?:ours?)?)?\s*(?:(?P<lm>\d+)\s*(?:m|min|minutes?)?)?"
PLACE = "|".join(PLACES)


@dataclass(frozen=True)
class Understood:
    """A piece that was read: its kind, figures, and how it was typed.

    Values of a setting: height_cm, dial_pct, hours, on_minute; of tops: tops_cm, where; of watts:
    watts; of a temperature: celsius, where; of an outage: minutes, from_minute; of dead diodes:
    count; of a symptom: what, part, where, since_days, many; of what was cleaned: what (lamp,
    lining, both). The rest have their text alone.
    """

    kind: EntryKind
    text: str
    values: dict[str, Value] = field(default_factory=dict)


@dataclass(frozen=True)
class Unread:
    """A piece that was not read, and what to write."""

    text: str
    why: Said


@dataclass(frozen=True)
class _Way:
    kind: EntryKind
    pattern: re.Pattern[str]
    read: Callable[[re.Match[str], Unit, str], dict[str, Value]]


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _cm(match: re.Match[str], unit: Unit, _degrees: str) -> float:
    named = match["u"] or unit
    value = _number(match["n"])
    if named == "mm":
        return value / 10
    return value if named == "cm" else value * CM_PER_INCH


def _minute(hour: str, minute: str | None) -> float:
    return float(int(hour) * 60 + int(minute or 0))


def _span(match: re.Match[str]) -> tuple[float, float]:
    """Return the first minute of the day, and how many there are; over midnight too."""
    first = _minute(match["ah"], match["am"])
    last = _minute(match["bh"], match["bm"])
    return first, (last - first) % 1440 or 1440.0


def _tops(match: re.Match[str], unit: Unit, degrees: str) -> dict[str, Value]:
    found: dict[str, Value] = {"tops_cm": _cm(match, unit, degrees)}
    return found | ({"where": match["where"]} if match["where"] else {})


def _on(match: re.Match[str], _unit: Unit, _degrees: str) -> dict[str, Value]:
    first, minutes = _span(match)
    return {"on_minute": first, "hours": minutes / 60}


def _temperature(match: re.Match[str], _unit: Unit, degrees: str) -> dict[str, Value]:
    value = _number(match["n"]) * (-1 if match["minus"] else 1)
    scale = (match["scale"] or degrees).upper()
    found: dict[str, Value] = {"celsius": value if scale == "C" else celsius_of(value)}
    where = (match["where"] or "").strip()
    return found | ({"where": where} if where in ("air", "leaf", "lamp") else {})


def _outage(match: re.Match[str], _unit: Unit, _degrees: str) -> dict[str, Value]:
    if match["ah"]:
        first, minutes = _span(match)
        return {"minutes": minutes, "from_minute": first}
    hours = _number(match["lh"]) if match["lh"] else 0.0
    return {"minutes": hours * 60 + float(match["lm"] or 0)}


def _pattern(text: str) -> re.Pattern[str]:
    return re.compile(text, re.IGNORECASE)


WAYS = (
    _Way(
        "setting",
        _pattern(rf"(?:h|height|hang|lamp at|lamp)\s*[:=]?\s*{LENGTH}(?:\s*above(?: the)? tops)?"),
        lambda m, u, d: {"height_cm": _cm(m, u, d)},
    ),
    _Way(
        "setting",
        _pattern(rf"(?:d|dial|dim|dimmer)\s*[:=]?\s*{NUM}\s*%?"),
        lambda m, u, d: {"dial_pct": _number(m["n"])},
    ),
    _Way("setting", _pattern(rf"(?:on|hours?|light)\s*[:=]?\s*(?=\d{{1,2}}[:.]\d\d){SPAN}"), _on),
    _Way(
        "setting",
        _pattern(rf"(?:hours?|on for|on)\s*[:=]?\s*{NUM}\s*(?:h|hours?)?"),
        lambda m, u, d: {"hours": _number(m["n"])},
    ),
    _Way(
        "setting",
        _pattern(rf"{NUM}\s*(?:h|hours?)(?:\s*on)?"),
        lambda m, u, d: {"hours": _number(m["n"])},
    ),
    _Way(
        "tops",
        _pattern(rf"(?:t|tops?|canopy|plants?)\s*[:=]?\s*{LENGTH}(?:\s+(?P<where>{PLACE}))?"),
        _tops,
    ),
    _Way(
        "watts",
        _pattern(rf"(?:w|watts?|meter|plug)\s*[:=]?\s*{NUM}\s*(?:w|watts?)?"),
        lambda m, u, d: {"watts": _number(m["n"])},
    ),
    _Way("watts", _pattern(rf"{NUM}\s*(?:w|watts?)"), lambda m, u, d: {"watts": _number(m["n"])}),
    _Way(
        "temperature",
        _pattern(
            rf"(?P<where>temp(?:erature)?|air|leaf|lamp)?\s*[:=]?\s*(?P<minus>-|−)?\s*{NUM}"
            r"\s*°?\s*(?P<scale>[cf])"
        ),
        _temperature,
    ),
    _Way(
        "temperature",
        _pattern(
            rf"(?P<where>temp(?:erature)?|air|leaf)\s*[:=]?\s*(?P<minus>-|−)?\s*{NUM}"
            r"\s*°?(?P<scale>)"
        ),
        _temperature,
    ),
    _Way(
        "outage",
        _pattern(
            r"(?:power cut|no power|outage|cut|off)\s*[:=]?\s*"
            rf"(?:(?=\d{{1,2}}[:.]\d\d){SPAN}|(?=\d+(?:[.,]\d+)?\s*[hm]){LASTS})"
        ),
        _outage,
    ),
    _Way(
        "dead",
        _pattern(r"(?:dead(?: diodes?| leds?)?\s*[:=]?\s*(?P<n>\d+)|(?P<k>\d+)\s*dead"
                 r"(?: diodes?| leds?)?)"),
        lambda m, u, d: {"count": float(m["n"] or m["k"])},
    ),
)  # fmt: skip

SINCE = _pattern(rf"\b(?:since|for)\s+{NUM}\s*(?P<u>d|days?|w|weeks?)\b")

WATER = _pattern(r"(?:watered|water|fed|feed|drained)\b.*")
COVER = _pattern(r"(?:new |changed )(?:cover|lining|film|foil|reflector)\b.*|"
                 r"(?:cover|lining|film|foil) changed\b.*|cover (?:cleaned|wiped)\b.*")  # fmt: skip
WIPED = _pattern(r"(?:cleaned|wiped|dusted)(?: off| down)?\b(?P<a>.*)|"
                 r"(?P<b>.*)\b(?:cleaned|wiped|dusted)(?: off| down)?")  # fmt: skip
CLEANED: dict[str, str] = {
    "lamp": r"\b(?:lamps?|light|diodes|leds?|lens(?:es)?|board|bars)\b",
    "lining": r"\b(?:lining|walls?|film|foil|tent|reflectors?)\b",
}
NOTE = _pattern(r"(?:note|nb)\s*[:=]\s*(?P<rest>.+)")


def _symptom(piece: str) -> dict[str, Value] | None:
    """Return what a plant shows, where on it and where in the tent; nothing without a sign."""
    plain = f" {re.sub(r'[^a-z ]+', ' ', piece.lower())} "
    what = next((w for w, names in SYMPTOMS.items() if any(f" {n} " in plain for n in names)), None)
    if what is None:
        return None
    found: dict[str, Value] = {"what": what}
    for name, words in (("part", PARTS), ("where", PLACES)):
        here = next((word for word in words if f" {word} " in plain), None)
        if here is not None:
            found[name] = here
    since = SINCE.search(piece)
    if since is not None:
        found["since_days"] = _number(since["n"]) * (7.0 if since["u"].startswith("w") else 1.0)
    many = next(
        (name for name, words in MANY.items() if any(f" {w} " in plain for w in words)), None
    )
    if many is not None:
        found["many"] = many
    return found


def _cleaned(piece: str) -> dict[str, Value] | None:
    """Return what was wiped, the lamp, the lining or both; nothing of anything else."""
    match = WIPED.fullmatch(piece)
    if match is None:
        return None
    rest = match["a"] or match["b"] or ""
    named = [what for what, words in CLEANED.items() if re.search(words, rest, re.IGNORECASE)]
    return {"what": "both" if len(named) == 2 else named[0]} if named else None


def _read(piece: str, unit: Unit, degrees: str) -> Understood | Unread:
    note = NOTE.fullmatch(piece)
    if note:
        return Understood("note", note["rest"][:MOST_NOTE])
    for way in WAYS:
        match = way.pattern.fullmatch(piece)
        if match is None:
            continue
        values = way.read(match, unit, degrees)
        return _within(way.kind, piece, values)
    symptom = _symptom(piece)
    if symptom is not None:
        return _within("symptom", piece, symptom)
    if WATER.fullmatch(piece):
        return Understood("water", piece)
    if COVER.fullmatch(piece):
        return Understood("cover", piece)
    cleaned = _cleaned(piece)
    if cleaned is not None:
        return Understood("cleaned", piece, cleaned)
    if re.search(r"\d", piece):
        # a figure nobody can place is not buried in a note
        return Unread(piece, said("line.figure", text=piece))
    return Understood("note", piece[:MOST_NOTE])


def _within(kind: EntryKind, piece: str, values: dict[str, Value]) -> Understood | Unread:
    """Return a piece as understood, or handed back where a figure of it cannot be."""
    for name, value in values.items():
        low, high = LIMITS.get(name, (0.0, 1440.0))
        if isinstance(value, float) and not low <= value <= high:
            return Unread(piece, said("line.range", text=piece))
    return Understood(kind, piece, values)


def read_line(
    line: str, unit: Unit = "cm", degrees: Literal["C", "F"] = "C"
) -> list[Understood | Unread]:
    """Return what a line says, piece by piece in order; semicolons or line ends part them.

    What is set together is one setting. A figure that stands there twice is unread.

    Parameters
    ----------
    line : str
    unit, degrees
        Of figures that name none.
    """
    if len(line) > MOST_LINE:
        return [Unread(line[:40], said("line.long"))]
    pieces = [piece.strip(" \t.,") for piece in re.split(r"[;\n]", line)]
    found: list[Understood | Unread] = []
    setting: int | None = None
    for piece in [piece for piece in pieces if piece][:MOST_PIECES]:
        read = _read(piece, unit, degrees)
        if isinstance(read, Understood) and read.kind == "setting":
            if setting is None:
                setting = len(found)
            else:
                so_far = found[setting]
                assert isinstance(so_far, Understood)
                if so_far.values.keys() & read.values.keys():
                    read = Unread(piece, said("line.twice", text=piece))
                else:
                    both = so_far.values | read.values
                    found[setting] = Understood("setting", f"{so_far.text}; {piece}", both)
                    continue
        found.append(read)
    return found
