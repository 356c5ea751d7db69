"""What the things that stand in a tent change of the light in it.

Light straight from emitters, or by mirrors, is followed past them point by point. For the light by
way of the surfaces every point, every patch and every patch of the things themselves looks about
with the same rays twice, with the things and without: what differs is added to the tent's own
operator, which is exact without them. Lengths in cm.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.stats import qmc

from canopy.constants import CM2_PER_M2
from canopy.light.beam import Beam
from canopy.light.enclosure import Enclosure, Patches
from canopy.light.kernels import point_irradiance
from canopy.light.obstacles import NOTHING, Obstacles
from canopy.light.raykernels import gathered, shaded_flux, shaded_irradiance
from canopy.once import once

Array = NDArray[np.float64]
Seen = tuple[Array, Array, Array]
"""Emitters: places (n, 3), frames (n, 3, 3), flux (n,)."""

POINT_RAYS_LOG2 = 10
PATCH_RAYS_LOG2 = 8
"""Rays a point and a patch look about with, as powers of two."""

ORIGINS = 4
"""Places along each side of a patch from which it looks about."""

FEW_EMITTERS, MANY_EMITTERS = 32, 200
"""The fewer emitters, the more finely their shadows' edges are sampled on every patch."""

SEED = 1

TURNS = np.array(
    [[0.7548776662, 0.5698402910], [0.3247179572, 0.1910133571], [0.618034, 0.4142136]]
)
"""How a point's rays turn with its place: irrational numbers. The same place has the same rays."""


def share_past(
    box: Enclosure, things: Obstacles, points_cm: Array, seen: Seen, beam: Beam
) -> Array:
    """Return which share of emitters' light gets to level points past things, shape (n,)."""
    points, table = np.ascontiguousarray(points_cm), beam.intensity()
    free = point_irradiance(points, *seen, table)
    sides = box.width_cm, box.depth_cm
    past = shaded_irradiance(points, *seen, table, *sides, things.solids, things.sheets)
    result: Array = np.divide(past, free, out=np.ones(len(past)), where=free > 0)
    return result


def flux_past(box: Enclosure, things: Obstacles, patches: Patches, seen: Seen, beam: Beam) -> Array:
    """Return the flux that gets from emitters to each of a tent's patches past things."""
    return _flux_past(box, things, _faces_of(patches), len(patches.areas_cm2), seen, beam)


def _flux_past(
    box: Enclosure, things: Obstacles, faces: "_Faces", closing: int, seen: Seen, beam: Beam
) -> Array:
    result: Array = shaded_flux(
        faces.middles,
        faces.half_u,
        faces.half_v,
        faces.normals,
        faces.whole_cm2,
        closing,
        *seen,
        beam.intensity(),
        _least_order(len(seen[2])),
        box.width_cm,
        box.depth_cm,
        things.solids,
        things.sheets,
    )
    return result


def _least_order(emitters: int) -> int:
    return 4 if emitters < FEW_EMITTERS else 2 if emitters < MANY_EMITTERS else 1


def _parts(count: int) -> int:
    """Return into how many cells each side of so many things' faces is cut."""
    return 4 if count <= 8 else 3 if count <= 24 else 2


@dataclass(frozen=True)
class _Faces:
    """Patches as oblongs anywhere: middles, half sides and normals (n, 3), areas and reflectance.

    ``areas_cm2`` leaves out what lies inside a solid or outside the tent.
    """

    middles: Array
    half_u: Array
    half_v: Array
    normals: Array
    areas_cm2: Array
    reflectance: Array

    @property
    def whole_cm2(self) -> Array:
        """The areas, whatever lies inside a solid."""
        sides = np.linalg.norm(self.half_u, axis=1) * np.linalg.norm(self.half_v, axis=1)
        return np.asarray(4 * sides)

    def joined(self, other: "_Faces") -> "_Faces":
        return _Faces(
            *(
                np.concatenate([getattr(self, name), getattr(other, name)])
                for name in (
                    "middles",
                    "half_u",
                    "half_v",
                    "normals",
                    "areas_cm2",
                    "reflectance",
                )
            )
        )

    def origins(self, along: int) -> Array:
        """Return places spread evenly over every patch, shape (n, along^2, 3)."""
        at = (np.arange(along) + 0.5) / along * 2 - 1
        s, t = (each.ravel()[None, :, None] for each in np.meshgrid(at, at))
        return np.asarray(
            self.middles[:, None] + s * self.half_u[:, None] + t * self.half_v[:, None]
        )


