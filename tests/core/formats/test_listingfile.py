"""What a listing says on the command line, of one lamp and of two."""

import io
import json
import sys

import pytest

from canopy.cli import main
from canopy.fixture.listing import read_listing
from canopy.fixture.listing.apart import lamps_apart
from canopy.fixture.listing.offer import currency_of
from canopy.formats.listingfile import listing_document

NAMES = set(
    """name watts ppf_umol_s efficacy_umol_j size_cm weight_kg price dimming cct_k cri hang_cm volts
    power_factor peaks_nm band_nm ip life_h life_share cord_cm warranty_years bars lumens
    equivalent_watts centre_ppfd mean_ppfd ppfd map_area_cm leafy_cm fruiting_cm covers_cm
    safety""".split()  # noqa: SIM905 - as the contract has them
)
ONE = """Tallow Board 200
Power: 198 W at the wall. PPF 520 umol/s, 2.63 umol/J. 60 x 45 x 6 cm, 4.2 kg.
Dims stepless with a knob. 3000 K and 660 nm. Price: $189.00. IP65, 3 year warranty.
"""
TABLE = """Model | Sill Strip 30 | Sill Strip 60
--- | --- | ---
Power | 30 W | 60 W
PPF | 75 umol/s | 152 umol/s
Weight | 0.8 kg | 0.8 kg
Price | 39 EUR | 65 EUR
"""
LETTER = """Wreath 50
A ring of 50 W, 118 umol/s, 1.1 kg, 45 euros.

Button 40
A puck of 40 W, 90 umol/s, 1.1 kg, 38 euros.
"""


def fields(document):
    return {each["field"]: each for each in document["fields"]}


def test_one_lamp_in_the_records_own_names_and_units():
    document = listing_document(ONE)
    assert (document["format"], document["version"]) == ("idle-canopy/listing", 1)
    found = fields(document)
    assert set(found) <= NAMES
    assert "lamps" not in document
    assert found["watts"]["value"] == 198
    assert found["ppf_umol_s"]["value"] == 520
    assert found["size_cm"]["value"] == [60, 45, 6]
    assert found["price"]["value"] == [189, "$"]
    assert found["dimming"]["value"] == "continuous"
    assert found["watts"]["question"] is None
    assert found["watts"]["words"] in ONE


@pytest.mark.parametrize(
    ("text", "names", "watts"),
    [
        (TABLE, ["Sill Strip 30", "Sill Strip 60"], [30, 60]),
        (TABLE.replace(" | ", "\t"), ["Sill Strip 30", "Sill Strip 60"], [30, 60]),
        (LETTER, ["Wreath 50", "Button 40"], [50, 40]),
    ],
)
def test_of_two_lamps_what_differs_is_asked_and_both_are_read(text, names, watts):
    document = listing_document(text)
    found = fields(document)
    for field in ("name", "watts", "ppf_umol_s", "price"):
        assert found[field]["value"] is None, field
        assert "two lamps" in found[field]["question"]
    # what is of both is said
    read = [{each["field"]: each["value"] for each in lamp} for lamp in document["lamps"]]
    assert [lamp["name"] for lamp in read] == names
    assert [lamp["watts"] for lamp in read] == watts
    assert read[0]["weight_kg"] == found["weight_kg"]["value"]


def test_one_lamp_is_never_taken_for_two():
    two_in_words = ONE + "\nWhat is in the box\nThe lamp, two hangers, 198 W driver.\n"
    headed = "Technical Data\nPower 198 W\n\nLight Output\nPPF 520 umol/s of 198 W\n"
    for text in (ONE, two_in_words, headed, "Watts: 30\nPPF: 75 umol/s\n", "a\n\nb\n\nc 3 W"):
        assert lamps_apart(text) == (text,)
    # nor is any of the texts that describe one: their own labels say which do
    spec = "Specification | Value | Note\nPower | 30 W | at the wall\nPPF | 75 umol/s | measured\n"
    assert len(lamps_apart(spec)) == 1


@pytest.mark.parametrize(
    ("words", "sign"),
    [
        ("149,00 EUR", "€"),
        ("€ 149", "€"),
        ("US$ 89", "$"),
        ("80 quid", "£"),
        ("CHF 99.-", "CHF"),
        ("1 299 kr", "kr"),
        ("99", ""),
    ],
)
def test_a_price_is_in_the_money_it_names(words, sign):
    assert currency_of(words) == sign


def test_the_command_reads_a_file_and_standard_input(tmp_path, capsys, monkeypatch):
    path = tmp_path / "lamp.txt"
    path.write_text("\ufeff" + ONE, encoding="utf-8")
    assert main(["read", str(path)]) == 0
    from_file = json.loads(capsys.readouterr().out)
    monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(ONE.encode())))
    assert main(["read", "-"]) == 0
    assert json.loads(capsys.readouterr().out) == from_file
    assert fields(from_file)["watts"]["value"] == 198
    for content in (b"", b"\xff\xfe\x00", b"x" * 30_000):
        path.write_bytes(content)
        assert main(["read", str(path)]) == 2
        told = capsys.readouterr()
        assert told.out == ""
        assert told.err.count("\n") == 1
    assert main(["read", str(tmp_path / "none.txt")]) == 2


def test_what_is_asked_of_one_lamp_is_a_question_with_its_words():
    text = "Suncaster 1000W grow light, dimmable"
    found = fields(listing_document(text))
    reading = next(r for r in read_listing(text) if r.field == "watts")
    assert found["watts"] == {
        "field": "watts",
        "value": None,
        "question": reading.why,
        "words": "1000W",
    }
