"""What a stage asks for."""

import pytest

from canopy.crop.targets import StageTarget
from canopy.errors import CanopyError

GOOD = {"dli_low": 10, "dli_high": 20, "hot_spot_cap": 800, "hours_low": 10, "hours_high": 12}


def test_the_ppfd_band_follows_from_the_dli_band():
    # common practice, no source: chrysanthemum at 12 h is 231-463
    low, high = StageTarget(**GOOD).ppfd_band(12)
    assert (round(low), round(high)) == (231, 463)
    assert StageTarget(**GOOD, ppfd_low=300, ppfd_high=500).ppfd_band(12) == (300, 500)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"dli_low": 21}, "dli_low"),
        ({"hours_low": 13}, "hours_low"),
        ({"dli_low": -1}, "dli_low"),
        ({"dli_high": float("nan")}, "dli_high"),
        ({"hot_spot_cap": float("inf")}, "hot_spot_cap"),
        ({"hours_high": 25}, "hours_high"),
        ({"ppfd_low": 300}, "ppfd_high"),
        ({"ppfd_high": 300}, "ppfd_low"),
        ({"evenness_goal": 1.2}, "evenness_goal"),
    ],
)
def test_targets_that_cannot_be(change, field):
    with pytest.raises(CanopyError) as refused:
        StageTarget(**{**GOOD, **change})
    assert refused.value.field == field
