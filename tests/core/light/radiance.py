"""The same scene in Radiance (LBNL), the independent reference, through pyradiance's programs.

Only the scene's description is shared: the geometry, the materials and the sources are written
anew in Radiance's own terms, and its rtrace computes the irradiance.
"""

import subprocess
from pathlib import Path
from typing import Any

import numpy as np

from canopy.light.enclosure import Enclosure
from canopy.light.sources import PlacedLamp

SETTINGS = (
    "-w -h -I -ab 60 -ad {rays} -as 0 -aa 0 -lw {least} -lr -60 -dt 0 -dc 1 -dj 0 -ds 0 -dr 7 -st 0"
)


def programs() -> Path | None:
    """The folder of Radiance's programs, None where pyradiance cannot be had."""
    try:
        import pyradiance  # noqa: PLC0415 - absent on some platforms
    except ImportError:
        return None
    return Path(pyradiance.__file__).parent / "bin"


def polygon(material: str, name: str, corners: np.ndarray) -> str:
    numbers = " ".join(f"{x:.9g}" for x in np.asarray(corners).ravel())
    return f"{material} polygon {name}\n0\n0\n{3 * len(corners)} {numbers}\n"


def surface(name: str, corners: np.ndarray, total: float, mirror: float) -> str:
    """A face of diffuse plastic, or of a mix of plastic and mirror."""
    # (1 - mirror) x plastic + mirror x a perfect mirror
    rest = (total - mirror) / (1 - mirror)
    diffuse = f"void plastic {name}_d\n0\n0\n5 {rest} {rest} {rest} 0 0\n"
    if mirror == 0:
        return diffuse + polygon(f"{name}_d", name, corners)
    return (
        diffuse
        + f"void mirror {name}_s\n0\n0\n3 1 1 1\n"
        + f"void mixfunc {name}_mix\n4 {name}_s {name}_d {mirror} .\n0\n0\n"
        + polygon(f"{name}_mix", name, corners)
    )


def box(enclosure: Enclosure) -> str:
    """The tent above the canopy, normals inwards; open sides are left out."""
    w, d, h = enclosure.width_cm, enclosure.depth_cm, enclosure.height_cm
    faces = {
        "left": [(0, 0, 0), (0, d, 0), (0, d, h), (0, 0, h)],
        "right": [(w, 0, 0), (w, 0, h), (w, d, h), (w, d, 0)],
        "front": [(0, 0, 0), (0, 0, h), (w, 0, h), (w, 0, 0)],
        "back": [(0, d, 0), (w, d, 0), (w, d, h), (0, d, h)],
        "ceiling": [(0, 0, h), (0, d, h), (w, d, h), (w, 0, h)],
        "canopy": [(0, 0, 0), (w, 0, 0), (w, d, 0), (0, d, 0)],
    }
    total = [
        *enclosure.wall_reflectance,
        enclosure.ceiling_reflectance,
        enclosure.canopy_reflectance,
    ]
    mirror = [*enclosure.mirror, 0.0, 0.0]
    return "".join(
        surface(name, np.array(corners, dtype=float), t, m)
        for (name, corners), t, m in zip(faces.items(), total, mirror)
        if t > 0
    )


def source(lamp: PlacedLamp, index: int, spacing_cm: float, power: float) -> str:
    """A lamp cut up into small squares; radiance L cos^(m-1) gives the intensity I cos^m."""
    places, flux = lamp.emitters(spacing_cm)
    x, y, normal = lamp.frame()
    half = 0.1
    out = []
    for k, (place, phi) in enumerate(zip(places, flux)):
        level = phi * (power + 1) / (2 * np.pi) / (4 * half * half)
        name = f"l{index}_{k}"
        # below the face, wound so that Radiance's right-hand normal is the lamp's
        corners = place + half * np.array([-x - y, -x + y, x + y, x - y])
        mod = "void"
        if power != 1:
            n = " ".join(f"{c:.9g}" for c in normal)
            out.append(
                f"void brightfunc {name}_b\n2 (-(Dx*A1+Dy*A2+Dz*A3))^A4 .\n0\n4 {n} {power - 1}\n"
            )
            mod = f"{name}_b"
        out.append(f"{mod} light {name}_m\n0\n0\n3 {level} {level} {level}\n")
        out.append(polygon(f"{name}_m", name, corners))
    return "".join(out)


