"""A stage in a space, told once: bench, season, ranking, comparison and schools all ask this.

A :class:`StagePlace` is everything but the lamps, a :class:`StageProblem` that with lamps hung in
it. Lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import Window
from canopy.daylight.losses import NO_LOSSES, Losses
from canopy.fixture.ageing import NO_AGEING, Ageing
from canopy.fixture.dimming import Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.measured import MeasuredMap
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, highest_under
from canopy.measure.learnt import Taken
from canopy.plan.doubts import KNOWN, Known
from canopy.plan.easing import RISE_A_DAY
from canopy.plan.levers import FREE, Locks
from canopy.plan.solver import Aim
from canopy.power.hanging import HEIGHT_STEP_CM, Frame, rail_limits_cm
from canopy.quantities import ppfd_for_dli


@dataclass(frozen=True)
class Fitted:
    """That a lamp hangs as it was read for a fit.

    Parameters
    ----------
    taken : Taken
        What the fit is made of.
    number : int
        Which of its lamps this is, from 0.
    box : Enclosure
        The tent as noted, as high as it ever is above the tops: ranges are prepared in it once.
    """

    taken: Taken
    number: int
    box: Enclosure


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
    own_windows : tuple of Window
        When such a lamp is on, if it is on a timer of its own; none: together with the rail's.
    group : int
        Lamps that are set together have one number; 0 is the rail's.
    measured : MeasuredMap, optional
        Readings that stand in for the model.
    measured_here : bool
        Whether those were taken in this very space.
    whole : PlacedLamp, optional
        The lamp as it was measured, when bars have been unplugged since.
    life : Ageing
        How its light fades.
    known : Known
        How far its figures can be trusted.
    fitted : Fitted, optional
        The fit that corrects it, in the place of ``measured``.
    """

    lamp: PlacedLamp
    watts: float
    raise_cm: float = 0.0
    own_light: float | None = None
    own_watts: float = 0.0
    own_windows: tuple[Window, ...] = ()
    group: int = 0
    measured: MeasuredMap | None = None
    measured_here: bool = False
    whole: PlacedLamp | None = None
    life: Ageing = NO_AGEING
    known: Known = KNOWN
    fitted: Fitted | None = None


@dataclass(frozen=True)
class Growth:
    """How far the tops rise while a stage lasts, evenly, and from where, in cm above the floor."""

    tops_cm: float = 0.0
    by_cm: float = 0.0
    days: int = 1


NO_GROWTH = Growth()


@dataclass(frozen=True)
class Visits:
    """How often somebody comes to the tent, and from which light to which.

    Parameters
    ----------
    lift_cm : float
        A re-hang is at least so much; common practice, no source.
    gap_days : int
        Days between trips, at least; common practice, no source.
    rise : float
        Most a day's light may rise from one stage to the next without easing, as a share.
    before, after : tuple of float, optional
        The DLI bands of the stages before and after.
    sparing : bool
        Whether moves count beside trips.
    """

    lift_cm: float = 5.0
    gap_days: int = 7
    rise: float = RISE_A_DAY
    before: tuple[float, float] | None = None
    after: tuple[float, float] | None = None
    sparing: bool = False

    @property
    def before_dli(self) -> float:
        """About what the stage before ends at: in the upper half of its band; 0 without one."""
        return 0.0 if self.before is None else (self.before[0] + 3 * self.before[1]) / 4

    @property
    def after_dli(self) -> float:
        """About what the stage after begins at: in the lower half of its band; 0 without one."""
        return 0.0 if self.after is None else (3 * self.after[0] + self.after[1]) / 4


VISITS = Visits()


@dataclass(frozen=True)
class Reach:
    """Which heights a plan may choose.

    Parameters
    ----------
    maker_low_cm, maker_high_cm : float, optional
        What the lamp's maker names.
    beyond : bool
        The grower lets the plan leave those.
    step_cm : float
        Heights come in multiples of it.
    """

    maker_low_cm: float | None = None
    maker_high_cm: float | None = None
    beyond: bool = False
    step_cm: float = HEIGHT_STEP_CM

    def maker_keeps(self, height_cm: float) -> bool:
        """Return whether a height lies inside the maker's range, where there is one."""
        return bool(replace(self, beyond=False).inside(np.array([height_cm]))[0])

    def inside(self, heights_cm: NDArray[np.float64]) -> NDArray[np.bool_]:
        """Return which heights lie inside the maker's range, same shape; all when let free."""
        low = self.maker_low_cm if self.maker_low_cm is not None else -np.inf
        high = self.maker_high_cm if self.maker_high_cm is not None else np.inf
        within: NDArray[np.bool_] = (heights_cm >= low - HALF_WAY * self.step_cm) & (
            heights_cm <= high + HALF_WAY * self.step_cm
        )
        return within | self.beyond


