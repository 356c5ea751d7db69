"""What is said: one catalogue, worded alike here and in the interface."""

import ast
import json
import re
from pathlib import Path
from typing import get_args

import pytest

from canopy.crop.symptoms import CAUSES, OF_LIGHT
from canopy.errors import CanopyError
from canopy.ledger.drift import CauseCode
from canopy.ledger.due import FAILS
from canopy.plan.upkeep import REASONS
from canopy.power.circuit import Lead, Limits, check_circuit
from canopy.words import PLACE, Said, catalogue, plain, said, worded

ROOT = Path(__file__).parents[2]
# worded by hand; the interface's tests hold it to the same
EVERY_LIMIT = Limits(230, 16, 0.8, 13, 10, 8, 6, Lead(5, 1.5))
CASES = json.loads((ROOT / "tests/contracts/worded.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["code"])
def test_sentences_by_hand(case):
    what = said(case["code"], **case["figures"])
    assert (worded(what), worded(what, "in")) == (case["cm"], case["in"])


@pytest.mark.parametrize("code", catalogue())
def test_no_sentence_speaks_in_two_units(code):
    figures = {
        name: "x" if kind == "text" else 25.4 for name, kind in PLACE.findall(catalogue()[code])
    }
    in_cm, inches = (worded(Said(code, figures), unit) for unit in ("cm", "in"))
    assert not re.search(r"\b(cm|kg)\b|°C", inches)
    assert not re.search(r"\d in\b|\b(lb|BTU|ft)\b|°F", in_cm)
    assert "{" not in in_cm + inches
    # a length is never written into the sentence itself
    assert not re.search(r"\d ?(cm|in|kg|lb)\b", PLACE.sub("", catalogue()[code]))
    kinds = {kind for _, kind in PLACE.findall(catalogue()[code])}
    assert kinds <= {
        "length",
        "hang",
        "fine",
        "bare",
        "weight",
        "heat",
        "n0",
        "n1",
        "n2",
        "n3",
        "g0",
        "pct",
        "warmer",
        "text",
        "days",
    }


def test_the_code_says_what_the_catalogue_holds_and_no_more():
    used = set()
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                used |= {node.value} & catalogue().keys()
    # said by a name put together from a field's
    used |= {f"space.{word}_beyond" for word in ("step", "plot")}
    used |= {f"circuit.{strain.part}" for strain in check_circuit([], EVERY_LIMIT).strains}
    used |= {f"install.driver_{place}" for place in ("outside", "on")}
    causes = ("offset", "open_side", "dead_part")
    used |= {f"lean.{how}_{cause}" for how in ("is", "also") for cause in causes}
    used |= {f"compare.{whom}{how}" for whom in ("plan", "maker") for how in ("", "_blind")}
    used |= {f"socket.{which}{end}" for which in ("less", "more") for end in ("", "_full")}
    used |= {f"light.{where}" for where in ("below", "inside", "above")}
    whens = ("now", "late", "soon")
    used |= {f"{FAILS[reason]}_{when}" for reason in REASONS for when in whens}
    used |= {f"due.{what}_{when}" for what in ("stage", "harvest") for when in whens}
    used |= {
        f"{where}_{reason}"
        for reason in REASONS
        for where in ("due.stuck", "away.stops", "today.stays")
    }
    used |= {f"drift.{what}_{code}" for code in get_args(CauseCode) for what in ("cause", "do")}
    used |= {f"seen.cause_{cause}" for cause in CAUSES}
    used |= {f"seen.do_{cause}" for cause in CAUSES if cause not in OF_LIGHT}
    assert used == set(catalogue())


def test_what_is_said_takes_its_own_figures():
    for wrong in ({}, {"by_cm": 1, "more": 2}):
        with pytest.raises(KeyError, match="takes"):
            said("season.raise", **wrong)
    with pytest.raises(KeyError):
        said("nothing.of_this_name")


def test_an_error_keeps_its_code_at_another_field():
    error = CanopyError(said("hang.sticks_out", lamp=1, by_cm=3.0, side="back"), "lamps.0")
    moved = error.at("lamps.0.x_cm")
    assert (moved.said, moved.field) == (error.said, "lamps.0.x_cm")
    assert moved.sentence == "Lamp 1 sticks out 3 cm at the back side; move or turn it."
    assert CanopyError("No figures in it.").said == plain("No figures in it.")


def test_no_refusal_writes_centimetres_by_itself():
    """Where a refusal holds a length it is said by code, so that it can be told in inches."""
    found = []
    for path in (ROOT / "src").rglob("*.py"):
        # scene files and map tables are in cm whoever reads them
        if path.name in ("scene.py", "layout.py", "maptable.py", "words.py"):
            continue
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.JoinedStr):
                text = "".join(p.value for p in node.values if isinstance(p, ast.Constant))
                if re.search(r" cm\b", text):
                    found.append((path.name, text))
    assert found == []
