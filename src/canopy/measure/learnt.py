"""What a fit has learnt, for plans: the light of the same lamps corrected, and what others inherit.

The lamps that were read are corrected at every height, with ranges by draws at a dozen of them. To
other lamps in the tent goes what was learnt of the tent, to the lamp in another tent what was
learnt of the lamp. Lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from math import hypot, sqrt

import numpy as np
from numpy.typing import NDArray

from canopy.constants import NINETY
from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import even_grid
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.measure.fit import (
    LAMPS_APART_SD,
    RANGE,
    Fit,
    Model,
    Predicted,
    Quality,
    fit,
    other_dial_sd,
    predict,
    spreads_of,
    unknowns,
    unread,
)
from canopy.measure.prepared import WALL_SHAPE, Prepared, Tent, lifted, top_cm
from canopy.measure.readings import SPOT_SD, Readings
from canopy.once import once

Array = NDArray[np.float64]

KEPT = 24
HEIGHTS = 12
LOWEST_CM = 8.0
"""Ranges are prepared from here up: below it lamps do not hang."""

SAME_CM = 2.0
SAME_DEG = 3.0
"""A lamp that was moved or turned by more does not hang as it was read."""

SAME_CANOPY = 0.02

USUAL = Quality()


@dataclass(frozen=True)
class Taken:
    """All a fit is made of.

    Parameters
    ----------
    box : Enclosure
        As it was while reading, its floor the plane heights are told above.
    lamps : tuple of PlacedLamp
        All that were lit, as noted.
    stands : tuple of Stand
    rows : tuple of (x_cm, y_cm, z_cm, height_cm, light_fraction, ppfd)
    sensor_sd, spot_sd : float
    daylight : bool
    quality : Quality
    spots : tuple of (x_cm, y_cm, z_cm, height_cm)
        All that are to be read, where a walk is under way: the tent is prepared for them once.
    """

    box: Enclosure
    lamps: tuple[PlacedLamp, ...]
    stands: tuple[Stand, ...]
    rows: tuple[tuple[float, float, float, float, float, float], ...]
    sensor_sd: float
    spot_sd: float
    daylight: bool = False
    quality: Quality = USUAL
    spots: tuple[tuple[float, float, float, float], ...] = ()

    def readings(self) -> Readings:
        """Return the readings as a fit takes them."""
        x, y, z, height, light, ppfd = np.asarray(self.rows, dtype=float).reshape(-1, 6).T
        return Readings(x, y, z, height, light, ppfd, self.sensor_sd, self.spot_sd, self.daylight)


@once(KEPT)
def prepared_of(
    box: Enclosure,
    lamps: tuple[PlacedLamp, ...],
    stands: tuple[Stand, ...],
    spots: tuple[tuple[float, float, float, float], ...],
    quality: Quality,
) -> Prepared:
    """Return a tent prepared for places and heights that are read, or will be."""
    rows = np.asarray(spots, dtype=float)
    full = [replace(lamp, light_fraction=1.0) for lamp in lamps]
    spreads = spreads_of(unread(box, lamps, quality), box)
    return Prepared(box, full, stands, rows[:, :3], np.unique(rows[:, 3]).tolist(), spreads)


@once(KEPT)
def fit_of(taken: Taken) -> Fit:
    """Return what readings make of a tent and its lamps."""
    readings = taken.readings()
    own = tuple((x, y, z, h) for x, y, z, h, _, _ in taken.rows)
    spots = taken.spots if set(own) <= set(taken.spots) else tuple(dict.fromkeys(own))
    at = {spot: k for k, spot in enumerate(spots)}
    every = prepared_of(taken.box, taken.lamps, taken.stands, spots, taken.quality)
    ready = every.some([at[spot] for spot in own])
    known = unknowns(taken.box, taken.lamps, readings, taken.quality)
    return fit(taken.box, taken.lamps, taken.stands, readings, taken.quality, (ready, known))


BELIEVABLE_SD = 3.5
"""A reading further than so many standard deviations from what is expected is asked about."""


@dataclass(frozen=True)
class Expected:
    """What a sensor will show at a spot: the middle, and between which figures it is believed."""

    low: float
    middle: float
    high: float


def expected_at(
    taken: Taken, light_fractions: Sequence[float] | None = None
) -> tuple[Expected, ...]:
    """Return what the sensor will show at each of a walk's spots, by what was read so far.

    With readings taken anywhere among ``taken.spots``.

    Parameters
    ----------
    taken : Taken
    light_fractions : sequence of float, optional
        Of full light at each spot; that of the first reading where none are given.
    """
    found, fraction = fit_of(taken), taken.rows[0][4]
    lit = [fraction] * len(taken.spots) if light_fractions is None else list(light_fractions)
    spots = np.asarray(taken.spots, dtype=float)
    every = prepared_of(taken.box, taken.lamps, taken.stands, taken.spots, taken.quality)
    result: list[Expected | None] = [None] * len(spots)
    for height in np.unique(spots[:, 3]):
        which = np.flatnonzero(spots[:, 3] == height)
        lamps = [replace(x, light_fraction=fraction) for x in lifted(taken.lamps, float(height))]
        drawn = predict(
            found,
            taken.box,
            lamps,
            taken.stands,
            spots[which, :3],
            ready=every.some(which.tolist()),
        )
        logs = np.log(np.maximum(drawn.draws * drawn.as_read[:, None], 1e-9))
        spread = np.hypot(logs.std(axis=0), HAND * SPOT_SD)
        for k, at, sd in zip(which, logs.mean(axis=0), spread):
            share = float(lit[k])
            middle = at + float(np.log(max(share, 1e-6) / fraction))
            wide = BELIEVABLE_SD * hypot(float(sd), other_dial_sd(found.readings, share))
            result[k] = Expected(
                *(float(np.exp(v)) for v in (middle - wide, middle, middle + wide))
            )
    return tuple(each for each in result if each is not None)


HAND = 2.0
"""A hand's readings are now and then so many times as far off as usual."""


