"""The grower's lamps ranked in their tent, over the API."""

import pytest

from canopy.plan.shelf import answered
from server.choosing.adapters import ranking
from server.runs.demo import BOX_ROOM, HERB_SHELF
from tests.server.sent import SMALL_LDT, body_of


@pytest.fixture
def shelf(grower, run):
    def shelf(**wishes):
        status, found = grower("post", f"runs/{run['id']}/shelf", wishes)
        assert status == 200, found
        return found

    return shelf


def row(found, name, count=1):
    return next(r for r in found["rows"] if r["name"] == name and r["count"] == count)


def test_the_hungriest_stage_decides_and_those_that_do_come_first(shelf):
    found = shelf()
    # 15 mol in 12 h asks more PPFD than 13 in 18 h
    assert found["stage"] == "Short-day flowering"
    kinds = [0 if r["meets"] else 3 if r["refused"] else 2 for r in found["rows"]]
    assert kinds == sorted(kinds)
    doing = [r for r in found["rows"] if r["meets"]]
    assert [r["cost"]["total"] for r in doing] == sorted(r["cost"]["total"] for r in doing)
    assert any(r["pareto"] for r in doing)
    # those that miss a target: the more of the floor in the band, the further up
    missing = [r["inside_share"] for r in found["rows"] if not r["meets"] and not r["refused"]]
    assert missing == sorted(missing, reverse=True)
    for r in doing:
        assert found["dli_low"] <= r["outcome"]["dli"] <= found["dli_high"]
        assert r["reserve"] >= r["reserve_aged"] > 0
        values = [value for line in r["floor"] for value in line]
        assert max(values) == pytest.approx(r["outcome"]["peak"], abs=0.1)


def test_the_others_say_why_not(shelf):
    found = shelf()
    weak = row(found, "Porch Bulb 18")
    assert "stronger_lamp" in [o["change"] for o in weak["obstacles"]]
    big = row(shelf(), "Wickerlight Eight")
    assert "does not go in" in big["refused"]
    assert big["outcome"] is None


def test_a_lamp_that_cannot_be_is_never_recommended(grower, shelf):
    lamp = grower.named("fixtures", "Tallow Long 150")
    # 5.8 umol/J: a joule of 700 nm light holds 5.85, of white light under 5
    for name, change in (
        ("Miracle", {"ppf_umol_s": 580.0, "watts": 100.0, "price": 20.0}),
        (
            "Dreamt",
            {
                "ppf_umol_s": 580.0,
                "watts": 100.0,
                "price": 20.0,
                "origins": {"ppf_umol_s": "assumed"},
            },
        ),
        ("Crooked", {"price": 20.0, "details": {"efficacy_umol_j": 3.4}}),
    ):
        assert grower("post", "fixtures", body_of(lamp) | {"name": name} | change)[0] == 201
    found = shelf()
    honest = [r["cannot_be"] for r in found["rows"] if not r["refused"]]
    assert honest == sorted(honest)
    assert [r["name"] for r in found["rows"] if r["cannot_be"]] == ["Miracle", "Dreamt", "Crooked"]
    for name in ("Miracle", "Dreamt", "Crooked"):
        assert not row(found, name)["pareto"]
    # ranked with no more than 4.2 umol/J, beyond which no white lamp is believed
    assert row(found, "Miracle")["ppf_umol_s"] == pytest.approx(420)
    lamps = [{"fixture_id": row(found, n)["fixture_id"]} for n in ("Miracle", "Wickerlight Six")]
    run_id = grower("get", "runs")[1][0]["id"]
    compared = grower("post", f"runs/{run_id}/compare", {"lamps": lamps})[1]
    assert compared["cheapest"] == 1


