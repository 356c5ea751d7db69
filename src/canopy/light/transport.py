"""How light travels in the tent: straight from the lamp, and by way of the surfaces.

E(points) = direct + W E0, where E0 is the mean direct irradiance of every fine patch and W the
tent's transport operator. W depends on the tent and on the points, not on the lamps: it is built
once and serves every lamp, height, tilt and dial. The first bounce is taken on fine patches, later
bounces on coarse ones. What walls reflect like mirrors comes from images of lamps and patches.
Lengths in cm, flux in umol s-1, irradiance in umol m-2 s-1.
"""

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.light.beam import Beam
from canopy.light.body import Screens
from canopy.light.enclosure import (
    FINE_SPLITS,
    FOR_LOW_LAMPS,
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
from canopy.light.images import ImageCells, Lattice, lattice
from canopy.light.kernels import (
    patch_flux,
    patch_flux_each,
    point_irradiance,
    point_irradiance_each,
    point_irradiance_lifted,
)
from canopy.light.lowlamps import Small, small_patches
from canopy.light.obstacles import NOTHING, Obstacles, Plate, plates_of
from canopy.light.relined import relined
from canopy.light.seen import factors_seen_from
from canopy.light.shade import Seen, Shade, flux_past, shade, share_past
from canopy.light.sources import THIN_CM, Listed, PlacedLamp, PointSource
from canopy.once import Lazy
from canopy.wanted import check_wanted

Array = NDArray[np.float64]


def direct_spacing_cm(height_cm: float) -> float:
    """Return how far apart emitters may stand for the direct light at this height."""
    return float(np.clip(height_cm / 2.4, 0.5, 5.0))


def _direct_spacing(lamp: PlacedLamp, gap_cm: float) -> float:
    """Return the same for one lamp: a great many listed emitters are taken together from afar."""
    own = direct_spacing_cm(gap_cm)
    if not isinstance(lamp.layout, Listed):
        return own
    return max(own, min(float(np.sqrt(THIN_CM * gap_cm / THIN_GAP)), 13.0))


THIN_GAP = 7.0
"""Of the gap to the plants, a cell in which listed emitters count as one is so many times smaller;
a test holds the light to 0.5 %."""


def bounce_spacing_cm(height_cm: float) -> float:
    """Return how far apart emitters may stand for the light that reaches the walls first."""
    return float(np.clip(height_cm / 2, 2.0, 13.0))


def mirror_spacing_cm(height_cm: float) -> float:
    """Return the same for what points see in one mirror: it hangs further away."""
    return float(np.clip(height_cm / 2, 0.5, 6.0))


IMAGE_SPACING_CM = 15.0
"""The same for what images one wall away send to the walls."""

SHADOW_SPACING_CM = 1.0
"""Emitters stand no further apart than this where things cast shadows at the points."""

FAR_DIRECT_SPACING_CM = 40.0
FAR_SPACING_CM = 40.0
"""The same for images more than one wall away: at points, and at the walls."""


LOW_CM = (12.0, 15.0)
"""Lamps nearer to the highest tops than these find the tent's patches too coarse: nearer than the
first wholly so, further than the second not at all."""

NARROW = 2.0
NARROW_LOW_CM = (19.0, 22.0)
NARROW_LOW_CELLS = (0.7, 0.8)
"""The same for a lamp less wide than so many of the canopy's coarse cells, which it does not light
evenly; and at least as far as so many of them."""

CLOSER = 2
"""How many times finer a tent's coarse patches are cut for low lamps."""

MOST_CLOSER = 2_400
"""Coarse patches of a tent cut finer: a larger one keeps its own."""

TOGETHER = 1.35
"""Heights up to so many times the lowest of them share its emitters."""


def seen_in(lamp: PlacedLamp, spacing_cm: float, cells: ImageCells) -> Seen:
    """Return a lamp's emitters as seen in image cells."""
    places, flux = lamp.emitters(spacing_cm)
    return *cells.mirrored(places, lamp.frame()), (cells.weights[:, None] * flux).ravel()


def own_emitters(lamp: PlacedLamp, spacing_cm: float) -> Seen:
    """Return a lamp's emitters in the tent."""
    return _framed(lamp, *lamp.emitters(spacing_cm))


def _framed(lamp: PlacedLamp, places: Array, flux: Array) -> Seen:
    return places, np.ascontiguousarray(np.broadcast_to(lamp.frame(), (len(places), 3, 3))), flux


def _gap_cm(points_cm: Array, lamp: PlacedLamp) -> float:
    """Return how near the lamp comes to the level of the highest point."""
    lowest = float(lamp.outline()[:, 2].min())
    return max(lowest - float(points_cm[:, 2].max(initial=0.0)), LEAST_GAP_CM)


LEAST_GAP_CM = 0.5
"""A lamp nearer than this to the level of the highest point is taken apart no finer."""


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
    points = np.ascontiguousarray(points_cm)
    seen = own_emitters(lamp, _direct_spacing(lamp, _gap_cm(points_cm, lamp)))
    result: Array = point_irradiance(points, *seen, lamp.beam.intensity())
    return result * CM2_PER_M2


def mirrored_irradiance(points_cm: Array, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the light that reaches the points by mirrors alone, shape (n,)."""
    points, table = np.ascontiguousarray(points_cm), lamp.beam.intensity()
    result = np.zeros(len(points_cm))
    for seen in _in_mirrors(lamp, images, mirror_spacing_cm(_gap_cm(points_cm, lamp))):
        result += point_irradiance(points, *seen, table)
    return result * CM2_PER_M2


def _in_mirrors(lamp: PlacedLamp, images: Lattice, spacing_cm: float) -> list[Seen]:
    """Return a lamp's images as points see them, near and far ones."""
    kinds = ((images.beside, spacing_cm), (images.far, FAR_DIRECT_SPACING_CM))
    return [seen_in(lamp, spacing, cells) for cells, spacing in kinds if cells]


def patch_irradiance(patches: Patches, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the mean irradiance of every patch straight from a lamp and its near images."""
    own = _own_patch_irradiance(patches, lamp)
    return own + _beside_patch_irradiance(patches, lamp, images) if images.beside else own


def _own_patch_irradiance(patches: Patches, lamp: PlacedLamp) -> Array:
    """Return the mean irradiance of every patch straight from a lamp.

    By Gauss points, as many as nearness asks for; each emitter's sum is then set to its flux.
    """
    spacing = bounce_spacing_cm(float(lamp.outline()[:, 2].min()))
    return arriving(patches, own_emitters(lamp, spacing), lamp.beam, whole=True)


def _beside_patch_irradiance(patches: Patches, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the mean irradiance of patches from a lamp's near images."""
    if not images.beside:
        return np.zeros(0)
    return arriving(patches, seen_in(lamp, IMAGE_SPACING_CM, images.beside), lamp.beam, whole=False)


def _far_patch_irradiance(patches: Patches, lamp: PlacedLamp, images: Lattice) -> Array:
    """Return the mean irradiance of coarse patches from a lamp's far images."""
    if not images.far:
        return np.zeros(len(patches.areas_cm2))
    return arriving(patches, seen_in(lamp, FAR_SPACING_CM, images.far), lamp.beam, whole=False)


def arriving(patches: Patches, seen: Seen, beam: Beam, whole: bool) -> Array:
    """Return what patches get from emitters, as mean irradiance, shape (patches,).

    Of several lamps' emitters, with one more axis in front, shape (lamps, patches).
    """
    kernel = patch_flux if seen[0].ndim == 2 else patch_flux_each
    flux = kernel(
        patches.middles,
        patches.half_u,
        patches.half_v,
        patches.normals,
        patches.areas_cm2,
        *seen,
        beam.intensity(),
        whole,
    )
    result: Array = flux / patches.areas_cm2 * CM2_PER_M2
    return result


def _each_in(places_cm: Array, cells: ImageCells) -> Seen:
    """Return emitters of one unit of flux each as seen in image cells, lamp by lamp.

    Those of lamp k have places (k, cells, 3), frames (k, cells, 3, 3) and flux (k, cells).
    """
    places, frames = cells.mirrored(places_cm, LEVEL)
    shape = len(cells.pairs), len(places_cm)
    return (
        np.ascontiguousarray(places.reshape(*shape, 3).swapaxes(0, 1)),
        np.ascontiguousarray(frames.reshape(*shape, 3, 3).swapaxes(0, 1)),
        np.tile(cells.weights, (len(places_cm), 1)),
    )


LEVEL = np.diag([1.0, 1.0, -1.0])
"""The frame of a lamp that hangs level."""


@dataclass(frozen=True)
class First:
    """First light: patches' mean irradiance from a lamp before any of it is reflected.

    ``own`` (fine,) is straight from the lamp, ``beside`` (fine,) from its near images, and ``far``
    (coarse,) from its far images; both are empty where walls are no mirrors.
    """

    own: Array
    beside: Array
    far: Array

    @property
    def near(self) -> Array:
        """All that fine patches get, shape (fine,)."""
        return self.own + self.beside if len(self.beside) else self.own


@dataclass(frozen=True)
class Closer:
    """A tent cut finer, with small patches near the tops: for low lamps alone."""

    tent: "Transport"
    small: Small

    def unscreened(self, lamp: PlacedLamp, first: First | None = None) -> Array:
        """Return the light by way of the surfaces as if the lamp had no body, shape (points,).

        ``first`` is the lamp's first light in this tent, where it is known. What its images send
        is even enough for the tent's own patches.
        """
        spacing = bounce_spacing_cm(_gap_cm(self.tent.points_cm, lamp))
        patches, seen = self.small.patches, own_emitters(lamp, spacing)
        own = arriving(patches, seen, lamp.beam, whole=False)
        first = first or self.tent.first(lamp)
        return self.tent.free(first) + self.small.corrected(first.own, own)


def _closer(tent: "Transport") -> Closer:
    small = small_patches(
        tent.coarse.faces,
        tent.fine.faces,
        tent.points_cm,
        tent.operator,
        tent.spread,
        tent.images.near,
    )
    return Closer(tent, small)


def _below(lamp: PlacedLamp, others: tuple[PlacedLamp, ...]) -> tuple[Plate, ...]:
    """Return what of others' bodies lies lower than some of a lamp's light."""
    highest = float(lamp.outline()[:, 2].max())
    plates = [plate for other in others for plate in plates_of(other)]
    return tuple(plate for plate in plates if plate.lowest_cm < highest - SLACK_CM)


SLACK_CM = 1e-6


def _fade(gap_cm: float, wholly_cm: float, not_cm: float) -> float:
    return float(np.clip((not_cm - gap_cm) / (not_cm - wholly_cm), 0.0, 1.0))


def _level(faces: list[Face]) -> tuple[Array, Array]:
    """Return the grid lines of the canopy."""
    return faces[5].u_lines, faces[5].v_lines


@dataclass(frozen=True)
class Straight:
    """A tent's points, its mirrors and the things in it: light that meets no surface on its way."""

    box: Enclosure
    points_cm: Array
    things: Obstacles = NOTHING

    @cached_property
    def images(self) -> Lattice:
        """What the walls' mirrors show."""
        return lattice(self.box)

    def by_mirrors(self, lamp: PlacedLamp) -> Array:
        """Return the light that reaches the points by mirrors alone, shape (points,)."""
        whole = self.mirrored(lamp)
        return whole * self.mirror_share(lamp) if whole.any() else whole

    def mirrored(self, lamp: PlacedLamp) -> Array:
        """Return the same with nothing in its way, shape (points,)."""
        return mirrored_irradiance(self.points_cm, lamp, self.images)

    def mirror_share(self, lamp: PlacedLamp) -> Array:
        """Return which share of that gets past the things in the tent, shape (points,).

        In mirrors shadows have soft edges: it needs few emitters.
        """
        free = past = np.zeros(len(self.points_cm))
        if self.things:
            for seen in self._images(lamp):
                light = point_irradiance(self.points_cm, *seen, lamp.beam.intensity())
                share = share_past(self.box, self.things, self.points_cm, seen, lamp.beam)
                free, past = free + light, past + light * share
        return np.divide(past, free, out=np.ones(len(free)), where=free > 0)

    def direct(self, lamp: PlacedLamp, others: tuple[PlacedLamp, ...] = ()) -> Array:
        """Return the light that reaches the points straight from the lamp, shape (points,).

        Past what stands in the tent, and the bodies of others that hang below it.
        """
        return self.direct_at(self.points_cm, lamp, others)

    def direct_at(
        self, points_cm: Array, lamp: PlacedLamp, others: tuple[PlacedLamp, ...] = ()
    ) -> Array:
        """Return the same at any level points, shape (n,)."""
        whole = direct_irradiance(points_cm, lamp)
        here = self.things
        things = Obstacles(here.stands, (*here.plates, *_below(lamp, others)))
        if not things:
            return whole
        spacing = min(direct_spacing_cm(_gap_cm(points_cm, lamp)), SHADOW_SPACING_CM)
        seen = _framed(lamp, *lamp.scattered(spacing))
        return whole * share_past(self.box, things, points_cm, seen, lamp.beam)

    def _images(self, lamp: PlacedLamp) -> list[Seen]:
        """Return a lamp's images, near and far ones, in few emitters."""
        kinds = ((self.images.beside, IMAGE_SPACING_CM), (self.images.far, FAR_SPACING_CM))
        return [seen_in(lamp, apart, cells) for cells, apart in kinds if cells]


@dataclass(frozen=True)
class Transport(Straight):
    """A prepared tent: what its surfaces add at given points.

    ``operator`` has shape (points, fine patches), ``spread`` shape (fine, coarse) hands a coarse
    patch's irradiance to its fine ones. ``shade`` is what things standing in the tent change.
    """

    coarse: Patches = field(kw_only=True)
    fine: Patches = field(kw_only=True)
    operator: Array = field(kw_only=True)
    spread: Array = field(kw_only=True)
    shade: Shade | None = None

    @Lazy
    def screens(self) -> Screens:
        """What lamps' bodies take; made when the first lamp with a body asks."""
        return Screens(self.box, self.points_cm)

    @Lazy
    def closer(self) -> Closer:
        """The tent cut finer, with small patches; made when the first low lamp asks."""
        if len(self.coarse.areas_cm2) * CLOSER**2 > MOST_CLOSER:
            return _closer(self)
        return _closer(prepare(self.box, self.points_cm, CLOSER, fine_splits=FOR_LOW_LAMPS))

    def low(self, lamp: PlacedLamp) -> float:
        """Return the share, 0 to 1, in which a lamp hangs so low that its light goes by `closer`.

        One that spreads over several patches is low later.
        """
        gap = _gap_cm(self.points_cm, lamp)
        share = _fade(gap, *LOW_CM)
        if float(np.ptp(lamp.outline()[:, :2], axis=0).min()) < NARROW * self._cell_cm:
            limits = (max(a, b * self._cell_cm) for a, b in zip(NARROW_LOW_CM, NARROW_LOW_CELLS))
            share = max(share, _fade(gap, *limits))
        return share

    @cached_property
    def _cell_cm(self) -> float:
        return max(float(np.diff(lines).max()) for lines in _level(self.coarse.faces))

    def added_closer(self, lamp: PlacedLamp, first: First, in_closer: First | None = None) -> Array:
        """Return what `closer` adds to `free` of a lamp and its first light, shape (points,).

        ``in_closer`` is its first light in the tent cut finer, where it is known.
        """
        return self.closer.unscreened(lamp, in_closer) - self.free(first)

    def first(self, lamp: PlacedLamp) -> First:
        """Return a lamp's first light with nothing in the way."""
        far = np.zeros(0)
        if any(self.box.mirror):
            far = _far_patch_irradiance(self.coarse, lamp, self.images)
        own = _own_patch_irradiance(self.fine, lamp)
        return First(own, _beside_patch_irradiance(self.fine, lamp, self.images), far)

    def free(self, first: First) -> Array:
        """Return the light by way of the surfaces with nothing in its way, shape (points,).

        On the tent's own patches, which a low lamp finds too coarse.
        """
        near = first.near
        on_fine = near + self.spread @ first.far if len(first.far) else near
        result: Array = self.operator @ on_fine
        return result

    def on_coarse(self, near: Array) -> Array:
        """Return the near part of first light as the means of coarse patches, shape (coarse,)."""
        result: Array = (near @ self.spread) / self.spread.sum(axis=0)
        return result

    def changed(self, lamp: PlacedLamp) -> Array:
        """Return what the things that stand in the tent add to that, shape (points,)."""
        if self.shade is None:
            return np.zeros(len(self.points_cm))
        spacing = bounce_spacing_cm(float(lamp.outline()[:, 2].min()))
        own = _framed(lamp, *lamp.scattered(spacing))
        return self.shade.changed(own, self._images(lamp), lamp.beam)

    def body_ratio(
        self,
        lamp: PlacedLamp,
        others: tuple[PlacedLamp, ...] = (),
        near: Array | None = None,
    ) -> Array:
        """Return what lamps' bodies leave of that light, the lamp's own and others', (points,).

        ``near`` is the near part of the lamp's first light, where it is known.
        """
        bodies = tuple(each for each in (lamp, *others) if plates_of(each))
        if not bodies:
            return np.ones(len(self.points_cm))
        if near is None:
            near = patch_irradiance(self.fine, lamp, self.images)
        bare = self.on_coarse(near)
        past, on_tops = bare, np.zeros(len(bodies))
        below = [_below(lamp, (body,)) for body in bodies if body is not lamp]
        if any(below):
            past, on_tops = self._past(lamp, bodies, bare)
        return self.screens.ratio(bodies, bare, past, on_tops)

    def _past(
        self, lamp: PlacedLamp, bodies: tuple[PlacedLamp, ...], bare: Array
    ) -> tuple[Array, Array]:
        """Return the coarse patches' direct irradiance past others' bodies, and flux on those."""
        spacing = bounce_spacing_cm(float(lamp.outline()[:, 2].min()))
        seen = _framed(lamp, *lamp.scattered(spacing))

        def arrives(plates: tuple[Plate, ...]) -> Array:
            return flux_past(self.box, Obstacles((), plates), self.coarse, seen, lamp.beam)

        free = arrives(())
        alone = [_below(lamp, (body,)) if body is not lamp else () for body in bodies]
        left = arrives(tuple(plate for plates in alone for plate in plates))
        on_tops = np.array([free.sum() - arrives(p).sum() if p else 0.0 for p in alone])
        if on_tops.sum() > 0:
            # two above one another stop no more than there is
            on_tops *= (free - left).sum() / on_tops.sum()
        return bare * np.divide(left, free, out=np.ones(len(free)), where=free > 0), on_tops

    def relined_ratios(self, near: Array, changes: tuple[float, ...]) -> Array:
        """Return reflected light over itself if the lining reflected so much more, by changes.

        ``near`` (k, fine) is the near part of a lamp's first light at k heights; shape
        (changes, k, points).
        """
        first = np.array([self.on_coarse(row) for row in near]).T
        own = self.screens.without @ first
        others = np.array([relined(self.screens, by, first) for by in changes])
        ratios = np.divide(others, own, out=np.ones_like(others), where=own > 0)
        result: Array = ratios.transpose(0, 2, 1)
        return result

    def direct_at_heights(self, lamp: PlacedLamp, heights_cm: Array) -> Array:
        """Return `direct` of a level lamp at many rising heights, shape (heights, points).

        With nothing in the way the lamp is taken apart once for heights not far apart, as finely as
        the lowest of them asks.
        """
        if self.shade is not None:
            return np.array([self.direct(replace(lamp, height_cm=float(h))) for h in heights_cm])
        points, table = np.ascontiguousarray(self.points_cm), lamp.beam.intensity()
        own_gap_cm = float(lamp.outline()[:, 2].min()) - float(points[:, 2].max(initial=0.0))
        check_wanted()
        lifts, maps = heights_cm - lamp.height_cm, []
        at = 0
        while at < len(heights_cm):
            near_cm = TOGETHER * heights_cm[at]
            end = max(int(np.searchsorted(heights_cm, near_cm, side="right")), at + 1)
            gap_cm = max(own_gap_cm + float(lifts[at]), LEAST_GAP_CM)
            seen = own_emitters(lamp, _direct_spacing(lamp, gap_cm))
            maps.append(point_irradiance_lifted(points, *seen, table, lifts[at:end]))
            at = end
        result: Array = np.concatenate(maps) * CM2_PER_M2
        return result

    def indirect(self, lamp: PlacedLamp, finer: bool = True, first: First | None = None) -> Array:
        """Return all other light at the points, by mirrors and surfaces, shape (points,).

        Not ``finer``: a low lamp as well on the tent's own patches, for shares of light. ``first``
        is its first light, where it is known.
        """
        check_wanted()
        first = first or self.first(lamp)
        reflected = self.free(first) + self.changed(lamp)
        share = self.low(lamp) if finer else 0.0
        if share > 0:
            reflected += share * self.added_closer(lamp, first)
        result: Array = self.by_mirrors(lamp) + reflected * self.body_ratio(lamp, (), first.near)
        return result

    def indirect_of_each(self, places_cm: Array, beam: Beam) -> Array:
        """Return `indirect` of level point lamps of one unit of flux, shape (lamps, points).

        Not finer, all at once. ``places_cm`` has shape (lamps, 3).
        """
        check_wanted()
        images = self.images
        on_fine = arriving(self.fine, _each_in(places_cm, images.itself), beam, whole=True)
        if images.beside:
            on_fine += arriving(self.fine, _each_in(places_cm, images.beside), beam, whole=False)
        if images.far:
            far = arriving(self.coarse, _each_in(places_cm, images.far), beam, whole=False)
            on_fine += far @ self.spread.T
        reflected = on_fine @ self.operator.T
        mirrored = np.zeros_like(reflected)
        if images.others:
            points, seen = np.ascontiguousarray(self.points_cm), _each_in(places_cm, images.others)
            mirrored = point_irradiance_each(points, *seen, beam.intensity()) * CM2_PER_M2
        if self.things:
            for i, (x, y, z) in enumerate(places_cm):
                lamp = PlacedLamp(PointSource(), 1.0, x, y, z, beam=beam)
                reflected[i] += self.changed(lamp)
                mirrored[i] *= self.mirror_share(lamp)
        result: Array = reflected + mirrored
        return result

    def irradiance(self, lamp: PlacedLamp, first: First | None = None) -> Array:
        """Return all light at the points, shape (points,)."""
        result: Array = self.direct(lamp) + self.indirect(lamp, first=first)
        return result


def prepare(
    box: Enclosure,
    points_cm: Array,
    refine: int = 1,
    things: Obstacles = NOTHING,
    fine_splits: tuple[int, int, int] = FINE_SPLITS,
) -> Transport:
    """Return the tent's transport operator for level, upward-facing points.

    Parameters
    ----------
    box : Enclosure
    points_cm : array, shape (n, 3)
        x, y and height above the canopy plane; a point on a step sees nothing below itself.
    refine : int
        Multiplies the patches along every side, for convergence checks.
    things : Obstacles
        What stands in the light's way. Where lamps' bodies are among them, lamps are asked for
        without their own.
    fine_splits : tuple of int
        Fine patches per coarse one: along and up a wall, along either side of ceiling and canopy.

    Notes
    -----
    W = Gf Rf + Gc Rc [(I - F Rc)^-1 - I] P: with one level the error falls like 1/n, with the
    first bounce on fine patches it is already small on few.
    """
    check_wanted()
    images = lattice(box)
    coarse_list = coarse_faces(box, refine)
    coarse, fine = patches_of(coarse_list), patches_of(fine_faces(coarse_list, fine_splits))

    def seen(faces: list[Face], cells: ImageCells) -> Array:
        parts = [factors_seen_from(points_cm, f, True, cells) for f in faces]
        return np.concatenate(parts, axis=1)

    near_fine, near_coarse = seen(fine.faces, images.near), seen(coarse.faces, images.near)
    far_coarse = seen(coarse.faces, images.far) if images.far else np.zeros_like(near_coarse)
    exchange = configuration_factors(coarse_list, images)
    bounced = (near_coarse + far_coarse) * coarse.reflectance
    identity = np.eye(len(coarse.reflectance))
    # all bounces from the first on
    every_bounce = bounced @ np.linalg.inv(identity - exchange * coarse.reflectance)
    # first bounces seen in far images are taken on coarse patches, like the later ones
    later = every_bounce - near_coarse * coarse.reflectance
    average = _block_diagonal([averaging(c, f) for c, f in zip(coarse.faces, fine.faces)])
    spread = (average > 0).astype(float).T
    operator = near_fine * fine.reflectance + later @ average
    shaded = shade(box, points_cm, things, fine) if things else None
    return Transport(
        box,
        points_cm,
        things,
        coarse=coarse,
        fine=fine,
        operator=operator,
        spread=spread,
        shade=shaded,
    )


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
