"""Whether "how sure" holds: tents, lamps and readings drawn by chance, held against the ranges.

What is drawn (judgement, and common practice without a source): the PPF by its origin; the lining
0.77 +- 0.09, its mirror share 0.25 +- 0.14; the canopy 0.15 +- 0.055; the beam's power 1.2 +- 0.2;
the lamp off by 2 cm, 1.5 degrees and 0.7 cm in height; a guessed layout off by 6 cm; a smooth field
of 3 % over the floor and 1.5 % overall for what no model has; a sensor's calibration and 1.5 % a
reading. The plan takes 0.80, 0.3, 0.15 and 1.0, as it does for everybody.
"""

from dataclasses import dataclass, replace
from functools import cache

import numpy as np

from canopy.constants import NINETY
from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import HeightStack, height_stack
from canopy.light.lightmap import Grid
from canopy.light.measured import MeasuredMap, measured_stack
from canopy.light.sources import Bars, Board, PlacedLamp
from canopy.light.transport import prepare
from canopy.plan.doubts import (
    PPF,
    Doubts,
    Sensor,
    lamp_doubts,
    lining_doubt,
    relined_rows,
    relined_shares,
)

DRAWS = 160
TOP_CM = 130.0
GRID = Grid(9, 9)
WEIGHTS = GRID.area_weights()
HEIGHTS = np.array([25.0, 30.0, 45.0, 60.0])
AT = 2
"""The row of the height that is asked about."""

CALIBRATION: dict[Sensor, tuple[float, float]] = {
    "quantum": (-0.01, 0.02),
    "cheap": (-0.02, 0.05),
    "phone": (-0.04, 0.10),
}

MIDDLE = ((0.5, 0.5),)
FIVE = (*MIDDLE, (0, 0), (1, 0), (0, 1), (1, 1))


@dataclass(frozen=True)
class Case:
    """What is known of a lamp and its tent, and what was read of it at which heights."""

    ppf: str = "maker"
    footprint: bool = True
    lined: bool = True
    spots: tuple[tuple[float, float], ...] = ()
    heights: tuple[float, ...] = ()
    sensor: Sensor = "quantum"
    repeats: int = 1


CASES = {
    "PPF trusted, layout given": Case(ppf="measured"),
    "PPF of the maker": Case(),
    "PPF assumed, layout guessed": Case(ppf="assumed", footprint=False),
    "open walls": Case(lined=False),
    "five spots at the height": Case(spots=FIVE, heights=(45.0,)),
    "five spots, lower and higher": Case(spots=FIVE, heights=(30.0, 60.0)),
    "five spots, higher alone": Case(spots=FIVE, heights=(60.0,)),
    "five spots, lower alone": Case(spots=FIVE, heights=(25.0,)),
    "five spots, a cheap sensor": Case(spots=FIVE, heights=(30.0, 60.0), sensor="cheap"),
    "five spots, a phone": Case(spots=FIVE, heights=(30.0, 60.0), sensor="phone"),
    "the middle alone": Case(spots=MIDDLE, heights=(45.0,)),
    "the middle five times": Case(spots=MIDDLE, heights=(45.0,), repeats=5),
}


def _layout(kind: str, x_cm: float, y_cm: float) -> Bars | Board:
    return Bars.even(5, y_cm, x_cm) if kind == "bars" else Board(x_cm, y_cm)


@cache
def _assumed(side: float, depth: float, kind: str, lined: bool):
    """The tent and lamp as the plan takes them: transport, lamp, stack, its lining's doubt."""
    rho, mirror = (0.8, 0.3) if lined else (0.0, 0.0)
    box = Enclosure(side, depth, TOP_CM, (rho,) * 4, rho, 0.15, (mirror,) * 4)
    lamp = PlacedLamp(_layout(kind, 0.7 * side, 0.7 * depth), 500, side / 2, depth / 2, 45.0)
    tent = prepare(box, GRID.points_cm(side, depth))
    stack = height_stack(tent, lamp, HEIGHTS, WEIGHTS)
    shares = relined_shares(tent, lamp, stack)
    lining = lining_doubt(stack.ppfd, shares * stack.ppfd[relined_rows(len(HEIGHTS))], WEIGHTS)
    return tent, lamp, stack, lining


def _drawn(rng: np.random.Generator, middle: float, sd: float, low: float, high: float) -> float:
    return float(np.clip(rng.normal(middle, sd), low, high))


