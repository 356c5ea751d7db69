"""What several ask for at once is worked out once."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event

import pytest

from canopy.errors import CanopyError
from canopy.once import Lazy, Once, once
from canopy.plan.shelf import response_table
from canopy.plan.stacks import _lamp_stack, prepared_tent


def test_many_who_ask_at_once_wait_for_one():
    calls, go = [], Event()

    @once(4)
    def slow(value):
        calls.append(value)
        go.wait(5)
        return value * 2

    here = Barrier(9)

    def ask():
        here.wait(5)
        return slow(21)

    with ThreadPoolExecutor(8) as hands:
        asked = [hands.submit(ask) for _ in range(8)]
        here.wait(5)
        # another is not kept waiting by it
        go_on = ThreadPoolExecutor(1).submit(lambda: (go.set(), slow(1))[1])
        assert go_on.result(5) == 2
        assert [each.result(5) for each in asked] == [42] * 8
    assert sorted(calls) == [1, 21]


def test_what_fails_is_told_to_all_and_tried_again():
    tries = []

    @once(4)
    def fails(value):
        tries.append(value)
        raise CanopyError("There is no room for it.")

    for _ in range(2):
        with pytest.raises(CanopyError, match="no room"):
            fails(1)
    assert tries == [1, 1]


def test_the_one_longest_not_asked_for_goes_first():
    worked = []

    @once(2)
    def plain(value, more=0):
        worked.append(value)
        return value + more

    for value in (1, 2, 1, 3, 1, 2):
        assert plain(value) == value
    assert worked == [1, 2, 3, 2]
    assert plain(1, more=5) == 6
    plain.cache_clear()
    plain(1)
    assert worked == [1, 2, 3, 2, 1, 1]


def test_what_takes_long_in_a_tent_is_kept_like_this():
    for costly in (prepared_tent, response_table, _lamp_stack):
        assert isinstance(costly, Once), costly


def test_what_belongs_to_one_is_worked_out_once_and_two_at_the_same_time():
    calls, together = [], Barrier(2)

    class Tent:
        @Lazy
        def cut(self):
            """Return what is costly."""
            calls.append(self)
            together.wait(5)
            return len(calls)

    one, other = Tent(), Tent()
    with ThreadPoolExecutor(8) as hands:
        # each of the two waits in there for the other
        found = list(hands.map(lambda tent: (tent, tent.cut), [one, other] * 4))
    assert sorted(map(id, calls)) == sorted(map(id, (one, other)))
    assert all(tent.cut == seen for tent, seen in found)


def test_what_fails_is_asked_again():
    class Tent:
        tries = 0

        @Lazy
        def cut(self):
            """Return what is costly."""
            self.tries += 1
            if self.tries == 1:
                raise CanopyError("Not yet.")
            return self.tries

    tent = Tent()
    with pytest.raises(CanopyError):
        _ = tent.cut
    assert (tent.cut, tent.cut) == (2, 2)
