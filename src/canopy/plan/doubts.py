"""What a computed light is known by, part by part, and how far each part may put it wrong.

A part is one standard deviation, as a share, of the mean, the brightest spot, the dimmest spot and
min/mean; parts are added as squares. How the sizes here were found, and that the ranges hold what
they say, is in ``benchmarks/certainty.py``, which draws tents, lamps and readings by chance.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.light.firstlight import first_light
from canopy.light.heightstack import HeightStack
from canopy.light.measured import MeasuredMap, by_height
from canopy.light.sources import PlacedLamp
from canopy.light.transport import Transport

Array = NDArray[np.float64]

PartName = Literal["ppf", "footprint", "lining", "room", "sensor", "spots", "dial", "fit"]
Sensor = Literal["quantum", "cheap", "phone"]

MEAN, BRIGHTEST, DIMMEST, EVENNESS = range(4)

TOGETHER: tuple[PartName, ...] = ("ppf", "lining", "sensor", "dial", "fit")
"""Parts that move the mean and the brightest spot the same way."""

PPF: dict[str, float] = {
    "measured": 0.04,
    "maker": 0.10,
    "assumed": 0.18,
    "doubt": 0.15,
    "wrong": 0.25,
}
"""Of the PPF, by its origin or, where claims do not go together, by how far they are trusted.
Judgement; a lamp whose maker's figure stands alone is within 10 %, common practice, no source."""

FOOTPRINT = (0.03, 0.08, 0.06, 0.06)
"""A layout guessed from a frame: its sides off by 8 %."""

LINING_REFLECTANCE = 0.07
"""Of a lining's reflectance: half of its range in its table, with mirrors thought matt."""

ROOM, OPEN_ROOM = (0.05, 0.061, 0.145, 0.12), (0.09, 0.115, 0.085, 0.13)
"""All else the model assumes: mirrors, canopy, beam, hanging true, and what it leaves out; with all
four walls lined, and with none, where the beam alone says how the light spreads."""

SENSOR: dict[Sensor, float] = {"quantum": 0.022, "cheap": 0.06, "phone": 0.13}
"""A sensor's calibration, common to all its readings, with its usual bias: 1, 2 and 4 %."""

DIAL = 0.20
"""Of an assumed dial, times the logarithm of its share of light: at 50 it is 39 to 52 %."""

DIAL_READ = 0.03
"""Of a dial with a table of its own, below full light."""

APART = 0.25
"""Spots nearer to one another than this share of the floor's side count as one."""

SECOND_HEIGHT = 3
"""So many spots make a second height: fewer say nothing of the floor there."""


@dataclass(frozen=True)
class Known:
    """How far a lamp's figures can be trusted.

    Parameters
    ----------
    ppf_sd : float
        One standard deviation of its PPF, as a share.
    footprint, dial : bool
        Whether its layout and its dial's table were given, not guessed.
    sensor : {'quantum', 'cheap', 'phone'}
        What its readings were taken with.
    lining : float
        What a fit of the tent has left of the lining's doubt, as a share.
    learnt : bool
        Whether any of it was learnt by a fit.
    """

    ppf_sd: float = PPF["maker"]
    footprint: bool = True
    dial: bool = True
    sensor: Sensor = "quantum"
    lining: float = 1.0
    learnt: bool = False


KNOWN = Known()


@dataclass(frozen=True)
class Doubt:
    """One standard deviation of an answer, as shares; numbers or arrays of one shape.

    ``together`` is how far mean and brightest spot are wrong together, a correlation.
    """

    mean: Array | float
    brightest: Array | float
    dimmest: Array | float
    evenness: Array | float
    together: Array | float


@dataclass(frozen=True)
class Doubts:
    """What is not known over a space's heights and dials.

    ``parts`` holds for each name an array of shape (heights, 4); ``dial`` has shape (dials,).
    """

    parts: Mapping[PartName, Array]
    dial: Array

    def part(self, name: PartName, height: int, dial: int) -> tuple[float, float, float, float]:
        """Return one part at indices of height and dial."""
        if name == "dial":
            at = float(self.dial[dial])
            return at, at, at, 0.0
        mean, bright, dim, even = (float(v) for v in self.parts[name][height])
        return mean, bright, dim, even

    def at(self, h: NDArray[np.int64] | int, d: NDArray[np.int64] | int) -> Doubt:
        """Return all parts together at indices of heights and dials."""
        squares = np.asarray(sum(part[h] ** 2 for part in self.parts.values()))
        dial = np.asarray(self.dial[d])
        turned = dial[..., None] * np.array([1.0, 1.0, 1.0, 0.0])
        mean, bright, dim, even = np.moveaxis(np.sqrt(squares + turned**2), -1, 0)
        joint = dial**2 + sum(
            part[h][..., MEAN] * part[h][..., BRIGHTEST]
            for name, part in self.parts.items()
            if name in TOGETHER
        )
        together = joint / np.maximum(mean * bright, 1e-12)
        return Doubt(mean, bright, dim, even, np.minimum(together, MOST_TOGETHER))