def _real(rng, case: Case, kind: str, side: float, depth: float, places: np.ndarray):
    """The light a real tent has at places, by height."""
    rho = _drawn(rng, 0.77, 0.09, 0.2, 0.95) if case.lined else 0.0
    mirror = _drawn(rng, 0.25, 0.14, 0.0, 0.9) if case.lined else 0.0
    box = Enclosure(
        side, depth, TOP_CM, (rho,) * 4, rho, _drawn(rng, 0.15, 0.055, 0.03, 0.4), (mirror,) * 4
    )
    off = 0.0 if case.footprint else _drawn(rng, 0, 6, -0.3 * depth, 0.25 * depth)
    aside = [_drawn(rng, 0, 2, -4, 4) for _ in range(2)]
    lamp = PlacedLamp(
        _layout(kind, 0.7 * side + off, 0.7 * depth + off),
        500 * float(np.exp(rng.normal(0, PPF[case.ppf]))),
        side / 2 + aside[0],
        depth / 2 + aside[1],
        45.0,
        tilt_deg=rng.normal(0, 1.5),
        beam=CosineBeam(_drawn(rng, 1.2, 0.2, 0.7, 2.0)),
    )
    tent = prepare(box, places)
    apart = np.linalg.norm(places[:, None, :2] - places[None, :, :2], axis=2)
    over = 0.03**2 * np.exp(-((apart / (0.3 * side)) ** 2)) + 0.015**2
    heights = sorted({HEIGHTS[AT], *case.heights})
    logs = np.log(heights)
    along = np.exp(-(((logs[:, None] - logs[None]) / 0.45) ** 2))
    slack = 1e-9
    field = (
        np.linalg.cholesky(along + slack * np.eye(len(heights)))
        @ rng.normal(size=(len(heights), len(places)))
        @ np.linalg.cholesky(over + slack * np.eye(len(places))).T
    )
    common = rng.normal(0, 0.7)
    return {
        height: tent.irradiance(replace(lamp, height_cm=height + common + rng.normal(0, 0.7)))
        * np.exp(row)
        for height, row in zip(heights, field)
    }


def _said(ppfd: np.ndarray) -> np.ndarray:
    return np.array([ppfd @ WEIGHTS, ppfd.max(), ppfd.min(), ppfd.min() / ppfd.mean()])


def drawn(case: Case, rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    """One tent's errors of mean, brightest, dimmest and min/mean, and the ranges told."""
    side, depth = ((60.0, 60.0), (90.0, 70.0), (120.0, 90.0))[rng.integers(3)]
    kind = ("bars", "board")[rng.integers(2)]
    tent, lamp, stack, lining = _assumed(side, depth, kind, case.lined)
    points = tent.points_cm
    spots = np.array([(8 + a * (side - 16), 8 + b * (depth - 16), 0.0) for a, b in case.spots])
    spots = np.tile(spots.reshape(-1, 3), (case.repeats, 1))
    real = _real(rng, case, kind, side, depth, np.concatenate([points, spots[: len(case.spots)]]))
    taken, answer = None, stack.ppfd[AT]
    if case.spots:
        bias, sd = CALIBRATION[case.sensor]
        by = rng.normal(bias, sd)
        rows = []
        for height in case.heights:
            light = np.tile(real[height][len(points) :], case.repeats)
            light = light * np.exp(by + 0.015 * rng.standard_t(4, len(light)))
            rows += [(x, y, height, float(p)) for (x, y, _), p in zip(spots, light)]
        taken = MeasuredMap(tent.box, side / 2, depth / 2, 0.0, tuple(rows))
        one = HeightStack(HEIGHTS[AT : AT + 1], stack.ppfd[AT : AT + 1], WEIGHTS)
        answer = measured_stack(taken, lamp, lamp, one, tent).stack.ppfd[0]
    parts = lamp_doubts(
        HEIGHTS,
        lining,
        PPF[case.ppf],
        case.footprint,
        taken,
        measured_here=True,
        sensor=case.sensor,
        open_share=0.0 if case.lined else 1.0,
    )
    doubt = Doubts(parts, np.zeros(1)).at(AT, 0)
    told = NINETY * np.array([doubt.mean, doubt.brightest, doubt.dimmest, doubt.evenness])
    return _said(real[HEIGHTS[AT]][: len(points)]) / _said(answer) - 1, told


def inside(name: str, draws: int = DRAWS, seed: int = 7) -> tuple[np.ndarray, np.ndarray]:
    """Shares of draws inside what is told, and the mean ranges, each of the four figures."""
    rng = np.random.default_rng(seed)
    both = [drawn(CASES[name], rng) for _ in range(draws)]
    errors, told = (np.array(each) for each in zip(*both))
    return (np.abs(errors) <= told).mean(axis=0), told.mean(axis=0)


def measure() -> list[tuple[str, str, str]]:
    """Rows of docs/benchmarks.md: what is known, how many lie inside, and what is wanted."""
    rows = []
    for name in CASES:
        share, told = inside(name)
        cells = [
            f"{figure} {100 * s:.0f} % inside ± {100 * t:.0f} %"
            for figure, s, t in zip(("mean", "brightest", "dimmest", "min/mean"), share, told)
        ]
        rows.append((name, ", ".join(cells), "90 ± 5 %"))
    return rows


if __name__ == "__main__":
    for row in measure():
        print(*row)
