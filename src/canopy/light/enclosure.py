"""The tent above the canopy as a box of reflecting patches.

z = 0 is the canopy plane and acts as the floor; what lies below it does not matter.
Lengths in cm; reflectances are shares of PAR photons, 0 to 1.
"""

from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

WALLS = ("left", "right", "front", "back")
"""x = 0, x = width, y = 0, y = depth."""

LATERAL_CELLS = 4
VERTICAL_CELLS = 5
"""Coarse cells along the box's narrow side, and up a wall as high as that side is long; longer
sides get more in proportion. See docs/engine.md for the error they leave."""

FEWEST_VERTICAL = 6
MOST_VERTICAL = 14
MOST_LATERAL = 40

FLAT_SHARE = 0.45
"""A cell is no wider than this share of the height to the ceiling: in a flat space light goes up
and comes down again near where it fell."""

WIDEST_CM = 50.0
"""A cell is no wider than this: lamps do not hang higher in a wider room."""

MOST_LEVEL = 400
"""Coarse cells of the canopy that these two may ask for; a larger floor gets wider ones."""

BRIGHT_WALL = 0.88
BRIGHT_FACTOR = 1.6
"""Above this mean wall reflectance light bounces so long that the cells are made finer."""

FINE_SPLITS = (2, 4, 2)
"""Fine cells per coarse cell: along and up a wall, and along either side of ceiling and canopy."""

FOR_LOW_LAMPS = (1, 4, 1)
"""The same where coarse cells are halved for low lamps: fine ones stay as wide as they are."""


@dataclass(frozen=True)
class Enclosure:
    """A box above the canopy.

    Parameters
    ----------
    width_cm, depth_cm : float
        Along x and y.
    height_cm : float
        From the canopy plane to the ceiling.
    wall_reflectance : tuple of 4 float
        Left, right, front, back, in all; 0 for an open side.
    wall_mirror_share : tuple of 4 float
        The part of each wall's reflectance that is mirror-like; the rest is diffuse.
    ceiling_reflectance, canopy_reflectance : float
        Diffuse.
    """

    width_cm: float
    depth_cm: float
    height_cm: float
    wall_reflectance: tuple[float, float, float, float]
    ceiling_reflectance: float
    canopy_reflectance: float
    wall_mirror_share: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)

    @property
    def mirror(self) -> tuple[float, ...]:
        """Mirror-like reflectance of left, right, front, back."""
        return tuple(r * s for r, s in zip(self.wall_reflectance, self.wall_mirror_share))

    @property
    def canopy_area_m2(self) -> float:
        """Area of the canopy plane."""
        return self.width_cm * self.depth_cm / 1e4


ANY_CEILING_CM = 500.0


def sides_of(box: Enclosure) -> Enclosure:
    """Return a box for light in which ceiling and canopy play no part, alike for all heights."""
    return replace(box, height_cm=ANY_CEILING_CM, ceiling_reflectance=0.0, canopy_reflectance=0.0)


@dataclass(frozen=True)
class Face:
    """One side of the box and its grid lines.

    ``axis`` is the one it is perpendicular to (0 x, 1 y, 2 z), ``at_cm`` its place on it;
    ``u_lines`` and ``v_lines`` run along the two other axes in ascending order of axis.
    ``reflectance`` is the diffuse part.
    """

    axis: int
    at_cm: float
    u_lines: Array
    v_lines: Array
    reflectance: float

    @property
    def areas_cm2(self) -> Array:
        """Patch areas, u slowest, shape (nu * nv,)."""
        return np.outer(np.diff(self.u_lines), np.diff(self.v_lines)).ravel()

    @property
    def size(self) -> int:
        """Number of patches."""
        return (len(self.u_lines) - 1) * (len(self.v_lines) - 1)

    def bounds(self, axis: int) -> Array:
        """Lower and upper bounds of every patch along an in-plane axis, shape (patches, 2)."""
        along = [a for a in (0, 1, 2) if a != self.axis]
        nu, nv = len(self.u_lines) - 1, len(self.v_lines) - 1
        lines = self.u_lines if axis == along[0] else self.v_lines
        pairs = np.stack([lines[:-1], lines[1:]], axis=1)
        return np.repeat(pairs, nv, axis=0) if axis == along[0] else np.tile(pairs, (nu, 1))

    def split(self, u_parts: int, v_parts: int) -> "Face":
        """Return the same face with every cell cut into ``u_parts`` x ``v_parts``."""
        return Face(
            self.axis,
            self.at_cm,
            split_lines(self.u_lines, u_parts),
            split_lines(self.v_lines, v_parts),
            self.reflectance,
        )


