"""A few readings correct a computed light, at every height and dial, and say how sure it then is.

ln(reading) = ln(dial) + sensor + ln E(lamp, tent) + what the model leaves out + the hand.

E is computed with what is not known of lamp and tent (:data:`UNKNOWNS`); what the model leaves out
is a Gaussian field over place and height; the hand is Student's, so that a slip is left aside.
Maximum a posteriori by Gauss and Newton with robust weights, ranges from the linearised posterior
(Rasmussen and Williams, Gaussian Processes for Machine Learning, 2006, 2.7).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import hypot, log, sqrt

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_factor, cho_solve

from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand
from canopy.measure.prepared import (
    MOST_MIRROR,
    TILT_STEP_DEG,
    WALL_SHAPE,
    Prepared,
    Spread,
    TentName,
    across,
    lifted,
    widened,
    with_beam,
)
from canopy.measure.readings import PLACE_CM, SENSOR_BIAS, Readings

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Quality:
    """How far what was noted can be trusted, one standard deviation each.

    Parameters
    ----------
    ppf_sd : float
        Of the lamps' PPF, as a share.
    walls_sd : float
        Of the walls' reflectance.
    footprint_sd_cm : float
        Of the layout's outer size; 0 where it was measured.
    """

    ppf_sd: float = 0.10
    walls_sd: float = 0.09
    footprint_sd_cm: float = 0.0


MIRROR_SD, CANOPY_SD = 0.14, 0.055
UNSTATED_BEAM, UNSTATED_BEAM_SD = (1.2, 0.2)
STATED_BEAM_SD = 0.05
"""Of a stated beam's power, as a share of it. A cosine power of 1.0 to 1.2 says nothing."""
OFFSET_SD_CM, TILT_SD_DEG = 2.0, 1.5
HEIGHT_SD_CM = 0.5
"""Once common to all heights, once for each."""
LAMPS_APART_SD = 0.04
DAYLIGHT_SD = 0.10
"""Where daylight was there besides and not taken off."""

SLANT_SD = 0.012
"""What a sensor that sees slanting light badly adds to its calibration. Our judgement."""

FREEDOM = 4.0
"""Degrees of freedom of the hand's slips."""

FIELD_SD, FIELD_REACH = 0.03, 0.3
"""Over the floor: its size, and how far it reaches, as a share of the longer side."""
WALL_SD, WALL_REACH = 0.035, 0.15
EVEN_SD = 0.015
NEAR = 0.35
"""Nearer than this share of the longer side the model leaves out more."""
FADES = 0.45
"""In the logarithm of the height."""

DIAL_SD, LOW_DIAL_SD, LOW_DIAL = 0.03, 0.05, 0.3
"""What another dial position than any that was read adds; more below so much of full light."""

DRAWS = 400
RANGE = 90.0
"""Per cent that lie inside a range."""

TURNS = 12

STRAIGHT = 0.15
"""By so many standard deviations an unknown may move while the light is taken as straight in it."""
MOST_SD = 3.5
"""No unknown goes further from what was noted, in standard deviations."""

GAUSSIAN_POINTS = 420
"""Of more points the field is drawn at fewer and carried over."""


@dataclass(frozen=True)
class Unknown:
    """Something that is not known: its mean and standard deviation before any reading.

    It cannot be below ``least``.
    """

    name: str
    mean: float
    sd: float
    least: float = -np.inf


def _is_unstated(lamps: Sequence[PlacedLamp]) -> bool:
    powers = [x.beam.power for x in lamps if isinstance(x.beam, CosineBeam)]
    return bool(powers) and all(1.0 <= power <= UNSTATED_BEAM for power in powers)