def tent_learnt(found: Fit) -> Tent:
    """Return what was learnt of the tent's walls."""
    return Tent(found.values.get("walls", 0.0), found.values.get("mirror", 0.0))


def walls_sd(found: Fit) -> float:
    """Return how far the walls' reflectance may still be off, one standard deviation."""
    closed = [rho for rho in found.box.wall_reflectance if rho > 0]
    if not closed:
        return 0.0
    rho = sum(closed) / len(closed)
    return found.sd("walls") * (1 - WALL_SHAPE * rho) / WALL_SHAPE


def _scale_of(found: Fit, k: int) -> tuple[float, float]:
    """Return ln of what a lamp gives over its record, and one standard deviation."""
    names = [each.name for each in found.known]
    at = [names.index("scale")]
    if f"lamp_{k + 1}" in names:
        at.append(names.index(f"lamp_{k + 1}"))
    value = sum(found.values[names[i]] for i in at)
    return value, sqrt(max(float(found.covariance[np.ix_(at, at)].sum()), 0.0))


def lamp_learnt(found: Fit, k: int, lamp: PlacedLamp) -> PlacedLamp:
    """Return a lamp like the fit's k-th with what was learnt of it: its light, and its beam.

    ``lamp`` is as its record has it now; the light is that of the lamp that was read.
    """
    read, (scale, _) = found.lamps[k], _scale_of(found, k)
    # bars unplugged since, or dead, are the record's to say
    same = lamp.layout == read.layout and lamp.beam == read.beam
    ppf = (read.ppf_umol_s if same else lamp.ppf_umol_s) * float(np.exp(scale))
    beam = lamp.beam
    if "beam" in found.values and isinstance(beam, CosineBeam):
        beam = CosineBeam(max(found.values["beam"], 0.5))
    return replace(lamp, ppf_umol_s=ppf, beam=beam)


def lamp_sd(found: Fit, k: int, same_piece: bool = True) -> float:
    """Return how far the light of the fit's k-th lamp, or another of its kind, may be off."""
    _, sd = _scale_of(found, k)
    return sd if same_piece else hypot(sd, LAMPS_APART_SD)


