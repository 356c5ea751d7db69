"""Which of many lamps would do a stage's job in one tent: ranked by what each does there.

Each lamp is put over the middle at a few heights by the tent's response table; bodies, light
files and maps are not counted here, the bench has them. PPFD in umol m-2 s-1, lengths in cm.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.light.beam import Beam
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import HeightStack
from canopy.light.lightmap import Grid, canopy_flux_umol_s, even_grid, share_inside
from canopy.light.response import Response, response
from canopy.light.sources import PlacedLamp
from canopy.plan.bench import prepared_tent
from canopy.plan.levers import lever_space
from canopy.plan.solver import Solution, solve
from canopy.power.hanging import Hang, check_inside, fitting_turn_deg
from canopy.quantities import ppfd_for_dli

Array = NDArray[np.float64]

HEIGHTS = 12
LOWEST_CM = 8.0
KEPT_TABLES = 16
KEPT_RANKS = 1024


@dataclass(frozen=True)
class Candidate:
    """A lamp that might be bought, one or several side by side.

    ``lamp`` is one of them at full light, its place and height of no account; ``watts`` and
    ``weight_kg`` are of one.
    """

    lamp: PlacedLamp
    dimmer: Dimmer
    watts: float
    weight_kg: float
    frame_x_cm: float
    frame_y_cm: float
    body_cm: float
    closest_cm: float
    count: int = 1


@dataclass(frozen=True)
class Room:
    """What the tent gives: the box above the tops, headroom, and what hooks and circuit bear."""

    box: Enclosure
    room_cm: float
    target: StageTarget
    step_min: int
    bears_kg: float | None = None
    circuit_w: float | None = None


@dataclass(frozen=True)
class Ranked:
    """A candidate in this tent; ``refused`` says why it is out, and then nothing else counts.

    ``reserve`` is the mean at full power at the chosen height over the mean chosen: what is left
    for ageing and hungrier plants. ``floor`` has shape (points,) at the chosen setting.
    """

    refused: str
    solution: Solution | None = None
    inside_share: float = 0.0
    reserve: float = 0.0
    canopy_umol_s: float = 0.0
    floor: Array | None = None

    @property
    def meets(self) -> bool:
        """Whether every target is met."""
        return self.solution is not None and self.solution.fits


def hungriest(targets: list[StageTarget]) -> int:
    """Return the place of the stage that asks for the most PPFD: its band over its longest day."""
    asked = [ppfd_for_dli(t.dli_middle, t.longest_day_h) for t in targets]
    return int(np.argmax(asked))


def places(candidate: Candidate, box: Enclosure) -> list[tuple[float, float, float]]:
    """Return where the lamps of a candidate hang: x, y and turn of each.

    One in the middle, turned to fit; several side by side along the longer side.

    Raises
    ------
    CanopyError
        When they do not go in.
    """
    turn = fitting_turn_deg(candidate.frame_x_cm, candidate.frame_y_cm, box.width_cm, box.depth_cm)
    along = box.width_cm >= box.depth_cm
    found = []
    for k in range(candidate.count):
        share = (k + 0.5) / candidate.count
        x, y = (share, 0.5) if along else (0.5, share)
        found.append((x * box.width_cm, y * box.depth_cm, turn))
    if candidate.count > 1:
        other = 90.0 - turn
        for way in (turn, other):
            hangs = [
                Hang(
                    candidate.frame_x_cm,
                    candidate.frame_y_cm,
                    candidate.body_cm,
                    candidate.closest_cm,
                    x,
                    y,
                    way,
                )
                for x, y, _ in found
            ]
            sides = np.ptp(hangs[0].corners_cm(), axis=0)
            pitch = (box.width_cm if along else box.depth_cm) / candidate.count
            try:
                check_inside(hangs, box.width_cm, box.depth_cm)
            except CanopyError:
                continue
            if sides[0 if along else 1] <= pitch + 0.05:
                return [(x, y, way) for x, y, _ in found]
        raise CanopyError(f"{candidate.count} of these do not go side by side here.", "count")
    return found


@lru_cache(maxsize=KEPT_TABLES)
def response_table(box: Enclosure, grid: Grid, beam: Beam) -> Response:
    """Return a tent's response for a beam; kept, the most recent first and no more than a few."""
    return response(prepared_tent(box, grid), beam, LOWEST_CM, box.height_cm - 0.5)


class Shelf:
    """One tent prepared for many lamps."""

    def __init__(self, room: Room) -> None:
        self.room = room
        self.grid: Grid = even_grid(room.box.width_cm, room.box.depth_cm, 12.0)
        self.weights = self.grid.area_weights()
        self.hours = timer_hours(room.target.hours_low, room.target.longest_day_h, room.step_min)

    def _refusal(self, candidate: Candidate) -> str:
        room, count = self.room, candidate.count
        left = room.room_cm - candidate.body_cm
        if left < candidate.closest_cm:
            return f"Needs {candidate.closest_cm - left:.0f} cm more headroom to keep its distance."
        if room.bears_kg is not None and candidate.weight_kg * count > room.bears_kg:
            return (
                f"Weighs {candidate.weight_kg * count:g} kg; the space bears {room.bears_kg:g} kg."
            )
        if room.circuit_w is not None and candidate.watts * count > room.circuit_w:
            return (
                f"Draws {candidate.watts * count:.0f} W; the circuit has {room.circuit_w:.0f} W "
                "left for it."
            )
        return ""

    def rank(self, candidate: Candidate) -> Ranked:
        """Return the best a candidate can do here."""
        try:
            where = places(candidate, self.room.box)
        except CanopyError as error:
            return Ranked(error.sentence)
        refused = self._refusal(candidate)
        if refused:
            return Ranked(refused)
        lowest = max(candidate.closest_cm, LOWEST_CM)
        highest = max(self.room.room_cm - candidate.body_cm, lowest)
        heights = np.unique(np.round(np.linspace(lowest, highest, HEIGHTS), 1))
        table = response_table(self.room.box, self.grid, candidate.lamp.beam)
        maps = np.sum(
            [
                table.irradiance(
                    replace(candidate.lamp, x_cm=x, y_cm=y, turn_deg=turn, tilt_deg=0.0), heights
                )
                for x, y, turn in where
            ],
            axis=0,
        )
        stack = HeightStack(heights, maps, self.weights)
        watts = candidate.watts * candidate.count
        space = lever_space(stack, candidate.dimmer, watts, self.hours)
        target = self.room.target
        solution = solve(space, target)
        h, d, _ = space.nearest(solution.setting)
        floor = maps[h] * float(space.light[d])
        low, high = target.ppfd_band(solution.setting.hours)
        box = self.room.box
        return Ranked(
            refused="",
            solution=solution,
            inside_share=share_inside(floor, self.weights, low, high),
            reserve=float(space.mean[h, -1] / solution.outcome.mean)
            if solution.outcome.mean
            else 0,
            canopy_umol_s=canopy_flux_umol_s(solution.outcome.mean, box.width_cm, box.depth_cm),
            floor=floor,
        )


@lru_cache(maxsize=4)
def shelf(room: Room) -> Shelf:
    """Return a tent prepared for many lamps; the last few are kept."""
    return Shelf(room)


@lru_cache(maxsize=KEPT_RANKS)
def ranked(room: Room, candidate: Candidate) -> Ranked:
    """Return the best a candidate can do; kept, so that a shelf can be asked piecewise."""
    return shelf(room).rank(candidate)
