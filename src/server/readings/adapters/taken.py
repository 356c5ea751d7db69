"""Readings taken for a run's space and lamps, to a fit as it is kept."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from math import hypot
from typing import Any

import numpy as np

from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.formats.keptfit import (
    KeptFit,
    KeptReading,
    WhoseLamp,
    kept_fit_document,
    read_kept_fit,
)
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.scene import Scene
from canopy.light.sources import PlacedLamp
from canopy.light.spectrum import LightFigures
from canopy.light.stands import Stand, raised
from canopy.measure.daylit import Background, Lit, lamp_alone
from canopy.measure.design import HIGHER_CM
from canopy.measure.fit import Quality
from canopy.measure.learnt import Expected as Expected
from canopy.measure.learnt import expected_at
from canopy.measure.readings import MOST_READINGS as MOST_READINGS
from canopy.measure.readings import SPOT_SD
from canopy.measure.sensor import applied
from canopy.words import Said
from server.crops.adapters import canopy_reflectance
from server.fixtures.adapters import Placement, lamp_at
from server.fixtures.adapters.known import known_of, sensor_of
from server.fixtures.adapters.record import light_of
from server.fixtures.models import LightMap
from server.readings.adapters.sensors import (
    ShownCorrection,
    core_sensor,
    corrections_for,
    sensor_sd,
    used_of,
)
from server.readings.models import Sensor
from server.runs.adapters.lamps import HungFixture, follows, hung_lamp, measured_here
from server.runs.adapters.standing import Standing
from server.runs.adapters.switched import dial_on, light_on
from server.spaces.adapters import enclosure, stands_of

GUESSED_FOOTPRINT = 0.08
"""Of its side: a layout guessed from a frame."""

ONE_POINT = Grid(1, 1)


@dataclass(frozen=True)
class Setting:
    """The tent while it was read: box, the lamps that were lit, whose they are, and steps.

    ``dimmer`` and ``colour`` are of the first lamp with its switches as they stood.
    """

    box: Enclosure
    lamps: tuple[PlacedLamp, ...]
    hung: tuple[HungFixture, ...]
    stands: tuple[Stand, ...]
    lead: HungFixture
    dimmer: Dimmer
    colour: LightFigures | None


def lit_lamps(run: Standing) -> list[HungFixture]:
    """Return the lamps that are lit while readings are taken: those that follow the rail."""
    return [lamp for lamp in run.lamps if follows(lamp, run.fixture) and not lamp.group]


def _typed_setting(run: Standing, values: dict[str, Any], first_cm: float, day: date) -> Setting:
    """Return the tent with all lamps lit that follow the rail."""
    space, main = run.space, run.fixture
    hung = lit_lamps(run)
    plane = values["plane_cm"]
    plane = space.pot_cm if plane is None else plane
    floor = values["floor_reflectance"]
    floor = canopy_reflectance(run.habit) if floor is None else floor
    if plane >= space.height_cm:
        raise CanopyError("The sensor cannot stand above the ceiling; check its level.", "plane_cm")
    lowest = min(lamp.raise_cm for lamp in hung)
    lamps = [
        replace(hung_lamp(lamp, space, main).lamp, height_cm=first_cm + lamp.raise_cm - lowest)
        for lamp in hung
    ]
    box = enclosure(space, plane, floor)
    lead = hung[0]
    dial = values["rows"][0]["dial_pct"] if values["rows"] else None
    dimmer, colour = dial_on(run, lead, day), light_on(run, lead, day, dial)
    return Setting(box, tuple(lamps), tuple(hung), stands_of(space), lead, dimmer, colour)


def _map_setting(run: Standing, light_map: LightMap, first_cm: float) -> Setting:
    """Return the tent with the one lamp a map was read of, where it hung."""
    space, fixture = run.space, light_map.fixture
    if not measured_here(light_map, space):
        raise CanopyError(
            f"{light_map.name} was read in another tent: of another size, or lined otherwise. "
            "A fit is for the tent it was read in.",
            "map_id",
        )
    alike = [lamp for lamp in run.lamps if lamp.fixture_id == fixture.pk]
    if not alike:
        raise CanopyError(
            f"No {fixture.name} hangs in this plan; choose a map of one of its lamps.", "map_id"
        )
    lead = alike[0] if len(alike) == 1 else replace(alike[0], piece=None)
    height = min(light_map.height_cm, space.height_cm)
    box = enclosure(space, space.height_cm - height, light_map.floor_reflectance)
    place = Placement(
        light_map.lamp_x_cm, light_map.lamp_y_cm, light_map.turn_deg, 0.0, lead.dark_bars, lead.dead
    )
    lamp = replace(lamp_at(fixture, place), height_cm=first_cm)
    hung = replace(lead, x_cm=light_map.lamp_x_cm, y_cm=light_map.lamp_y_cm)
    colour = light_of(fixture.spectrum)
    return Setting(box, (lamp,), (hung,), (), hung, hung.dimmer(), colour)


def _rows(values: dict[str, Any], light_map: LightMap | None) -> list[dict[str, Any]]:
    if (light_map is None) == (not values["rows"]):
        raise CanopyError("Give readings, or choose a map of them; one of the two.", "rows")
    if light_map is None:
        return list(values["rows"])
    if len(light_map.readings) > MOST_READINGS:
        raise CanopyError(
            f"{light_map.name} has {len(light_map.readings)} readings; a fit takes "
            f"{MOST_READINGS} at most.",
            "map_id",
        )
    return [
        {
            "x_cm": row["x_cm"],
            "y_cm": row["y_cm"],
            "height_cm": row["height_cm"],
            "dial_pct": row["dial_pct"],
            "reading": row["ppfd_umol_m2_s"],
        }
        for row in light_map.readings
    ]


@dataclass(frozen=True)
class LampLight:
    """What the sensor shows of the lamp alone, and how far moving daylight may have put it off."""

    shown: list[float]
    sd: float = 0.0
    taken_off: bool = False
    notes: tuple[Said, ...] = ()


def lamp_light(
    rows: list[dict[str, Any]], zero: float, backgrounds: list[dict[str, Any]]
) -> LampLight:
    """Return readings without daylight, where it was read, else without the sensor's zero."""
    if not backgrounds and all(row.get("unlit") is None for row in rows):
        return LampLight([max(row["reading"] - zero, 0.0) for row in rows])
    found = lamp_alone(
        [
            Lit(row["x_cm"], row["y_cm"], row.get("at_s", 0.0), row["reading"], row.get("unlit"))
            for row in rows
        ],
        [Background(look["at_s"], look["shown"]) for look in backgrounds],
    )
    return LampLight(found.shown.tolist(), found.sd, True, found.notes)


