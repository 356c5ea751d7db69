"""DLI, hours and PPFD are one identity."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.quantities import dli_mol, hours_for_dli, ppfd_for_dli
from tests.published.values import TIMER


def test_the_identity_is_exact():
    # 1 umol for an hour is 3600e-6 mol: SI, exact
    assert dli_mol(1000, 1) == pytest.approx(3.6, rel=1e-15)


@given(st.floats(1, 2000), st.floats(0.1, 24))
def test_hours_and_ppfd_undo_the_dli(ppfd, hours):
    dli = dli_mol(ppfd, hours)
    assert hours_for_dli(dli, ppfd) == pytest.approx(hours)
    assert ppfd_for_dli(dli, hours) == pytest.approx(ppfd)


def test_a_worked_timer():
    ppfd, dli, exact, hours, then = TIMER
    assert hours_for_dli(dli, ppfd) == pytest.approx(exact, abs=0.005)
    assert dli_mol(ppfd, hours) == pytest.approx(then, abs=0.005)


def test_the_wrong_row_of_a_chart():
    # common practice, no source: 250 umol for 14 h is 12.6, not the 16.2 of the 18 h row
    assert dli_mol(250, 14) == pytest.approx(12.6)
    assert dli_mol(250, 18) == pytest.approx(16.2)


def test_in_the_dark_no_hours_suffice():
    assert hours_for_dli(10, 0) == float("inf")
    assert ppfd_for_dli(10, 0) == float("inf")