def unread(box: Enclosure, lamps: Sequence[PlacedLamp], quality: Quality) -> tuple[Unknown, ...]:
    """Return what is not known of a tent and its lamps, whatever will be read there."""
    closed = [rho for rho in box.wall_reflectance if rho > 0]
    found = [Unknown("scale", 0.0, quality.ppf_sd)]
    if closed:
        rho = sum(closed) / len(closed)
        slope = WALL_SHAPE / (1 - WALL_SHAPE * rho)
        found.append(Unknown("walls", 0.0, quality.walls_sd * slope))
        shares = [s for r, s in zip(box.wall_reflectance, box.wall_mirror_share) if r > 0]
        found.append(Unknown("mirror", 0.0, MIRROR_SD, -sum(shares) / len(shares)))
    found.append(Unknown("canopy", 0.0, CANOPY_SD, -box.canopy_reflectance))
    powers = [x.beam.power for x in lamps if isinstance(x.beam, CosineBeam)]
    if powers and _is_unstated(lamps):
        found.append(Unknown("beam", UNSTATED_BEAM, UNSTATED_BEAM_SD))
    elif powers and len(set(powers)) == 1:
        found.append(Unknown("beam", powers[0], STATED_BEAM_SD * powers[0]))
    found += [
        Unknown("offset_x", 0.0, OFFSET_SD_CM),
        Unknown("offset_y", 0.0, OFFSET_SD_CM),
        Unknown("tilt_x", 0.0, TILT_SD_DEG),
        Unknown("tilt_y", 0.0, TILT_SD_DEG),
        Unknown("height", 0.0, HEIGHT_SD_CM),
    ]
    if quality.footprint_sd_cm > 0:
        size = max(float(np.ptp(x.layout.outline()[:, :2], axis=0).max()) for x in lamps)
        if size > 0:
            found.append(Unknown("footprint", 0.0, quality.footprint_sd_cm / size))
    if len(lamps) > 1:
        found += [Unknown(f"lamp_{k + 1}", 0.0, LAMPS_APART_SD) for k in range(len(lamps))]
    return tuple(found)


def unknowns(
    box: Enclosure, lamps: Sequence[PlacedLamp], readings: Readings, quality: Quality
) -> tuple[Unknown, ...]:
    """Return what is not known of a tent, its lamps and the sensor, in a fixed order."""
    sd = hypot(readings.sensor_sd, SLANT_SD)
    heights = range(len(np.unique(readings.height_cm)))
    first, *rest = unread(box, lamps, quality)
    return (
        first,
        Unknown("sensor", SENSOR_BIAS * readings.sensor_sd, sd),
        *rest,
        *(Unknown(f"height_{k + 1}", 0.0, HEIGHT_SD_CM) for k in heights),
    )


Values = Mapping[str, float]

TENT_NAMES: tuple[TentName, ...] = ("walls", "mirror", "canopy", "beam")
GEOMETRY = ("beam", "offset_x", "offset_y", "height", "footprint")
STEPS = {
    "beam": 0.05,
    "offset_x": 0.5,
    "offset_y": 0.5,
    "height": 0.5,
    "footprint": 0.02,
    "walls": 0.1,
    "mirror": 0.05,
    "canopy": 0.02,
}


