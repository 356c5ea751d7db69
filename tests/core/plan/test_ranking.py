"""The order of ranked lamps, and who is recommended; worked out by hand."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.plan.ranking import EXACT_LEAD, Merit, cheapest, edge, exact_first, in_order

GOOD = Merit(False, False, True, 100.0, 1.0, 0.9)
merits = st.builds(
    Merit,
    refused=st.booleans(),
    cannot_be=st.booleans(),
    meets=st.booleans(),
    total=st.one_of(st.none(), st.floats(1, 1000)),
    kwh_per_day=st.floats(0.1, 9),
    inside_share=st.floats(0, 1),
)


def test_cost_then_energy_then_lit_floor_then_those_that_cannot_be():
    cheap, dear = GOOD, replace(GOOD, total=200.0)
    saving = replace(GOOD, total=None, kwh_per_day=0.5)
    thirsty = replace(GOOD, total=None)
    near, far = (replace(GOOD, meets=False, inside_share=s) for s in (0.8, 0.2))
    dreamt = replace(GOOD, cannot_be=True, total=1.0)
    out = replace(GOOD, refused=True, total=1.0)
    rows = [out, dreamt, far, near, thirsty, saving, dear, cheap]
    assert in_order(rows, lambda row: row) == rows[::-1]


@given(st.lists(merits, max_size=12))
def test_none_that_cannot_be_is_recommended(rows):
    best = cheapest(rows)
    on = edge(rows)
    for i, row in enumerate(rows):
        if row.refused or row.cannot_be or not row.meets:
            assert i != best
            assert not on[i]
    if best is not None:
        assert all(
            rows[best].total <= row.total
            for row in rows
            if row.does_the_job and row.total is not None
        )
        assert on.any()


@given(st.lists(st.tuples(st.floats(1, 99), st.floats(1, 99)), max_size=12))
def test_the_first_few_are_exact_and_in_order(pairs):
    # each row: what it is estimated to cost, what it costs, and whether it was asked
    rows = [(estimate, cost, False) for estimate, cost in pairs]
    asked = []

    def exactly(rows):
        asked.extend(rows)
        return [(estimate, cost, True) for estimate, cost, _ in rows]

    found = exact_first(
        rows,
        lambda row: replace(GOOD, total=row[1] if row[2] else row[0]),
        lambda row: row[2],
        exactly,
    )
    assert sorted(row[:2] for row in found) == sorted(row[:2] for row in rows)
    shown = [row[1] if row[2] else row[0] for row in found]
    assert shown == sorted(shown)
    # as many rounds as there are to fill, each of which asks a few
    assert len(asked) <= 2 * EXACT_LEAD * EXACT_LEAD
    if len(asked) < 2 * EXACT_LEAD:
        assert all(row[2] for row in found[:EXACT_LEAD])


@pytest.mark.parametrize("rows", [[], [replace(GOOD, total=None)]])
def test_without_prices_nothing_is_cheapest(rows):
    assert cheapest(rows) is None
    assert not edge(rows).any()
