"""Fits that are kept, and what a fit says."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

import numpy as np

from canopy.formats.fitfile import natural
from canopy.formats.keptfit import KeptFit, kept_fit_document, opened, read_kept_fit
from canopy.measure.answer import FitAnswer, LightFigure, answer
from canopy.measure.design import NextReading
from canopy.measure.dialcurve import steps_to_read
from canopy.measure.learnt import known_of as fit_known
from canopy.measure.sensor import applied
from canopy.measure.walked import Walked, enough_for, walked
from canopy.words import Said
from server.crops.adapters import target_of
from server.fixtures.models import Fixture, LightMap
from server.readings.adapters.sensors import ShownCorrection
from server.readings.adapters.taken import Read, lit_lamps
from server.runs.adapters.lamps import hung_lamp, measured_here
from server.runs.adapters.learnt import same_tent
from server.runs.adapters.planning import part_daylight, tall_box
from server.runs.adapters.standing import Standing, whole_stage
from server.runs.adapters.switched import dial_on
from server.runs.models import Fit


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
    dials: list[float]
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
    names, lit = _names(run, kept), lit_lamps(run)
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
        lamps=[lamp.fixture.name for lamp in lit],
        dials=list(steps_to_read(dial_on(run, lit[0], run.owner.today()))) if lit else [],
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
    inside: float | None


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
    leans: list[Said]
    notes: list[Said]
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


def verdicts(run: Standing, mean: float, read: Walked | None = None) -> list[StageVerdict]:
    """Return what a mean is enough for, stage by stage, and how much of what was ``read``."""
    found = []
    for stage in run.stages:
        target = target_of(stage, run.space.co2_enriched)
        daylight = float(part_daylight(run, whole_stage(stage)).dli.mean())
        at = enough_for(mean, target, run.space.timer_step_min, daylight)
        ends = target.dli_low, target.dli_high
        inside = None if read is None else read.inside(at.ppfd_low, at.ppfd_high)
        found.append(StageVerdict(stage.name, at.verdict, at.hours, at.dli, *ends, inside))
    return found


def plugged_watts(run: Standing, kept: KeptFit, dial_pct: float | None) -> float | None:
    """Return what the lamps that were read draw at a dial by their record, if they still hang."""
    wanted = [whose.fixture for whose in kept.whose]
    hung = [lamp for lamp in run.lamps if lamp.fixture_id in wanted][: len(wanted)]
    if len(hung) != len(wanted):
        return None
    at = [dial_on(run, lamp, run.owner.today()) for lamp in hung]
    return sum(
        hung_lamp(lamp, run.space, run.fixture).watts
        * float(dimmer.watts_fraction(dimmer.positions_pct()[-1] if dial_pct is None else dial_pct))
        for lamp, dimmer in zip(hung, at)
    )


def _walked(run: Standing, kept: KeptFit, height_light: float, read_watts: float | None) -> Walked:
    """Return what the readings say by themselves."""
    factor = applied(kept.corrections)
    same = [row for row in kept.readings if row.light_fraction == height_light] or kept.readings
    watts = plugged_watts(run, kept, same[0].dial_pct) if read_watts is None else read_watts
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
    read: Read | None = None,
) -> ShownFit:
    """Return what a fit says, at the height most was read at where none is asked for.

    ``read`` is how it was asked for, while a walk is under way.
    """
    taken = kept.taken() if read is None else replace(kept.taken(), spots=read.spots)
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
    if read is not None:
        shown = read.corrections
    else:
        shown = [ShownCorrection(c.name, c.factor, c.sd, c.why, True) for c in kept.corrections]
    parameters = []
    for unknown in known.found.known:
        if unknown.name.startswith("height_"):
            continue
        name, value, low, high = natural(known.found, unknown)
        if name in SHOWN or name.startswith("lamp_"):
            parameters.append(Parameter(name, value, low, high))
    by_themselves = _walked(run, kept, common, None if read is None else read.watts)
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
        leans=list(found.leans),
        notes=[] if read is None else list(read.notes),
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
        walked=by_themselves,
        stages=verdicts(run, found.mean.true.middle, by_themselves),
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
