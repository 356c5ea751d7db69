"""A fit as it is kept: the scene it was read in, whose lamps those were, and what was read.

The readings stay as they were read; what is put right of them is listed beside, each by its name.
docs/formats/keptfit.md has the grammar.
"""

import json
from dataclasses import dataclass, replace
from datetime import date
from typing import Any, get_args

from canopy.errors import CanopyError
from canopy.formats.fitfile import check_reading, read_fit_scene
from canopy.formats.reader import Fields
from canopy.formats.scene import scene_document
from canopy.light.enclosure import WALLS, Enclosure
from canopy.light.scene import Scene
from canopy.measure.fit import Quality
from canopy.measure.learnt import Taken
from canopy.measure.readings import MOST_READINGS, SPOT_SD
from canopy.measure.sensor import Correction, CorrectionName, SensorKind, applied
from canopy.words import Said

FORMAT, VERSION = "idle-canopy/kept-fit", 1

MOST_PPFD = 1e6
MOST_CORRECTIONS = 8
ROW = ("x_cm", "y_cm", "z_cm", "height_cm", "dial_pct", "light_fraction", "reading")


@dataclass(frozen=True)
class KeptReading:
    """A reading as it was noted; ``reading`` in the sensor's own unit, not put right."""

    x_cm: float
    y_cm: float
    z_cm: float
    height_cm: float
    dial_pct: float | None
    light_fraction: float
    reading: float


@dataclass(frozen=True)
class WhoseLamp:
    """Which of the grower's fixtures, and which piece of it, a lamp of the scene is."""

    fixture: int
    piece: int | None


@dataclass(frozen=True)
class KeptFit:
    """A fit as it is kept.

    ``scene`` has the lamps as noted, ``open_read`` and ``open_now`` name a wall that was open
    while reading, and one that stays open.
    """

    scene: Scene
    whose: tuple[WhoseLamp, ...]
    readings: tuple[KeptReading, ...]
    sensor: SensorKind
    sensor_sd: float
    spot_sd: float
    corrections: tuple[Correction, ...]
    daylight: bool
    open_read: str
    open_now: str
    read_on: date
    quality: Quality

    def box_read(self) -> Enclosure:
        """Return the tent as it was while reading."""
        return opened(self.scene.box, self.open_read)

    def taken(self) -> Taken:
        """Return all the fit is made of, the readings put right."""
        factor = applied(self.corrections)
        return Taken(
            box=self.box_read(),
            lamps=self.scene.lamps,
            stands=self.scene.stands,
            rows=tuple(
                (r.x_cm, r.y_cm, r.z_cm, r.height_cm, r.light_fraction, r.reading * factor)
                for r in self.readings
            ),
            sensor_sd=self.sensor_sd,
            spot_sd=self.spot_sd,
            daylight=self.daylight,
            quality=self.quality,
        )


def opened(box: Enclosure, side: str) -> Enclosure:
    """Return a tent with one of its walls, by its name, open; none where the name is empty."""
    if not side:
        return box
    at = WALLS.index(side)
    walls, shares = list(box.wall_reflectance), list(box.wall_mirror_share)
    walls[at], shares[at] = 0.0, 0.0
    return replace(
        box,
        wall_reflectance=(walls[0], walls[1], walls[2], walls[3]),
        wall_mirror_share=(shares[0], shares[1], shares[2], shares[3]),
    )


def _readings(top: Fields, scene: Scene) -> tuple[KeptReading, ...]:
    found = []
    for i, value in enumerate(top.items("readings", MOST_READINGS)):
        row = Fields(value, f"readings[{i}]", top.ignored)
        reading = KeptReading(
            x_cm=row.number("x_cm", 0, scene.box.width_cm),
            y_cm=row.number("y_cm", 0, scene.box.depth_cm),
            z_cm=row.number("z_cm", 0, scene.box.height_cm, 0),
            height_cm=row.number("height_cm", 1, scene.box.height_cm),
            dial_pct=None if row.raw("dial_pct", None) is None else row.number("dial_pct", 0, 100),
            light_fraction=row.number("light_fraction", 0, 1, above=True),
            reading=row.number("reading", 0, MOST_PPFD),
        )
        row.done()
        check_reading(i + 1, reading.x_cm, reading.y_cm, reading.z_cm, reading.height_cm, scene)
        found.append(reading)
    return tuple(found)


