"""The scene file, `*.scene.json`, and the map that answers it; see docs/formats/scene.md."""

from typing import Any

import numpy as np

from canopy.errors import CanopyError
from canopy.fixture.record import BEAM_POWER, MOST_PPF
from canopy.formats.layout import SIDE_CM, layout_document, read_layout
from canopy.formats.reader import Fields, checked, load_json, number
from canopy.light.beam import LAMBERTIAN, Beam, CandelaBeam, CosineBeam
from canopy.light.enclosure import WALLS, Enclosure
from canopy.light.lightmap import Grid
from canopy.light.obstacles import check_body
from canopy.light.scene import Scene, SceneMap, warnings
from canopy.light.sources import Body, PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.words import worded

FORMAT = "idle-canopy/scene"
RESULT_FORMAT = "idle-canopy/map"
VERSION = 1

HEIGHT_CM = (40.0, 500.0)
MOST_REFLECTANCE = 0.99
MOST_MIRROR = 0.9
MOST_LAMPS = 64
MOST_STANDS = 16
MOST_POINTS = 20_000
MOST_ANGLES = 1441
MOST_CANDELA = 1e9
LOWEST_CM = 1.0
SLACK_CM = 1e-6


def _wall(fields: Fields) -> tuple[float, float]:
    """Return a wall's reflectance and the part of it that is mirror-like."""
    reflectance = fields.number("reflectance", 0, MOST_REFLECTANCE)
    share = fields.number("specular_share", 0, 1, default=0)
    fields.done()
    if reflectance * share > MOST_MIRROR:
        raise CanopyError(
            f"{fields.path} reflects {reflectance * share:.2f} like a mirror; {MOST_MIRROR:g} at "
            "most, or light would go round for ever.",
            fields.name_of("specular_share"),
        )
    return reflectance, share


def _walls(space: Fields) -> list[tuple[float, float]]:
    walls = space.object("walls")
    if not any(name in walls for name in WALLS):
        return [_wall(walls)] * 4
    found = [(0.0, 0.0) if walls.raw(name) is None else _wall(walls.object(name)) for name in WALLS]
    walls.done()
    return found


def _box(space: Fields) -> Enclosure:
    width = space.number("width_cm", *SIDE_CM)
    depth = space.number("depth_cm", *SIDE_CM)
    height = space.number("height_cm", *HEIGHT_CM)
    canopy = space.number("canopy_cm", 0, HEIGHT_CM[1])
    if canopy >= height:
        raise CanopyError(
            f"The canopy stands at {canopy:g} cm in a space {height:g} cm high; "
            "it has to be lower than the ceiling.",
            space.name_of("canopy_cm"),
        )
    left, right, front, back = _walls(space)
    box = Enclosure(
        width_cm=width,
        depth_cm=depth,
        height_cm=height - canopy,
        wall_reflectance=(left[0], right[0], front[0], back[0]),
        wall_mirror_share=(left[1], right[1], front[1], back[1]),
        ceiling_reflectance=space.number("ceiling_reflectance", 0, MOST_REFLECTANCE),
        canopy_reflectance=space.number("canopy_reflectance", 0, MOST_REFLECTANCE),
    )
    return box


def _candela(fields: Fields) -> CandelaBeam:
    vertical = fields.numbers("vertical_deg", 0, 180, MOST_ANGLES)
    horizontal = fields.numbers("horizontal_deg", 0, 360, MOST_ANGLES)
    rows, where = [], fields.name_of("values")
    for i, row in enumerate(fields.items("values", MOST_ANGLES)):
        if not isinstance(row, list) or not row:
            raise CanopyError(f"{where}[{i}] should be a list of numbers.", f"{where}[{i}]")
        rows.append(
            tuple(number(v, f"{where}[{i}][{k}]", 0, MOST_CANDELA) for k, v in enumerate(row))
        )
    fields.done()
    beam: CandelaBeam = checked(lambda: CandelaBeam(vertical, horizontal, tuple(rows)), fields.path)
    return beam


def _beam(lamp: Fields) -> Beam:
    if "beam" not in lamp:
        return LAMBERTIAN
    beam = lamp.object("beam")
    if "candela" in beam:
        if "cosine_power" in beam:
            raise CanopyError(
                f"{beam.path} has a cosine power and a candela table; give one of them.", beam.path
            )
        found: Beam = _candela(beam.object("candela"))
    else:
        found = CosineBeam(beam.number("cosine_power", *BEAM_POWER))
    beam.done()
    return found


def _body(lamp: Fields) -> Body | None:
    if "body" not in lamp:
        return None
    fields = lamp.object("body")
    size = [
        fields.number(name, 0, SIDE_CM[1], above=True)
        for name in ("x_cm", "y_cm")
        if "x_cm" in fields or "y_cm" in fields
    ]
    body = Body(fields.number("coverage", 0, 1), fields.number("reflectance", 0, 1), *size)
    fields.done()
    return body