class Model:
    """The light at some points, by what is not known, and its slopes.

    Parameters
    ----------
    prepared : Prepared
    height_cm : array, shape (n,)
        Of the lowest lamp, for each point.
    known : sequence of Unknown
    height_group : array of int, shape (n,)
        Which of the heights that were read a point is at, -1 for none of them.
    """

    def __init__(
        self,
        prepared: Prepared,
        height_cm: Array,
        known: Sequence[Unknown],
        height_group: NDArray[np.int64],
    ) -> None:
        self.prepared, self.height_cm = prepared, height_cm
        self.names = [each.name for each in known]
        self.groups = height_group
        self._tilts: tuple[Array, Array] | None = None
        pairs = sorted({(float(h), int(g)) for h, g in zip(height_cm, height_group)})
        self._together = [(h, g, (height_cm == h) & (height_group == g)) for h, g in pairs]
        # where each point is read, as a key
        self._together_at = (tuple(pairs), height_cm.tobytes(), height_group.tobytes())

    def _own_height(self, values: Values, height_cm: float, group: int) -> float:
        return height_cm + values["height"] + values.get(f"height_{group + 1}", 0.0)

    def lamps_at(self, values: Values, height_cm: float) -> list[PlacedLamp]:
        """Return the lamps hung at a height, with what is known of them."""
        moved = [
            replace(
                lamp,
                x_cm=lamp.x_cm + values["offset_x"],
                y_cm=lamp.y_cm + values["offset_y"],
                layout=widened(lamp.layout, 1 + values.get("footprint", 0.0)),
            )
            for lamp in lifted(self.prepared.lamps, max(height_cm, 1.0))
        ]
        return with_beam(moved, values.get("beam"))

    def _direct(self, values: Values) -> Array:
        rows = np.zeros((len(self.prepared.lamps), len(self.height_cm)))
        for height, group, which in self._together:
            lamps = self.lamps_at(values, self._own_height(values, height, group))
            rows[:, which] = self.prepared.direct(lamps, which)
        return rows

    def _indirect(self, values: Values) -> Array:
        tent = {name: values[name] for name in TENT_NAMES if name in values}
        rows = np.zeros((len(self.prepared.lamps), len(self.height_cm)))
        for height, group, which in self._together:
            found = self.prepared.indirect(self._own_height(values, height, group), tent)
            rows[:, which] = found[:, which]
        return rows

    def _scales(self, values: Values) -> Array:
        apart = [values.get(f"lamp_{k + 1}", 0.0) for k in range(len(self.prepared.lamps))]
        return np.asarray(np.exp(np.array(apart))[:, None])

    def _tilted(self) -> tuple[Array, Array]:
        """Return what a degree of tilt adds to the direct light, about x and about y."""
        if self._tilts is None:
            self._tilts = self.prepared.kept(("tilts", *self._together_at), self._by_tilt)
        return self._tilts

    def _by_tilt(self) -> tuple[Array, Array]:
        zero = dict.fromkeys(("offset_x", "offset_y", "height"), 0.0)
        shape = (len(self.prepared.lamps), len(self.height_cm))
        about_x, about_y = np.zeros(shape), np.zeros(shape)
        for height, _, which in self._together:
            lamps = self.lamps_at(zero, height)
            level = [each.tilt_deg == 0 for each in lamps]
            plain = self.prepared.direct(lamps, which)
            own = [replace(x, tilt_deg=x.tilt_deg + TILT_STEP_DEG) for x in lamps]
            turned = [
                replace(across(x, max(x.height_cm / 4, 1.0)), tilt_deg=TILT_STEP_DEG) if flat else x
                for x, flat in zip(lamps, level)
            ]
            still = [replace(x, tilt_deg=0.0) if f else x for x, f in zip(turned, level)]
            about_y[:, which] = (self.prepared.direct(own, which) - plain) / TILT_STEP_DEG
            about_x[:, which] = (
                self.prepared.direct(turned, which) - self.prepared.direct(still, which)
            ) / TILT_STEP_DEG
        return about_x, about_y

    def parts(self, values: Values) -> tuple[Array, Array]:
        """Return direct and other light by lamps, with the lamps' own scales, (lamps, points)."""
        about_x, about_y = self._tilted()
        direct = self._direct(values)
        direct = direct + about_x * values["tilt_x"] + about_y * values["tilt_y"]
        scales = self._scales(values)
        return np.maximum(direct, 0.0) * scales, self._indirect(values) * scales

    def log_light(self, values: Values) -> Array:
        """Return ln of the light at full power, shape (n,)."""
        direct, other = self.parts(values)
        whole = direct.sum(axis=0) + other.sum(axis=0)
        return np.asarray(np.log(np.maximum(whole, 1e-9)) + values["scale"])

    def slopes(self, values: Values) -> tuple[Array, Array]:
        """Return ln of the light, shape (n,), and what each unknown adds to it, (n, unknowns)."""
        key = ("slopes", *self._together_at, tuple(self.names), tuple(sorted(values.items())))
        base, slopes = self.prepared.kept(key, lambda: self._slopes(values))
        return base.copy(), slopes.copy()

    def _slopes(self, values: Values) -> tuple[Array, Array]:
        about_x, about_y = self._tilted()
        scales = self._scales(values)
        straight, by_surfaces = self._direct(values), self._indirect(values)
        tilted = straight + about_x * values["tilt_x"] + about_y * values["tilt_y"]
        direct, other = np.maximum(tilted, 0.0) * scales, by_surfaces * scales
        whole = np.maximum(direct.sum(axis=0) + other.sum(axis=0), 1e-9)
        base = np.log(whole) + values["scale"]
        columns: dict[str, Array] = {"scale": np.ones(len(whole))}
        columns["tilt_x"] = (about_x * scales).sum(axis=0) / whole
        columns["tilt_y"] = (about_y * scales).sum(axis=0) / whole
        for name in self.names:
            if name in STEPS:
                step = STEPS[name]
                more = dict(values)
                more[name] = values[name] + step
                added = np.zeros_like(direct)
                if name in GEOMETRY:
                    added = added + self._direct(more) - straight
                if name not in ("offset_x", "offset_y", "footprint"):
                    added = added + self._indirect(more) - by_surfaces
                columns[name] = (added * scales).sum(axis=0) / whole / step
            elif name.startswith("lamp_"):
                k = int(name[5:]) - 1
                columns[name] = (direct[k] + other[k]) / whole
        for name in self.names:
            if name.startswith("height_"):
                columns[name] = columns["height"] * (self.groups == int(name[7:]) - 1)
        zero = np.zeros(len(whole))
        return base, np.column_stack([columns.get(name, zero) for name in self.names])

    def steepness(self, values: Values) -> Array:
        """Return how fast ln of the light changes over the floor, per cm, shape (n,)."""
        direct, other = self.parts(values)
        whole = np.maximum(direct.sum(axis=0) + other.sum(axis=0), 1e-9)
        found = np.zeros(len(whole))
        for name in ("offset_x", "offset_y"):
            more = dict(values)
            more[name] = values[name] + PLACE_CM
            change = (self._direct(more) - self._direct(values)) * self._scales(values)
            found += (change.sum(axis=0) / whole) ** 2
        return np.sqrt(found)