def _corrections(top: Fields) -> tuple[Correction, ...]:
    if top.raw("corrections", None) in (None, []):
        return ()
    found = []
    for i, value in enumerate(top.items("corrections", MOST_CORRECTIONS)):
        row = Fields(value, f"corrections[{i}]", top.ignored)
        name: CorrectionName = row.word("name", get_args(CorrectionName))  # type: ignore[assignment]
        factor = row.number("factor", 1e-6, 1e6)
        sd = row.number("sd", 0, 1)
        why = row.object("why")
        said = Said(str(why.raw("code")), dict(why.raw("figures", {})))
        why.done()
        row.done()
        found.append(Correction(name, factor, sd, said))
    return tuple(found)


def _whose(top: Fields, scene: Scene) -> tuple[WhoseLamp, ...]:
    found = []
    for i, value in enumerate(top.items("whose", len(scene.lamps))):
        row = Fields(value, f"whose[{i}]", top.ignored)
        piece = None if row.raw("piece", None) is None else row.whole("piece", 0, 2**53)
        found.append(WhoseLamp(row.whole("fixture", 0, 2**53), piece))
        row.done()
    if len(found) != len(scene.lamps):
        raise CanopyError("Every lamp of the scene has to be somebody's.", "whose")
    return tuple(found)


def _side(top: Fields, name: str) -> str:
    side = top.raw(name, "")
    return "" if side == "" else top.word(name, WALLS)


def read_kept_fit(document: dict[str, Any]) -> KeptFit:
    """Return a kept fit.

    Raises
    ------
    CanopyError
        With the field's name, when something is missing, out of limits, or nobody knows it.
    """
    ignored: list[str] = []
    top = Fields(document, "", ignored)
    if (top.raw("format", None), top.raw("version", None)) != (FORMAT, VERSION):
        raise CanopyError(f'This is no "{FORMAT}" of version {VERSION}.', "format")
    scene, quality, unknown = read_fit_scene(json.dumps(top.raw("scene")))
    found = KeptFit(
        scene=scene,
        whose=_whose(top, scene),
        readings=_readings(top, scene),
        sensor=top.word("sensor", get_args(SensorKind)),  # type: ignore[arg-type]
        sensor_sd=top.number("sensor_sd", 0, 1, above=True),
        spot_sd=top.number("spot_sd", 0, 1, SPOT_SD, above=True),
        corrections=_corrections(top),
        daylight=bool(top.raw("daylight", False)),
        open_read=_side(top, "open_read"),
        open_now=_side(top, "open_now"),
        read_on=date.fromisoformat(str(top.raw("read_on"))),
        quality=quality,
    )
    top.done()
    if ignored or unknown:
        name = [*ignored, *unknown][0]
        raise CanopyError(f"A kept fit has no place for {name}.", name)
    found.taken().readings()
    return found


def kept_fit_document(fit: KeptFit) -> dict[str, Any]:
    """Return a kept fit as its JSON-ready document."""
    quality = fit.quality
    scene = scene_document(fit.scene) | {
        "quality": {
            "ppf_sd": quality.ppf_sd,
            "walls_sd": quality.walls_sd,
            "footprint_sd_cm": quality.footprint_sd_cm,
        }
    }
    return {
        "format": FORMAT,
        "version": VERSION,
        "scene": scene,
        "whose": [{"fixture": lamp.fixture, "piece": lamp.piece} for lamp in fit.whose],
        "readings": [{name: getattr(row, name) for name in ROW} for row in fit.readings],
        "sensor": fit.sensor,
        "sensor_sd": fit.sensor_sd,
        "spot_sd": fit.spot_sd,
        "corrections": [
            {
                "name": each.name,
                "factor": each.factor,
                "sd": each.sd,
                "why": {"code": each.why.code, "figures": each.why.figures},
            }
            for each in fit.corrections
        ],
        "daylight": fit.daylight,
        "open_read": fit.open_read,
        "open_now": fit.open_now,
        "read_on": fit.read_on.isoformat(),
    }
