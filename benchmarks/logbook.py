"""A long log: opened, written to, and what its tops say."""

from datetime import UTC, datetime, timedelta
from statistics import median
from time import perf_counter
from typing import Any
from uuid import uuid4

from benchmarks.demo_server import Session, served

Row = tuple[str, str, str]

ENTRIES, DAYS, BATCH = 20_000, 150, 200
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


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    with served():
        session = Session()
        run, now = session.run["id"], datetime.now(UTC)
        begun = now - timedelta(days=DAYS)
        session.post(f"runs/{run}/begin", {"on": begun.date().isoformat()}, "PUT")
        path = f"logbook/runs/{run}/entries"
        step = timedelta(days=DAYS - 1) / ENTRIES
        spent = []
        for first in range(0, ENTRIES, BATCH):
            numbers = range(first, first + BATCH)
            body = {"entries": [_entry(begun + timedelta(days=1) + step * k, k) for k in numbers]}
            spent.append(session.post(path, body)[1])
        one = [session.post(path, {"entries": [_entry(now, 1)]})[1] for _ in range(ROUNDS)]
        opened = [_spent(session, path) for _ in range(ROUNDS)]
        tops = [_spent(session, f"logbook/runs/{run}/tops") for _ in range(ROUNDS)]
        light = [_spent(session, f"logbook/runs/{run}/light") for _ in range(ROUNDS)]
        session.get("logbook/today")
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
        ("Today, of this run and the demo's own", ms(days), "under 100 ms"),
        ("Away for five days", ms(away), "—"),
    ]


if __name__ == "__main__":
    for row in measure():
        print(" | ".join(row))
