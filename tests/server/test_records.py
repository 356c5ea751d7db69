"""A lamp's whole record over the API: listings, spectra, claims, files and tables."""

import base64
import json
from pathlib import Path

import pytest

from canopy.formats.shelftable import read_shelf_csv, read_shelf_xlsx
from tests.server.test_ownership import OUT_ONLY, SMALL_LDT

EXAMPLE = (Path(__file__).parents[2] / "docs/formats/example.fixture.json").read_text()


def body_of(lamp):
    return {k: v for k, v in lamp.items() if k not in OUT_ONLY}


def listing(grower, text, **choices):
    status, found = grower("post", "fixtures/listing", {"text": text, "choices": choices})
    assert status == 200, found
    return found, {r["field"]: r for r in found["readings"]}


def test_a_listing_is_read_with_its_words(grower):
    text = "🌱 MARRAM 200 LED 🌱\nPower: 200 W\nPPF: 560 µmol/s\nEfficacy 2.8 µmol/J\nDimmable"
    found, by_field = listing(grower, text)
    # places are counted as browsers count: the sprout takes two
    utf16 = found["text"].encode("utf-16-le")
    for field, words in (("watts", "200 W"), ("ppf_umol_s", "560 µmol/s")):
        mention = by_field[field]["mentions"][0]
        assert utf16[2 * mention["start"] : 2 * mention["end"]].decode("utf-16-le") == words
    assert found["record"]["ppf_umol_s"] == 560
    checks = {f["check"]: f["trust"] for f in found["findings"]}
    assert checks["ppf_over_watts"] == "good"
    assert by_field["dimming"]["state"] == "ask"
    assert "dial_kind" not in found["record"]


def test_an_answer_settles_what_was_asked(grower):
    text = "Marram 200, 200 W, dimmable"
    _, asked = listing(grower, text)
    kinds = [m["value"] for m in asked["dimming"]["mentions"]]
    found, settled = listing(grower, text, dimming=kinds.index("stepped"))
    assert settled["dimming"]["value"] == "stepped"
    assert found["record"]["dial_kind"] == "stepped"
    status, problem = grower("post", "fixtures/listing", {"text": text, "choices": {"dimming": 9}})
    assert (status, problem["errors"][0]["field"]) == (422, "choices.dimming")


def test_a_record_says_what_its_light_is_worth(grower):
    six = grower.named("fixtures", "Wickerlight Six")
    assert six["trust"] == "good"
    # white and deep red light: 60 to 75 lux a umol (common practice, no source)
    assert 55 < six["light"]["lux_per_umol"] < 75
    panel = grower.named("fixtures", "Ember Panel 90")
    # four red photons to a blue one
    assert panel["light"]["red_blue"] == pytest.approx(4, rel=0.02)
    checks = {f["check"] for f in panel["findings"]}
    # rated 300 W, measured 90
    assert {"measured_watts", "equivalent_watts"} <= checks


def test_a_record_keeps_details_origins_and_spectrum(grower):
    lamp = grower.named("fixtures", "Sill Strip 30")
    body = body_of(lamp) | {
        "details": {"ip": "IP20", "cord_cm": 120},
        "origins": {"watts": "measured"},
        "spectrum": {"channels": [{"share": 1, "cct_k": 6500}]},
    }
    status, kept = grower("put", f"fixtures/{lamp['id']}", body)
    assert status == 200, kept
    assert kept["details"]["cord_cm"] == 120
    assert kept["origins"] == {"watts": "measured"}
    assert kept["light"]["red_blue"] < lamp["light"]["red_blue"]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"details": {"leafy_x_cm": 120}}, "details.leafy_x_cm"),
        ({"details": {"colour": "red"}}, "details.colour"),
        ({"spectrum": {"channels": [{"share": 1}]}}, "spectrum.channels.0"),
        (
            {"spectrum": {"channels": [{"share": 1, "cct_k": 3000, "taste": 1}]}},
            "spectrum.channels.0.taste",
        ),
        ({"origins": {"watts": "guessed"}}, "origins.watts"),
        ({"ppf_umol_s": 30_000}, "ppf_umol_s"),
    ],
)
def test_a_record_that_cannot_be(grower, changes, field):
    lamp = grower.named("fixtures", "Sill Strip 30")
    status, problem = grower("put", f"fixtures/{lamp['id']}", body_of(lamp) | changes)
    assert (status, problem["errors"][0]["field"]) == (422, field)


def test_a_fixture_file_goes_in_and_out(grower):
    status, found = grower("post", "fixtures/file", {"text": EXAMPLE})
    assert status == 201, found
    assert found["ignored"] == []
    out = grower("get", f"fixtures/{found['fixture']['id']}/file")[1]
    given, again = json.loads(EXAMPLE), json.loads(out["text"])
    assert again == given
    # and with a light file in it
    odd = json.dumps(given | {"taste": "sweet"})
    assert grower("post", "fixtures/file", {"text": odd})[1]["ignored"] == ["taste"]


