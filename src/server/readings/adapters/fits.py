"""Readings taken for a run's space and lamps, to a fit; and what it says."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

import numpy as np

from canopy.errors import CanopyError
from canopy.formats.fitfile import natural
from canopy.formats.keptfit import (
    KeptFit,
    KeptReading,
    WhoseLamp,
    kept_fit_document,
    opened,
    read_kept_fit,
)
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.scene import Scene
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.measure.answer import FitAnswer, LightFigure, answer
from canopy.measure.design import HIGHER_CM, NextReading
from canopy.measure.fit import Quality
from canopy.measure.learnt import Expected as Expected
from canopy.measure.learnt import expected_at
from canopy.measure.learnt import known_of as fit_known
from canopy.measure.readings import MOST_READINGS as MOST_READINGS
from canopy.measure.readings import SPOT_SD
from canopy.measure.sensor import applied
from canopy.measure.walked import Walked, enough_for, walked
from canopy.words import Said
from server.crops.adapters import canopy_reflectance, target_of
from server.fixtures.adapters import Placement, lamp_at
from server.fixtures.adapters.known import known_of, sensor_of
from server.fixtures.models import Fixture, LightMap
from server.readings.adapters.sensors import (
    ShownCorrection,
    core_sensor,
    corrections_for,
    sensor_sd,
    used_of,
)
from server.readings.models import Sensor
from server.runs.adapters.lamps import HungFixture, follows, hung_lamp, measured_here
from server.runs.adapters.learnt import same_tent
from server.runs.adapters.planning import part_daylight, tall_box
from server.runs.adapters.standing import Standing, whole_stage
from server.runs.models import Fit
from server.spaces.adapters import enclosure, stands_of

GUESSED_FOOTPRINT = 0.08
"""Of its side: a layout guessed from a frame."""

ONE_POINT = Grid(1, 1)


@dataclass(frozen=True)
class Setting:
    """The tent while it was read: box, the lamps that were lit, whose they are, and steps."""

    box: Enclosure
    lamps: tuple[PlacedLamp, ...]
    hung: tuple[HungFixture, ...]
    stands: tuple[Stand, ...]
    lead: HungFixture


def lit_lamps(run: Standing) -> list[HungFixture]:
    """Return the lamps that are lit while readings are taken: those that follow the rail."""
    return [lamp for lamp in run.lamps if follows(lamp, run.fixture) and not lamp.group]


def _typed_setting(run: Standing, values: dict[str, Any], first_cm: float) -> Setting:
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
    return Setting(box, tuple(lamps), tuple(hung), stands_of(space), hung[0])


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
        light_map.lamp_x_cm, light_map.lamp_y_cm, light_map.turn_deg, 0.0, lead.dark_bars
    )
    lamp = replace(lamp_at(fixture, place), height_cm=first_cm)
    hung = replace(lead, x_cm=light_map.lamp_x_cm, y_cm=light_map.lamp_y_cm)
    return Setting(box, (lamp,), (hung,), (), hung)


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


def _light_of(setting: Setting, dial_pct: float | None, number: int) -> float:
    dimmer = setting.lead.dimmer()
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
    """A fit as asked for: as it would be kept, and what can be put right of its readings."""

    kept: KeptFit
    corrections: list[ShownCorrection]
    spots: tuple[tuple[float, float, float, float], ...] = ()


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
    setting = (
        _typed_setting(run, values, height)
        if light_map is None
        else _map_setting(run, light_map, height)
    )
    _at_edge(rows, values["edge_cm"], setting.box)
    own = core_sensor(sensor)
    if sensor is None and light_map is not None:
        own = replace(own, kind=sensor_of(light_map))
    shown = corrections_for(own, setting.lead.fixture, values["left_out"])
    read_on = values["read_on"] or today
    if read_on > today:
        raise CanopyError("That day is still to come.", "read_on")
    above = 0.0 if sensor is None else sensor.height_cm

    def levels(places: list[dict[str, Any]]) -> list[float]:
        flat = np.array([(row["x_cm"], row["y_cm"], 0.0) for row in places]).reshape(-1, 3)
        return [float(z) + above for z in raised(flat, setting.stands)[:, 2]]

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
                light_fraction=_light_of(setting, row["dial_pct"], i),
                reading=row["reading"],
            )
            for i, (row, level) in enumerate(zip(rows, levels(rows)), 1)
        ),
        sensor=own.kind,
        sensor_sd=sensor_sd(own, read_on, shown),
        spot_sd=SPOT_SD,
        corrections=used_of(shown),
        daylight=values["daylight"],
        open_read=values["open_read"],
        open_now=values["open_now"],
        read_on=read_on,
        quality=_quality(setting, light_map),
    )
    spots = values["spots"]
    return Read(
        read_kept_fit(kept_fit_document(kept)),
        shown,
        tuple(
            (spot["x_cm"], spot["y_cm"], level, spot["height_cm"])
            for spot, level in zip(spots, levels(spots))
            if spot["x_cm"] <= setting.box.width_cm
            and spot["y_cm"] <= setting.box.depth_cm
            and spot["height_cm"] <= max(row["height_cm"] for row in rows) + HIGHER_CM
        ),
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
        values = values | {"rows": [first | {"dial_pct": values["dial_pct"], "reading": 1.0}]}
    read = read_fit(run, values, None, sensor, today)
    if len(read.spots) < len(values["spots"]):
        raise CanopyError("A spot lies outside the tent, or above its ceiling.", "spots")
    taken = replace(read.kept.taken(), spots=read.spots)
    if blank:
        taken = replace(taken, spot_sd=UNREAD_SD)
    factor = applied(read.kept.corrections)
    return [
        Expected(each.low / factor, each.middle / factor, each.high / factor)
        for each in expected_at(taken)
    ]


def document_of(kept: KeptFit) -> dict[str, Any]:
    """Return a fit as it is stored."""
    return kept_fit_document(kept)


def stored_fit(document: dict[str, Any]) -> KeptFit:
    """Return a stored fit."""
    return read_kept_fit(document)


@dataclass(frozen=True)
class FitRow:
    """A fit that is kept, as lists show it."""

    id: int
    made_at: datetime
    note: str
    read_on: date
    readings: int
    sensor: str
    lamps: list[str]
    in_use: bool


@dataclass(frozen=True)
class MapChoice:
    """One of the grower's maps, and whether a fit can be made of it here."""

    id: int
    name: str
    lamp: str
    readings: int
    here: bool


