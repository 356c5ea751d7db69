"""The sums corner, by the worked figures of the trade."""

import pytest

from tests.server.conftest import fields, said


@pytest.fixture
def ask(grower):
    def ask(kind, lamp=None, **figures):
        asked = {"kind": kind, **figures}
        if lamp is not None:
            asked["fixture_id"] = grower.named("fixtures", lamp)["id"]
        return grower("post", "sums", {"asked": asked})

    return ask


@pytest.mark.parametrize(
    ("kind", "given", "figures", "words"),
    [
        # common practice, no source: 250 umol for 14 h is 12.6, not the 16.2 of the 18 h row
        ("dli", {"ppfd": 250, "hours": 14}, {"dli": 12.6}, "250 µmol × 14 h × 0.0036 = 12.6"),
        ("dli", {"ppfd": 250, "hours": 18}, {"dli": 16.2}, "16.2 mol"),
        # common practice, no source: 263 umol need 12.67 h for 12 mol; 13 h give 12.31
        (
            "hours",
            {"dli": 12, "ppfd": 263, "step_min": 60},
            {"hours": 12.67, "timer_hours": 13, "dli": 12.31},
            "12 mol ÷ (263 µmol × 0.0036) = 12.67 h",
        ),
        ("hours", {"dli": 40, "ppfd": 100}, {"timer_hours": 24, "dli": 8.64}, "no day is long"),
        # the PPFD band of a chrysanthemum's 10 to 20 mol at 12 h: 231 to 463
        ("ppfd", {"dli": 10, "hours": 12}, {"ppfd": 231.48}, "= 231 µmol"),
        ("ppfd", {"dli": 20, "hours": 12}, {"ppfd": 462.96}, "= 463 µmol"),
        # common practice, no source: 66 W, 13 h, 45 d are 585 h and 38.61 kWh; at 0.085 a kWh
        # 3.28, over nine plants 0.36 each
        (
            "cost",
            {"watts": 66, "hours": 13, "days": 45, "per_kwh": 0.085, "plants": 9},
            {"hours": 585, "kwh": 38.61, "cost": 3.28, "each": 0.36},
            "38.61 kWh × 0.085 = 3.28",
        ),
        # NIST SP 811: 3.412 BTU/h a watt
        (
            "cost",
            {"watts": 630, "hours": 12, "days": 1, "per_kwh": 0.3, "plants": 1},
            {"btu_h": 2149.6},
            "ends as heat in the room: 630 W",
        ),
        # exact: 2.54 cm an inch, 12 of them a foot; 43 umol/s a square foot are 460 a square metre
        (
            "measures",
            {"cm": 45.72, "per_m2": 460},
            {"inches": 18, "per_ft2": 42.74},
            "45.72 centimetres ÷ 2.54 = 18 inches",
        ),
    ],
)
def test_worked_figures(ask, kind, given, figures, words):
    status, found = ask(kind, **given)
    assert status == 200, found
    for name, value in figures.items():
        assert found["figures"][name] == pytest.approx(value, abs=0.006 * max(value, 1)), name
    assert any(words in sentence for sentence in said(found["formula"]))


def test_sums_that_a_lamp_decides(ask):
    light = ask("dial", lamp="Wickerlight Six", dial_pct=50)[1]["figures"]
    # as its table says: 44 % of 240 W and 48 % of 624 umol/s
    assert light["watts"] == pytest.approx(0.44 * 240)
    assert light["ppf_umol_s"] == pytest.approx(0.48 * 624)
    # from memory of Thimijan & Heins (1983): sodium about 82 lux a umol, cool white tubes 74
    for lamp, factor in (("Kiln Sodium 250", 82), ("Twin Tube 54", 74)):
        lux = ask("lux", lamp=lamp, ppfd=100)[1]["figures"]["lux"]
        assert lux == pytest.approx(100 * factor, rel=0.06)
        back = ask("from_lux", lamp=lamp, lux=lux)[1]["figures"]["ppfd"]
        assert back == pytest.approx(100)


