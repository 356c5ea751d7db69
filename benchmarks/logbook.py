"""A long log: opened, written to, and what its tops say."""

import json
import sqlite3
import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from time import perf_counter
from typing import Any
from uuid import uuid4

from benchmarks.demo_server import URL, Session, served

Row = tuple[str, str, str]

ENTRIES, DAYS, BATCH = 20_000, 150, 200
READINGS = 1_000_000
ROUNDS = 11
TOPS_EVERY, SET_EVERY, CUT_EVERY = 40, 250, 333


def _entry(at: datetime, number: int) -> dict[str, Any]:
    """Return one entry: now and then of the tops, a setting or a power cut, else a meter's."""
    kind, values = "watts", {"watts": 110.0 + number % 7}
    if number % SET_EVERY == 0:
        height, dial = 60 - 20 * number / ENTRIES, 50 + number % 30
        kind, values = "setting", {"height_cm": height, "dial_pct": float(dial), "hours": 12.0}
    elif number % CUT_EVERY == 0:
        kind, values = "outage", {"minutes": 30.0}
    elif number % TOPS_EVERY == 0:
        kind, values = "tops", {"tops_cm": 15 + 45 * number / ENTRIES}
    return {"key": str(uuid4()), "kind": kind, "at": at.isoformat(), "values": values}


def _spent(session: Session, path: str) -> float:
    """Return the seconds an answer took."""
    start = perf_counter()
    session.get(path)
    return perf_counter() - start


def _lit(session: Session, data: Path, now: datetime) -> None:
    """Put a window beside the run's tent, and a light sensor that has long reported."""
    space = session.get("spaces")[0]
    left = ("id", "version", "removed", "rack_id", "tier", "circuit_id")
    body = {name: value for name, value in space.items() if name not in left}
    daylight = {"kind": "measured", "dli": 4.0, "sunrise_min": 480, "sunset_min": 1020}
    session.post(f"spaces/{space['id']}", {**body, "daylight": daylight}, "PUT")
    device = {"name": "Disc", "kind": "light", "space_id": space["id"]}
    token = session.post("devices", device)[0]["token"]
    reading = {"id": "1", "quantity": "ppfd", "unit": "umol/m2/s", "value": 210}
    sent = json.dumps([{**reading, "at": now.isoformat()}]).encode()
    header = {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}
    urllib.request.urlopen(urllib.request.Request(f"{URL}/api/door", sent, header)).read()
    with sqlite3.connect(data / "demo.sqlite3", timeout=60) as base:
        series = base.execute("select max(id) from devices_series").fetchone()[0]
        end, step = int(now.timestamp() * 1000), DAYS * 86_400_000 // READINGS
        rows = ((series, end - step * k, 180.0 + k % 60) for k in range(1, READINGS))
        base.executemany("insert or ignore into devices_reading values (?, ?, ?)", rows)


def lived_long(session: Session, data: Path, now: datetime) -> list[float]:
    """Let the demo's first run be 150 days old; return the seconds each batch of entries took."""
    run = session.run["id"]
    _lit(session, data, now)
    begun = now - timedelta(days=DAYS)
    session.post(f"runs/{run}/begin", {"on": begun.date().isoformat()}, "PUT")
    step = timedelta(days=DAYS - 1) / ENTRIES
    spent = []
    for first in range(0, ENTRIES, BATCH):
        numbers = range(first, first + BATCH)
        body = {"entries": [_entry(begun + timedelta(days=1) + step * k, k) for k in numbers]}
        spent.append(session.post(f"logbook/runs/{run}/entries", body)[1])
    return spent


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    with served() as data:
        session = Session()
        run, now = session.run["id"], datetime.now(UTC)
        path = f"logbook/runs/{run}/entries"
        spent = lived_long(session, data, now)
        one = [session.post(path, {"entries": [_entry(now, 1)]})[1] for _ in range(ROUNDS)]
        opened = [_spent(session, path) for _ in range(ROUNDS)]
        tops = [_spent(session, f"logbook/runs/{run}/tops") for _ in range(ROUNDS)]
        light = [_spent(session, f"logbook/runs/{run}/light") for _ in range(ROUNDS)]
        session.get("logbook/today")
        both = [_spent(session, "logbook/today") for _ in range(ROUNDS)]
        for other in session.get("runs"):
            if other["id"] != run:
                session.post(f"runs/{other['id']}/aside", {"removed": True}, "PUT")
        days = [_spent(session, "logbook/today") for _ in range(ROUNDS)]
        away = [_spent(session, f"logbook/runs/{run}/away?days_away=5") for _ in range(ROUNDS)]

    def ms(times: list[float]) -> str:
        return f"{median(times) * 1000:.0f} ms"

    return [
        ("The log opened, its newest 200 entries", ms(opened), "under 100 ms"),
        ("One entry more", ms(one), "—"),
        (f"{BATCH} entries that waited on a phone", ms(spent), "—"),
        (f"What {ENTRIES // TOPS_EVERY} tops come to", ms(tops), "—"),
        (f"The light of {DAYS} days, {ENTRIES // SET_EVERY} settings", ms(light), "under 200 ms"),
        ("Today, of this run, a window and a light sensor in its tent", ms(days), "under 100 ms"),
        ("Today, of this run and the demo's own", ms(both), "—"),
        ("Away for five days", ms(away), "—"),
    ]


if __name__ == "__main__":
    for row in measure():
        print(" | ".join(row))
