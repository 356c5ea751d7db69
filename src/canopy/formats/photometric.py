"""What a photometric file says of a lamp, whichever format it came in.

Azimuths are the scene format's: C from the lamp's own +x axis, counter-clockwise seen from above.
A lamp's length lies along y, its width along x. LM-63 counts its planes from the length, so its
C 0 is our +y and 90 degrees are added on reading; EULUMDAT counts from across the length, so its
C 0 is our +x. Both are taken as counter-clockwise seen from above.
"""

from collections import deque
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.light.beam import CandelaBeam
from canopy.light.sources import Bars, Board, Layout, PointSource

Array = NDArray[np.float64]
IntensityUnit = Literal["cd", "W/sr", "umol/s/sr"]

LEAST_OPENING_CM = 1.0
MOST_ANGLES = 1441
"""A quarter of a degree round the circle."""

MOST_INTENSITIES = 130_000
"""721 angles in 180 planes: finer tables than laboratories give."""

MOST_NAME = 200


@dataclass(frozen=True)
class Photometry:
    """A lamp as its file has it.

    Parameters
    ----------
    beam : CandelaBeam
        Intensities in the file's own unit, all its factors applied.
    width_cm, length_cm : float
        The luminous opening along x and y; 0 for a point.
    watts : float or None
        Input power as stated.
    lamp_lumens : float or None
        What relative photometry refers to; ``None`` for absolute photometry.
    name : str
    notes : tuple of str
        What was read and set aside, as sentences.
    """

    beam: CandelaBeam
    width_cm: float
    length_cm: float
    watts: float | None
    lamp_lumens: float | None
    name: str
    notes: tuple[str, ...] = ()

    def layout(self) -> Layout:
        """Return where the light comes from: the luminous opening, evenly, or a point."""
        wide, long = self.width_cm >= LEAST_OPENING_CM, self.length_cm >= LEAST_OPENING_CM
        if wide and long:
            return Board(self.width_cm, self.length_cm)
        if long:
            return Bars((0.0,), self.length_cm)
        if wide:
            return Board(self.width_cm, LEAST_OPENING_CM)
        return PointSource()

    def downward_flux(self) -> float:
        """Return the flux below the lamp, in lm, W or umol s-1 as the file's unit has it."""
        return downward_flux(self.beam)


def downward_flux(beam: CandelaBeam) -> float:
    """Return the integral of a table's intensities over the lower half, in its unit times sr.

    Intensity runs straight between the table's angles; planes are weighed by the angle between
    their neighbours.
    """
    # the beam's own table is this one scaled to unit flux: compare them on the normal's ring
    gamma = np.radians(np.linspace(0, 90, 1801))
    planes = np.radians(np.asarray(beam.horizontal_deg))
    rows = np.array(
        [np.interp(np.degrees(gamma), beam.vertical_deg, row, right=0.0) for row in beam.values]
    )
    rings = np.trapezoid(rows * np.sin(gamma), gamma, axis=1)
    if len(planes) == 1:
        return float(2 * np.pi * rings[0])
    span = planes[-1] - planes[0]
    if np.degrees(span) in (90.0, 180.0) or np.degrees(span) == 360.0:
        return float(np.trapezoid(rings, planes) * 2 * np.pi / span)
    closed = np.append(planes, planes[0] + 2 * np.pi)
    return float(np.trapezoid(np.append(rings, rings[0]), closed))


def ppf_umol_s(photometry: Photometry, unit: IntensityUnit, factor: float | None) -> float:
    """Return the photons below the lamp, umol s-1.

    Parameters
    ----------
    photometry : Photometry
    unit : {'cd', 'W/sr', 'umol/s/sr'}
        What the file's numbers are; the formats say candela, photon files use them all.
    factor : float or None
        Lumens per umol for 'cd', umol per joule for 'W/sr'; not used for 'umol/s/sr'.

    Raises
    ------
    CanopyError
        When the factor is needed and missing or not above 0.
    """
    flux = photometry.downward_flux()
    if unit == "umol/s/sr":
        return flux
    if factor is None or not factor > 0:
        wanted = "lumens per umol" if unit == "cd" else "umol per joule"
        raise CanopyError(
            f"The file's numbers are in {unit}; give its spectrum's {wanted} so that they can be "
            "counted as photons.",
            "spectrum_factor",
        )
    return flux / factor if unit == "cd" else flux * factor


class Lines:
    """A text file read line by line or number by number; complaints name the line."""

    def __init__(self, text: str) -> None:
        self.lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
        self.at = 0
        self._words: deque[str] = deque()

    def fail(self, sentence: str) -> CanopyError:
        """Return an error that names the present line."""
        return CanopyError(f"Line {self.at}: {sentence}", "file")

    def line(self, what: str) -> str:
        """Return the next line."""
        if self.at >= len(self.lines):
            raise CanopyError(f"The file ends before {what} (line {self.at + 1}).", "file")
        self.at += 1
        return self.lines[self.at - 1].strip()

    def word(self, what: str) -> str:
        """Return the next word, over line ends."""
        while not self._words:
            self._words.extend(self.line(what).replace(",", " ").split())
        return self._words.popleft()

    def value(self, text: str, what: str, low: float, high: float) -> float:
        """Return a text as a finite number within limits."""
        try:
            number = float(text.replace(",", "."))
        except ValueError:
            raise self.fail(f'{what} should be a number; it is "{text[:20]}".') from None
        if not low <= number <= high:
            raise self.fail(f"{what} is {number:g}; it should lie from {low:g} to {high:g}.")
        return number

    def number(self, what: str, low: float = -1e9, high: float = 1e9) -> float:
        """Return the next word as a number."""
        return self.value(self.word(what), what, low, high)

    def whole(self, what: str, low: int, high: int) -> int:
        """Return the next word as a whole number."""
        number = self.number(what, low, high)
        if number != int(number):
            raise self.fail(f"{what} is {number:g}; it should be a whole number.")
        return int(number)

    def numbers(
        self, count: int, what: str, low: float = -1e9, high: float = 1e9
    ) -> tuple[float, ...]:
        """Return the next ``count`` words as numbers."""
        return tuple(self.number(f"{what} {i + 1} of {count}", low, high) for i in range(count))

    def check_size(self, planes: int, angles: int) -> None:
        """Check that a table of intensities is not too large to keep."""
        if planes * angles > MOST_INTENSITIES:
            raise self.fail(
                f"{planes} planes of {angles} angles are {planes * angles:,} intensities; "
                f"{MOST_INTENSITIES:,} at most. Leave out every other angle."
            )

    def rest(self) -> bool:
        """Return whether anything is left to read."""
        return bool(self._words) or any(rest.strip() for rest in self.lines[self.at :])

    def line_number(self, what: str, low: float = -1e9, high: float = 1e9) -> float:
        """Return a line of its own as a number."""
        return self.value(self.line(what), what, low, high)

    def beam(
        self,
        vertical: tuple[float, ...],
        horizontal: tuple[float, ...],
        values: tuple[tuple[float, ...], ...],
    ) -> CandelaBeam:
        """Return the table, or an error that names the last line read."""
        try:
            return CandelaBeam(vertical, horizontal, values)
        except CanopyError as error:
            raise self.fail(error.sentence) from error