@pytest.mark.parametrize(
    ("kind", "given", "field"),
    [
        ("hours", {"dli": 12, "ppfd": 0}, "ppfd"),
        ("ppfd", {"dli": 12, "hours": 0}, "hours"),
        ("dli", {"ppfd": 250, "hours": 25}, "asked.dli.hours"),
        ("cost", {"watts": 60, "hours": 12, "days": 1, "per_kwh": 1, "plants": 0}, "plants"),
        ("sorcery", {}, "asked"),
    ],
)
def test_sums_that_cannot_be(ask, kind, given, field):
    status, refusal = ask(kind, **given)
    assert status == 422
    assert field.split(".")[-1] in str(fields(refusal))


def test_another_growers_lamp_is_not_there(stranger, ask, grower):
    lamp = grower.named("fixtures", "Wickerlight Six")["id"]
    asked = {"kind": "dial", "fixture_id": lamp, "dial_pct": 50}
    assert stranger("post", "sums", {"asked": asked})[0] == 404


def test_a_lamp_whose_spectrum_nobody_knows(ask, grower):
    lamp = grower.named("fixtures", "Hearth Pair")
    body = {name: lamp[name] for name in lamp if name not in ("id", "version", "removed")}
    grower("put", f"fixtures/{lamp['id']}", {**body, "spectrum": None})
    status, refusal = ask("lux", lamp="Hearth Pair", ppfd=100)
    assert (status, "is not known" in refusal["detail"]) == (422, True)


# maps typed in


def test_seventeen_readings(grower):
    # common practice, no source: 17 readings summing to 4470 have a mean of 263; 13 h give 12.3
    values = [263] * 16 + [4470 - 16 * 263]
    body = {"text": "\n".join(map(str, values)), "dli": 12, "timer_step_min": 60}
    status, found = grower("post", "sums/map", body)
    assert status == 200, found
    assert said(found["formula"]) == ["17 readings, sum 4\u202f470, mean 263: 13 h give 12.3 mol."]
    assert found["table"] == ""


def test_a_map_typed_cell_by_cell_becomes_a_lamps_light(grower):
    lamp = grower.named("fixtures", "Wickerlight Six")
    # 18 inches stay exactly 45.72 cm
    body = {
        "rows": [[400, 450, 410], [460, 520, None], [405, 455, 415]],
        "places": "inset",
        "inset_x_cm": 10,
        "inset_y_cm": 5,
        "width_cm": 120,
        "depth_cm": 90,
        "distance_cm": 45.72,
        "dial_pct": 75,
    }
    found = grower("post", "sums/map", body)[1]
    assert (found["x_cm"], found["y_cm"]) == ([10, 60, 110], [85, 45, 5])
    assert found["count"] == 8
    assert "45.72,410.0,75.0" in found["table"]
    kept = {
        "name": "Typed",
        "text": found["table"],
        "origin": "own",
        "width_cm": 120,
        "depth_cm": 90,
        "lining": "silver",
    }
    status, lamp = grower("post", f"fixtures/{lamp['id']}/maps", kept)
    assert status == 201, lamp
    agreement = lamp["maps"][-1]["agreement"]
    assert [(at["height_cm"], at["readings"]) for at in agreement] == [(45.72, 8)]


def test_a_dark_map_and_one_that_cannot_be(grower):
    found = grower("post", "sums/map", {"rows": [[0, 0]]})[1]
    assert said(found["formula"]) == [
        "2 readings, sum 0, mean 0: no day is long enough for 12 mol."
    ]
    assert found["statistics"]["min_over_max"] is None
    for body, words in (
        ({"rows": [[None]]}, "no readings yet"),
        ({"text": "12\tmuch"}, "Row 1, column 2"),
        ({"rows": [[1, 2]], "places": "inset", "inset_x_cm": 60}, "smaller inset"),
        ({"rows": [[1] * 101]}, ""),
    ):
        status, refusal = grower("post", "sums/map", body)
        assert (status, words in refusal["detail"]) == (422, True)
