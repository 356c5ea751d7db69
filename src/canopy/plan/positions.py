"""What other heights and other dials give in a tent, the other levers as they are.

Growers choose a height from what it costs in light and brings in evenness; here for one tent and
its lamps, from the same maps as the bench. Lengths in cm, PPFD in umol m-2 s-1.
"""

from dataclasses import dataclass

import numpy as np

from canopy.light.lightmap import canopy_flux_umol_s, capture, map_statistics
from canopy.plan.bench import Bench
from canopy.plan.problem import StageProblem
from canopy.plan.solver import Index

DIAL_STEP_PCT = 10.0
MOST_DIALS = 15
"""A dial with more positions is shown in steps of ten."""


@dataclass(frozen=True)
class CanopyLight:
    """Light on the canopy of the lamps on the plan's timer, and its share of what they give."""

    umol_s: float
    captured: float | None


def canopy_light(problem: StageProblem, ready: Bench, index: Index) -> CanopyLight:
    """Return how much of the light reaches the canopy at a setting."""
    box, light = problem.box, float(ready.space.light[index[1]])
    area_mean = float(ready.timed_ppfd(index) @ ready.stack.weights)
    umol_s = canopy_flux_umol_s(area_mean, box.width_cm, box.depth_cm)
    emitted = sum(
        hung.lamp.ppf_umol_s * (light if hung.own_light is None else hung.own_light)
        for hung in problem.lamps
        if not hung.own_windows
    )
    return CanopyLight(umol_s, capture(umol_s, emitted))


@dataclass(frozen=True)
class Position:
    """What one position gives where plants stand.

    ``brightest`` is found between the points; ``efficacy_umol_j`` is light on the canopy for each
    joule at the wall, ``None`` where nothing is drawn.
    """

    height_cm: float
    dial_pct: float
    mean: float
    area_mean: float
    brightest: float
    dimmest: float
    min_over_max: float | None
    min_over_mean: float | None
    dli: float
    watts: float
    efficacy_umol_j: float | None
    captured: float | None


def position(problem: StageProblem, ready: Bench, index: Index) -> Position:
    """Return what a setting gives."""
    space, outcome = ready.space, ready.space.outcome(index)
    weights = ready.stack.weights[ready.standing]
    statistics = map_statistics(ready.ppfd(index)[ready.standing], weights)
    canopy = canopy_light(problem, ready, index)
    brightest = max(outcome.peak, statistics.maximum)
    return Position(
        height_cm=float(space.heights_cm[index[0]]),
        dial_pct=float(space.dials_pct[index[1]]),
        mean=statistics.mean,
        area_mean=statistics.area_mean,
        brightest=brightest,
        dimmest=statistics.minimum,
        min_over_max=statistics.minimum / brightest if brightest > 0 else None,
        min_over_mean=statistics.min_over_mean,
        dli=outcome.dli,
        watts=outcome.watts,
        efficacy_umol_j=canopy.umol_s / outcome.watts if outcome.watts > 0 else None,
        captured=canopy.captured,
    )


def heights_apart(
    problem: StageProblem, ready: Bench, index: Index, step_cm: float
) -> tuple[Position, ...]:
    """Return the heights a step apart, and the one a setting has, the lowest first."""
    heights = ready.space.heights_cm
    low, high = float(heights[0]), float(heights[-1])
    wanted = np.arange(np.ceil(low / step_cm) * step_cm, high + 1e-9, step_cm)
    rows = {int(np.abs(heights - each).argmin()) for each in wanted} | {index[0]}
    return tuple(position(problem, ready, (h, *index[1:])) for h in sorted(rows))


def dials_apart(problem: StageProblem, ready: Bench, index: Index) -> tuple[Position, ...]:
    """Return the dial's positions, or each ten of many, and the one a setting has."""
    dials = ready.space.dials_pct
    rows = set(range(len(dials)))
    if len(dials) > MOST_DIALS:
        wanted = np.arange(DIAL_STEP_PCT, dials[-1] + 1e-9, DIAL_STEP_PCT)
        wanted = wanted[wanted >= dials[0] - 1e-9]
        rows = {int(np.abs(dials - each).argmin()) for each in wanted} | {index[1]}
    return tuple(position(problem, ready, (index[0], d, index[2])) for d in sorted(rows))
