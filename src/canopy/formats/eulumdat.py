"""EULUMDAT files (*.ldt), read.

Source: the format's own description (A. Stockmar, 1990), from memory. Planes are counted from
across the luminaire's length; see :mod:`canopy.formats.photometric`.
"""

from canopy.formats.photometric import MOST_NAME, Lines, Photometry

SYMMETRIES = 4
MOST_PLANES = 721
MOST_ANGLES = 721
MM_PER_CM = 10.0
ANGLE_SLACK = 1e-6


def _planes(symmetry: int, count: int) -> tuple[int, int]:
    """Return the first and last plane a file gives, counted from 0."""
    if symmetry == 1:
        return 0, 0
    if symmetry == 2:
        return 0, count // 2
    if symmetry == 3:
        return 3 * count // 4, 3 * count // 4 + count // 2
    if symmetry == 4:
        return 0, count // 4
    return 0, count - 1


def read_eulumdat(text: str) -> Photometry:
    """Return the lamp in a EULUMDAT file.

    Raises
    ------
    CanopyError
        With the line's number, when something is missing or out of place.
    """
    lines = Lines(text)
    lines.line("the company")
    lines.line_number("the type of source", 0, 3)
    symmetry = int(lines.line_number("the symmetry", 0, SYMMETRIES))
    count = int(lines.line_number("the number of C planes", 1, MOST_PLANES))
    lines.line_number("the step between C planes", 0, 360)
    angles = int(lines.line_number("the number of angles in a plane", 2, MOST_ANGLES))
    lines.line_number("the step between angles", 0, 180)
    lines.line("the report number")
    lines.check_size(count, angles)
    name = lines.line("the luminaire's name")[:MOST_NAME]
    for what in ("the luminaire's number", "the file's name", "the date"):
        lines.line(what)
    for what in ("length", "width", "height"):
        lines.line_number(f"the luminaire's {what}", 0, 1e5)
    length = lines.line_number("the length of the luminous area", 0, 1e5)
    width = lines.line_number("the width of the luminous area", 0, 1e5)
    for plane in (0, 90, 180, 270):
        lines.line_number(f"the height of the luminous area at C {plane}", -1e5, 1e5)
    lines.line_number("the downward flux fraction", 0, 100)
    lines.line_number("the light output ratio", 0, 1000)
    conversion = lines.line_number("the conversion factor", 1e-9, 1e6)
    lines.line_number("the tilt during measurement", -360, 360)
    sets = int(lines.line_number("the number of lamp sets", 1, 20))
    lumens, watts, absolute = 0.0, 0.0, False
    for k in range(sets):
        lamps = lines.line_number(f"the number of lamps in set {k + 1}", -1000, 1000)
        absolute = absolute or lamps < 0
        lines.line("the type of lamps")
        flux = lines.line_number(f"the flux of set {k + 1}", 0, 1e8)
        lines.line("the colour of the light")
        lines.line("the colour rendering")
        power = lines.line_number(f"the watts of set {k + 1}", 0, 1e6)
        if k == 0:
            lumens, watts = flux, power
    for k in range(10):
        lines.line_number(f"direct ratio {k + 1} of 10", -1, 100)
    planes = lines.numbers(count, "C plane", 0, 360)
    vertical = lines.numbers(angles, "angle", 0, 180)
    first, last = _planes(symmetry, count)
    rows = []
    for k in range(first, last + 1):
        row = lines.numbers(angles, f"intensity in plane {planes[k % count]:g},", 0)
        rows.append(tuple(v * lumens / 1000 * conversion for v in row))
    horizontal = tuple(planes[k % count] + 360 * (k // count) for k in range(first, last + 1))
    if symmetry == 1:
        horizontal = (0.0,)
    notes = ["More than one lamp set: the first was used."] if sets > 1 else []
    if vertical[-1] > 90 and any(v > 0 for row in rows for a, v in zip(vertical, row) if a > 90):
        notes.append("Light sent upwards is not used: lamps here hang and shine down.")
    if width == 0 and length > 0:
        # a round area given by its diameter, as its equal square
        length = width = length * (3.141592653589793**0.5) / 2
    return Photometry(
        beam=lines.beam(vertical, horizontal, tuple(rows)),
        width_cm=width / MM_PER_CM,
        length_cm=length / MM_PER_CM,
        watts=watts or None,
        lamp_lumens=None if absolute else lumens,
        name=name,
        notes=tuple(notes),
    )