def split_lines(lines: Array, parts: int) -> Array:
    """Return grid lines with every cell between them cut into equal parts."""
    steps = np.arange(parts) / parts
    inner = (lines[:-1, None] + np.diff(lines)[:, None] * steps[None, :]).ravel()
    return np.append(inner, lines[-1])


def coarse_faces(box: Enclosure, refine: int = 1) -> list[Face]:
    """Return the six faces (four walls, ceiling, canopy) cut into coarse patches.

    ``refine`` multiplies the number of cells along every side, for convergence checks.
    """
    narrow = min(box.width_cm, box.depth_cm)
    bright = sum(box.wall_reflectance) / 4 > BRIGHT_WALL
    factor = BRIGHT_FACTOR if bright else 1.0

    def count(length_cm: float, cells: int, fewest: int, most: int) -> int:
        return refine * int(np.clip(round(factor * cells * length_cm / narrow), fewest, most))

    flat_cm = max(
        min(FLAT_SHARE * box.height_cm, WIDEST_CM),
        (box.width_cm * box.depth_cm / MOST_LEVEL) ** 0.5,
    )
    nx, ny = (
        max(
            count(side, LATERAL_CELLS, LATERAL_CELLS, MOST_LATERAL),
            refine * min(ceil(side / flat_cm), MOST_LATERAL),
        )
        for side in (box.width_cm, box.depth_cm)
    )
    nz = count(box.height_cm, VERTICAL_CELLS, FEWEST_VERTICAL, MOST_VERTICAL)
    x, y = np.linspace(0, box.width_cm, nx + 1), np.linspace(0, box.depth_cm, ny + 1)
    z = np.linspace(0, box.height_cm, nz + 1)
    left, right, front, back = (
        whole - mirror for whole, mirror in zip(box.wall_reflectance, box.mirror)
    )
    return [
        Face(0, 0.0, y, z, left),
        Face(0, box.width_cm, y, z, right),
        Face(1, 0.0, x, z, front),
        Face(1, box.depth_cm, x, z, back),
        Face(2, box.height_cm, x, y, box.ceiling_reflectance),
        Face(2, 0.0, x, y, box.canopy_reflectance),
    ]


def fine_faces(coarse: list[Face], splits: tuple[int, int, int] = FINE_SPLITS) -> list[Face]:
    """Return the faces cut finer, for the first bounce."""
    along, up, level = splits
    return [
        face.split(level, level) if face.axis == 2 else face.split(along, up) for face in coarse
    ]


def averaging(face: Face, fine: Face) -> Array:
    """Return the matrix, shape (coarse, fine), that averages fine patches by area."""
    parts = [
        np.repeat(np.eye(len(c) - 1), (len(f) - 1) // (len(c) - 1), axis=1)
        for c, f in ((face.u_lines, fine.u_lines), (face.v_lines, fine.v_lines))
    ]
    whole = np.kron(parts[0], parts[1])
    result: Array = whole / whole.sum(axis=1, keepdims=True)
    return result


@dataclass(frozen=True)
class Patches:
    """Patches of all faces as arrays, in the faces' order.

    ``middles``, half sides ``half_u`` and ``half_v`` and inward ``normals`` have shape (n, 3),
    ``areas_cm2`` and diffuse ``reflectance`` shape (n,).
    """

    faces: list[Face]
    middles: Array
    half_u: Array
    half_v: Array
    normals: Array
    areas_cm2: Array
    reflectance: Array


def patches_of(faces: list[Face]) -> Patches:
    """Return the patches of faces; the four walls, ceiling and canopy look inwards."""
    columns: list[list[Array]] = [[], [], [], []]
    for face in faces:
        u, v = (a for a in (0, 1, 2) if a != face.axis)
        middle, half_u, half_v, normal = (np.zeros((face.size, 3)) for _ in range(4))
        for axis, half in ((u, half_u), (v, half_v)):
            bounds = face.bounds(axis)
            middle[:, axis] = bounds.mean(axis=1)
            half[:, axis] = np.diff(bounds, axis=1)[:, 0] / 2
        middle[:, face.axis] = face.at_cm
        normal[:, face.axis] = 1.0 if face.at_cm == 0 else -1.0
        for column, part in zip(columns, (middle, half_u, half_v, normal)):
            column.append(part)
    middles, halves_u, halves_v, normals = (np.concatenate(column) for column in columns)
    return Patches(
        faces=faces,
        middles=middles,
        half_u=halves_u,
        half_v=halves_v,
        normals=normals,
        areas_cm2=np.concatenate([face.areas_cm2 for face in faces]),
        reflectance=np.concatenate([np.full(face.size, face.reflectance) for face in faces]),
    )
