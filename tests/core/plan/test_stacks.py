"""Stacks of heights for whole stages: what is left out is not missed."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.plan import stacks
from canopy.plan.problem import Growth
from canopy.plan.stacks import box_before_growth, stage_stacks, stage_tent
from tests.core.plan.test_shelf import DIAL, FULL, PLACE, candidate


@pytest.mark.parametrize("place", [PLACE, FULL])
@pytest.mark.parametrize("room_cm", [34.0, 60.0, 95.0])
def test_the_beginning_of_a_stage_leaves_out_only_what_nobody_asks(monkeypatch, place, room_cm):
    growth = Growth(10.0, 20.0, 30)
    place = replace(place, room_cm=room_cm, growth=growth)
    lamp = candidate(closest_cm=6.0)
    problem = place.problem(lamp.lamps, lamp.frames, DIAL)
    found = stage_stacks(problem)
    assert found.stack.heights_cm[-1] > room_cm - 20
    monkeypatch.setattr(stacks, "_low_from", lambda *_: True)
    whole = stage_stacks(problem)
    assert np.array_equal(found.stack.ppfd, whole.stack.ppfd)
    for name, part in whole.parts.items():
        assert np.array_equal(found.parts[name], part), name
    # low lamps there are: where the tent is low they change the light
    assert stage_tent(place.box, place.stands).low(lamp.lamps[0].lamp) > 0


def test_a_box_is_taller_before_the_plants_grow():
    assert box_before_growth(PLACE.box, Growth(10.0, 25.0, 30)).height_cm == 145
    assert box_before_growth(PLACE.box, Growth(10.0, 0.0, 30)) == PLACE.box
