"""What is seen on plants: causes by the run's own light, one thing tried, and what came of it."""

import uuid

import pytest
import time_machine

from tests.server.conftest import said
from tests.server.logbook.test_entries import entry
from tests.server.logbook.test_today import (  # noqa: F401 - fixtures
    as_planned,
    at_noon,
    begun,
    day_of,
    keep,
    log,
    noon,
    set_to,
)


def sign(what="bleached", part="tips", where="under the lamp", days=0, **more):
    return entry("symptom", "", days, values={"what": what, "part": part, "where": where, **more})


def causes(grower, log, key):  # noqa: F811 - a fixture
    status, found = grower("get", f"{log}/entries/{key}/causes")
    assert status == 200, found
    return found


def of(found, cause):
    return next(each for each in found["causes"] if each["cause"] == cause)


def test_bleaching_under_a_lamp_that_is_too_bright_is_the_lights(grower, log, begun):  # noqa: F811
    as_planned(grower, log, begun)
    keep(grower, log, set_to(5, height_cm=20, dial_pct=100))
    seen = sign()
    keep(grower, log, seen)
    found = causes(grower, log, seen["key"])
    first = found["causes"][0]
    assert first["cause"] in ("much_light", "near_lamp", "sudden_light")
    assert found["note"]["code"] == "seen.limit"
    # by this run's own figures
    much = of(found, "much_light")
    codes = {line["code"] for line in much["speaks_for"]}
    assert {"seen.dli_above", "seen.peak_above", "seen.under_lamp"} <= codes
    figures = next(x["figures"] for x in much["speaks_for"] if x["code"] == "seen.dli_above")
    light = grower("get", f"{log}/light")[1]["days"]
    assert figures["dli"] == pytest.approx(sum(d["dli"] for d in light[-4:-1]) / 3)
    # done as it says there is less light, and the band is kept to
    to_set = much["change"]["to_set"]
    before = day_of(grower, begun["id"])["stands"]["dli"]
    keep(grower, log, set_to(0, height_cm=to_set["height_cm"], dial_pct=to_set["dial_pct"]))
    assert day_of(grower, begun["id"])["stands"]["dli"] < before
    # what is no light is named too, without a dose of anything
    names = said([each["name"] for each in found["causes"]])
    assert {"Heat", "Pests or disease"} <= set(names)


@pytest.mark.parametrize("height", [16, 25, 45, 70])
@pytest.mark.parametrize("dial", [20, 45, 70, 100])
def test_what_is_tried_does_what_its_sentence_says(grower, log, begun, height, dial):  # noqa: F811
    as_planned(grower, log, begun)
    seen = sign()
    keep(grower, log, set_to(5, height_cm=height, dial_pct=dial), seen)
    now = day_of(grower, begun["id"])["stands"]["dli"]
    for each in causes(grower, log, seen["key"])["causes"]:
        change = each["change"]
        said_first = change["lines"][0]
        if change["to_set"] is None or "share" not in said_first["figures"]:
            continue
        to_set = {k: change["to_set"][k] for k in ("height_cm", "dial_pct")}
        keep(grower, log, set_to(0, **to_set))
        gives = day_of(grower, begun["id"])["stands"]["dli"] / now
        assert gives == pytest.approx(said_first["figures"]["share"], abs=0.02)
        assert (gives < 1) == (said_first["code"] == "seen.do_less")
        keep(grower, log, set_to(0, height_cm=height, dial_pct=dial))


def test_a_sign_is_judged_by_the_light_until_then(grower, log, begun):  # noqa: F811
    as_planned(grower, log, begun)
    early = sign("stretched", "stems", "", days=6)
    keep(grower, log, early, set_to(4, dial_pct=100, height_cm=15))
    found = of(causes(grower, log, early["key"]), "little_light")
    # the light was turned up only afterwards
    assert "seen.dli_above" not in {line["code"] for line in found["against"]}


def test_water_and_warmth_are_read_from_the_log(grower, log, begun):  # noqa: F811
    seen = sign("wilted", "leaves", "everywhere", many="all", since_days=2)
    keep(
        grower,
        log,
        entry("water", "watered", 6),
        entry("water", "fed a little", 20) | {"at": at_noon(9).isoformat()},
        entry("temperature", "", 1, values={"celsius": 33}),
        seen,
    )
    found = causes(grower, log, seen["key"])
    assert found["causes"][0]["cause"] in ("water", "heat")
    assert of(found, "water")["speaks_for"][-1]["figures"]["days"] == 6
    assert "seen.hot" in {line["code"] for line in of(found, "heat")["speaks_for"]}
    # with nothing known of the lamp there is nothing to set
    assert of(found, "heat")["change"]["to_set"] is None
    assert found["how"]["code"] == "seen.try_other"


def test_what_came_of_a_try_is_asked_and_weighs_when_the_sign_shows_again(grower, log, begun):  # noqa: F811
    as_planned(grower, log, begun)
    seen = sign("curled", "upper leaves", "")
    keep(grower, log, seen)
    plain = of(causes(grower, log, seen["key"]), "heat")["share"]
    tried = entry("try", "more air", values={"of": seen["key"], "cause": "heat"})
    keep(grower, log, tried)
    with time_machine.travel(at_noon(-3), tick=True):
        due = next(due for due in day_of(grower, begun["id"])["due"] if due["kind"] == "seen")
        assert due["of"] == seen["key"]
        keep(grower, log, entry("outcome", "", values={"of": due["of"], "what": "better"}))
        assert "seen" not in [due["kind"] for due in day_of(grower, begun["id"])["due"]]
        again = sign("curled", "upper leaves", "")
        keep(grower, log, again)
        heat = of(causes(grower, log, again["key"]), "heat")
        assert heat["share"] > plain
        assert "seen.helped" in {line["code"] for line in heat["speaks_for"]}


@pytest.mark.parametrize(
    ("kind", "values"),
    [
        ("try", {"cause": "heat"}),
        ("try", {"of": "x"}),
        ("try", {"of": "x", "cause": "moonlight"}),
        ("outcome", {"of": "x", "what": "perhaps"}),
        ("outcome", {"what": "better"}),
        ("symptom", {"what": "pale", "many": "seven"}),
        ("symptom", {"what": "pale", "since_days": 900}),
    ],
)
def test_what_says_nothing_is_refused(grower, log, kind, values):  # noqa: F811
    status, _ = grower("post", f"{log}/entries", {"entries": [entry(kind, "", values=values)]})
    assert status == 422


def test_of_no_sign_and_of_no_one_elses_there_are_no_causes(grower, stranger, log):  # noqa: F811
    note, seen = entry(), sign()
    keep(grower, log, note, seen)
    assert grower("get", f"{log}/entries/{note['key']}/causes")[0] == 404
    assert grower("get", f"{log}/entries/{uuid.uuid4()}/causes")[0] == 404
    assert stranger("get", f"{log}/entries/{seen['key']}/causes")[0] == 404