@dataclass(frozen=True)
class FitsHere:
    """The fits of a space, and what another can be made of."""

    fits: list[FitRow]
    in_use: int | None
    changed_since: bool
    maps: list[MapChoice]
    lamps: list[str]
    width_cm: float
    depth_cm: float
    height_cm: float
    pot_cm: float


def _names(run: Standing, fits: Sequence[KeptFit]) -> dict[int, str]:
    wanted = {whose.fixture for kept in fits for whose in kept.whose}
    rows = Fixture.objects.of(run.owner).filter(pk__in=wanted)
    return dict(rows.values_list("pk", "name"))


def fits_here(
    run: Standing, fits: Sequence[Fit], chosen: int | None, maps: Sequence[LightMap]
) -> FitsHere:
    """Return the fits of a run's space and the maps of its lamps."""
    space, here = run.space, {lamp.fixture_id for lamp in run.lamps}
    kept = [read_kept_fit(fit.document) for fit in fits]
    names = _names(run, kept)
    return FitsHere(
        fits=[
            FitRow(
                id=row.pk,
                made_at=row.created_at,
                note=row.note,
                read_on=one.read_on,
                readings=len(one.readings),
                sensor=one.sensor,
                lamps=[names.get(whose.fixture, "?") for whose in one.whose],
                in_use=row.pk == chosen,
            )
            for row, one in zip(fits, kept)
        ],
        in_use=chosen,
        changed_since=chosen is not None and run.learnt.tent is None,
        maps=[
            MapChoice(
                id=row.pk,
                name=row.name,
                lamp=row.fixture.name,
                readings=len(row.readings),
                here=row.fixture_id in here and measured_here(row, space),
            )
            for row in maps
        ],
        lamps=[lamp.fixture.name for lamp in lit_lamps(run)],
        width_cm=space.width_cm,
        depth_cm=space.depth_cm,
        height_cm=space.height_cm,
        pot_cm=space.pot_cm,
    )


@dataclass(frozen=True)
class Parameter:
    """One thing a fit has learnt, in the unit people use, with its 90 % range."""

    name: str
    value: float
    low: float
    high: float


@dataclass(frozen=True)
class ShownFinding:
    """Something that is wrong, and how likely."""

    code: str
    line: Said
    likelihood: float


@dataclass(frozen=True)
class ShownResidual:
    """A reading as it was noted, put right, and what the fit expected there."""

    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    reading: float
    measured: float
    fitted: float
    off: float
    outlier: bool


@dataclass(frozen=True)
class StageVerdict:
    """What the fitted mean is enough for at one of the crop's stages."""

    name: str
    verdict: str
    hours: float
    dli: float
    dli_low: float
    dli_high: float


@dataclass(frozen=True)
class ShownFit:
    """What a fit says with its lamps at one height and dial."""

    read_on: date
    sensor: str
    sensor_sd: float
    open_read: str
    open_now: str
    lamps: list[str]
    width_cm: float
    depth_cm: float
    corrections: list[ShownCorrection]
    parameters: list[Parameter]
    findings: list[ShownFinding]
    cannot_be: list[Said]
    residuals: list[ShownResidual]
    worst: int
    height_cm: float
    light_fraction: float
    x_cm: list[float]
    y_cm: list[float]
    ppfd: list[list[float]]
    low: list[list[float]]
    high: list[list[float]]
    planned: list[list[float]]
    mean: LightFigure
    brightest: LightFigure
    dimmest: LightFigure
    evenness: LightFigure
    next_mean: NextReading
    next_brightest: NextReading
    walked: Walked
    stages: list[StageVerdict]


