"""What a fit says at one height and dial, for a person: the light, the readings, what to read next.

Lengths in cm, PPFD in umol m-2 s-1.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from canopy.light.lightmap import even_grid
from canopy.measure.change import cannot_be
from canopy.measure.design import NextReading, next_readings
from canopy.measure.diagnosis import Cause, Finding, diagnosis
from canopy.measure.learnt import Known, noted
from canopy.measure.prepared import lifted
from canopy.words import Said, said

Array = NDArray[np.float64]

UNEVEN = 0.02
"""Halves that differ by less are told as alike."""

ALSO = 0.05
"""A cause that is less likely is not worth looking for."""

OUTLIER = 0.35
"""A reading that is believed less is told as one that stands apart."""


@dataclass(frozen=True)
class Ranged:
    """A figure with the ends of its 90 % range."""

    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class LightFigure:
    """One figure of a map: as planned without readings, the true light, and as the sensor shows."""

    planned: float
    true: Ranged
    read: Ranged


@dataclass(frozen=True)
class Residual:
    """A reading, put right, and what the fit expected the sensor to show there."""

    x_cm: float
    y_cm: float
    height_cm: float
    measured: float
    fitted: float
    outlier: bool

    @property
    def off(self) -> float:
        """Return how far the reading lies from the fit, as a share."""
        return self.measured / self.fitted - 1 if self.fitted > 0 else 0.0


@dataclass(frozen=True)
class FitAnswer:
    """What a fit says at one height and share of full light.

    Maps have shape (points,), on the plan's own grid.
    """

    height_cm: float
    light_fraction: float
    x_cm: Array
    y_cm: Array
    ppfd: Array
    low: Array
    high: Array
    planned: Array
    mean: LightFigure
    brightest: LightFigure
    dimmest: LightFigure
    evenness: LightFigure
    residuals: tuple[Residual, ...]
    worst: int
    findings: tuple[Finding, ...]
    leans: tuple[Said, ...]
    cannot_be: tuple[Said, ...]
    next_mean: NextReading
    next_brightest: NextReading


def answer(known: Known, height_cm: float, light_fraction: float) -> FitAnswer:
    """Return what a fit says with its lamps at a height and a share of full light.

    Parameters
    ----------
    known : Known
    height_cm : float
        Of the lowest lamp above the tops; moved to where ranges were prepared.
    light_fraction : float
        Above 0.
    """
    found, prepared = known.found, known.prepared
    box = prepared.box
    height = float(np.clip(height_cm, known.heights_cm[0], known.heights_cm[-1]))
    lamps = [replace(x, light_fraction=light_fraction) for x in lifted(prepared.lamps, height)]
    drawn = known.predicted(lamps)
    plain = np.exp(known.model_at(height).log_light(noted(found, lamps))) * light_fraction
    area = np.ravel(even_grid(box.width_cm, box.depth_cm).area_weights())
    area = area / area.sum()

    def figure(of: Array, shown: Array, before: float) -> LightFigure:
        return LightFigure(before, Ranged(*drawn.of(of)), Ranged(*drawn.of(shown)))

    draws, read = drawn.draws, drawn.draws * drawn.as_read[:, None]
    low, high = drawn.range()
    grid = even_grid(box.width_cm, box.depth_cm)
    x, y = grid.axes_cm(box.width_cm, box.depth_cm)
    rows = _residuals(known)
    wrong = diagnosis(found)
    further = next_readings(known, height)
    return FitAnswer(
        height_cm=height,
        light_fraction=light_fraction,
        x_cm=x,
        y_cm=y,
        ppfd=drawn.middle,
        low=low,
        high=high,
        planned=plain,
        mean=figure(draws @ area, read @ area, float(plain @ area)),
        brightest=figure(draws.max(axis=1), read.max(axis=1), float(plain.max())),
        dimmest=figure(draws.min(axis=1), read.min(axis=1), float(plain.min())),
        evenness=figure(
            draws.min(axis=1) / draws.mean(axis=1),
            draws.min(axis=1) / draws.mean(axis=1),
            float(plain.min() / plain.mean()),
        ),
        residuals=rows,
        worst=int(np.argmax([abs(row.off) for row in rows])),
        findings=wrong.findings,
        leans=_leans(wrong.causes, drawn.middle.reshape(len(y), len(x)), area),
        cannot_be=_rises(known),
        next_mean=further["mean"],
        next_brightest=further["brightest"],
    )


def _leans(causes: tuple[Cause, ...], ppfd: Array, area: Array) -> tuple[Said, ...]:
    """Return which half is brighter by how much, why it may be so, and what would tell.

    Nothing without a cause that is believed. ``ppfd`` has shape (rows from the front, columns).
    """
    weights = area.reshape(ppfd.shape)
    ways = []
    for axis, (low, high) in ((1, ("left", "right")), (0, ("front", "back"))):
        light, count = ((np.moveaxis(m, axis, 0)) for m in (ppfd * weights, weights))
        half = len(light) // 2
        near = light[:half].sum() / count[:half].sum()
        far = light[-half:].sum() / count[-half:].sum()
        names = (low, high) if near >= far else (high, low)
        ways.append((float(max(near, far) / max(min(near, far), 1e-9) - 1), *names))
    share, bright, dim = max(ways)
    if not causes or share < UNEVEN:
        return ()
    first, *others = [each for each in causes if each.likelihood >= ALSO]
    lines = [said("lean.halves", side=bright, other=dim, share=share)]
    for how, each in (("is", first), *(("also", other) for other in others)):
        figures: dict[str, float | str] = {"side": each.side, "belief": each.likelihood}
        if each.code == "offset":
            figures["by_cm"] = each.by_cm
        lines.append(said(f"lean.{how}_{each.code}", **figures))
    return (*lines, said("lean.tells"))


def _residuals(known: Known) -> tuple[Residual, ...]:
    found, readings = known.found, known.found.readings
    return tuple(
        Residual(
            x_cm=float(readings.x_cm[k]),
            y_cm=float(readings.y_cm[k]),
            height_cm=float(readings.height_cm[k]),
            measured=float(readings.ppfd[k]),
            fitted=float(found.fitted[k]),
            outlier=bool(found.weights[k] < OUTLIER),
        )
        for k in range(len(readings.ppfd))
    )


def _rises(known: Known) -> tuple[Said, ...]:
    found, readings = known.found, known.found.readings
    full = readings.ppfd / readings.light_fraction
    rows = np.column_stack([readings.x_cm, readings.y_cm, readings.height_cm, full]).tolist()
    expected = np.exp(found.model.log_light(noted(found, found.lamps))).tolist()
    return cannot_be([(x, y, h, ppfd) for x, y, h, ppfd in rows], expected)
