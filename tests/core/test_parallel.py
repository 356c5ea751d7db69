"""Several at once, in order, and what goes wrong is told."""

import threading
import time

import pytest

from canopy import parallel
from canopy.parallel import at_once


@pytest.mark.parametrize("cores", [1, 2, 64])
def test_results_come_in_the_order_of_what_was_given(monkeypatch, cores):
    monkeypatch.setattr(parallel.os, "cpu_count", lambda: cores)
    assert at_once(lambda x: x * x, range(9)) == [x * x for x in range(9)]
    assert at_once(str, []) == []


def test_never_more_threads_than_allowed(monkeypatch):
    monkeypatch.setattr(parallel.os, "cpu_count", lambda: 64)
    seen = at_once(lambda _: threading.get_ident(), range(50))
    assert len(set(seen)) <= parallel.MOST_THREADS


def test_an_error_of_one_is_raised():
    with pytest.raises(ZeroDivisionError):
        at_once(lambda x: 1 / x, [2, 1, 0])


def test_work_within_work_takes_no_more_threads_than_there_are_cores(monkeypatch):
    monkeypatch.setattr(parallel.os, "cpu_count", lambda: 2)
    guard, now, most = threading.Lock(), [0], [0]

    def lowest(_):
        with guard:
            now[0] += 1
            most[0] = max(most[0], now[0])
        time.sleep(0.002)
        with guard:
            now[0] -= 1
        return threading.get_ident()

    def whole(times):
        return [set(at_once(lowest, range(4))) for _ in range(times)]

    _, long = at_once(whole, [1, 12])
    assert most[0] == 2
    # while both worked each kept to its own thread; then the longer one had both cores
    assert [len(threads) for threads in (long[0], long[-1])] == [1, 2]


def threads_of_four():
    """Return in how many threads four short tasks are done."""
    return len(set(at_once(lambda _: (time.sleep(0.01), threading.get_ident())[1], range(4))))


def test_who_fails_is_not_counted_any_more(monkeypatch):
    monkeypatch.setattr(parallel.os, "cpu_count", lambda: 2)

    def fails():
        with pytest.raises(ZeroDivisionError):
            at_once(lambda y: 1 / y, [1, 0, 1])

    def task(long):
        if not long:
            return 0
        fails()
        # by now the other has ended
        time.sleep(0.1)
        fails()
        return threads_of_four()

    assert at_once(task, [False, True]) == [0, 2]
    fails()
    assert threads_of_four() == 2


def test_two_who_ask_at_the_same_time_have_both_cores_each(monkeypatch):
    # neither waits behind the other: the machine shares its cores out
    monkeypatch.setattr(parallel.os, "cpu_count", lambda: 2)
    both, seen = threading.Barrier(2), []

    def ask():
        both.wait()
        seen.append(threads_of_four())

    askers = [threading.Thread(target=ask) for _ in range(2)]
    for asker in askers:
        asker.start()
    for asker in askers:
        asker.join()
    assert seen == [2, 2]