def hangs_as_read(read: PlacedLamp, lamp: PlacedLamp) -> bool:
    """Return whether a lamp is the one that was read, and hangs where it did."""
    turned = abs((read.turn_deg - lamp.turn_deg + 180) % 360 - 180)
    return (
        read.layout == lamp.layout
        and read.beam == lamp.beam
        and hypot(read.x_cm - lamp.x_cm, read.y_cm - lamp.y_cm) <= SAME_CM
        and turned <= SAME_DEG
        and abs(read.tilt_deg - lamp.tilt_deg) <= SAME_DEG
    )


@dataclass(frozen=True)
class Figures:
    """A figure's middle over that of the corrected map, and its spread, at the dozen heights.

    Both have shape (heights, 4): mean, brightest, dimmest, min/mean; the spread is one standard
    deviation, as a share.
    """

    gain: Array
    sd: Array

    def at(self, heights_cm: Array, own_cm: Array) -> "Figures":
        """Return them at other heights."""
        return Figures(
            _through(self.gain, heights_cm, own_cm), _through(self.sd, heights_cm, own_cm)
        )


def _through(rows: Array, heights_cm: Array, own_cm: Array) -> Array:
    """Return rows by the dozen heights at others, straight in the logarithm of the height."""
    at, known = np.log(np.maximum(heights_cm, 1.0)), np.log(own_cm)
    flat = rows.reshape(len(rows), -1)
    found = np.column_stack([np.interp(at, known, column) for column in flat.T])
    return found.reshape(len(heights_cm), *rows.shape[1:])


@dataclass(frozen=True)
class Known:
    """A fit with the tent it speaks of, prepared over the plan's grid at all heights.

    ``forgotten`` names unknowns that are others now than while reading.
    """

    found: Fit
    prepared: Prepared
    heights_cm: Array
    forgotten: tuple[str, ...]

    def predicted(self, lamps: Sequence[PlacedLamp]) -> Predicted:
        """Return the light over the grid with the fit's lamps hung as they are given."""
        prepared = self.prepared
        return predict(
            self.found,
            prepared.box,
            lamps,
            prepared.stands,
            prepared.points_cm,
            ready=prepared,
            forgotten=self.forgotten,
        )

    def model_at(self, height_cm: float) -> Model:
        """Return the model over the grid with the lowest lamp at a height."""
        count = len(self.prepared.points_cm)
        at, none = np.full(count, height_cm), np.full(count, -1)
        return Model(self.prepared, at, self.found.known, none)


@dataclass(frozen=True)
class Corrected:
    """The light of the lamps that were read, as the fit has it, at a dozen heights.

    ``log_ratio`` has shape (heights, lamps, points): what it adds to ln of the light by the lamps'
    record in the tent as learnt. ``true`` is of the true light, ``read`` as the sensor shows it.
    """

    heights_cm: Array
    log_ratio: Array
    true: Figures
    read: Figures
    found: Fit = field(repr=False)

    def ratio(self, k: int, heights_cm: Array) -> Array:
        """Return by how much a lamp's light is corrected at heights, shape (n, points)."""
        return np.exp(_through(self.log_ratio[:, k], heights_cm, self.heights_cm))

    def dial_sd(self, light: Array) -> Array:
        """Return what dial positions other than those read add, shape (dials,)."""
        return np.array([other_dial_sd(self.found.readings, float(each)) for each in light])


def _figures(drawn: Array, middle: Array, weights: Array) -> tuple[Array, Array]:
    """Return gains and spreads of the four figures of drawn maps (draws, points)."""

    def four(maps: Array) -> Array:
        low = maps.min(axis=1)
        return np.array([maps @ weights, maps.max(axis=1), low, low / maps.mean(axis=1)])

    logs = np.log(np.maximum(four(drawn), 1e-12))
    own = np.log(np.maximum(four(middle[None]), 1e-12))[:, 0]
    low, mid, high = np.percentile(logs, [50 - RANGE / 2, 50, 50 + RANGE / 2], axis=1)
    return np.exp(mid - own), (high - low) / 2 / NINETY


