"""Boxes lined with what the shop sells."""

import pytest

from canopy.errors import CanopyError
from canopy.light.linings import lined_box, linings


def test_every_wall_has_its_own_lining_or_the_rests():
    box = lined_box(120, 90, 150, "silver", ("", "open", "black", ""), 0.1)
    rows = {row["key"]: row for row in linings()}
    silver, black = rows["silver"]["reflectance"], rows["black"]["reflectance"]
    assert box.wall_reflectance == (silver, 0.0, black, silver)
    assert box.wall_mirror_share[0] == rows["silver"]["mirror_share"]
    assert box.ceiling_reflectance == silver


def test_every_lining_lies_in_its_own_range():
    # silver 0.70-0.90, matte white paint about 0.8, black near 0: common practice, no source
    for row in linings():
        assert row["low"] <= row["reflectance"] <= row["high"] < 1
        assert row["reflectance"] * row["mirror_share"] <= 0.9


@pytest.mark.parametrize(
    ("rest", "walls", "field"),
    [("velvet", ("",) * 4, "lining"), ("silver", ("", "", "", "x"), "lining_back")],
)
def test_an_unknown_lining_is_named(rest, walls, field):
    with pytest.raises(CanopyError) as caught:
        lined_box(100, 100, 100, rest, walls, 0.1)
    assert caught.value.field == field