MOST_TOGETHER = 0.99


def _same(sd: float) -> tuple[float, float, float, float]:
    """Return a part that makes everything brighter or darker alike."""
    return sd, sd, sd, 0.0


def distinct_spots(rows: Array, width_cm: float, depth_cm: float) -> int:
    """Return how many of the places read at a height lie apart from one another.

    Parameters
    ----------
    rows : array, shape (n, 4)
        x, y, height, PPFD.
    """
    apart = APART * min(width_cm, depth_cm)
    kept: list[Array] = []
    for place in np.unique(rows[:, :2], axis=0):
        if all(np.hypot(*(place - other)) >= apart for other in kept):
            kept.append(place)
    return len(kept)


def spots_doubt(spots: int, steps: Array) -> Array:
    """Return what readings at some spots leave open, shape (heights, 4).

    Parameters
    ----------
    spots : int
        Different ones, at the height or heights that are nearest.
    steps : array, shape (heights,)
        How far each height lies above what was read, as ln(h / read); below 0 under it.
    """
    near, share = np.array(SPOTS_AT), 1 / max(spots, 1)
    at = near * share + np.array(SPOTS_LEFT) * (1 - share)
    away = np.where(steps[:, None] > 0, np.array(SPOTS_ABOVE), np.array(SPOTS_BELOW))
    result: Array = np.hypot(at[None, :], steps[:, None] * away)
    return result


SPOTS_AT = (0.047, 0.027, 0.165, 0.13)
"""What one spot, in the middle, leaves open."""

SPOTS_LEFT = (0.036, 0.019, 0.005, 0.03)
"""What many spots still do."""

SPOTS_ABOVE, SPOTS_BELOW = (0.11, 0.13, 0.19, 0.10), (0.19, 0.24, 0.13, 0.12)
"""What comes in addition for each e-fold of height above those read, and below them."""


def _steps(taken: MeasuredMap, heights_cm: Array) -> tuple[Array, Array]:
    """Return the spots that speak for each height, and how far each lies from a height read."""
    box = taken.box
    groups = [
        (height, distinct_spots(rows, box.width_cm, box.depth_cm))
        for height, rows in by_height(taken.readings)
    ]
    most = max(count for _, count in groups)
    # a lone corner at another height makes no second height
    read = [(h, n) for h, n in groups if n >= min(SECOND_HEIGHT, most)]
    known = np.log([h for h, _ in read])
    counts = np.array([n for _, n in read])
    ln_h = np.log(np.maximum(heights_cm, 1.0))
    nearest = np.abs(ln_h[:, None] - known).argmin(axis=1)
    steps = ln_h - known[nearest]
    # between two heights the readings hold it from both sides
    between = (ln_h > known[0]) & (ln_h < known[-1])
    return counts[nearest], np.where(between, BETWEEN * np.abs(steps), steps)


BETWEEN = 0.7
"""A height between two that were read is so much nearer to them as it seems."""


def lamp_doubts(
    heights_cm: Array,
    lining: Array,
    ppf_sd: float,
    footprint_known: bool,
    measured: MeasuredMap | None = None,
    measured_here: bool = False,
    altered: bool = False,
    sensor: Sensor = "quantum",
    open_share: float = 0.0,
) -> dict[PartName, Array]:
    """Return the parts of one lamp's doubt over heights, each of shape (heights, 4).

    Parameters
    ----------
    heights_cm : array
    lining : array, shape (heights, 4)
        What the lining's reflectance does here.
    ppf_sd : float
    footprint_known : bool
        Whether the layout was given, or guessed from the frame.
    measured : MeasuredMap, optional
        Readings in the place of the model.
    measured_here : bool
        Whether they were taken in this space, so that its lining is in them.
    altered : bool
        Whether the lamp hangs tilted, or bars were unplugged, since.
    sensor : {'quantum', 'cheap', 'phone'}
    open_share : float
        Of the walls, those that reflect nothing.
    """
    count = len(heights_cm)

    def even(sd: Sequence[float] | Array) -> Array:
        return np.tile(np.asarray(sd, dtype=float), (count, 1))

    if measured is None:
        footprint = (0.0,) * 4 if footprint_known else FOOTPRINT
        return {
            "ppf": even(_same(ppf_sd)),
            "footprint": even(footprint),
            "lining": lining,
            "room": even(np.array(ROOM) + open_share * (np.array(OPEN_ROOM) - np.array(ROOM))),
        }
    spots, steps = _steps(measured, heights_cm)
    left = np.array([spots_doubt(int(n), steps[k : k + 1])[0] for k, n in enumerate(spots)])
    parts: dict[PartName, Array] = {"sensor": even(_same(SENSOR[sensor])), "spots": left}
    if altered:
        parts["footprint"] = even(FOOTPRINT)
    if not measured_here:
        parts["lining"] = lining
    return parts


