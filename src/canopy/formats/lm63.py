"""IES LM-63-2002 files: type C photometry, read and written.

Source: ANSI/IESNA LM-63-02, *Standard File Format for the Electronic Transfer of Photometric
Data*. Planes are counted from the luminaire's length; see :mod:`canopy.formats.photometric`.
"""

from dataclasses import replace

from canopy.errors import CanopyError
from canopy.formats.photometric import MOST_ANGLES, MOST_NAME, Lines, Photometry
from canopy.light.beam import CandelaBeam

CM_PER_UNIT = {1: 30.48, 2: 100.0}
"""Feet (exactly 0.3048 m) and metres."""

TYPES = {2: "B", 3: "A"}
LENGTH_TURN_DEG = 90.0
MOST_LINE = 120


def _tilt(lines: Lines, spec: str, notes: list[str]) -> None:
    """Read past the TILT block; the lamp hangs as it was measured."""
    if spec == "NONE":
        return
    if spec != "INCLUDE":
        raise lines.fail(
            f"TILT names another file ({spec[:40]}); put its numbers in here after TILT=INCLUDE, "
            "or write TILT=NONE."
        )
    lines.whole("the lamp-to-luminaire geometry", 1, 3)
    pairs = lines.whole("the number of tilt angles", 1, MOST_ANGLES)
    lines.numbers(pairs, "tilt angle", 0, 360)
    lines.numbers(pairs, "tilt factor", 0, 100)
    notes.append("The file's TILT factors are for a tilted lamp and were set aside.")


def read_lm63(text: str) -> Photometry:
    """Return the lamp in an LM-63 file.

    Raises
    ------
    CanopyError
        With the line's number, when something is missing, out of place or not type C.
    """
    lines = Lines(text)
    first = lines.line("its first line")
    if not first.upper().startswith("IES"):
        raise lines.fail('this is not an LM-63 file; its first line should begin with "IESNA".')
    name = ""
    notes: list[str] = []
    while True:
        line = lines.line("the TILT line")
        if line.upper().startswith("TILT"):
            break
        if line.upper().startswith("[LUMINAIRE]"):
            name = line[len("[LUMINAIRE]") :].strip()[:MOST_NAME]
    _tilt(lines, line.partition("=")[2].strip().upper(), notes)
    lamps = lines.whole("the number of lamps", 1, 1000)
    lumens = lines.number("the lumens per lamp", -1)
    multiplier = lines.number("the candela multiplier", 1e-9)
    vertical_count = lines.whole("the number of vertical angles", 2, MOST_ANGLES)
    horizontal_count = lines.whole("the number of horizontal angles", 1, MOST_ANGLES)
    lines.check_size(horizontal_count, vertical_count)
    kind = lines.whole("the photometric type", 1, 3)
    if kind != 1:
        raise lines.fail(f"this is type {TYPES[kind]} photometry; only type C can be used.")
    scale = CM_PER_UNIT[lines.whole("the units of length", 1, 2)]
    width, length, _ = lines.numbers(3, "dimension", -1000, 1000)
    ballast = lines.number("the ballast factor", 1e-9, 100)
    photometric = lines.number("the ballast-lamp factor", 1e-9, 100)
    watts = lines.number("the input watts", 0, 1e6)
    vertical = lines.numbers(vertical_count, "vertical angle", 0, 180)
    horizontal = lines.numbers(horizontal_count, "horizontal angle", 0, 360)
    factor = multiplier * ballast * photometric
    rows = tuple(
        tuple(v * factor for v in lines.numbers(vertical_count, f"candela in plane {h:g},", 0))
        for h in horizontal
    )
    if lines.rest():
        notes.append("What follows the last candela value was set aside.")
    beam = lines.beam(vertical, tuple(h + LENGTH_TURN_DEG for h in horizontal), rows)
    if vertical[-1] > 90 and any(v > 0 for row in rows for a, v in zip(vertical, row) if a > 90):
        notes.append("Light sent upwards is not used: lamps here hang and shine down.")
    return Photometry(
        beam=beam,
        width_cm=_opening(width * scale),
        length_cm=_opening(length * scale),
        watts=watts or None,
        lamp_lumens=None if lumens < 0 else lumens * lamps,
        name=name,
        notes=tuple(notes),
    )


def _opening(size_cm: float) -> float:
    """Return a side of the opening; a negative one is a circle's, given as its equal square's."""
    return size_cm if size_cm >= 0 else -size_cm * (3.141592653589793**0.5) / 2


def _wrapped(numbers: list[float]) -> str:
    lines, line = [], ""
    for number in numbers:
        word = repr(float(number))
        if line and len(line) + 1 + len(word) > MOST_LINE:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    return "\n".join([*lines, line])


def write_lm63(photometry: Photometry) -> str:
    """Return an LM-63 file, absolute photometry; reading it gives the same lamp again."""
    beam = photometry.beam
    horizontal = [h - LENGTH_TURN_DEG for h in beam.horizontal_deg]
    if min(horizontal) < 0:
        horizontal = [h + 360 for h in horizontal]
        if max(horizontal) > 360:
            beam, horizontal = _from_zero(beam)
    if len(horizontal) == 1:
        horizontal = [0.0]
    name = " ".join(photometry.name.split())[:80]
    size = f"{photometry.width_cm / 100!r} {photometry.length_cm / 100!r} 0.0"
    parts = [
        "IESNA:LM-63-2002",
        "[TEST] computed",
        "[TESTLAB] none",
        "[ISSUEDATE] none",
        "[MANUFAC] none",
        f"[LUMINAIRE] {name}",
        "TILT=NONE",
        f"1 -1 1 {len(beam.vertical_deg)} {len(horizontal)} 1 2 {size}",
        f"1 1 {float(photometry.watts or 0)!r}",
        _wrapped(list(beam.vertical_deg)),
        _wrapped(horizontal),
        *(_wrapped(list(row)) for row in beam.values),
    ]
    return "\n".join(parts) + "\n"


def _from_zero(beam: CandelaBeam) -> tuple[CandelaBeam, list[float]]:
    """Return a whole-circle table with its planes counted from the length, 0 to 360."""
    span = beam.horizontal_deg[-1] - beam.horizontal_deg[0]
    if span in (90.0, 180.0):
        raise CanopyError(
            "This part of a circle cannot be written in LM-63; give the whole circle.",
            "horizontal_deg",
        )
    rows = dict(zip(((h - LENGTH_TURN_DEG) % 360 for h in beam.horizontal_deg), beam.values))
    planes = sorted(rows)
    values = [rows[p] for p in planes]
    if planes[0] == 0:
        planes, values = [*planes, 360.0], [*values, values[0]]
    turned = replace(
        beam,
        horizontal_deg=tuple(p + LENGTH_TURN_DEG for p in planes),
        values=tuple(values),
    )
    return turned, planes
