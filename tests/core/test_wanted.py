"""Work is given up when nobody waits for it, and goes on for who still does."""

import threading
import time

import pytest

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.transport import prepare
from canopy.once import Once
from canopy.wanted import NotWanted, asked_by, check_wanted


def here():
    return True


def test_who_still_waits_for_the_same_gets_it_though_the_first_has_gone():
    begun, gone, calls = threading.Event(), threading.Event(), []

    def slow(value):
        calls.append(value)
        if len(calls) == 1:
            begun.set()
            gone.wait(5)
            time.sleep(0.1)
        check_wanted()
        return value * 2

    kept, found = Once(slow, 4), {}

    def first():
        with pytest.raises(NotWanted), asked_by(lambda: not gone.is_set()):
            kept(21)

    def second():
        with asked_by(here):
            found["second"] = kept(21)

    one = threading.Thread(target=first)
    one.start()
    assert begun.wait(5)
    two = threading.Thread(target=second)
    two.start()
    time.sleep(0.05)
    gone.set()
    one.join(10)
    two.join(10)
    assert found == {"second": 42}
    assert calls == [21, 21]


def test_without_anybody_named_work_goes_on():
    check_wanted()
    with pytest.raises(NotWanted), asked_by(lambda: False):
        check_wanted()
    check_wanted()


def test_a_tent_nobody_waits_for_is_not_prepared():
    box = Enclosure(100, 100, 100, (0.8,) * 4, 0.8, 0.1)
    with pytest.raises(NotWanted), asked_by(lambda: False):
        prepare(box, Grid(5, 5).points_cm(100, 100))
    with asked_by(here):
        assert prepare(box, Grid(5, 5).points_cm(100, 100)).points_cm.shape == (25, 3)
