"""Readings of several walks, put to one height and dial."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.errors import CanopyError
from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, PlacedLamp
from canopy.light.transport import prepare
from canopy.measure.learnt import Taken
from canopy.measure.reread import alike, reread

BOX = Enclosure(100, 80, 130, (0.8,) * 4, 0.8, 0.1)
LAMP = PlacedLamp(Bars.even(4, 60, 70), 500, 50, 40, 40, beam=CosineBeam(1.2))
SPOTS = ((50.0, 40.0), (8.0, 8.0), (92.0, 72.0))


def walk(height=40.0, fraction=1.0, box=BOX, lamp=LAMP, noted=BOX):
    points = np.array([[x, y, 0.0] for x, y in SPOTS])
    shown = prepare(box, points).irradiance(replace(lamp, height_cm=height)) * fraction
    rows = tuple((x, y, 0.0, height, fraction, float(v)) for (x, y), v in zip(SPOTS, shown))
    return Taken(noted, (LAMP,), (), rows, 0.05, 0.015)


def test_height_and_dial_drop_out():
    found = reread([walk(), walk(55.0), walk(32.0, 0.4)])
    assert found.misfit == pytest.approx(np.zeros(9), abs=0.01)
    assert found.walk.tolist() == [0, 0, 0, 1, 1, 1, 2, 2, 2]
    # what one walk has of its own no other shares
    assert (found.moods[:3, 3:] == 0).all()
    assert (found.moods[:3, :3] > 0).all()


def test_duller_walls_are_what_the_column_says():
    dull = replace(BOX, wall_reflectance=(0.78,) * 4)
    found = reread([walk(), walk(box=dull)])
    change = found.misfit[3:] - found.misfit[:3]
    assert change == pytest.approx(2 * found.lining[:3], rel=0.15)
    assert (found.lining < 0).all()
    # a reading in a corner loses more than one in the middle
    assert found.lining[1] < found.lining[0]


def test_a_black_tent_has_no_lining_to_go_dull():
    black = replace(BOX, wall_reflectance=(0.0,) * 4)
    assert not reread([walk(box=black, noted=black)]).lining.any()


def test_dead_thirds_take_most_on_their_own_side():
    sides = dict(reread([walk()]).parts)
    assert set(sides) == {"left", "right", "front", "back"}
    assert sides["left"][1] < sides["left"][2]
    assert sides["right"][2] < sides["right"][1]


def test_other_tents_and_moved_lamps_are_refused():
    moved = replace(walk(), lamps=(replace(LAMP, x_cm=60),))
    assert alike(walk(), walk(60.0))
    assert not alike(walk(), moved)
    for other in (moved, replace(walk(), box=replace(BOX, width_cm=120))):
        with pytest.raises(CanopyError, match="other tents or lamps"):
            reread([walk(), other])
    with pytest.raises(CanopyError, match="no walk yet"):
        reread([])
    with pytest.raises(CanopyError, match="most that are compared"):
        reread([walk()] * 150)
