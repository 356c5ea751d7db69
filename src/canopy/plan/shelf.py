"""Which of many lamps would do a stage's job in one space: ranked by what each does there.

Many are estimated quickly, by the tent's response table: over the middle at a few heights, by
their own figures, without bodies, light files or maps. The best are then asked on the bench's own
engine, and their answer is the bench's. PPFD in umol m-2 s-1, lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.light.beam import Beam
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import HeightStack
from canopy.light.lightmap import Grid, even_grid, share_inside
from canopy.light.response import Response, response
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand
from canopy.once import once
from canopy.parallel import at_once
from canopy.plan.bench import stage_hours, standing_points
from canopy.plan.levers import LeverSpace, lever_space
from canopy.plan.problem import ANYWHERE, HungLamp, Reach, StagePlace, StageProblem
from canopy.plan.solver import Solution, solve
from canopy.plan.stacks import box_before_growth, prepared_tent, stage_tent
from canopy.plan.stageplan import plan_stage
from canopy.power.hanging import Frame, check_inside, fitting_turn_deg, reachable_heights_cm
from canopy.words import Said, said

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

HEIGHTS = 12
LOWEST_CM = 8.0
CELL_CM = 12.0
KEPT_TABLES = 16
KEPT_RANKS = 1024
KEPT_MAPS = 512


@dataclass(frozen=True)
class Limits:
    """What lamps are chosen by, whatever their light; ``None`` where there is no limit."""

    budget: float | None = None
    circuit_w: float | None = None
    bears_kg: float | None = None
    has_dial: bool = False


NO_LIMITS = Limits()


def kept_out(
    limits: Limits, watts: float, weight_kg: float, price: float | None, dimmer: Dimmer
) -> Said | None:
    """Return why lamps, all of them together, are out before their light is asked, if they are."""
    if price is not None and limits.budget is not None and price > limits.budget:
        return said("shelf.budget", price=price, budget=limits.budget)
    if limits.has_dial and dimmer.kind == "none":
        return said("shelf.no_dial")
    if limits.bears_kg is not None and weight_kg > limits.bears_kg:
        return said("shelf.weight", weight_kg=weight_kg, bears_kg=limits.bears_kg)
    if limits.circuit_w is not None and watts > limits.circuit_w:
        return said("shelf.circuit", watts=watts, circuit_w=limits.circuit_w)
    return None


@dataclass(frozen=True)
class Candidate:
    """A lamp that might be bought, one or several side by side.

    Parameters
    ----------
    plain : PlacedLamp
        One of them by its own figures at full light, its place and height of no account.
    frames : tuple of Frame
        The frame of each, where it would hang.
    watts : float
        What they draw together at full light.
    dimmer : Dimmer
    reach : Reach
    lamps : tuple of HungLamp
        As the bench would have them; left out where an estimate is enough.
    """

    plain: PlacedLamp
    frames: tuple[Frame, ...]
    watts: float
    dimmer: Dimmer
    reach: Reach = ANYWHERE
    lamps: tuple[HungLamp, ...] = ()

    def placed(self, height_cm: float = 0.0) -> tuple[PlacedLamp, ...]:
        """Return them by their own figures with the rail at a height."""
        return tuple(
            replace(
                self.plain,
                x_cm=frame.x_cm,
                y_cm=frame.y_cm,
                height_cm=height_cm + frame.raise_cm,
                turn_deg=frame.turn_deg,
            )
            for frame in self.frames
        )

    def problem(self, place: StagePlace) -> StageProblem:
        """Return a stage with it hung."""
        return place.problem(self.lamps, self.frames, self.dimmer, reach=self.reach)


@dataclass(frozen=True)
class Ranked:
    """What a candidate does here.

    Parameters
    ----------
    solution : Solution
    exact : bool
        Whether it is the bench's own answer; else an estimate.
    grid : Grid
        Of ``floor``, which has shape (points,), at the chosen setting.
    inside_share : float
        Of the floor where plants stand, what lies in the band.
    reserve : float
        The mean at full power at the chosen height over the mean chosen: what is left for ageing
        and hungrier plants.
    lamp_mol_per_day : float
        What the lamp gives the canopy.
    ppfd_low, ppfd_high : float
        The band the lamp's light should lie in.
    """

    solution: Solution
    exact: bool
    grid: Grid
    floor: Array
    inside_share: float
    reserve: float
    lamp_mol_per_day: float
    ppfd_low: float
    ppfd_high: float

    @property
    def meets(self) -> bool:
        """Whether every target is met."""
        return self.solution.fits


def side_by_side(frame: Frame, count: int, box: Enclosure) -> tuple[Frame, ...]:
    """Return lamps of one frame where they would hang.

    One in the middle, turned to fit; several side by side along the longer side.

    Raises
    ------
    CanopyError
        When they do not go in.
    """
    turn = fitting_turn_deg(frame.frame_x_cm, frame.frame_y_cm, box.width_cm, box.depth_cm)
    along = box.width_cm >= box.depth_cm
    pitch = (box.width_cm if along else box.depth_cm) / count
    for way in (turn, 90.0 - turn) if count > 1 else (turn,):
        found = []
        for k in range(count):
            share = (k + 0.5) / count
            x, y = (share, 0.5) if along else (0.5, share)
            found.append(replace(frame, x_cm=x * box.width_cm, y_cm=y * box.depth_cm, turn_deg=way))
        if count == 1:
            return tuple(found)
        try:
            check_inside(found, box.width_cm, box.depth_cm)
        except CanopyError:
            continue
        sides = np.ptp(found[0].corners_cm(), axis=0)
        if sides[0 if along else 1] <= pitch + 0.05:
            return tuple(found)
    raise CanopyError(said("shelf.side_by_side", count=count), "count")


@once(KEPT_TABLES)
def response_table(
    box: Enclosure, grid: Grid, beam: Beam, stands: tuple[Stand, ...] = ()
) -> Response:
    """Return a tent's response for a beam; kept, the most recent first and no more than a few."""
    lowest = LOWEST_CM + max((stand.raise_cm for stand in stands), default=0.0)
    return response(prepared_tent(box, grid, stands), beam, lowest, box.height_cm - 0.5)


