"""Causes of signs: what the trade says of them, other causes always named, evidence that counts."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.crop.symptoms import (
    CAUSES,
    OF_LIGHT,
    WEIGHTS,
    Facts,
    Look,
    limit_is_near,
    weighed,
)
from canopy.formats.quickline import SYMPTOMS

BAND = {"dli_low": 10.0, "dli_high": 20.0, "cap": 800.0, "closest_cm": 15.0}
BRIGHT = Facts(dli=23.0, peak=900.0, height_cm=30.0, rise=1.0, **BAND)
DIM = Facts(dli=6.0, peak=300.0, height_cm=40.0, rise=1.0, **BAND)
EVEN = Facts(dli=15.0, peak=500.0, height_cm=40.0, rise=1.0, **BAND)


def first(look, facts):
    return weighed(look, facts)[0].cause


def share(look, facts, cause, tried=()):
    return next(each.share for each in weighed(look, facts, tried) if each.cause == cause)


@pytest.mark.parametrize(
    ("look", "facts", "cause"),
    [
        # too little: stretched stems, pale or yellow lower leaves that drop, leaning seedlings;
        # too much: bleached tips, upward curl at the top nearest the lamp. Common practice,
        # no source
        (Look("stretched", "stems"), DIM, "little_light"),
        (Look("leaning", "seedlings"), DIM, "little_light"),
        (Look("yellow", "lower leaves"), DIM, "little_light"),
        (Look("bleached", "tips", "under the lamp"), BRIGHT, "much_light"),
        (Look("curled", "upper leaves", "under the lamp"), BRIGHT, "much_light"),
        # the same signs with the light as it should be point elsewhere
        (Look("curled", "upper leaves"), EVEN, "heat"),
        (Look("yellow", "lower leaves"), EVEN, "feed"),
        (Look("wilted", "leaves", "everywhere"), EVEN, "water"),
        (Look("bleached", "tips"), Facts(dli=15.0, peak=600.0, rise=1.5, **BAND), "sudden_light"),
    ],
)
def test_the_trades_own_signs(look, facts, cause):
    assert first(look, facts) == cause


looks = st.builds(
    Look,
    st.sampled_from([*SYMPTOMS, "something else"]),
    st.sampled_from(["", "tips", "lower leaves", "stems"]),
    st.sampled_from(["", "under the lamp", "back left", "everywhere"]),
    st.none(),
    st.sampled_from(["", "one", "some", "all"]),
)
numbers = st.none() | st.floats(0, 60)
facts = st.builds(
    Facts,
    dli=numbers,
    dli_low=st.just(10.0),
    dli_high=st.just(20.0),
    peak=st.none() | st.floats(0, 2000),
    cap=st.just(800.0),
    lowest_share=st.none() | st.floats(0, 1),
    height_cm=st.none() | st.floats(0, 150),
    closest_cm=st.just(15.0),
    rise=st.none() | st.floats(0, 5),
    celsius=numbers,
    watered_days=numbers,
    fed_days=numbers,
)


@given(looks, facts)
def test_shares_are_of_a_whole_and_what_is_no_light_is_always_named(look, known):
    found = weighed(look, known)
    assert sum(each.share for each in found) == pytest.approx(1)
    named = {each.cause for each in found}
    assert {"heat", "water", "feed", "pests"} <= named
    assert [each.share for each in found] == sorted((e.share for e in found), reverse=True)
    if known.dli is None and known.peak is None and known.rise is None and known.height_cm is None:
        # nothing is said of a light nobody knows
        codes = {s.code for each in found for s in (*each.speaks_for, *each.against)}
        assert not {code for code in codes if "dli" in code or "peak" in code}


@given(looks, facts, st.floats(0.01, 40), st.floats(0, 40))
def test_more_light_never_makes_too_much_less_likely(look, known, dli, more):
    def much(dli):
        one = Facts(**{**vars(known), "dli": dli})
        found = {each.cause: each.share for each in weighed(look, one)}
        return found.get("much_light", 0.0), found.get("little_light", 0.0)

    before, after = much(dli), much(dli + more)
    # beside one another: what else there is does not change
    assert after[0] * before[1] >= before[0] * after[1] - 1e-9


def test_what_helped_before_counts_more_and_what_did_not_less():
    look = Look("bleached", "tips")
    plain = share(look, EVEN, "much_light")
    assert share(look, EVEN, "much_light", (("bleached", "much_light", "better"),)) > plain
    for outcome in ("same", "worse"):
        assert share(look, EVEN, "much_light", (("bleached", "much_light", outcome),)) < plain
    # of another sign it says nothing
    assert share(look, EVEN, "much_light", (("yellow", "much_light", "better"),)) == plain


def test_one_plant_alone_is_hardly_the_lamps():
    one = sum(e.share for e in weighed(Look("pale", many="one"), EVEN) if e.cause in OF_LIGHT)
    all_of_them = sum(
        e.share for e in weighed(Look("pale", many="all"), EVEN) if e.cause in OF_LIGHT
    )
    assert share(Look("pale", many="one"), EVEN, "pests") > share(Look("pale"), EVEN, "pests")
    assert one < sum(e.share for e in weighed(Look("pale"), EVEN) if e.cause in OF_LIGHT)
    assert all_of_them < 1


def test_a_little_bleaching_under_the_lamp_says_the_limit_is_near():
    # common practice, no source
    assert limit_is_near(Look("bleached", "tips", "under the lamp"))
    assert not limit_is_near(Look("bleached", "tips", "back left"))
    assert not limit_is_near(Look("bleached", "tips", "under the lamp", many="all"))
    assert not limit_is_near(Look("yellow", "tips", "under the lamp"))


def test_every_sign_that_can_be_written_down_has_causes():
    assert set(WEIGHTS) == set(SYMPTOMS)
    assert {cause for row in WEIGHTS.values() for cause in row} <= set(CAUSES)
