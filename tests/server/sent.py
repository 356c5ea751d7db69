"""What growers send: bodies made of answers, and files that are good."""

import base64
from pathlib import Path
from uuid import UUID

from server.crops.schemas import CropIn
from server.fixtures.schemas import FixtureIn
from tests.core.formats.test_photometric import ldt

EXAMPLE = (Path(__file__).parents[2] / "docs/formats/example.fixture.json").read_text()
SMALL_LDT = ldt(size=(0, 0))
MAP = {
    "name": "Walk",
    "text": "x_cm,y_cm,height_cm,ppfd\n60,45,40,500\n",
    "width_cm": 120,
    "depth_cm": 90,
    "lining": "silver",
}
LEVERS = {"height_cm": 40, "dial_pct": 50, "hours": 11}
WISHES = {
    "aim": "middle",
    "started_on": "2026-03-01",
    "on_wish": "fixed",
    "on_minute": 420,
    "rise_pct": 15,
    "shift_days": 1,
}


def body_of(lamp):
    """A lamp as its form sends it."""
    return {name: value for name, value in lamp.items() if name in FixtureIn.model_fields}


def crop_body(crop, **changes):
    """A crop as its form sends it."""
    return {name: crop[name] for name in CropIn.model_fields} | changes


def run_body(run, **changes):
    """What a run is made of."""
    return {name: run[name] for name in ("space_id", "fixture_id", "crop_id")} | changes


def encoded(text):
    return base64.b64encode(text if isinstance(text, bytes) else text.encode()).decode()


FIVE = {
    "name": "five",
    "columns": 3,
    "rows": 3,
    "places": "edges",
    "edge_cm": 8,
    "lift_cm": 20,
    "dials": [],
}
ASKED = {"layout": FIVE, "height_cm": 45, "dial_pct": 70}


def entry(key, number=0, shown=400.0, at="2026-11-20T10:00:00Z", **more):
    """One entry of a walk: a spot that was read."""
    return {
        "key": str(UUID(int=key)),
        "number": number,
        "state": "read",
        "x_cm": 20.0 + 10 * number,
        "y_cm": 45.0,
        "height_cm": 45.0,
        "dial_pct": 70.0,
        "shown": shown,
        "at": at,
        **more,
    }


WALK = {"asked": ASKED, "entries": [entry(1)]}