def _at_edge(rows: list[dict[str, Any]], edge_cm: float | None, box: Enclosure) -> None:
    """Put the outermost spots so far from the walls as they really were."""
    if edge_cm is None:
        return
    for name, side in (("x_cm", box.width_cm), ("y_cm", box.depth_cm)):
        if edge_cm * 2 >= side:
            raise CanopyError("The spots cannot be as far from both walls.", "edge_cm")
        least, most = min(row[name] for row in rows), max(row[name] for row in rows)
        for row in rows:
            if row[name] == least and least < side / 2:
                row[name] = edge_cm
            elif row[name] == most and most > side / 2:
                row[name] = side - edge_cm


def _lights_of(setting: Setting, dials: Sequence[float | None]) -> list[float]:
    """Return the share of full light at each reading's dial."""
    known: dict[float | None, float] = {}
    for i, dial in enumerate(dials, 1):
        if dial not in known:
            known[dial] = _light_of(setting.dimmer, dial, i)
    return [known[dial] for dial in dials]


def _light_of(dimmer: Dimmer, dial_pct: float | None, number: int) -> float:
    positions = dimmer.positions_pct()
    dial = float(positions[-1]) if dial_pct is None else dial_pct
    if not positions[0] <= dial <= positions[-1]:
        raise CanopyError(
            f"Reading {number}: this dial goes from {positions[0]:g} to {positions[-1]:g}.", "rows"
        )
    light = float(dimmer.light_fraction(dial))
    if light <= 0:
        raise CanopyError(f"Reading {number}: at dial {dial:g} the lamp gives no light.", "rows")
    return light


def _quality(setting: Setting, light_map: LightMap | None) -> Quality:
    """Return how far what was noted can be trusted."""
    known = [known_of(lamp.fixture, lamp.piece, light_map) for lamp in setting.hung]
    sizes = [
        max(lamp.fixture.frame_x_cm, lamp.fixture.frame_y_cm)
        for lamp, own in zip(setting.hung, known)
        if not own.footprint
    ]
    return Quality(
        ppf_sd=max(own.ppf_sd for own in known),
        footprint_sd_cm=GUESSED_FOOTPRINT * max(sizes, default=0.0),
    )


@dataclass(frozen=True)
class Read:
    """A fit as asked for: as it would be kept, and what can be put right of its readings.

    ``notes`` tell what daylight did meanwhile; ``watts`` are what the lamps drew, where read.
    """

    kept: KeptFit
    setting: Setting
    corrections: list[ShownCorrection]
    spots: tuple[tuple[float, float, float, float], ...] = ()
    notes: tuple[Said, ...] = ()
    watts: float | None = None