def glowing_board(lamp: PlacedLamp) -> str:
    """A level Lambertian board as one polygon that only chance finds: a glow without a radius.

    Small sources are not seen by way of part mirrors, so such scenes use a large one. It takes all
    light that falls on it: to be the same, the lamp has a black body.
    """
    corners = lamp.outline()[[0, 1, 3, 2]]
    area = float(np.prod(np.ptp(corners[:, :2], axis=0)))
    level = lamp.flux_umol_s / np.pi / area
    return f"void glow board_m\n0\n0\n4 {level} {level} {level} 0\n" + polygon(
        "board_m", "board", corners
    )


def plates(lamp: PlacedLamp, width_cm: float, reflectance: float) -> str:
    """Opaque plates a hair above a lamp's bars, both sides of one reflectance."""
    out = f"void plastic plate_m\n0\n0\n5 {reflectance} {reflectance} {reflectance} 0 0\n"
    half = lamp.layout.bar_length_cm / 2
    for k, x in enumerate(lamp.layout.bar_x_cm):
        x0, x1 = lamp.x_cm + x - width_cm / 2, lamp.x_cm + x + width_cm / 2
        y0, y1, z = lamp.y_cm - half, lamp.y_cm + half, lamp.height_cm + 0.05
        corners = [(x0, y0, z), (x1, y0, z), (x1, y1, z), (x0, y1, z)]
        out += polygon("plate_m", f"plate{k}", np.array(corners))
    return out


def step(index: int, low: tuple[float, ...], high: tuple[float, ...], reflectance: float) -> str:
    """A solid block on the canopy from its low to its high corner, z from 0; no underside."""
    (x0, y0), (x1, y1, z) = low, high
    name, r = f"step{index}", reflectance
    out = f"void plastic {name}_m\n0\n0\n5 {r} {r} {r} 0 0\n"
    sides = [
        [(x0, y0, 0), (x0, y0, z), (x0, y1, z), (x0, y1, 0)],
        [(x1, y0, 0), (x1, y1, 0), (x1, y1, z), (x1, y0, z)],
        [(x0, y0, 0), (x1, y0, 0), (x1, y0, z), (x0, y0, z)],
        [(x0, y1, 0), (x0, y1, z), (x1, y1, z), (x1, y1, 0)],
        [(x0, y0, z), (x1, y0, z), (x1, y1, z), (x0, y1, z)],
    ]
    return out + "".join(
        polygon(f"{name}_m", f"{name}_{k}", np.array(side)) for k, side in enumerate(sides)
    )


def sheet(index: int, corners: Any, reflectance: float) -> str:
    """An opaque sheet, both sides of one reflectance."""
    name, r = f"sheet{index}", reflectance
    material = f"void plastic {name}_m\n0\n0\n5 {r} {r} {r} 0 0\n"
    return material + polygon(f"{name}_m", name, np.array(corners, dtype=float))


def write_octree(folder: Path, scene: str) -> None:
    """Compile a scene; the folder then holds scene.oct."""
    (folder / "scene.rad").write_text(scene)
    with (folder / "scene.oct").open("wb") as octree:
        _run("oconv", "scene.rad", folder=folder, stdout=octree)


def _run(program: str, *words: str, folder: Path, **more: Any) -> Any:
    bin_folder = programs()
    assert bin_folder is not None
    environment = {
        "RAYPATH": f".:{bin_folder.parent / 'lib'}",
        "PATH": f"{bin_folder}:/usr/bin:/bin",
    }
    return subprocess.run(
        [bin_folder / program, *words], cwd=folder, env=environment, check=True, **more
    )


def rtrace(folder: Path, settings: str, points: np.ndarray, repeats: int = 1) -> np.ndarray:
    """Irradiance at upward-facing points of scene.oct, per cm2 times 1e4, mean of repeats."""
    # a hair above the canopy, so that a point does not lie in its plane
    lines = "".join(f"{x} {y} {z + 1e-4} 0 0 1\n" for x, y, z in points) * repeats
    done = _run(
        "rtrace",
        *settings.split(),
        "scene.oct",
        folder=folder,
        input=lines,
        capture_output=True,
        text=True,
    )
    red = np.array([float(line.split()[0]) for line in done.stdout.splitlines()])
    return red.reshape(repeats, -1).mean(axis=0) * 1e4


def ies_lamp(folder: Path, name: str) -> None:
    """Turn name.ies into name.rad with Radiance's own reader."""
    _run("ies2rad", "-dm", "-t", "white", f"{name}.ies", folder=folder, capture_output=True)


def irradiance(
    folder: Path,
    scene: str,
    points: np.ndarray,
    rays: int = 4096,
    repeats: int = 1,
    least: float = 1e-5,
) -> np.ndarray:
    """Irradiance at upward-facing points of a scene."""
    write_octree(folder, scene)
    return rtrace(folder, SETTINGS.format(rays=rays, least=least), points, repeats)
