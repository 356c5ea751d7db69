"""Heights and dials as a table: what the bench says at each, and facts of the trade."""

import csv
import io

import numpy as np
import pytest

from canopy.crop.targets import StageTarget
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.formats.positionstable import positions_table
from canopy.light.lightmap import capture_bound
from canopy.light.sources import Bars, PlacedLamp
from canopy.plan.bench import bench
from canopy.plan.positions import dials_apart, heights_apart, position
from canopy.plan.problem import HungLamp, StageProblem

FULL = DialRow(100, 1, 1)


@pytest.fixture
def problem(tent):
    return StageProblem(
        box=tent,
        lamps=(HungLamp(PlacedLamp(Bars.even(6, 76, 92), 624, 60, 45, 0), watts=240),),
        lowest_cm=10,
        highest_cm=80,
        dimmer=Dimmer("continuous", (DialRow(0, 0.02, 0), DialRow(10, 0.09, 0.11), FULL)),
        timer_step_min=15,
        target=StageTarget(10, 20, 800, 10, 12),
    )


@pytest.fixture
def asked(problem):
    ready = bench(problem)
    return problem, ready, ready.space.nearest(ready.solution.setting)


def test_each_is_what_the_bench_has_there(asked):
    problem, ready, index = asked
    for row in heights_apart(*asked, step_cm=5):
        h = int(np.abs(ready.space.heights_cm - row.height_cm).argmin())
        ppfd = ready.ppfd((h, *index[1:]))[ready.standing]
        assert row.mean == pytest.approx(ppfd.mean())
        assert row.dimmest == pytest.approx(ppfd.min())
        assert row.brightest >= ppfd.max() * (1 - 1e-12)
        outcome = ready.space.outcome((h, *index[1:]))
        assert (row.dli, row.watts) == (outcome.dli, outcome.watts)
        # the definition: light on the canopy a second, over joules a second
        assert row.efficacy_umol_j == pytest.approx(
            row.captured
            * sum(hung.lamp.ppf_umol_s for hung in problem.lamps)
            * float(ready.space.light[index[1]])
            / row.watts
        )
        assert 0 < row.captured < capture_bound(problem.box.canopy_reflectance)


def test_higher_is_dimmer_and_more_even(asked):
    """What growers trade: common practice, no source."""
    rows = heights_apart(*asked, step_cm=10)
    assert [row.mean for row in rows] == sorted((row.mean for row in rows), reverse=True)
    assert rows[-1].min_over_max > rows[0].min_over_max


def test_heights_lie_a_step_apart_with_the_one_in_use_among_them(asked):
    _, ready, index = asked
    heights = [row.height_cm for row in heights_apart(*asked, step_cm=5)]
    at = float(ready.space.heights_cm[index[0]])
    assert at in heights
    assert all(abs(h / 5 - round(h / 5)) < 1e-6 for h in heights if h != at)
    # one longer than the rail leaves the one in use
    assert [row.height_cm for row in heights_apart(*asked, step_cm=1000)] == [at]


def test_down_the_dial_light_and_watts_fall_together(asked):
    rows = dials_apart(*asked)
    for name in ("dial_pct", "watts", "mean", "brightest", "dli"):
        values = [getattr(row, name) for row in rows]
        assert values == sorted(values)
    # evenness is the lamps' place, not their dial's
    assert len({round(row.min_over_mean, 9) for row in rows if row.mean > 0}) == 1


def test_a_dark_position_has_no_ratios(asked):
    problem, ready, index = asked
    dark = position(problem, ready, (index[0], 0, index[2]))
    assert (dark.dial_pct, dark.mean) == (0, 0)
    assert (dark.min_over_mean, dark.captured) == (None, None)


@pytest.mark.parametrize(("unit", "scale"), [("cm", 1.0), ("in", 2.54)])
def test_the_table_speaks_in_one_unit(asked, unit, scale):
    rows = heights_apart(*asked, step_cm=5)
    read = list(csv.DictReader(io.StringIO(positions_table(rows, unit))))
    for row, line in zip(rows, read):
        assert float(line[f"height_{unit}"]) * scale == pytest.approx(row.height_cm, abs=0.06)
        assert float(line["mean"]) == pytest.approx(row.mean, rel=1e-3)
    other = {"cm": "in", "in": "cm"}[unit]
    assert f"height_{other}" not in read[0]
