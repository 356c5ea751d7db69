"""Several at once, in order, and what goes wrong is told."""

import threading

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