def read_fit(
    run: Standing,
    values: dict[str, Any],
    light_map: LightMap | None,
    sensor: Sensor | None,
    today: date,
) -> Read:
    """Return readings as a fit that can be kept.

    Raises
    ------
    CanopyError
        When they do not go with the tent, the lamps or the dial.
    """
    rows = [dict(row) for row in _rows(values, light_map)]
    height = rows[0]["height_cm"]
    read_on = values["read_on"] or today
    if read_on > today:
        raise CanopyError("That day is still to come.", "read_on")
    setting = (
        _typed_setting(run, values, height, read_on)
        if light_map is None
        else _map_setting(run, light_map, height)
    )
    _at_edge(rows, values["edge_cm"], setting.box)
    alone = (
        lamp_light(rows, values["zero"], values["backgrounds"])
        if light_map is None
        else lamp_light(rows, 0.0, [])
    )
    own = core_sensor(sensor)
    if sensor is None and light_map is not None:
        own = replace(own, kind=sensor_of(light_map))
    shown = corrections_for(own, setting.lead.fixture, setting.colour, values["left_out"])
    above = 0.0 if sensor is None else sensor.height_cm

    def levels(places: list[dict[str, Any]]) -> list[float]:
        flat = np.array([(row["x_cm"], row["y_cm"], 0.0) for row in places]).reshape(-1, 3)
        return [float(z) + above for z in raised(flat, setting.stands)[:, 2]]

    lights = _lights_of(setting, [row["dial_pct"] for row in rows])
    kept = KeptFit(
        scene=Scene(setting.box, setting.lamps, ONE_POINT, setting.stands),
        whose=tuple(WhoseLamp(lamp.fixture_id, lamp.piece_id) for lamp in setting.hung),
        readings=tuple(
            KeptReading(
                x_cm=row["x_cm"],
                y_cm=row["y_cm"],
                z_cm=level,
                height_cm=row["height_cm"],
                dial_pct=row["dial_pct"],
                light_fraction=light,
                reading=shown,
            )
            for row, level, shown, light in zip(rows, levels(rows), alone.shown, lights)
        ),
        sensor=own.kind,
        sensor_sd=sensor_sd(own, read_on, shown),
        spot_sd=min(hypot(SPOT_SD, alone.sd), 1.0),
        corrections=used_of(shown),
        daylight=values["daylight"] and not alone.taken_off,
        open_read=values["open_read"],
        open_now=values["open_now"],
        read_on=read_on,
        quality=_quality(setting, light_map),
    )
    spots, highest = values["spots"], max(row["height_cm"] for row in rows)
    return Read(
        read_kept_fit(kept_fit_document(kept)),
        setting,
        shown,
        tuple(
            (spot["x_cm"], spot["y_cm"], level, spot["height_cm"])
            for spot, level in zip(spots, levels(spots))
            if spot["x_cm"] <= setting.box.width_cm
            and spot["y_cm"] <= setting.box.depth_cm
            and spot["height_cm"] <= highest + HIGHER_CM
        ),
        alone.notes,
        values["watts"],
    )


UNREAD_SD = 30.0
"""Of a reading nobody took: it teaches nothing."""


def expected_on(
    run: Standing, values: dict[str, Any], sensor: Sensor | None, today: date
) -> list[Expected]:
    """Return what the sensor will show at each spot of a walk, by what was read so far.

    Raises
    ------
    CanopyError
        When there are no spots, or they do not go with the tent.
    """
    if not values["spots"]:
        raise CanopyError("Say which spots are to be read.", "spots")
    blank = not values["rows"]
    if blank:
        first = values["spots"][0]
        values = values | {
            "rows": [first | {"dial_pct": first["dial_pct"] or values["dial_pct"], "reading": 1.0}],
            "zero": 0.0,
            "backgrounds": [],
        }
    read = read_fit(run, values, None, sensor, today)
    if len(read.spots) < len(values["spots"]):
        raise CanopyError("A spot lies outside the tent, or above its ceiling.", "spots")
    taken = replace(read.kept.taken(), spots=read.spots)
    if blank:
        taken = replace(taken, spot_sd=UNREAD_SD)
    factor = applied(read.kept.corrections)
    first = values["rows"][0]["dial_pct"]
    dials = [first if s["dial_pct"] is None else s["dial_pct"] for s in values["spots"]]
    light = _lights_of(read.setting, dials)
    return [
        Expected(each.low / factor, each.middle / factor, each.high / factor)
        for each in expected_at(taken, light)
    ]
