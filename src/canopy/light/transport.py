"""How light travels in the tent: straight from the lamp, and by way of the surfaces.

E(points) = direct + W E0, where E0 is the mean direct irradiance of every fine patch and W the
tent's transport operator. W depends on the tent and on the points, not on the lamps: it is built
once and serves every lamp, height, tilt and dial. The first bounce is taken on fine patches, later
bounces on coarse ones. What walls reflect like mirrors comes from images of lamps and patches.
Lengths in cm, flux in umol s-1, irradiance in umol m-2 s-1.
"""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.light.body import Screens
from canopy.light.enclosure import (
    WALLS,
    Enclosure,
    Face,
    Patches,
    averaging,
    coarse_faces,
    fine_faces,
    patches_of,
)
from canopy.light.exchange import configuration_factors
from canopy.light.images import Lattice, lattice, mirrored
from canopy.light.kernels import patch_flux, point_irradiance
from canopy.light.lowlamps import Small, small_patches
from canopy.light.seen import factors_seen_from
from canopy.light.sources import PlacedLamp

Array = NDArray[np.float64]

SELF = (0, 0, 1.0)
"""The tent itself among its images."""

NEAR_CROSSINGS = 1
"""Images up to this many walls away meet fine patches, those further off coarse ones."""


def direct_spacing_cm(height_cm: float) -> float:
    """Return how far apart emitters may stand for the direct light at this height."""
    return float(np.clip(height_cm / 1.6, 0.5, 5.0))


def bounce_spacing_cm(height_cm: float) -> float:
    """Return how far apart emitters may stand for the light that reaches the walls first."""
    return float(np.clip(height_cm / 2, 2.0, 13.0))


IMAGE_SPACING_CM = 10.0
"""The same for what images one wall away send to the walls."""

FAR_DIRECT_SPACING_CM = 20.0
FAR_SPACING_CM = 40.0
"""The same for images more than one wall away: at points, and at the walls."""


Finer = Literal["closer", "small"]
FINER: tuple[Finer, Finer] = ("closer", "small")
"""What low lamps find finer, in the order of `Transport.low`."""

LOW_CM = (19.0, 22.0)
VERY_LOW_CM = (12.0, 15.0)
"""Lamps nearer to the highest tops than these find the tent's patches too coarse: nearer than the
first wholly so, further than the second not at all."""

NARROW = 2.0
"""A lamp as wide as so many of the canopy's coarse cells lights each of them evenly enough."""

CLOSER = 2
"""How many times finer the tent is cut for very low lamps."""

MOST_CLOSER = 4_000_000
"""Entries of the operator of a tent cut finer: 32 MB. A larger one keeps its own patches."""

HEIGHTS_TOGETHER = 4
"""How many heights share the emitters of the lowest of them."""


def _near(images: Lattice) -> list[tuple[int, int, float]]:
    """Return the tent itself and its images near enough to meet fine patches."""
    return [pair for pair in images.pairs() if abs(pair[0]) + abs(pair[1]) <= NEAR_CROSSINGS]


def _seen(
    lamp: PlacedLamp, spacing_cm: float, images: Lattice, pairs: list[tuple[int, int, float]]
) -> tuple[Array, Array, Array]:
    """Return emitters of several images: places (n, 3), frames (n, 3, 3), flux (n,)."""
    places, flux = lamp.emitters(spacing_cm)
    frame = lamp.frame()
    parts = [(*mirrored(images, pair, places, frame), pair[2] * flux) for pair in pairs]
    return (
        np.concatenate([part[0] for part in parts]),
        np.concatenate([np.broadcast_to(part[1], (len(places), 3, 3)) for part in parts]),
        np.concatenate([part[2] for part in parts]),
    )


def _gap_cm(points_cm: Array, lamp: PlacedLamp) -> float:
    """Return how near the lamp comes to the level of the highest point."""
    lowest = float(lamp.outline()[:, 2].min())
    return max(lowest - float(points_cm[:, 2].max(initial=0.0)), 0.5)


def direct_irradiance(points_cm: Array, lamp: PlacedLamp) -> Array:
    """Return the light that reaches upward-facing points straight from a lamp.

    Parameters
    ----------
    points_cm : array, shape (n, 3)
    lamp : PlacedLamp

    Returns
    -------
    array, shape (n,)
        Sum over emitters of flux x intensity(gamma, C) x cos(beta) / d^2.
    """
    places, flux = lamp.emitters(direct_spacing_cm(_gap_cm(points_cm, lamp)))
    frames = np.ascontiguousarray(np.broadcast_to(lamp.frame(), (len(places), 3, 3)))
    points = np.ascontiguousarray(points_cm)
    result: Array = point_irradiance(points, places, frames, flux, lamp.beam.intensity())
    return result * CM2_PER_M2