def _lamp(fields: Fields, box: Enclosure) -> PlacedLamp:
    lamp = PlacedLamp(
        layout=read_layout(fields.object("layout")),
        ppf_umol_s=fields.number("ppf_umol_s", 0, MOST_PPF, above=True),
        x_cm=fields.number("x_cm", 0, box.width_cm),
        y_cm=fields.number("y_cm", 0, box.depth_cm),
        height_cm=fields.number("height_cm", LOWEST_CM, HEIGHT_CM[1]),
        turn_deg=fields.number("turn_deg", -360, 360, default=0),
        tilt_deg=fields.number("tilt_deg", -90, 90, default=0),
        light_fraction=fields.number("light_fraction", 0, 1, default=1),
        beam=_beam(fields),
        body=_body(fields),
    )
    fields.done()
    checked(lambda: check_body(lamp), fields.path)
    outline = lamp.outline()
    for axis, side, name in ((0, box.width_cm, "width"), (1, box.depth_cm, "depth")):
        low, high = float(outline[:, axis].min()), float(outline[:, axis].max())
        if low < -SLACK_CM or high > side + SLACK_CM:
            raise CanopyError(
                f"{fields.path} reaches from {low:.1f} to {high:.1f} cm across a {name} of "
                f"{side:g} cm; move it, turn it or choose a smaller one.",
                fields.path,
            )
    low, high = float(outline[:, 2].min()), float(outline[:, 2].max())
    if low < LOWEST_CM - SLACK_CM:
        raise CanopyError(
            f"{fields.path} comes within {low:.1f} cm of the canopy; keep {LOWEST_CM:g} cm.",
            fields.path,
        )
    if high > box.height_cm + SLACK_CM:
        raise CanopyError(
            f"{fields.path} hangs {high:.1f} cm above the canopy, but the ceiling is at "
            f"{box.height_cm:g} cm; lower it.",
            fields.path,
        )
    return lamp


def _stands(space: Fields, box: Enclosure, lamps: list[PlacedLamp]) -> tuple[Stand, ...]:
    """Return the steps on the canopy plane, each inside the floor and under the lamps."""
    if space.raw("stands", None) in (None, []):
        return ()
    lowest = min(float(lamp.outline()[:, 2].min()) for lamp in lamps)
    found = []
    for i, value in enumerate(space.items("stands", MOST_STANDS)):
        step = Fields(value, f"{space.name_of('stands')}[{i}]", space.ignored)
        x, y = step.number("x_cm", 0, box.width_cm), step.number("y_cm", 0, box.depth_cm)
        width, depth = (
            step.number(name, 0, side, above=True)
            for name, side in (("width_cm", box.width_cm), ("depth_cm", box.depth_cm))
        )
        high = step.number("raise_cm", LOWEST_CM, HEIGHT_CM[1])
        step.done()
        for at, long, side, name in (
            (x, width, box.width_cm, "width"),
            (y, depth, box.depth_cm, "depth"),
        ):
            if at + long > side + SLACK_CM:
                raise CanopyError(
                    f"{step.path} reaches to {at + long:g} cm across a {name} of {side:g} cm; "
                    "move it or make it smaller.",
                    step.path,
                )
        if high > lowest - LOWEST_CM + SLACK_CM:
            raise CanopyError(
                f"{step.path} is {high:g} cm high and the lowest lamp hangs at {lowest:g} cm; "
                f"keep {LOWEST_CM:g} cm between them.",
                f"{step.path}.raise_cm",
            )
        found.append(Stand(x, y, width, depth, high))
    return tuple(found)


def _point(
    row: list[Any], where: str, box: Enclosure, stands: tuple[Stand, ...]
) -> tuple[float, float, float]:
    """Return a free point; without a height it stands on what is under it."""
    x = number(row[0], f"{where}[0]", 0, box.width_cm)
    y = number(row[1], f"{where}[1]", 0, box.depth_cm)
    top = float(raised(np.array([[x, y, 0.0]]), stands)[0, 2])
    if len(row) == 2:
        return x, y, top
    z = number(row[2], f"{where}[2]", 0, box.height_cm)
    if any(z < s.raise_cm - SLACK_CM and s.inside(x, y) for s in stands):
        raise CanopyError(
            f"{where} lies {z:g} cm above the canopy, inside a step {top:g} cm high; "
            "put it on top or leave its height out.",
            f"{where}[2]",
        )
    return x, y, z


def _grid(
    fields: Fields, box: Enclosure, stands: tuple[Stand, ...]
) -> Grid | tuple[tuple[float, float, float], ...]:
    if "at" not in fields:
        points = fields.word("points", ("cells", "edges"))
        least = 2 if points == "edges" else 1
        nx, ny = (fields.whole(n, least, MOST_POINTS) for n in ("nx", "ny"))
        fields.done()
        if nx * ny > MOST_POINTS:
            raise CanopyError(
                f"{fields.path} asks for {nx * ny} points; {MOST_POINTS} at most.", fields.path
            )
        return Grid(nx, ny, "edges" if points == "edges" else "cells")
    rows, where = [], fields.name_of("at")
    for i, row in enumerate(fields.items("at", MOST_POINTS)):
        if not isinstance(row, list) or len(row) not in (2, 3):
            raise CanopyError(
                f"{where}[{i}] should be a list of x_cm, y_cm and, on a stand, z_above_canopy_cm.",
                f"{where}[{i}]",
            )
        rows.append(_point(row, f"{where}[{i}]", box, stands))
    fields.done()
    return tuple(rows)