@lru_cache(maxsize=KEPT_MAPS)
def _maps_of_one(
    box: Enclosure,
    grid: Grid,
    stands: tuple[Stand, ...],
    lamps: tuple[PlacedLamp, ...],
    heights_cm: tuple[float, ...],
) -> Array:
    """Return maps of lamps of one unit of flux together, shape (heights, points).

    Kept: they stay as they are when targets, hours, prices or the lamps' claims change.
    """
    table = response_table(box, grid, lamps[0].beam, stands)
    at = np.array(heights_cm)
    result: Array = np.sum([table.irradiance(lamp, at) for lamp in lamps], axis=0)
    return result


@lru_cache(maxsize=KEPT_RANKS)
def estimated(place: StagePlace, candidate: Candidate) -> Ranked:
    """Return about the best a candidate can do; kept, so that a shelf can be asked piecewise.

    Raises
    ------
    CanopyError
        When it finds no height, saying how much headroom is missing.
    """
    box, target = place.box, place.target
    grid = even_grid(box.width_cm, box.depth_cm, CELL_CM)
    lowest, highest = place.rail_cm(candidate.frames)
    table = response_table(box, grid, candidate.plain.beam, place.stands)
    reachable = reachable_heights_cm(lowest, highest, candidate.reach.step_cm)
    reachable = np.clip(reachable, table.lowest_cm, table.highest_cm)
    if place.fixed:
        reachable = reachable[-1:]
    inside = candidate.reach.inside(reachable)
    reachable = reachable[inside] if inside.any() else reachable
    few = np.linspace(0, len(reachable) - 1, HEIGHTS).round().astype(int)
    heights = np.unique(reachable[few])
    hung = tuple(replace(lamp, ppf_umol_s=1.0, light_fraction=1.0) for lamp in candidate.placed())
    of_one = _maps_of_one(box, grid, place.stands, hung, tuple(heights.tolist()))
    maps = candidate.plain.flux_umol_s * of_one
    hours, choices = stage_hours(place)
    standing = standing_points(table.transport.points_cm, place.plots)
    space = lever_space(
        HeightStack(heights, maps, grid.area_weights()),
        candidate.dimmer,
        candidate.watts,
        hours[choices],
        losses=place.losses,
        daylight_dli=place.daylight_dli,
        standing=standing,
    )
    solution = solve(space, target, place.over_cap, place.aim, why=False)
    h, d, _ = space.nearest(solution.setting)
    floor = maps[h] * float(space.light[d])
    return _ranked(place, solution, space, grid, floor, standing, exact=False)