def direct_at_heights(points_cm: Array, lamp: PlacedLamp, heights_cm: Array) -> Array:
    """Return `direct_irradiance` of a level lamp at many rising heights, shape (heights, points).

    The lamp is taken apart once for a few heights together, as finely as the lowest of them asks.
    """
    points = np.ascontiguousarray(points_cm)
    table = lamp.beam.intensity()
    rows = []
    for some in np.array_split(heights_cm, max(len(heights_cm) // HEIGHTS_TOGETHER, 1)):
        lowest = replace(lamp, height_cm=float(some[0]))
        places, flux = lowest.emitters(direct_spacing_cm(_gap_cm(points_cm, lowest)))
        frames = np.ascontiguousarray(np.broadcast_to(lamp.frame(), (len(places), 3, 3)))
        for height in some:
            lifted = places + np.array([0.0, 0.0, float(height - some[0])])
            rows.append(point_irradiance(points, lifted, frames, flux, table))
    result: Array = np.array(rows) * CM2_PER_M2
    return result


def mirrored_irradiance(points_cm: Array, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the light that reaches the points by mirrors alone, shape (n,)."""
    result = np.zeros(len(points_cm))
    points = np.ascontiguousarray(points_cm)
    others = images.pairs()[1:]
    near = [pair for pair in others if abs(pair[0]) + abs(pair[1]) <= NEAR_CROSSINGS]
    near_spacing = direct_spacing_cm(_gap_cm(points_cm, lamp))
    for pairs, spacing in ((near, near_spacing), (others[len(near) :], FAR_DIRECT_SPACING_CM)):
        if pairs:
            seen = _seen(lamp, spacing, images, pairs)
            result += point_irradiance(points, *seen, lamp.beam.intensity())
    return result * CM2_PER_M2


def patch_irradiance(patches: Patches, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the mean irradiance of every patch straight from a lamp and its near images.

    By Gauss points, as many as nearness asks for; each emitter's sum is then set to its flux.
    """
    spacing = bounce_spacing_cm(float(lamp.outline()[:, 2].min()))
    return _direct_on(patches, lamp, images, spacing, whole=True)


def _direct_on(
    patches: Patches, lamp: PlacedLamp, images: Lattice, spacing_cm: float, whole: bool
) -> Array:
    places, flux = lamp.emitters(spacing_cm)
    table = lamp.beam.intensity()
    frames = np.ascontiguousarray(np.broadcast_to(lamp.frame(), (len(places), 3, 3)))
    on_patches = _flux(patches, places, frames, flux, table, whole=whole)
    near = _near(images)[1:]
    if near:
        seen = _seen(lamp, IMAGE_SPACING_CM, images, near)
        on_patches = on_patches + _flux(patches, *seen, table, whole=False)
    result: Array = on_patches / patches.areas_cm2 * CM2_PER_M2
    return result


def _far_patch_irradiance(patches: Patches, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the mean irradiance of coarse patches from a lamp's far images."""
    far = [p for p in images.pairs() if abs(p[0]) + abs(p[1]) > NEAR_CROSSINGS]
    if not far:
        return np.zeros(len(patches.areas_cm2))
    seen = _seen(lamp, FAR_SPACING_CM, images, far)
    on_patches = _flux(patches, *seen, lamp.beam.intensity(), whole=False)
    result: Array = on_patches / patches.areas_cm2 * CM2_PER_M2
    return result


def _flux(
    patches: Patches, places: Array, frames: Array, flux: Array, table: Array, whole: bool
) -> Array:
    result: Array = patch_flux(
        patches.middles,
        patches.half_u,
        patches.half_v,
        patches.normals,
        patches.areas_cm2,
        places,
        frames,
        flux,
        table,
        whole,
    )
    return result


@dataclass(frozen=True)
class Closer:
    """A tent's own patches, or finer ones, with small ones near the tops: for low lamps alone."""

    tent: "Transport"
    small: Small

    def unscreened(self, lamp: PlacedLamp) -> Array:
        """Return the light by way of the surfaces as if the lamp had no body, shape (points,)."""
        tent = self.tent
        spacing = bounce_spacing_cm(_gap_cm(tent.points_cm, lamp))
        near = _direct_on(self.small.patches, lamp, tent.images, spacing, whole=False)
        own = patch_irradiance(tent.fine, lamp, tent.images)
        first = _with_far(tent, own, lamp)
        result: Array = tent.operator @ first + self.small.corrected(own, near, tent.operator)
        return result


def _with_far(tent: "Transport", first: Array, lamp: PlacedLamp) -> Array:
    """Return fine patches' direct irradiance with what a lamp's far images add."""
    if not any(tent.box.mirror):
        return first
    result: Array = first + tent.spread @ _far_patch_irradiance(tent.coarse, lamp, tent.images)
    return result


def _closer(tent: "Transport") -> Closer:
    faces = tent.coarse.faces, tent.fine.faces
    return Closer(tent, small_patches(*faces, tent.points_cm, tent.images, _near(tent.images)))


def _fade(gap_cm: float, wholly_cm: float, not_cm: float) -> float:
    return float(np.clip((not_cm - gap_cm) / (not_cm - wholly_cm), 0.0, 1.0))


def _level(faces: list[Face]) -> tuple[Array, Array]:
    """Return the grid lines of the canopy."""
    return faces[5].u_lines, faces[5].v_lines


@dataclass(frozen=True)
class Transport:
    """A prepared tent: what its surfaces add at given points.

    ``operator`` has shape (points, fine patches), ``spread`` shape (fine, coarse) hands a coarse
    patch's irradiance to its fine ones.
    """

    box: Enclosure
    points_cm: Array
    images: Lattice
    coarse: Patches
    fine: Patches
    operator: Array
    spread: Array

    @cached_property
    def screens(self) -> Screens:
        """What lamps' bodies take; made when the first lamp with a body asks."""
        return Screens(self.box, self.points_cm)

    @cached_property
    def small(self) -> Closer:
        """The tent with small patches near the tops; made when the first low lamp asks."""
        return _closer(self)

    @cached_property
    def closer(self) -> Closer:
        """The tent cut finer, with small patches; made when the first very low lamp asks."""
        if self.operator.size * CLOSER**2 > MOST_CLOSER:
            return self.small
        return _closer(prepare(self.box, self.points_cm, CLOSER))

    def low(self, lamp: PlacedLamp) -> tuple[float, float]:
        """Return the shares, 0 to 1, in which a lamp's light goes by `closer` and by `small`.

        A lamp that spreads over several patches has the second no need of.
        """
        gap = _gap_cm(self.points_cm, lamp)
        very = _fade(gap, *VERY_LOW_CM)
        outline = lamp.outline()[:, :2]
        spread = float(np.ptp(outline, axis=0).min())
        cell = max(float(np.diff(lines).max()) for lines in _level(self.coarse.faces))
        narrow = spread < NARROW * cell
        return very, (1 - very) * _fade(gap, *LOW_CM) * narrow

    def lowered(self, lamp: PlacedLamp) -> Array:
        """Return what finer patches add to `unscreened` of a lamp at its height, (points,)."""
        added = np.zeros(len(self.points_cm))
        for share, how in zip(self.low(lamp), FINER):
            if share > 0:
                added += share * self.added_by(how, lamp)
        return added

    def added_by(self, how: Finer, lamp: PlacedLamp) -> Array:
        """Return what `closer` or `small` patches add to `unscreened` of a lamp, (points,)."""
        finer = self.closer if how == "closer" else self.small
        return finer.unscreened(lamp) - self.unscreened(lamp)

    def unscreened(self, lamp: PlacedLamp) -> Array:
        """Return the light by way of the surfaces as if the lamp had no body, shape (points,).

        On the tent's own patches, which a low lamp finds too coarse.
        """
        result: Array = self.operator @ _with_far(
            self, patch_irradiance(self.fine, lamp, self.images), lamp
        )
        return result

    def body_ratio(self, lamp: PlacedLamp) -> Array:
        """Return what the lamp's body leaves of that light, shape (points,)."""
        if lamp.body is None or lamp.body.coverage == 0:
            return np.ones(len(self.points_cm))
        bare = patch_irradiance(self.coarse, lamp, self.images)
        return self.screens.ratio(lamp, lamp.body, bare)

    def by_mirrors(self, lamp: PlacedLamp) -> Array:
        """Return the light that reaches the points by mirrors alone, shape (points,)."""
        return mirrored_irradiance(self.points_cm, lamp, self.images)

    def direct(self, lamp: PlacedLamp) -> Array:
        """Return the light that reaches the points straight from the lamp, shape (points,)."""
        return direct_irradiance(self.points_cm, lamp)

    def indirect(self, lamp: PlacedLamp) -> Array:
        """Return all other light at the points, by mirrors and surfaces, shape (points,)."""
        reflected = self.unscreened(lamp)
        reflected = (reflected + self.lowered(lamp)) * self.body_ratio(lamp)
        result: Array = self.by_mirrors(lamp) + reflected
        return result

    def irradiance(self, lamp: PlacedLamp) -> Array:
        """Return all light at the points, shape (points,)."""
        result: Array = self.direct(lamp) + self.indirect(lamp)
        return result


def prepare(box: Enclosure, points_cm: Array, refine: int = 1) -> Transport:
    """Return the tent's transport operator for level, upward-facing points.

    Parameters
    ----------
    box : Enclosure
    points_cm : array, shape (n, 3)
        x, y and height above the canopy plane; a point on a stand sees nothing below itself.
    refine : int
        Multiplies the patches along every side, for convergence checks.

    Notes
    -----
    W = Gf Rf + Gc Rc [(I - F Rc)^-1 - I] P: with one level the error falls like 1/n, with the
    first bounce on fine patches it is already small on few.
    """
    images = lattice(box)
    pairs = images.pairs()
    near = _near(images)
    far = pairs[len(near) :]
    coarse_list = coarse_faces(box, refine)
    coarse, fine = patches_of(coarse_list), patches_of(fine_faces(coarse_list))

    def seen(faces: list[Face], cells: list[tuple[int, int, float]]) -> Array:
        parts = [factors_seen_from(points_cm, f, True, images, cells) for f in faces]
        return np.concatenate(parts, axis=1)

    near_fine, near_coarse = seen(fine.faces, near), seen(coarse.faces, near)
    far_coarse = seen(coarse.faces, far) if far else np.zeros_like(near_coarse)
    exchange = configuration_factors(coarse_list, images)
    bounced = (near_coarse + far_coarse) * coarse.reflectance
    identity = np.eye(len(coarse.reflectance))
    # row vector x of x (I - F R) = bounced gives all bounces from the first on
    every_bounce = np.linalg.solve((identity - exchange * coarse.reflectance).T, bounced.T).T
    # first bounces seen in far images are taken on coarse patches, like the later ones
    later = every_bounce - near_coarse * coarse.reflectance
    average = _block_diagonal([averaging(c, f) for c, f in zip(coarse.faces, fine.faces)])
    spread = (average > 0).astype(float).T
    operator = near_fine * fine.reflectance + later @ average
    return Transport(box, points_cm, images, coarse, fine, operator, spread)


def _block_diagonal(blocks: list[Array]) -> Array:
    rows, columns = (sum(block.shape[k] for block in blocks) for k in (0, 1))
    whole = np.zeros((rows, columns))
    row = column = 0
    for block in blocks:
        whole[row : row + block.shape[0], column : column + block.shape[1]] = block
        row, column = row + block.shape[0], column + block.shape[1]
    return whole


def absorbed_umol_s(box: Enclosure, lamp: PlacedLamp) -> dict[str, float]:
    """Return where a lamp's light ends: flux absorbed by each face, open sides included.

    The six sum to the lamp's flux. Keys: left, right, front, back, ceiling, canopy.
    """
    images = lattice(box)
    faces = coarse_faces(box)
    patches = patches_of(faces)
    rho = patches.reflectance
    first = patch_irradiance(patches, lamp, images) + _far_patch_irradiance(patches, lamp, images)
    settled = np.linalg.solve(np.eye(len(rho)) - configuration_factors(faces, images) * rho, first)
    kept = (
        1
        - rho
        - np.concatenate([np.full(face.size, m) for face, m in zip(faces, (*box.mirror, 0.0, 0.0))])
    )
    absorbed = kept * settled * patches.areas_cm2 / CM2_PER_M2
    ends = np.cumsum([0] + [face.size for face in faces])
    names = (*WALLS, "ceiling", "canopy")
    return {name: float(absorbed[a:b].sum()) for name, a, b in zip(names, ends[:-1], ends[1:])}