def left_out(box: Enclosure, a: Array, a_height: Array, b: Array, b_height: Array) -> Array:
    """Return the covariance of what the model leaves out, between points, shape (a, b)."""
    side = max(box.width_cm, box.depth_cm)

    def near(height: Array) -> Array:
        return np.sqrt(np.maximum(NEAR * side / np.maximum(height, 1.0), 1.0))

    def by_walls(points: Array) -> Array:
        x, y = points[:, 0], points[:, 1]
        away = np.column_stack([x, box.width_cm - x, y, box.depth_cm - y])
        return np.asarray(WALL_SD * np.exp(-np.maximum(away, 0) / (WALL_REACH * side)))

    apart = ((a[:, None, :2] - b[None, :, :2]) ** 2).sum(axis=2)
    field_ = FIELD_SD**2 * np.exp(-apart / 2 / (FIELD_REACH * side) ** 2)
    field_ = field_ * near(a_height)[:, None] * near(b_height)[None, :]
    heights = np.log(np.maximum(a_height, 1.0))[:, None] - np.log(np.maximum(b_height, 1.0))
    fades = np.exp(-(heights**2) / 2 / FADES**2)
    return np.asarray((field_ + by_walls(a) @ by_walls(b).T + EVEN_SD**2) * fades)


@dataclass(frozen=True)
class Fit:
    """What readings make of a tent and its lamps.

    ``values`` are the likeliest, ``covariance`` of them all together; ``weights`` tell how far
    each reading was believed, 1 fully.
    """

    box: Enclosure
    lamps: tuple[PlacedLamp, ...]
    stands: tuple[Stand, ...]
    readings: Readings
    known: tuple[Unknown, ...]
    values: dict[str, float]
    covariance: Array
    weights: Array
    fitted: Array
    model: Model = field(repr=False)
    slopes: Array = field(repr=False)
    solved: Array = field(repr=False)
    precision: Array = field(repr=False)
    misfit: Array = field(repr=False)
    noise_sd: Array = field(repr=False)

    def sd(self, name: str) -> float:
        """Return the standard deviation of an unknown."""
        k = [each.name for each in self.known].index(name)
        return sqrt(max(float(self.covariance[k, k]), 0.0))

    def without(self, forgotten: Sequence[str]) -> dict[str, float]:
        """Return the likeliest values, of some unknowns those before any reading."""
        before = {each.name: each.mean for each in self.known if each.name in forgotten}
        return {**self.values, **before}