def _cells(middle: Array, half_u: Array, half_v: Array, normal: Array, parts: int) -> list[Array]:
    """Return middles, half sides and normals of a face cut into parts x parts, u slowest."""
    at = (np.arange(parts) + 0.5) / parts * 2 - 1
    u, v = (each.ravel()[:, None] for each in np.meshgrid(at, at, indexing="ij"))
    count = parts * parts
    return [
        middle + u * half_u + v * half_v,
        np.tile(half_u / parts, (count, 1)),
        np.tile(half_v / parts, (count, 1)),
        np.tile(normal, (count, 1)),
    ]


SIDES = ((0, -1.0), (0, 1.0), (1, -1.0), (1, 1.0), (2, 1.0))
"""A step's faces in the order the rays know them: the axis across, and outwards."""


def _things(things: Obstacles, step_reflectance: float) -> tuple[_Faces, Array, Array, Array]:
    """Return the things' patches, each solid's and each plate's first, and the cells of both."""
    parts = np.array([_parts(len(things.plates)), _parts(len(things.stands))])
    columns: list[list[Array]] = []
    reflectance: list[float] = []
    solid_at, plate_at = [], []
    for row in things.solids:
        solid_at.append(len(reflectance))
        low, high = row[:3].copy(), row[3:]
        low[2] = 0.0
        middle, half = (low + high) / 2, (high - low) / 2
        for axis, outward in SIDES:
            normal = np.zeros(3)
            normal[axis] = outward
            u, v = (a for a in (0, 1, 2) if a != axis)
            columns.append(
                _cells(
                    middle + normal * half[axis],
                    np.eye(3)[u] * half[u],
                    np.eye(3)[v] * half[v],
                    normal,
                    int(parts[1]),
                )
            )
            reflectance += [step_reflectance] * int(parts[1]) ** 2
    for plate in things.plates:
        plate_at.append(len(reflectance))
        middle, half_u, half_v = (
            np.array(each, dtype=float) for each in (plate.middle, plate.half_u, plate.half_v)
        )
        upward = np.cross(half_u, half_v)
        upward /= np.linalg.norm(upward)
        for side in (1.0, -1.0):
            columns.append(_cells(middle, half_u, half_v, side * upward, int(parts[0])))
            reflectance += [plate.reflectance] * int(parts[0]) ** 2
    middles, half_u, half_v, normals = (np.concatenate(column) for column in zip(*columns))
    none = np.zeros(len(middles))
    faces = _Faces(middles, half_u, half_v, normals, none, np.array(reflectance))
    faces = replace(faces, areas_cm2=faces.whole_cm2)
    return faces, np.array(solid_at, dtype=np.int64), np.array(plate_at, dtype=np.int64), parts


def _faces_of(patches: Patches) -> _Faces:
    return _Faces(
        patches.middles,
        patches.half_u,
        patches.half_v,
        patches.normals,
        patches.areas_cm2,
        patches.reflectance,
    )


def _open(faces: _Faces, box: Enclosure, solids: Array) -> _Faces:
    """Return the faces with the areas that light can reach."""
    places = faces.origins(8) + 1e-4 * faces.normals[:, None]
    top = np.array([box.width_cm, box.depth_cm, box.height_cm])
    reached = ((places > -1e-3) & (places < top + 1e-3)).all(axis=2)
    for row in solids:
        reached &= ~((places > row[:3]) & (places < row[3:])).all(axis=2)
    return replace(faces, areas_cm2=faces.areas_cm2 * reached.mean(axis=1))


@once(4)
def _rays(log2: int) -> Array:
    result: Array = np.ascontiguousarray(qmc.Sobol(2, scramble=False).random_base2(log2))
    return result