ANYWHERE = Reach()

HALF_WAY = 0.5
"""Of a step: a maker's 12 inches are 30 cm as well."""


@dataclass(frozen=True)
class SwitchSet:
    """Where one of a lamp's switches stands, in %: 0 is off, ``None`` goes with the plan's dial."""

    name: str
    dial_pct: float | None = None
    dimmed: bool = True


@dataclass(frozen=True)
class StageProblem:
    """Everything the answer depends on.

    Parameters
    ----------
    box : Enclosure
        The tent above the canopy as it stands at the stage's end.
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
    growth : Growth
        What the plants do meanwhile. ``highest_cm`` is for the stage's end; before it there is
        more room by what they still grow.
    reach : Reach
        Which heights may be chosen.
    visits : Visits
        How often they may be.
    fixed : bool
        The lamps are fixed as high as they can be, under a board: height is no lever.
    whole : StageProblem, optional
        The stage without the dated change that cuts this part short: it begins as that would.
    switches : tuple of SwitchSet
        Those of the rail's lamps, where they have several; the dimmer counts them already.
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
    growth: Growth = NO_GROWTH
    reach: Reach = ANYWHERE
    visits: Visits = VISITS
    fixed: bool = False
    whole: "StageProblem | None" = None
    switches: tuple["SwitchSet", ...] = ()

    def group_lamps(self) -> dict[int, tuple[HungLamp, ...]]:
        """Return the lamps that are set in groups of their own, by the groups' numbers."""
        held = [hung for hung in self.lamps if hung.group and hung.own_light is not None]
        numbers = sorted({hung.group for hung in held})
        return {at: tuple(hung for hung in held if hung.group == at) for at in numbers}

    @property
    def apart(self) -> tuple[HungLamp, ...]:
        """The lamps on a timer of their own."""
        return tuple(hung for hung in self.lamps if hung.own_windows)

    @property
    def apart_windows(self) -> tuple[Window, ...]:
        """When those are on."""
        return tuple(window for hung in self.apart for window in hung.own_windows)

    def apart_kwh(self, hung: HungLamp) -> float:
        """Return what a lamp on a timer of its own draws a day."""
        return hung.own_watts * self.losses.full_in(hung.own_windows) / 1000

    @property
    def lowest_step(self) -> int:
        """The least whole steps the lamp keeps from the tops."""
        return int(np.ceil(self.lowest_cm / self.reach.step_cm - ROUNDING))

    @property
    def highest_step(self) -> int:
        """How high above the floor the lamp can hang, in whole steps."""
        end_cm = self.growth.tops_cm + self.growth.by_cm
        return int(np.floor((end_cm + self.highest_cm) / self.reach.step_cm + ROUNDING))

    @property
    def fixed_cm(self) -> float:
        """How high lamps that are fixed hang above the tops on the first day."""
        above = max(self.highest_step - int(self.tops_in_steps()[0]), self.lowest_step)
        return above * self.reach.step_cm

    def tops_in_steps(self) -> NDArray[np.int64]:
        """Return the tops above the floor on every day in whole steps, rounded up; shape (days,).

        Where the last bit of headroom is less than a step they are rounded so that the lamp fits.
        """
        growth, step = self.growth, self.reach.step_cm
        tops = growth.tops_cm + (np.arange(growth.days) + 0.5) / growth.days * growth.by_cm
        least = int(np.floor(growth.tops_cm / step + ROUNDING))
        steps = np.ceil(tops / step - ROUNDING).astype(np.int64)
        return np.minimum(steps, max(self.highest_step - self.lowest_step, least))


ROUNDING = 1e-6


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
    growth: Growth = NO_GROWTH
    visits: Visits = VISITS
    fixed: bool = False

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
        reach: Reach = ANYWHERE,
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
            growth=self.growth,
            reach=reach,
            visits=self.visits,
            fixed=self.fixed,
        )

    @property
    def asked_ppfd(self) -> float:
        """The mean the lamp has to give over its longest day for the middle of the DLI band."""
        full_h = float(self.losses.full_h(self.target.longest_day_h))
        return max(ppfd_for_dli(self.target.dli_middle - self.daylight_dli, full_h), 0.0)


def hungriest(places: Sequence[StagePlace]) -> int:
    """Return which of several stages asks the most light of the lamp while it is on."""
    return int(np.argmax([place.asked_ppfd for place in places]))
