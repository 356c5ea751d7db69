"""One lamp over one stage in one tent, prepared once and asked many times.

What is prepared is kept, the most recent first and no more than a few, so that a moved lever
costs a look-up. Safe under threads: the kept arrays are read-only.
"""

from dataclasses import dataclass
from functools import lru_cache

from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.fixture.dimming import Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import HeightStack, height_stack
from canopy.light.lightmap import Grid, even_grid
from canopy.light.sources import PlacedLamp
from canopy.light.transport import Transport, prepare
from canopy.plan.levers import LeverSpace, lever_space
from canopy.plan.solver import Solution, solve
from canopy.power.hanging import reachable_heights_cm

KEPT = 24


@dataclass(frozen=True)
class BenchProblem:
    """Everything the answer depends on.

    Parameters
    ----------
    box : Enclosure
        The tent above the canopy.
    lamp : PlacedLamp
        Where it hangs; its height and dial are the levers.
    lowest_cm, highest_cm : float
        The lamp's clearance and what the headroom allows.
    dimmer : Dimmer
    watts : float
        At full power.
    timer_step_min : int
    target : StageTarget
    over_cap : bool
        The grower gives up the hot-spot cap where nothing else helps.
    """

    box: Enclosure
    lamp: PlacedLamp
    lowest_cm: float
    highest_cm: float
    dimmer: Dimmer
    watts: float
    timer_step_min: int
    target: StageTarget
    over_cap: bool = False


@dataclass(frozen=True)
class Bench:
    """A prepared problem: the maps at all heights, all settings, and the best of them."""

    grid: Grid
    stack: HeightStack
    space: LeverSpace
    solution: Solution


@lru_cache(maxsize=KEPT)
def prepared_tent(box: Enclosure, grid: Grid) -> Transport:
    """Return the transport operator of a tent for a grid on its canopy."""
    transport = prepare(box, grid.points_cm(box.width_cm, box.depth_cm))
    transport.operator.flags.writeable = False
    return transport


@lru_cache(maxsize=KEPT)
def _stack(box: Enclosure, lamp: PlacedLamp, lowest_cm: float, highest_cm: float) -> HeightStack:
    grid = even_grid(box.width_cm, box.depth_cm)
    heights = reachable_heights_cm(lowest_cm, highest_cm)
    stack = height_stack(prepared_tent(box, grid), lamp, heights, grid.area_weights())
    stack.ppfd.flags.writeable = False
    return stack


@lru_cache(maxsize=KEPT)
def bench(problem: BenchProblem) -> Bench:
    """Return the prepared answer to a problem.

    Raises
    ------
    CanopyError
        When no height or no timer step is left to choose.
    """
    hours = timer_hours(problem.target.hours_low, problem.target.hours_high, problem.timer_step_min)
    stack = _stack(problem.box, problem.lamp, problem.lowest_cm, problem.highest_cm)
    space = lever_space(stack, problem.dimmer, problem.watts, hours)
    return Bench(
        grid=even_grid(problem.box.width_cm, problem.box.depth_cm),
        stack=stack,
        space=space,
        solution=solve(space, problem.target, problem.over_cap),
    )