def _verdicts(run: Standing, mean: float) -> list[StageVerdict]:
    """Return what a mean is enough for, stage by stage."""
    found = []
    for stage in run.stages:
        target = target_of(stage, run.space.co2_enriched)
        daylight = float(part_daylight(run, whole_stage(stage)).dli.mean())
        at = enough_for(mean, target, run.space.timer_step_min, daylight)
        ends = target.dli_low, target.dli_high
        found.append(StageVerdict(stage.name, at.verdict, at.hours, at.dli, *ends))
    return found


def _walked(run: Standing, kept: KeptFit, height_light: float) -> Walked:
    """Return what the readings say by themselves."""
    factor = applied(kept.corrections)
    same = [row for row in kept.readings if row.light_fraction == height_light] or kept.readings
    wanted = [whose.fixture for whose in kept.whose]
    hung = [lamp for lamp in run.lamps if lamp.fixture_id in wanted][: len(wanted)]
    watts: float | None = None
    if len(hung) == len(wanted):
        dial = same[0].dial_pct
        at = [lamp.dimmer() for lamp in hung]
        watts = sum(
            hung_lamp(lamp, run.space, run.fixture).watts
            * float(dimmer.watts_fraction(dimmer.positions_pct()[-1] if dial is None else dial))
            for lamp, dimmer in zip(hung, at)
        )
    box = kept.scene.box
    return walked(
        [(row.x_cm, row.y_cm, row.height_cm, row.reading * factor) for row in same],
        box.width_cm,
        box.depth_cm,
        sum(lamp.ppf_umol_s for lamp in kept.scene.lamps) * height_light,
        watts,
        box.canopy_reflectance,
    )


SHOWN = (
    "lamp_scale",
    "sensor_scale",
    "wall_reflectance",
    "beam_power",
    "offset_x_cm",
    "offset_y_cm",
)
"""Mirror share, canopy, tilt and height hardly move with readings: they are no findings."""

DECIMALS = 1


def shown_fit(
    run: Standing,
    kept: KeptFit,
    height_cm: float | None,
    corrections: list[ShownCorrection] | None = None,
    spots: tuple[tuple[float, float, float, float], ...] = (),
) -> ShownFit:
    """Return what a fit says, at the height most was read at where none is asked for.

    ``spots`` are all that are to be read, while a walk is under way.
    """
    taken = replace(kept.taken(), spots=spots)
    heights = np.array([row.height_cm for row in kept.readings])
    lights, times = np.unique([row.light_fraction for row in kept.readings], return_counts=True)
    common = float(lights[times.argmax()])
    if height_cm is None:
        values, counts = np.unique(heights, return_counts=True)
        height_cm = float(values[counts.argmax()])
    noted = tall_box(run)
    # of a tent rebuilt or lined anew it says what was
    box = opened(noted if same_tent(kept.scene.box, noted) else kept.scene.box, kept.open_now)
    known = fit_known(taken, box, kept.scene.lamps, kept.scene.stands)
    found = answer(known, height_cm, common)
    names = _names(run, [kept])
    shown = corrections
    if shown is None:
        shown = [ShownCorrection(c.name, c.factor, c.sd, c.why, True) for c in kept.corrections]
    parameters = []
    for unknown in known.found.known:
        if unknown.name.startswith("height_"):
            continue
        name, value, low, high = natural(known.found, unknown)
        if name in SHOWN or name.startswith("lamp_"):
            parameters.append(Parameter(name, value, low, high))
    return ShownFit(
        read_on=kept.read_on,
        sensor=kept.sensor,
        sensor_sd=kept.sensor_sd,
        open_read=kept.open_read,
        open_now=kept.open_now,
        lamps=[names.get(whose.fixture, "?") for whose in kept.whose],
        width_cm=box.width_cm,
        depth_cm=box.depth_cm,
        corrections=shown,
        parameters=parameters,
        findings=[ShownFinding(f.code, f.line, f.likelihood) for f in found.findings],
        cannot_be=list(found.cannot_be),
        residuals=_residuals(kept, found),
        worst=found.worst,
        height_cm=found.height_cm,
        light_fraction=found.light_fraction,
        x_cm=found.x_cm.tolist(),
        y_cm=found.y_cm.tolist(),
        **{name: _grid(found, name) for name in ("ppfd", "low", "high", "planned")},
        mean=found.mean,
        brightest=found.brightest,
        dimmest=found.dimmest,
        evenness=found.evenness,
        next_mean=found.next_mean,
        next_brightest=found.next_brightest,
        walked=_walked(run, kept, common),
        stages=_verdicts(run, found.mean.true.middle),
    )


def _grid(found: FitAnswer, name: str) -> list[list[float]]:
    rows = np.round(getattr(found, name).reshape(len(found.y_cm), len(found.x_cm)), DECIMALS)
    result: list[list[float]] = rows.tolist()
    return result


def _residuals(kept: KeptFit, found: FitAnswer) -> list[ShownResidual]:
    return [
        ShownResidual(
            x_cm=row.x_cm,
            y_cm=row.y_cm,
            height_cm=row.height_cm,
            dial_pct=noted.dial_pct,
            reading=noted.reading,
            measured=row.measured,
            fitted=row.fitted,
            off=row.off,
            outlier=row.outlier,
        )
        for row, noted in zip(found.residuals, kept.readings)
    ]