def read_scene(text: str) -> tuple[Scene, list[str]]:
    """Return the scene in a file's text and the names of fields that were ignored.

    Raises
    ------
    CanopyError
        With the field's name, when something is missing, out of limits or not a number.
    """
    ignored: list[str] = []
    top = Fields(load_json(text, "The scene file"), "", ignored)
    if top.raw("format", None) != FORMAT:
        raise CanopyError(f'This is not a scene file: "format" should be "{FORMAT}".', "format")
    if top.raw("version", None) != VERSION:
        raise CanopyError(f'"version" should be {VERSION}; this program reads no other.', "version")
    space = top.object("space")
    box = _box(space)
    lamps = [
        _lamp(Fields(value, f"lamps[{i}]", ignored), box)
        for i, value in enumerate(top.items("lamps", MOST_LAMPS))
    ]
    stands = _stands(space, box, lamps)
    space.done()
    grid = _grid(top.object("grid"), box, stands)
    top.done()
    return Scene(box, tuple(lamps), grid, stands), ignored


def scene_document(scene: Scene) -> dict[str, Any]:
    """Return a scene as the JSON-ready document that :func:`read_scene` reads.

    Its canopy stands at 0: heights in it are above the canopy.
    """
    box = scene.box
    walls = {
        name: None if rho == 0 else {"reflectance": rho, "specular_share": share}
        for name, rho, share in zip(WALLS, box.wall_reflectance, box.wall_mirror_share)
    }
    return {
        "format": FORMAT,
        "version": VERSION,
        "space": {
            "width_cm": box.width_cm,
            "depth_cm": box.depth_cm,
            "height_cm": box.height_cm,
            "canopy_cm": 0,
            "walls": walls,
            "ceiling_reflectance": box.ceiling_reflectance,
            "canopy_reflectance": box.canopy_reflectance,
            "stands": [vars(step) for step in scene.stands],
        },
        "lamps": [_lamp_document(lamp) for lamp in scene.lamps],
        "grid": _grid_document(scene.grid),
    }


def _lamp_document(lamp: PlacedLamp) -> dict[str, Any]:
    beam: dict[str, Any]
    if isinstance(lamp.beam, CosineBeam):
        beam = {"cosine_power": lamp.beam.power}
    else:
        assert isinstance(lamp.beam, CandelaBeam)
        candela = lamp.beam
        beam = {
            "candela": {
                "vertical_deg": list(candela.vertical_deg),
                "horizontal_deg": list(candela.horizontal_deg),
                "values": [list(row) for row in candela.values],
            }
        }
    found: dict[str, Any] = {
        "layout": layout_document(lamp.layout),
        "beam": beam,
        **{
            name: getattr(lamp, name)
            for name in (
                "ppf_umol_s",
                "x_cm",
                "y_cm",
                "height_cm",
                "turn_deg",
                "tilt_deg",
                "light_fraction",
            )
        },
    }
    if lamp.body is not None:
        found["body"] = {k: v for k, v in vars(lamp.body).items() if v is not None}
    return found


def _grid_document(grid: Grid | tuple[tuple[float, float, float], ...]) -> dict[str, Any]:
    if isinstance(grid, Grid):
        return {"nx": grid.nx, "ny": grid.ny, "points": grid.points}
    return {"at": [list(row) for row in grid]}


def map_document(scene: Scene, answer: SceneMap, ignored: list[str]) -> dict[str, Any]:
    """Return the result as the JSON-ready document of docs/formats/scene.md."""
    free = not isinstance(scene.grid, Grid)
    values = answer.ppfd_umol_m2_s
    if isinstance(scene.grid, Grid):
        x, y = scene.grid.axes_cm(scene.box.width_cm, scene.box.depth_cm)
        values = values.reshape(scene.grid.ny, scene.grid.nx)
    else:
        x, y = answer.points_cm[:, 0], answer.points_cm[:, 1]
    statistics = answer.statistics
    document = {
        "format": RESULT_FORMAT,
        "version": VERSION,
        "x_cm": np.asarray(x).tolist(),
        "y_cm": np.asarray(y).tolist(),
        "ppfd_umol_m2_s": values.tolist(),
        "mean": statistics.mean,
        "area_mean": None if free else statistics.area_mean,
        "min": statistics.minimum,
        "max": statistics.maximum,
        "min_over_max": statistics.min_over_max,
        "min_over_mean": statistics.min_over_mean,
        "canopy_umol_s": answer.canopy_umol_s,
        "capture": answer.capture,
    }
    doubts = warnings(scene, answer)
    if doubts:
        document["warnings"] = [{"code": each.code, "sentence": worded(each)} for each in doubts]
    if ignored:
        document["ignored"] = ignored
    return document