def spreads_of(known: Sequence[Unknown], box: Enclosure) -> dict[TentName, Spread]:
    """Return the values a tent is prepared at: as noted, and one and a half sd to each side."""
    found: dict[TentName, Spread] = {}
    sd = {each.name: each for each in known}
    if "walls" in sd and any(rho > 0 for rho in box.wall_reflectance):
        reach = 1.5 * sd["walls"].sd
        found["walls"] = Spread((0.0, -reach, reach))
        shares = [s for r, s in zip(box.wall_reflectance, box.wall_mirror_share) if r > 0]
        share = sum(shares) / len(shares)
        reach = 1.5 * MIRROR_SD
        top = MOST_MIRROR / max(box.wall_reflectance) - share
        if share >= reach and top >= reach:
            found["mirror"] = Spread((0.0, -reach, reach))
        elif top >= 2 * reach:
            found["mirror"] = Spread((0.0, reach, 2 * reach))
        else:
            found["mirror"] = Spread((0.0, -reach, -reach / 2))
    low = box.canopy_reflectance >= 1.5 * CANOPY_SD
    reach = 1.5 * CANOPY_SD
    found["canopy"] = Spread((0.0, -reach, reach) if low else (0.0, reach, 2 * reach))
    if "beam" in sd:
        mean, reach = sd["beam"].mean, 1.5 * sd["beam"].sd
        found["beam"] = Spread((mean, mean - reach, mean + reach))
    return found


def _groups_of(heights: Array, read: Array) -> NDArray[np.int64]:
    known = np.unique(read)
    return np.array(
        [int(np.flatnonzero(known == h)[0]) if (known == h).any() else -1 for h in heights]
    )


def _bounded(known: Sequence[Unknown], values: Array) -> Array:
    mean = np.array([each.mean for each in known])
    sd = np.array([each.sd for each in known])
    least = np.array([each.least for each in known])
    return np.clip(values, np.maximum(mean - MOST_SD * sd, least), mean + MOST_SD * sd)


def prepared_for(
    box: Enclosure,
    lamps: Sequence[PlacedLamp],
    stands: Sequence[Stand],
    readings: Readings,
    quality: Quality,
) -> tuple[Prepared, tuple[Unknown, ...]]:
    """Return a tent ready for the readings' places and heights, and what is not known of it."""
    known = unknowns(box, lamps, readings, quality)
    full = [replace(lamp, light_fraction=1.0) for lamp in lamps]
    spreads = spreads_of(known, box)
    heights = np.unique(readings.height_cm)
    points = readings.points_cm()
    return Prepared(box, full, stands, points, [float(h) for h in heights], spreads), known


def fit(
    box: Enclosure,
    lamps: Sequence[PlacedLamp],
    stands: Sequence[Stand],
    readings: Readings,
    quality: Quality = Quality(),
    ready: tuple[Prepared, tuple[Unknown, ...]] | None = None,
) -> Fit:
    """Return what readings make of a tent and its lamps.

    Parameters
    ----------
    box, lamps, stands
        As noted.
    readings : Readings
    quality : Quality
    ready : tuple, optional
        From :func:`prepared_for`, for the same places and heights; made when left out.
    """
    prepared, known = ready or prepared_for(box, lamps, stands, readings, quality)
    names = [each.name for each in known]
    mean = np.array([each.mean for each in known])
    weight_of_prior = np.diag([1 / each.sd**2 for each in known])
    groups = _groups_of(readings.height_cm, readings.height_cm)
    model = Model(prepared, readings.height_cm, known, groups)
    points = readings.points_cm()
    shown = np.log(np.maximum(readings.ppfd, 1e-3) / np.maximum(readings.light_fraction, 1e-6))
    missing = left_out(box, points, readings.height_cm, points, readings.height_cm)
    if readings.daylight:
        missing = missing + DAYLIGHT_SD**2
    theta = mean.copy()
    sensor = names.index("sensor")
    steep = model.steepness(dict(zip(names, theta)))
    noise = np.sqrt(readings.spot_sd**2 + (PLACE_CM * steep) ** 2)
    weights = _first_weights(shown - model.log_light(dict(zip(names, theta))), noise)
    weights[~readings.lit] = 1e-6
    spread = np.array([each.sd for each in known])
    looked: Array | None = None
    base = slopes = np.zeros(0)
    for turn in range(TURNS):
        # most turns weigh the readings anew: the light is looked at again where they moved it
        if looked is None or float(np.abs((theta - looked) / spread).max()) > STRAIGHT:
            looked = theta
            base, slopes = model.slopes(dict(zip(names, theta)))
            slopes[:, sensor] = 1.0
        misfit = shown - base - looked[sensor] - slopes @ (theta - looked)
        believed = cho_factor(missing + np.diag(noise**2 / weights), check_finite=False)
        solved = cho_solve(believed, np.column_stack([slopes, misfit]), check_finite=False)
        normal = slopes.T @ solved[:, :-1] + weight_of_prior
        step = np.linalg.solve(normal, slopes.T @ solved[:, -1] + weight_of_prior @ (mean - theta))
        before = theta
        theta = _bounded(known, theta + step)
        hand = (noise**2 / weights) * (solved[:, -1] - solved[:, :-1] @ (theta - before))
        weights = (FREEDOM + 1) / (FREEDOM + (hand / noise) ** 2)
        weights[~readings.lit] = 1e-6
        if turn > 2 and float(np.abs((theta - before) / spread).max()) < 1e-3:
            break
    values = dict(zip(names, (float(v) for v in theta)))
    base, slopes = model.slopes(values)
    slopes[:, sensor] = 1.0
    misfit = shown - base - theta[sensor]
    precision = np.linalg.inv(missing + np.diag(noise**2 / weights))
    covariance = np.linalg.inv(slopes.T @ precision @ slopes + weight_of_prior)
    smooth = base + theta[sensor] + missing @ precision @ misfit
    return Fit(
        box=box,
        lamps=tuple(lamps),
        stands=tuple(stands),
        readings=readings,
        known=tuple(known),
        values=values,
        covariance=np.asarray(covariance, dtype=float),
        weights=weights,
        fitted=np.exp(smooth) * readings.light_fraction,
        model=model,
        slopes=slopes,
        solved=precision @ misfit,
        precision=np.asarray(precision, dtype=float),
        misfit=misfit,
        noise_sd=noise,
    )


