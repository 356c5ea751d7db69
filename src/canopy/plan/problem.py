"""A stage in a space, told once: bench, season, ranking, comparison and schools all ask this.

A :class:`StagePlace` is everything but the lamps, a :class:`StageProblem` that with lamps hung in
it. Lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from canopy.crop.targets import StageTarget
from canopy.daylight.losses import NO_LOSSES, Losses
from canopy.fixture.ageing import NO_AGEING, Ageing
from canopy.fixture.dimming import Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.measured import MeasuredMap
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, highest_under
from canopy.plan.levers import FREE, Locks
from canopy.plan.solver import Aim
from canopy.power.hanging import Frame, rail_limits_cm
from canopy.quantities import ppfd_for_dli


@dataclass(frozen=True)
class HungLamp:
    """A lamp as it hangs in a run.

    Parameters
    ----------
    lamp : PlacedLamp
        At full light; its height is the rail's to say.
    watts : float
        At full power.
    raise_cm : float
        How much higher than the rail its light-giving face hangs.
    own_light : float, optional
        Share of full light of a lamp held at its own dial; without it it follows the rail's.
    own_watts : float
        What such a lamp draws there.
    measured : MeasuredMap, optional
        Readings that stand in for the model.
    measured_here : bool
        Whether those were taken in this very space.
    whole : PlacedLamp, optional
        The lamp as it was measured, when bars have been unplugged since.
    life : Ageing
        How its light fades.
    """

    lamp: PlacedLamp
    watts: float
    raise_cm: float = 0.0
    own_light: float | None = None
    own_watts: float = 0.0
    measured: MeasuredMap | None = None
    measured_here: bool = False
    whole: PlacedLamp | None = None
    life: Ageing = NO_AGEING


@dataclass(frozen=True)
class StageProblem:
    """Everything the answer depends on.

    Parameters
    ----------
    box : Enclosure
        The tent above the canopy.
    lamps : tuple of HungLamp
        Where they hang; height and dial are the levers.
    lowest_cm, highest_cm : float
        What the lamps' clearance and the headroom leave of the rail.
    dimmer : Dimmer
        Of the lamps that follow the rail's dial.
    timer_step_min : int
    target : StageTarget
    stands : tuple of Stand
        Steps that lift plants.
    plots : tuple of Stand
        Where plants stand; the whole floor without any.
    aim, locks : Aim, Locks
        See :func:`canopy.plan.solver.solve`.
    losses : Losses
        What ramps and the heat take of the time the lamp is on.
    daylight_dli : float
        What daylight adds at the tops, mol m-2 d-1.
    over_cap : bool
        The grower gives up the hot-spot cap where nothing else helps.
    """

    box: Enclosure
    lamps: tuple[HungLamp, ...]
    lowest_cm: float
    highest_cm: float
    dimmer: Dimmer
    timer_step_min: int
    target: StageTarget
    stands: tuple[Stand, ...] = ()
    plots: tuple[Stand, ...] = ()
    aim: Aim = "middle"
    locks: Locks = FREE
    losses: Losses = NO_LOSSES
    daylight_dli: float = 0.0
    over_cap: bool = False


@dataclass(frozen=True)
class StagePlace:
    """A stage in a space without its lamps; fields as in :class:`StageProblem`.

    ``room_cm`` is what is left from the tops to the hangers' lower end.
    """

    box: Enclosure
    room_cm: float
    timer_step_min: int
    target: StageTarget
    stands: tuple[Stand, ...] = ()
    plots: tuple[Stand, ...] = ()
    aim: Aim = "middle"
    losses: Losses = NO_LOSSES
    daylight_dli: float = 0.0
    over_cap: bool = False

    def rail_cm(self, frames: Sequence[Frame]) -> tuple[float, float]:
        """Return how low and how high the rail goes with lamps of these frames on it."""
        lifted = [highest_under(self.stands, frame.corners_cm()) for frame in frames]
        return rail_limits_cm(frames, self.room_cm, lifted)

    def problem(
        self,
        lamps: tuple[HungLamp, ...],
        frames: Sequence[Frame],
        dimmer: Dimmer,
        locks: Locks = FREE,
    ) -> StageProblem:
        """Return this stage with lamps hung in it, each with its frame."""
        lowest, highest = self.rail_cm(frames)
        return StageProblem(
            box=self.box,
            lamps=lamps,
            lowest_cm=lowest,
            highest_cm=highest,
            dimmer=dimmer,
            timer_step_min=self.timer_step_min,
            target=self.target,
            stands=self.stands,
            plots=self.plots,
            aim=self.aim,
            locks=locks,
            losses=self.losses,
            daylight_dli=self.daylight_dli,
            over_cap=self.over_cap,
        )

    @property
    def asked_ppfd(self) -> float:
        """The mean the lamp has to give over its longest day for the middle of the DLI band."""
        full_h = float(self.losses.full_h(self.target.longest_day_h))
        return max(ppfd_for_dli(self.target.dli_middle - self.daylight_dli, full_h), 0.0)


def hungriest(places: Sequence[StagePlace]) -> int:
    """Return which of several stages asks the most light of the lamp while it is on."""
    return int(np.argmax([place.asked_ppfd for place in places]))
