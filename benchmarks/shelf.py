"""Choosing a lamp: two hundred of them ranked in the demo tent, and listings read."""

import base64
from statistics import median

from benchmarks.demo_server import Session, served
from benchmarks.machine import median_ms
from canopy.fixture.listing import read_listing
from canopy.formats.shelftable import write_shelf_csv
from canopy.tables import table
from tests.core.fixture.listing import scores

LAMPS = 200
SHAPES = len(table("starter_fixtures")["rows"])

Row = tuple[str, str, str]


def _many_lamps() -> str:
    """Return a shelf table of lamps that all differ in light, few in shape, base64."""
    starters = table("starter_fixtures")["rows"]
    records = []
    for i in range(LAMPS):
        record = starters[i % len(starters)]
        more = 1 + i / (4 * LAMPS)
        records.append(record | {"name": f"Lamp {i}", "ppf_umol_s": record["ppf_umol_s"] * more})
    return base64.b64encode(write_shelf_csv(records).encode()).decode()


def _ranked() -> tuple[float, float, float]:
    """Return seconds to read the table, to rank in a tent never asked for, and in a known one."""
    with served():
        session = Session()
        read, reading_s = session.post("fixtures/table", {"content": _many_lamps()})
        ids = [lamp["id"] for lamp in session.get("fixtures")][-LAMPS:]
        assert read["added"] == len(ids) == LAMPS
        space = session.get("spaces")[0]
        number = space.pop("id")
        path, spent = f"runs/{session.run['id']}/shelf", []
        for ramp_min in range(6):
            # another ramp for every asking, so that no lamp's answer is a kept one
            session.post(f"spaces/{number}", space | {"ramp_min": ramp_min}, "PUT")
            spent.append(session.post(path, {"fixture_ids": ids})[1])
    return reading_s, spent[0], median(spent[1:])


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    reading_s, first_s, known_s = _ranked()
    texts = [text for _, text, _ in scores.listings("frozen-2")]
    listing_ms = median_ms(lambda: [read_listing(text) for text in texts], 5) / len(texts)
    return [
        (
            f"{LAMPS} lamps of {SHAPES} shapes ranked, request to answer",
            f"{known_s:.2f} s",
            "under 2 s",
        ),
        (
            "The same in a tent asked for the first time, with progress",
            f"{first_s:.1f} s",
            "under 2 s",
        ),
        (f"A shelf table of {LAMPS} lamps read and kept", f"{reading_s:.1f} s", "—"),
        ("One listing read", f"{listing_ms:.1f} ms", "—"),
    ]
