"""Measure, print and keep."""

from datetime import date
from importlib import import_module
from pathlib import Path

from benchmarks.machine import describe

KEPT = Path(__file__).parents[1] / "docs" / "benchmarks.md"
PARTS = (
    ("The interface on the demo tent", "interface"),
    ("The light engine", "engine"),
    ("How sure: tents drawn by chance, inside the ranges told", "certainty"),
    ("A few readings correct the light: tents drawn by chance", "fit"),
    ("Readings: a walk, and rails moved by a fit", "readings"),
    ("The logbook: 150 days with 20 000 entries and a million readings", "logbook"),
    ("That account as an archive, out and in", "archive"),
    ("The season", "season"),
    ("What it costs", "power"),
    ("Devices: messages taken in, and a year opened", "devices"),
    ("Choosing a lamp", "shelf"),
    ("A household at once", "load"),
    ("Killed while it writes", "kills"),
    ("Listings never tuned to: precision (a silent wrong guess counts double), recall", "listings"),
    ("Beside Radiance's rtrace, 81 points of the same scene, one thread each", "radiance"),
)


def main() -> None:
    """Run every part and write docs/benchmarks.md."""
    text = f"# Benchmarks\n\nMeasured by `make bench` on {date.today()}: {describe()}.\n"
    for title, part in PARTS:
        text += f"\n## {title}\n| what | measured | wanted |\n| --- | --- | --- |\n"
        # each is loaded when its turn comes: what one needs is not in another's memory
        for row in import_module(f"benchmarks.{part}").measure():
            text += f"| {' | '.join(row)} |\n"
    KEPT.write_text(text, encoding="utf-8")
    print(text)


if __name__ == "__main__":
    main()
