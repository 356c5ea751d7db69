"""What a watt meter alone says of a run's lamps."""

from dataclasses import dataclass

from canopy.errors import CanopyError
from canopy.measure.socket import BySocket, by_socket
from canopy.plan.certainty import Certainty
from canopy.words import Said
from server.readings.adapters.fits import StageVerdict, verdicts
from server.readings.adapters.taken import lit_lamps
from server.runs.adapters.bench import bench_answer, levers
from server.runs.adapters.lamps import hung_lamp
from server.runs.adapters.standing import Standing
from server.runs.adapters.switched import dial_on

ANY_HOURS = 12.0


@dataclass(frozen=True)
class SocketAnswer:
    """What the lamps give by their watts: the mean with its 90 % range, and what it is enough for.

    The range is the plan's own, and what watts leave open.
    """

    expected_watts: float
    planned_mean: float
    mean: float
    low: float
    high: float
    change: float
    line: Said
    stages: list[StageVerdict]


def by_watts(
    run: Standing, stage_id: int, height_cm: float, dial_pct: float, watts: float
) -> SocketAnswer:
    """Return what the watts at the plug say of the light with the lamps at a height and dial.

    Raises
    ------
    CanopyError
        When no lamp follows the rail, or the watts cannot be.
    """
    hung = lit_lamps(run)
    if not hung:
        raise CanopyError("No lamp follows the dial here; measure each by its own.", "dial_pct")
    full = sum(hung_lamp(lamp, run.space, run.fixture).watts for lamp in hung)
    found: BySocket = by_socket(watts, dial_pct, dial_on(run, hung[0], run.owner.today()), full)
    shown = bench_answer(
        run, run.part(stage_id, 0), {}, levers(height_cm, dial_pct, ANY_HOURS), run.on_minute
    )
    planned, sure = shown.outcome.mean, shown.certainty
    return SocketAnswer(
        expected_watts=found.expected_watts,
        planned_mean=planned,
        mean=planned * (1 + found.change),
        low=_end(sure, planned, found, -1),
        high=_end(sure, planned, found, 1),
        change=found.change,
        line=found.line,
        stages=verdicts(run, planned * (1 + found.change)),
    )


def _end(sure: Certainty, planned: float, found: BySocket, which: int) -> float:
    """Return an end of the mean's range: the plan's and the watts' own, as squares."""
    own = (sure.mean_high if which > 0 else sure.mean_low) / planned - 1
    watts = (found.high if which > 0 else found.low) / found.middle - 1
    return float(planned * (1 + found.change) * (1 + which * (own**2 + watts**2) ** 0.5))