def mixed(lamps: Sequence[Mapping[PartName, Array]], shares: Array) -> dict[PartName, Array]:
    """Return the parts of several lamps' light together.

    What is wrong with one is taken to be wrong with all: lamps are mostly alike.

    Parameters
    ----------
    lamps : sequence of mapping
        Each lamp's parts.
    shares : array, shape (lamps, heights)
        What each gives of the light at each height.
    """
    names: list[PartName] = []
    for parts in lamps:
        names += [name for name in parts if name not in names]
    nothing = np.zeros((shares.shape[1], 4))
    return {
        name: np.asarray(
            sum(share[:, None] * parts.get(name, nothing) for parts, share in zip(lamps, shares))
        )
        for name in names
    }


def dial_doubt(light: Array, known: bool) -> Array:
    """Return what a dial's table leaves open at its shares of full light, shape (dials,)."""
    dark = -np.log(np.maximum(light, 0.01))
    if known:
        return np.asarray(np.minimum(DIAL_READ, DIAL * dark))
    return np.asarray(DIAL * dark)


def usual_doubts(heights: int, dials: int) -> Doubts:
    """Return what is not known of a lamp in a lined tent where nobody says more."""
    no_heights = np.zeros(heights)
    lining = np.tile(USUAL_LINING, (heights, 1))
    return Doubts(lamp_doubts(no_heights, lining, PPF["maker"], True), np.zeros(dials))


USUAL_LINING = (0.085, 0.07, 0.12, 0.05)
"""What the lining does in a tent of 120 x 90 cm with a lamp at 40 cm."""


RELINED = 4
"""Heights at which it is worked out how much of the light hangs on the lining."""


def relined_rows(heights: int) -> NDArray[np.int64]:
    """Return at which of so many heights it is worked out what hangs on the lining."""
    return np.unique(np.linspace(0, heights - 1, RELINED).round().astype(np.int64))


def relined_shares(transport: Transport, lamp: PlacedLamp, stack: HeightStack) -> Array:
    """Return by which share a darker and a brighter lining change a lamp's light.

    Shape (2, relined rows, points).
    """
    assert stack.indirect is not None
    rows = relined_rows(len(stack.heights_cm))
    first = first_light(transport, lamp, stack.heights_cm)
    near = np.array([first.near_at(float(stack.heights_cm[k])) for k in rows])
    changes = (-LINING_REFLECTANCE, LINING_REFLECTANCE)
    light = stack.ppfd[rows]
    part = np.divide(stack.indirect[rows], light, out=np.zeros_like(light), where=light > 0)
    shares: Array = part * (transport.relined_ratios(near, changes) - 1)
    return shares


def lining_doubt(maps: Array, relined: Array, weights: Array) -> Array:
    """Return what the lining leaves open of all lamps' light together, shape (heights, 4).

    ``maps`` has shape (heights, points), ``relined``, shape (2, relined rows, points), is the light
    the darker and the brighter lining add.
    """
    rows = relined_rows(len(maps))
    ends = []
    for added in relined:
        light = np.maximum(maps[rows] + added, 1e-12)
        mean = light @ weights
        low = light.min(axis=1)
        ends.append(np.log([mean, light.max(axis=1), low, low / light.mean(axis=1)]))
    part = np.abs(ends[1] - ends[0]) / 2
    every = np.arange(len(maps))
    return np.stack([np.interp(every, rows, each) for each in part], axis=1)


def after_reading(doubts: Doubts) -> Doubts:
    """Return what would be left after five readings at each of two heights, with a good sensor.

    Nothing changes where readings have been fitted.
    """
    if "fit" in doubts.parts:
        return doubts
    count = len(next(iter(doubts.parts.values())))
    parts: dict[PartName, Array] = {
        "sensor": np.tile(_same(SENSOR["quantum"]), (count, 1)),
        "spots": spots_doubt(5, np.zeros(count)),
    }
    return Doubts(parts, doubts.dial)
