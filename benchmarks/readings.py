"""A walk at the demo tent: each reading answered, a fit kept, and rails moved with it."""

from statistics import median
from typing import Any

from benchmarks.demo_server import Session, served

Row = tuple[str, str, str]

ROUNDS = 5
MOVES = 40
HEIGHT_CM = 60.0


def _spots(side: int) -> list[dict[str, float]]:
    """Return so many by so many spots from wall to wall of the demo tent."""
    if side == 0:
        places = [(60.0, 45.0), (8.0, 8.0), (112.0, 8.0), (112.0, 82.0), (8.0, 82.0)]
    else:
        steps = [k / (side - 1) for k in range(side)]
        places = [(8 + 104 * a, 8 + 74 * b) for b in steps for a in steps]
    return [{"x_cm": x, "y_cm": y, "height_cm": HEIGHT_CM} for x, y in places]


def _walked(session: Session, side: int) -> tuple[float, list[float]]:
    """Return the seconds of a walk's first answer, and of each reading's after it."""
    spots = _spots(side)
    path = f"readings/runs/{session.run['id']}/fits/try"
    rows: list[dict[str, Any]] = []
    spent = []
    asked = range(len(spots)) if len(spots) < 10 else range(0, len(spots), 12)
    for k in asked:
        rows = [
            spot | {"reading": 300.0 + (7 * i) % 40, "dial_pct": 90}
            for i, spot in enumerate(spots[: k + 1])
        ]
        body = {"rows": rows, "spots": spots, "height_cm": HEIGHT_CM}
        spent.append(session.post(path, body)[1])
    return spent[0], spent[1:]


def _moved_ms(session: Session) -> float:
    spent = []
    for i in range(MOVES):
        stage = session.run["stage_id"]
        body = {"stage_id": stage, "height_cm": 25 + i, "dial_pct": 70, "hours": 12}
        spent.append(session.post(f"runs/{session.run['id']}/bench", body)[1])
    return median(spent) * 1000


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    with served():
        session = Session()
        first, five = _walked(session, 0)
        _, many = _walked(session, 15)
        fits = f"readings/runs/{session.run['id']}/fits"
        rows = [
            spot | {"reading": 320.0 + 5 * k, "dial_pct": 90} for k, spot in enumerate(_spots(0))
        ]
        kept = session.post(fits, {"rows": rows})[0]["id"]
        stage = session.run["stage_id"]
        opened = session.post(
            f"runs/{session.run['id']}/bench",
            {"stage_id": stage, "height_cm": 40, "dial_pct": 70, "hours": 12},
        )[1]
        plain, fitted = [], []
        for _ in range(ROUNDS):
            session.post(f"{fits}/choice", {"fit_id": None})
            _moved_ms(session)
            plain.append(_moved_ms(session))
            session.post(f"{fits}/choice", {"fit_id": kept})
            _moved_ms(session)
            fitted.append(_moved_ms(session))
    without, with_it = median(plain), median(fitted)
    return [
        ("A walk's first reading, tent and lamp prepared", f"{first:.2f} s", "under 1.5 s"),
        ("Each after it, five spots", f"{median(five) * 1000:.0f} ms", "under 100 ms"),
        ("Each after it, 15 by 15 spots", f"{median(many) * 1000:.0f} ms", "as five spots"),
        ("The bench's first answer with a fit", f"{opened:.2f} s", "—"),
        (
            "Moved rail, by the record and by the fit",
            f"{without:.0f} and {with_it:.0f} ms ({100 * (with_it / without - 1):+.0f} %)",
            "as quick",
        ),
    ]


if __name__ == "__main__":
    for row in measure():
        print(" | ".join(row))