def noted(found: Fit, lamps: Sequence[PlacedLamp], tent: bool = False) -> dict[str, float]:
    """Return the unknowns as the lamps' record has them, in the ``tent`` as noted or as learnt."""
    values = {each.name: 0.0 for each in found.known}
    for name in ("walls", "mirror"):
        if tent and name in values:
            values[name] = found.values[name]
    powers = [lamp.beam.power for lamp in lamps if isinstance(lamp.beam, CosineBeam)]
    if "beam" in values:
        values["beam"] = sum(powers) / len(powers)
    return values


def heights_of(box: Enclosure, lamps: Sequence[PlacedLamp]) -> Array:
    """Return the dozen heights ranges are prepared at."""
    return np.geomspace(LOWEST_CM, max(top_cm(box, lamps), LOWEST_CM * 1.5), HEIGHTS)


@once(KEPT)
def _grid(
    box: Enclosure, lamps: tuple[PlacedLamp, ...], stands: tuple[Stand, ...], quality: Quality
) -> Prepared:
    """Return a tent prepared over the plan's grid at all heights."""
    grid = even_grid(box.width_cm, box.depth_cm)
    points = raised(grid.points_cm(box.width_cm, box.depth_cm), stands)
    spreads = spreads_of(unread(box, lamps, quality), box)
    heights = heights_of(box, lamps).tolist()
    return Prepared(box, lamps, stands, points, heights, spreads, finer=False)


def known_of(
    taken: Taken, box: Enclosure, lamps: tuple[PlacedLamp, ...], stands: tuple[Stand, ...]
) -> Known:
    """Return a fit over the plan's grid; parameters as of :func:`corrected`."""
    found = fit_of(taken)
    full = tuple(
        replace(lamp, ppf_umol_s=read.ppf_umol_s, light_fraction=1.0)
        for lamp, read in zip(lamps, found.lamps)
    )
    own_canopy = abs(box.canopy_reflectance - taken.box.canopy_reflectance) > SAME_CANOPY
    prepared = _grid(box, full, stands, taken.quality)
    return Known(found, prepared, heights_of(box, full), ("canopy",) if own_canopy else ())


@once(KEPT)
def corrected(
    taken: Taken, box: Enclosure, lamps: tuple[PlacedLamp, ...], stands: tuple[Stand, ...]
) -> Corrected:
    """Return the light of the lamps that were read, as a fit has it, over the plan's grid.

    Parameters
    ----------
    taken : Taken
    box : Enclosure
        The tent as it is noted now, as high as the plan will ask for.
    lamps : tuple of PlacedLamp
        Those that were read, as their record has them; their heights say how far one hangs above
        another.
    stands : tuple of Stand
    """
    known = known_of(taken, box, lamps, stands)
    found, full = known.found, known.prepared.lamps
    weights = np.ravel(even_grid(box.width_cm, box.depth_cm).area_weights())
    weights = weights / weights.sum()
    records = np.log([a.ppf_umol_s / b.ppf_umol_s for a, b in zip(full, lamps)])
    by_record, by_fit = noted(found, full, tent=True), found.without(known.forgotten)
    ratios, true, read = [], [], []
    for height in known.heights_cm:
        drawn = known.predicted(lifted(full, float(height)))
        model = known.model_at(float(height))
        plain = np.sum(model.parts(by_record), axis=0)
        changed = np.sum(model.parts(by_fit), axis=0)
        shared = np.log(drawn.middle / np.maximum(changed.sum(axis=0), 1e-9))
        own = np.log(np.maximum(changed, 1e-9) / np.maximum(plain, 1e-9))
        ratios.append(own + shared + records[:, None])
        true.append(_figures(drawn.draws, drawn.middle, weights))
        shown = drawn.draws * drawn.as_read[:, None]
        read.append(_figures(shown, drawn.middle, weights))
    return Corrected(
        heights_cm=known.heights_cm,
        log_ratio=np.array(ratios),
        true=Figures(*(np.array(each) for each in zip(*true))),
        read=Figures(*(np.array(each) for each in zip(*read))),
        found=found,
    )