def _first_weights(misfit: Array, noise: Array) -> Array:
    """Return weights before anything is fitted: what stands far from the middle is left aside."""
    apart = misfit - np.median(misfit)
    spread = max(1.4826 * float(np.median(np.abs(apart))), 0.08)
    weights: Array = (FREEDOM + 1) / (FREEDOM + (apart / np.hypot(spread, noise)) ** 2)
    return weights


def prepared_at(
    known: Sequence[Unknown],
    box: Enclosure,
    lamps: Sequence[PlacedLamp],
    stands: Sequence[Stand],
    points_cm: Array,
) -> Prepared:
    """Return a tent ready to be predicted at points, its lamps at their height."""
    lowest = min(lamp.height_cm for lamp in lamps)
    full = [replace(lamp, light_fraction=1.0) for lamp in lamps]
    return Prepared(box, full, stands, points_cm, [lowest], spreads_of(known, box))


@dataclass(frozen=True)
class Predicted:
    """The light at points as a fit has it, drawn many times.

    ``draws`` has shape (draws, points), in umol m-2 s-1 of the true light, ``middle``, shape
    (points,), is what they lie around; ``as_read`` is what each draw's sensor would show of it, as
    a factor, shape (draws,).
    """

    draws: Array
    as_read: Array
    middle: Array

    def median(self) -> Array:
        """Return the middle of the draws at each point."""
        return np.asarray(np.median(self.draws, axis=0))

    def range(self) -> tuple[Array, Array]:
        """Return the ends of the 90 % range at each point."""
        low, high = np.percentile(self.draws, [50 - RANGE / 2, 50 + RANGE / 2], axis=0)
        return low, high

    def of(self, figure: Array) -> tuple[float, float, float]:
        """Return the low end, the middle and the high end of a figure taken per draw."""
        low, middle, high = np.percentile(figure, [50 - RANGE / 2, 50, 50 + RANGE / 2])
        return float(low), float(middle), float(high)