def exactly(place: StagePlace, candidate: Candidate) -> Ranked:
    """Return the best a candidate can do, as the bench has it.

    Raises
    ------
    CanopyError
        When it finds no height, saying how much headroom is missing.
    """
    chosen = plan_stage(candidate.problem(place))
    ready = chosen.ready
    floor = ready.ppfd(chosen.index)
    return _ranked(
        place, chosen.solution, ready.space, ready.grid, floor, ready.standing, exact=True
    )


def answered(
    place: StagePlace, candidates: Sequence[Candidate], exact: bool, ahead: bool = False
) -> list[Ranked | CanopyError]:
    """Return what each candidate does, or why it finds no height: that does not stop the others.

    ``ahead``: while all are estimated, the tents that exact answers of the best will go by are
    prepared.
    """
    ask = exactly if exact else estimated

    def answer(candidate: Candidate) -> Ranked | CanopyError:
        try:
            return ask(place, candidate)
        except CanopyError as error:
            return error

    def task(candidate: Candidate | None) -> Ranked | CanopyError | None:
        if candidate is None:
            make_ready(place, candidates)
            return None
        return answer(candidate)

    tasks = [None, *candidates] if ahead else candidates
    return [found for found in at_once(task, tasks) if found is not None]


def make_ready(place: StagePlace, candidates: Sequence[Candidate]) -> None:
    """Prepare the tents exact answers of some candidates would go by, if any finds a height."""
    rails = [(candidate, *place.rail_cm(candidate.frames)) for candidate in candidates]
    able = [(candidate, lowest) for candidate, lowest, highest in rails if lowest <= highest]
    if not able:
        return
    tent = stage_tent(place.box, place.stands)
    lowest_lamps = (lamp for candidate, lowest_cm in able for lamp in candidate.placed(lowest_cm))
    if any(tent.low(lamp) > 0 for lamp in lowest_lamps):
        _ = tent.closer
    _ = tent.screens
    _ = stage_tent(box_before_growth(place.box, place.growth), place.stands).screens


def _ranked(
    place: StagePlace,
    solution: Solution,
    space: LeverSpace,
    grid: Grid,
    floor: Array,
    standing: Mask,
    exact: bool,
) -> Ranked:
    outcome, hours = solution.outcome, solution.setting.hours
    h = space.nearest(solution.setting)[0]
    low, high = space.lamp_band(place.target, hours)
    weights = grid.area_weights()
    here, share = floor[standing], weights[standing]
    area_mean = float(floor @ weights)
    return Ranked(
        solution=solution,
        exact=exact,
        grid=grid,
        floor=floor,
        inside_share=share_inside(here, share / share.sum(), low, high),
        reserve=float(space.mean[h, -1]) / outcome.mean if outcome.mean else 0.0,
        lamp_mol_per_day=float(space.lamp_dli(area_mean, hours)) * place.box.canopy_area_m2,
        ppfd_low=low,
        ppfd_high=high,
    )