@pytest.mark.parametrize("space", ["tent", "shelf", "sunny"])
def test_the_ranking_says_what_the_bench_says(grower, space):
    """For every lamp, in both demo spaces and in one with all a space can have."""
    where = {
        "tent": BOX_ROOM,
        "shelf": HERB_SHELF,
        "sunny": BOX_ROOM
        | {
            # steps among mirrors take long
            "lining": "white-paint",
            "daylight": {
                "kind": "measured",
                "dli": 8,
                "sunrise_min": 480,
                "sunset_min": 960,
            },
            "ramp_min": 30,
            "heat": {"mean_c": 25, "swing_c": 8, "off_above_c": 28},
            "plots": [{"x_cm": 20, "y_cm": 10, "width_cm": 80, "depth_cm": 70}],
            "stands": [{"x_cm": 0, "y_cm": 0, "width_cm": 40, "depth_cm": 40, "raise_cm": 10}],
        },
    }[space]
    crop = grower.named("crops", "Winter herbs" if space == "shelf" else "Potted chrysanthemums")
    lamps = grower("get", "fixtures")[1]
    body = {
        "space_id": grower("post", "spaces", where)[1]["id"],
        "fixture_id": grower.named("fixtures", "Sill Strip 30")["id"],
        "crop_id": crop["id"],
    }
    run = grower("post", "runs", body)[1]["id"]
    found = grower("post", f"runs/{run}/shelf", {})[1]
    assert len(found["rows"]) == len(lamps)
    for ranked in found["rows"]:
        status, put = grower("put", f"runs/{run}", body | {"fixture_id": ranked["fixture_id"]})
        if status == 422:
            assert ranked["refused"] == put["detail"]
            continue
        status, bench = grower("get", f"runs/{run}/stages/{found['stage_id']}/bench")
        if status == 422:
            assert ranked["refused"] == bench["detail"]
            continue
        assert ranked["exact"]
        for name in ("setting", "outcome", "relaxed", "obstacles"):
            assert ranked[name] == bench["solution"][name], (ranked["name"], name)
        assert ranked["meets"] == bench["solution"]["fits"]
        for name in ("inside_share", "ppfd_low", "ppfd_high"):
            assert ranked[name] == pytest.approx(bench[name]), (ranked["name"], name)
        assert ranked["floor"] == bench["floor"]["ppfd"]


def test_the_first_of_a_long_shelf_are_the_benchs_and_the_others_marked(grower, run, monkeypatch):
    monkeypatch.setattr("server.choosing.adapters.ranking.SHORT_SHELF", 0)
    lamp = grower.named("fixtures", "Wickerlight Six")["id"]
    grower("put", f"fixtures/{lamp}/photometry", {"text": SMALL_LDT, "unit": "umol/s/sr"})
    rows = [r for r in grower("post", f"runs/{run['id']}/shelf", {})[1]["rows"] if not r["refused"]]
    # one that falls behind when asked exactly stays exact
    assert all(r["exact"] for r in rows[:3])
    assert sum(not r["exact"] for r in rows) >= len(rows) - 6
    ids = [r["fixture_id"] for r in rows]
    part = grower("post", f"runs/{run['id']}/shelf", {"fixture_ids": ids, "in_part": True})[1]
    assert not any(r["exact"] for r in part["rows"])


def test_an_estimate_draws_what_the_bench_has_the_lamps_draw(grower, run, shelf, monkeypatch):
    lamp = grower.named("fixtures", "Wickerlight Six")["id"]
    grower("put", f"fixtures/{lamp}/photometry", {"text": SMALL_LDT, "unit": "umol/s/sr"})
    seen = []

    def spied(place, candidates, *how):
        seen.extend(candidates)
        return answered(place, candidates, *how)

    monkeypatch.setattr(ranking, "answered", spied)
    monkeypatch.setattr(ranking, "SHORT_SHELF", 99)
    shelf(counts=[1, 2])
    hung = [candidate for candidate in seen if candidate.lamps]
    assert len(hung) > 10
    for candidate in hung:
        assert candidate.watts == pytest.approx(sum(each.watts for each in candidate.lamps))
        at = [(each.lamp.x_cm, each.lamp.y_cm, each.lamp.turn_deg) for each in candidate.lamps]
        assert at == [(one.x_cm, one.y_cm, one.turn_deg) for one in candidate.placed()]


def test_costs_follow_the_tariff_and_the_years(shelf):
    one, three = row(shelf(years=1), "Wickerlight Six"), row(shelf(years=3), "Wickerlight Six")
    kwh = three["outcome"]["kwh_per_day"] * 365 * 3
    assert three["cost"]["kwh"] == pytest.approx(kwh)
    assert three["cost"]["energy"] == pytest.approx(kwh * BOX_ROOM["tariff_per_kwh"])
    assert three["cost"]["total"] == pytest.approx(
        three["cost"]["purchase"] + three["cost"]["energy"] + three["cost"]["replacement"]
    )
    assert one["cost"]["energy"] == pytest.approx(three["cost"]["energy"] / 3)
    assert one["reserve_aged"] > three["reserve_aged"]


