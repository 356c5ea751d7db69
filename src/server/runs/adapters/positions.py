"""What other heights and dials give at a stage: rows to core values and back."""

from dataclasses import dataclass

from canopy.formats.positionstable import positions_table
from canopy.plan.bench import bench
from canopy.plan.levers import Setting
from canopy.plan.positions import Position, dials_apart, heights_apart, position
from canopy.words import CM_PER_INCH
from server.common.words import unit_of
from server.runs.adapters.planning import problem_of
from server.runs.adapters.standing import StagePart, Standing

STEP_CM = 5.0
STEP_IN = 2.0


@dataclass(frozen=True)
class Positions:
    """Heights and dials round a setting, each with the other lever as it is."""

    at: Position
    heights: tuple[Position, ...]
    dials: tuple[Position, ...]
    height_text: str
    dial_text: str


def positions_at(run: Standing, part: StagePart, wanted: Setting, on_minute: int) -> Positions:
    """Return what every fifth centimetre (or second inch) and every tenth of the dial gives."""
    problem = problem_of(run, part, run.lamps, on_minute)
    ready, unit = bench(problem), unit_of(run.owner)
    index = ready.space.nearest(wanted)
    at = position(problem, ready, index)
    step = STEP_IN * CM_PER_INCH if unit == "in" else STEP_CM
    heights = (at,) if problem.fixed else heights_apart(problem, ready, index, step)
    dials = dials_apart(problem, ready, index)
    return Positions(
        at, heights, dials, positions_table(heights, unit), positions_table(dials, unit)
    )
