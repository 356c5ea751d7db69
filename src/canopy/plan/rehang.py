"""When a lamp has to be hung anew because the plants came closer."""

from dataclasses import dataclass

import numpy as np

from canopy.plan.bench import Bench
from canopy.plan.levers import Mask
from canopy.plan.problem import StageProblem
from canopy.plan.solver import Index

CLEARANCE = "clearance"


@dataclass(frozen=True)
class Rehang:
    """What happens when a lamp hung on the stage's first day is left where it is.

    Parameters
    ----------
    above_floor_cm : float
        Where it hangs.
    growth_cm : float
        How much the plants rise over the stage, by the days.
    left_cm : float
        What is left between tops and lamp on the last day; below the lamp's clearance it is too
        close whatever the light.
    first_day : int or None
        The first day of the stage on which a target fails that held when it was hung, or the
        clearance is used up; ``None`` when neither happens within the stage.
    fails : tuple of str
        Which then fail; ``'clearance'`` alone when the lamp is too near.
    peak_umol_m2_s : float or None
        Brightest spot at the end; ``None`` when the lamp would be closer than its clearance.
    """

    above_floor_cm: float
    growth_cm: float
    left_cm: float
    first_day: int | None
    fails: tuple[str, ...]
    peak_umol_m2_s: float | None


def rehang(
    problem: StageProblem, ready: Bench, index: Index, masks: dict[str, Mask] | None = None
) -> Rehang:
    """Return what becomes of a setting while the plants grow evenly through the stage.

    Parameters
    ----------
    problem, ready : StageProblem, Bench
    index : tuple of int
        The setting.
    masks : dict of array, optional
        The targets that count; all of them when left out.
    """
    space, step = ready.space, problem.reach.step_cm
    tops = problem.tops_in_steps()
    rows = index[0] - (tops - tops[0])
    held = {
        name: np.broadcast_to(mask, space.shape)[:, index[1], index[2]]
        for name, mask in (ready.masks if masks is None else masks).items()
    }
    first_day: int | None = None
    fails: tuple[str, ...] = ()
    for day, row in enumerate(rows.tolist()):
        if row < 0:
            first_day, fails = day, (CLEARANCE,)
            break
        missed = tuple(n for n, line in held.items() if line[index[0]] and not line[row])
        if missed:
            first_day, fails = day, missed
            break
    height = float(space.heights_cm[index[0]])
    last = int(rows[-1])
    return Rehang(
        above_floor_cm=float(tops[0] * step + height),
        growth_cm=float((tops[-1] - tops[0]) * step),
        left_cm=float(height - (tops[-1] - tops[0]) * step),
        first_day=first_day,
        fails=fails,
        peak_umol_m2_s=float(space.peak[last, index[1]]) if last >= 0 else None,
    )