def predict(
    found: Fit,
    box: Enclosure,
    lamps: Sequence[PlacedLamp],
    stands: Sequence[Stand],
    points_cm: Array,
    seed: int = 1,
    ready: Prepared | None = None,
    forgotten: Sequence[str] = (),
) -> Predicted:
    """Return the light of lamps in a tent by what a fit has learnt, at any height and dial.

    ``box`` may be at another canopy height than the one fitted, and lamps may hang otherwise: they
    are the fitted lamps where there are as many, and share the tent's and the sensor's part.
    ``ready`` is from :func:`prepared_at`, for the same tent, lamps, heights and points.
    ``forgotten`` names unknowns that are others now: as little is known of them as before.
    """
    names = [each.name for each in found.known]
    lowest = min(lamp.height_cm for lamp in lamps)
    prepared = ready or prepared_at(found.known, box, lamps, stands, points_cm)
    heights = np.full(len(points_cm), lowest)
    model = Model(prepared, heights, found.known, _groups_of(heights, found.readings.height_cm))
    values = found.without(forgotten)
    base, slopes = model.slopes(values)
    slopes[:, names.index("sensor")] = 0.0
    rng = np.random.default_rng(seed)
    thetas = rng.multivariate_normal(
        np.zeros(len(names)), found.covariance, DRAWS, method="eigh", check_valid="ignore"
    )
    now = thetas.copy()
    for name in forgotten:
        k = names.index(name)
        now[:, k] = rng.normal(0.0, found.known[k].sd, DRAWS)
    at, height = found.readings.points_cm(), found.readings.height_cm
    cross = left_out(box, points_cm, heights, at, height)
    gain = cross @ found.precision
    middle = base + cross @ found.solved
    own = None
    if len(points_cm) <= GAUSSIAN_POINTS:
        own = left_out_over(prepared, box, points_cm, lowest)
    field_draws = _drawn_field(box, points_cm, heights, cross, gain, rng, own)
    power = np.array([lamp.light_fraction for lamp in lamps])
    common = rng.normal(0.0, 1.0, DRAWS) * other_dial_sd(found.readings, float(power.mean()))
    spread = now @ slopes.T - thetas @ (gain @ found.slopes).T
    logs = middle + spread + field_draws + common[:, None]
    sensor = found.values["sensor"] + thetas[:, names.index("sensor")]
    dialled = _dialled(model, values, power)
    return Predicted(np.exp(logs) * dialled, np.exp(sensor), np.exp(middle) * dialled)


def _dialled(model: Model, values: Values, power: Array) -> Array:
    """Return the share of full light at each point when lamps have dials of their own."""
    if np.ptp(power) < 1e-12:
        return np.full(len(model.height_cm), float(power[0]))
    direct, other = model.parts(values)
    light = direct + other
    whole = light.sum(axis=0)
    return np.asarray(np.divide(power @ light, whole, out=np.ones(len(whole)), where=whole > 0))


def other_dial_sd(readings: Readings, wanted: float) -> float:
    """Return what a share of full light adds to the doubt where none was read there."""
    if np.abs(np.log(np.maximum(readings.light_fraction, 1e-6) / max(wanted, 1e-6))).min() < log(
        1.05
    ):
        return 0.0
    return LOW_DIAL_SD if wanted < LOW_DIAL else DIAL_SD


def left_out_over(prepared: Prepared, box: Enclosure, points_cm: Array, height_cm: float) -> Array:
    """Return the covariance of what the model leaves out between all points at a height."""
    level = np.full(len(points_cm), height_cm)
    return prepared.kept(
        ("left out", box, len(points_cm), height_cm),
        lambda: left_out(box, points_cm, level, points_cm, level),
    )


def _drawn_field(
    box: Enclosure,
    points_cm: Array,
    heights: Array,
    cross: Array,
    gain: Array,
    rng: np.random.Generator,
    own: Array | None,
) -> Array:
    """Return draws of what the model leaves out, beyond its mean, shape (draws, points).

    ``own`` is its covariance between few points, none where there are many.
    """
    count = len(points_cm)
    if own is not None:
        return _gaussian(own - gain @ cross.T, rng)
    # the field is smooth: drawn at a spread of the points, it is carried to the others
    chosen = np.linspace(0, count - 1, GAUSSIAN_POINTS).astype(int)
    some, some_heights = points_cm[chosen], heights[chosen]
    own = left_out(box, some, some_heights, some, some_heights)
    drawn = _gaussian(own - gain[chosen] @ cross[chosen].T, rng)
    carry = left_out(box, points_cm, heights, some, some_heights)
    ridge = own + np.eye(len(chosen)) * 1e-8
    return np.asarray(drawn @ np.linalg.solve(ridge, carry.T))


def _gaussian(covariance: Array, rng: np.random.Generator) -> Array:
    values, vectors = np.linalg.eigh((covariance + covariance.T) / 2)
    roots = np.sqrt(np.maximum(values, 0.0))
    return np.asarray(rng.normal(size=(DRAWS, len(values))) @ (vectors * roots).T)