def test_a_light_file_travels_with_its_lamp(grower):
    lamp = grower.named("fixtures", "Tallow Board 100")
    photometry = {"text": SMALL_LDT, "unit": "umol/s/sr"}
    assert grower("put", f"fixtures/{lamp['id']}/photometry", photometry)[0] == 200
    text = grower("get", f"fixtures/{lamp['id']}/file")[1]["text"]
    status, found = grower("post", "fixtures/file", {"text": text})
    assert status == 201, found
    assert found["fixture"]["light_source"] == "photometric"
    again = grower("get", f"fixtures/{found['fixture']['id']}/file")[1]["text"]
    assert json.loads(again) == json.loads(text)


def test_a_measured_spectrum_is_attached(grower):
    lamp = grower.named("fixtures", "Sill Strip 30")
    rows = "".join(f"{nm},1\n" for nm in range(400, 801, 10))
    status, kept = grower("put", f"fixtures/{lamp['id']}/spectrum", {"text": "nm,W\n" + rows})
    assert status == 200, kept
    # equal power a nm: photons go with wavelength squared
    assert kept["light"]["far_red_share"] == pytest.approx((800**2 - 700**2) / (800**2 - 400**2))
    assert kept["origins"]["spectrum"] == "measured"
    assert grower("put", f"fixtures/{lamp['id']}/spectrum", {"text": "no table"})[0] == 422
    # given out, it reads as it was kept
    out = grower("get", f"fixtures/{lamp['id']}/spectrum")[1]["text"]
    again = grower("put", f"fixtures/{lamp['id']}/spectrum", {"text": out})[1]
    assert again["spectrum"] == kept["spectrum"]
    body = body_of(kept) | {"spectrum": None}
    assert grower("put", f"fixtures/{lamp['id']}", body)[0] == 200
    status, problem = grower("get", f"fixtures/{lamp['id']}/spectrum")
    assert (status, "not known" in problem["detail"]) == (422, True)


def encoded(text):
    return base64.b64encode(text.encode()).decode()


@pytest.mark.parametrize(("kind", "read"), [("csv", None), ("xlsx", read_shelf_xlsx)])
def test_the_shelf_goes_out_and_comes_back(grower, kind, read):
    before = grower("get", "fixtures")[1]
    out = grower("get", f"fixtures/table/{kind}")[1]
    assert out["name"] == f"shelf.{kind}"
    content = base64.b64decode(out["content"])
    table = read(content) if read else read_shelf_csv(content.decode())
    assert [r["name"] for r in table.records] == [lamp["name"] for lamp in before]
    status, result = grower("post", "fixtures/table", {"content": out["content"]})
    assert status == 200, result
    assert (result["added"], result["troubles"]) == (len(before), [])
    after = grower("get", "fixtures")[1][len(before) :]
    for old, new in zip(before, after, strict=True):
        for name in ("ppf_umol_s", "layout", "details", "spectrum", "origins", "price"):
            assert new[name] == old[name], (old["name"], name)


def test_bad_rows_keep_nothing_until_the_good_are_wanted(grower):
    out = grower("get", "fixtures/table/csv")[1]
    lines = base64.b64decode(out["content"]).decode().split("\n")
    broken = "\n".join([lines[0], lines[1], lines[2].replace("480", "many", 1)])
    count = len(grower("get", "fixtures")[1])
    status, first = grower("post", "fixtures/table", {"content": encoded(broken)})
    assert status == 200, first
    assert (first["added"], first["good"]) == (0, ["Wickerlight Six"])
    assert (first["troubles"][0]["row"], first["troubles"][0]["column"]) == (3, "watts")
    assert len(grower("get", "fixtures")[1]) == count
    kept = grower("post", "fixtures/table", {"content": encoded(broken), "keep": "good"})[1]
    assert kept["added"] == 1
    assert len(grower("get", "fixtures")[1]) == count + 1


@pytest.mark.parametrize("content", ["not base64!", encoded("a,b\n1,2"), "UEsDBA=="])
def test_tables_that_are_none(grower, content):
    assert grower("post", "fixtures/table", {"content": content})[0] == 422


def test_a_lamp_off_the_shelf_is_not_ranked_and_comes_back(grower, run):
    lamp = grower.named("fixtures", "Wickerlight Six")
    off = grower("put", f"fixtures/{lamp['id']}/shelf", {"removed": True})
    assert (off[0], off[1]["removed"]) == (200, True)

    def ranked():
        rows = grower("post", f"runs/{run['id']}/shelf", {})[1]["rows"]
        return lamp["id"] in {row["fixture_id"] for row in rows}

    assert not ranked()
    out = base64.b64decode(grower("get", "fixtures/table/csv")[1]["content"]).decode()
    assert "Wickerlight Six" not in out
    # the run it hangs in goes on
    assert grower("get", f"runs/{run['id']}/season")[0] == 200
    grower("put", f"fixtures/{lamp['id']}/shelf", {"removed": False})
    assert ranked()


def test_a_shelf_is_not_endless(grower, monkeypatch):
    monkeypatch.setattr("server.fixtures.services.MOST_FIXTURES", 15)
    assert grower("post", "fixtures/file", {"text": EXAMPLE})[0] == 201
    status, problem = grower("post", "fixtures/file", {"text": EXAMPLE})
    assert status == 422
    assert "take some off" in problem["detail"]