@dataclass(frozen=True)
class Shade:
    """The things in a tent, ready to say what they change at its points.

    ``tent`` are the tent's patches, ``faces`` the same, where light reaches them, with the things'
    behind them. ``bare``, shape (points, tent), is the tent's operator by rays without things,
    ``among``, shape (points, faces), with them.
    """

    box: Enclosure
    things: Obstacles
    tent: _Faces
    faces: _Faces
    bare: Array
    among: Array

    def _on_patches(self, seen: Seen, beam: Beam, whole: bool, among: bool) -> Array:
        """Return the mean irradiance of all patches from emitters, past the things or without.

        With ``whole`` they are the lamp itself, and all its flux arrives somewhere.
        """
        faces = self.faces if among else self.tent
        things = self.things if among else NOTHING
        closing = len(self.tent.areas_cm2) if whole else 0
        flux = _flux_past(self.box, things, faces, closing, seen, beam)
        reached = faces.areas_cm2 > 0
        mean = np.divide(flux, faces.areas_cm2, out=np.zeros(len(flux)), where=reached)
        return np.asarray(mean * CM2_PER_M2)

    def changed(self, own: Seen, images: list[Seen], beam: Beam) -> Array:
        """Return what the things add to a lamp's light by way of the surfaces, shape (points,).

        ``own`` are the lamp's emitters, ``images`` those of its mirror images.
        """

        def first(among: bool) -> Array:
            parts = [self._on_patches(own, beam, True, among)]
            parts += [self._on_patches(seen, beam, False, among) for seen in images]
            return np.asarray(np.sum(parts, axis=0))

        return np.asarray(self.among @ first(True) - self.bare @ first(False))


def shade(box: Enclosure, points_cm: Array, things: Obstacles, fine: Patches) -> Shade:
    """Return what things change in a tent.

    Parameters
    ----------
    box : Enclosure
    points_cm : array, shape (n, 3)
        Level, facing up.
    things : Obstacles
        Not empty.
    fine : Patches
        The tent's own.
    """
    theirs, solid_at, plate_at, parts = _things(things, box.canopy_reflectance)
    tent = _faces_of(fine)
    own = len(tent.areas_cm2)
    every = _open(tent.joined(theirs), box, things.solids)
    lines = fine.faces[2].u_lines, fine.faces[0].u_lines, fine.faces[0].v_lines
    cells = np.array([len(each) - 1 for each in lines])
    rng = np.random.default_rng(SEED)
    up = np.tile([0.0, 0.0, 1.0], (len(points_cm), 1))
    point_turns = (points_cm @ TURNS % 1.0)[:, None]
    patch_turns = rng.random((len(every.areas_cm2), ORIGINS**2, 2))

    def look(origins: Array, normals: Array, turns: Array, log2: int, among: bool) -> Array:
        there = things if among else NOTHING
        result: Array = gathered(
            np.ascontiguousarray(origins),
            np.ascontiguousarray(normals),
            _rays(log2),
            turns,
            np.array([box.width_cm, box.depth_cm, box.height_cm]),
            np.array(box.mirror),
            np.cumsum([0] + [face.size for face in fine.faces])[:-1],
            cells,
            there.solids,
            there.sheets,
            own + solid_at,
            own + plate_at,
            parts,
            len(every.areas_cm2),
        )
        return result

    def operator(faces: _Faces, among: bool) -> Array:
        count = len(faces.areas_cm2)
        to_points = look(points_cm[:, None], up, point_turns, POINT_RAYS_LOG2, among)
        between = look(
            faces.origins(ORIGINS), faces.normals, patch_turns[:count], PATCH_RAYS_LOG2, among
        )
        # row vector x of x (I - F R) = seen R gives all bounces
        first = to_points[:, :count] * faces.reflectance
        settled = np.eye(count) - between[:, :count] * faces.reflectance
        return np.asarray(np.linalg.solve(settled.T, first.T).T)

    return Shade(
        box=box,
        things=things,
        tent=tent,
        faces=every,
        bare=operator(tent, among=False),
        among=operator(every, among=True),
    )