def test_every_target_is_met_new_and_at_the_end_of_the_years(shelf):
    new, old = shelf(years=1), shelf(years=40)
    for found in (new, old):
        for r in found["rows"]:
            if r["outcome"] is not None:
                assert r["dli_aged"] <= r["outcome"]["dli"] + 1e-9
                # the same light, or all there is of it: nothing comes besides in this tent
                all_of_it = r["outcome"]["dli"] * min(r["reserve_aged"], 1)
                assert r["dli_aged"] == pytest.approx(all_of_it)
            if r["meets"]:
                assert r["dli_aged"] >= found["dli_low"] * (1 - 1e-6)
    # one that does new and not after forty years is not said to, nor put before those that do
    names = {(r["name"], r["count"]) for r in new["rows"] if r["meets"]}
    failing = [r for r in old["rows"] if (r["name"], r["count"]) in names and not r["meets"]]
    assert failing
    assert all(not r["obstacles"] and r["dli_aged"] < old["dli_low"] for r in failing)
    first = next(i for i, r in enumerate(old["rows"]) if not r["meets"])
    assert not any(r["meets"] for r in old["rows"][first:])


def test_limits_keep_lamps_out_with_a_sentence(shelf):
    limited = shelf(budget=150, circuit_w=120, bears_kg=3)
    assert "over the budget of 150" in row(limited, "Wickerlight Six")["refused"]
    sentences = " ".join(r["refused"] for r in limited["rows"])
    assert "the circuit has 120 W" in sentences or "bears 3 kg" in sentences
    assert not row(shelf(), "Wickerlight Six")["refused"]
    dimmed = shelf(has_dial=True)
    assert "no dial" in row(dimmed, "Kiln Sodium 250")["refused"]
    assert not row(dimmed, "Wickerlight Six")["refused"]


def test_several_of_one_lamp(shelf):
    found = shelf(counts=[1, 2])
    one, two = row(found, "Tallow Board 100"), row(found, "Tallow Board 100", 2)
    assert two["cost"]["purchase"] == 2 * one["cost"]["purchase"]
    assert two["outcome"]["evenness"] > one["outcome"]["evenness"]


@pytest.mark.parametrize(
    ("wishes", "field"),
    [
        ({"counts": []}, "counts"),
        ({"years": 0}, "years"),
        ({"budget": -1}, "budget"),
        ({"counts": [9]}, "counts.0"),
    ],
)
def test_wishes_that_cannot_be(grower, run, wishes, field):
    status, problem = grower("post", f"runs/{run['id']}/shelf", wishes)
    assert (status, problem["errors"][0]["field"]) == (422, field)


def test_a_lamp_priced_in_other_money_is_ranked_without_its_price(grower, run, shelf):
    lamp = grower.named("fixtures", "Wickerlight Six")
    for currency, known in (("kr", False), ("€", True), ("", True)):
        body = body_of(lamp) | {"price": 310, "price_currency": currency}
        assert grower("put", f"fixtures/{lamp['id']}", body)[0] == 200
        found = shelf()
        mine = row(found, "Wickerlight Six")
        assert found["currency"] == "€"
        assert (mine["purchase"] is not None, mine["cost"] is not None) == (known, known)
        assert mine["price_currency"] == ("" if known else "kr")
        # it does its job all the same
        assert mine["meets"]
        assert mine["pareto"] <= known


def test_a_price_in_other_money_is_compared_by_the_growers_rate(grower, run):
    """By hand: 150 $ at 0.9 € are 135 €; without a rate it is not compared."""
    lamp = grower.named("fixtures", "Tallow Long 150")
    body = body_of(lamp) | {"price": 150, "price_currency": "$"}
    assert grower("put", f"fixtures/{lamp['id']}", body)[0] == 200
    asked = {"fixture_ids": [lamp["id"]]}

    def row():
        status, shelf = grower("post", f"runs/{run['id']}/shelf", asked)
        assert status == 200, shelf
        return shelf["rows"][0]

    unknown = row()
    assert (unknown["purchase"], unknown["cost"], unknown["price_currency"]) == (None, None, "$")
    status, account = grower("put", "accounts/preferences", {"rates": {"$": 0.9}})
    assert (status, account["rates"]) == (200, {"$": 0.9})
    known = row()
    assert known["purchase"] == pytest.approx(135)
    assert known["cost"]["purchase"] == pytest.approx(135)
    assert known["price_currency"] == "$"
    # in money of another kind the rate says nothing any more
    assert grower("put", "accounts/preferences", {"currency": "£"})[1]["rates"] == {}


@pytest.mark.parametrize("rates", [{"$": 0}, {"$": -1}, {"": 1}, {"dollars-of-old": 1}])
def test_rates_that_cannot_be(grower, rates):
    assert grower("put", "accounts/preferences", {"rates": rates})[0] == 422
