"""The shipped crops: complete, sourced, and inside the trade's bands."""

import pytest

from canopy.crop.targets import StageTarget
from canopy.tables import table

CROPS = {row["name"]: row for row in table("crop_library")["rows"]}
FIELDS = (
    "dli_low",
    "dli_high",
    "hot_spot_cap",
    "hours_low",
    "hours_high",
    "ppfd_low",
    "ppfd_high",
    "evenness_goal",
    "response",
    "night_h",
    "unbroken_night",
)

# DLI of the stage kept to harvest or show: from memory of university extension tables
BANDS = {
    "Lettuce": (12, 17),
    "Basil": (12, 16),
    "Mixed herbs": (12, 16),
    "Microgreens": (8, 12),
    "Tomato": (20, 30),
    "Sweet pepper": (20, 30),
    "Hot pepper": (20, 30),
    "Strawberry": (17, 20),
    "Chrysanthemum": (10, 20),
    "African violet": (4, 10),
    "Moth orchid": (4, 8),
    "Seedlings": (6, 12),
}


@pytest.mark.parametrize("name", CROPS)
def test_every_stage_holds_together_and_names_its_source(name):
    crop = CROPS[name]
    assert crop["habit"] in ("carpet", "pots")
    tall = 0
    for stage in crop["stages"]:
        StageTarget(**{field: stage[field] for field in FIELDS})
        assert "from memory" in stage["provenance"] or "common practice" in stage["provenance"]
        assert tall <= stage["plant_start_cm"] <= stage["plant_end_cm"]
        tall = stage["plant_start_cm"]
        assert stage["days"] > 0


@pytest.mark.parametrize("name", BANDS)
def test_the_last_stage_lies_in_the_published_band(name):
    low, high = BANDS[name]
    last = CROPS[name]["stages"][-1]
    assert low <= last["dli_low"] < last["dli_high"] <= high


def test_unrooted_cuttings_and_short_days():
    # unrooted cuttings 4-8 mol (from memory); 12/12 for short-day flowering (common practice)
    cuttings = CROPS["Cuttings under cover"]["stages"][0]
    assert (cuttings["dli_low"], cuttings["dli_high"]) == (4, 8)
    short = [s for c in CROPS.values() for s in c["stages"] if s["response"] == "short-day"]
    assert len(short) >= 2
    assert all(s["hours_high"] <= 12 <= s["night_h"] and s["unbroken_night"] for s in short)
