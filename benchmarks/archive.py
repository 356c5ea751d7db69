"""The account of the long log as an archive: out of one place and into an empty account."""

import json
import os
import resource
import subprocess
import sys
import tempfile
from datetime import UTC, datetime
from importlib import import_module
from pathlib import Path
from time import perf_counter
from typing import Any

from benchmarks.demo_server import ROOT, Session, served
from benchmarks.logbook import lived_long

Row = tuple[str, str, str]
MB = 1024 * 1024


def _peak_mb() -> float:
    """Return the most memory this process had, in MB."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def _here(way: str, path: str) -> dict[str, Any]:
    """Take the demo's account out, or bring an archive into a new one; in a process of its own."""
    # Django is set up first: the measuring process itself has none
    import_module("django").setup()
    growers = import_module("server.accounts.models").Grower.objects
    accounts = import_module("server.accounts.services")
    out, bring = (import_module(f"server.archive.services.{name}") for name in ("out", "bring"))
    before, start = _peak_mb(), perf_counter()
    if way == "out":
        with open(path, "w+b") as target:
            out.write_archive(growers.get(is_demo=True), target, datetime.now(UTC))
        return {"s": perf_counter() - start, "peak": _peak_mb(), "before": before}
    with open(path, "rb") as source:
        told = bring.bring_in(accounts.make_account("Another", None), source, True)
    rows = sum(told.new.values())
    return {"s": perf_counter() - start, "peak": _peak_mb(), "before": before, "rows": rows}


def _apart(data: Path, way: str, path: Path) -> dict[str, Any]:
    settings = {"IDLE_CANOPY_DEMO": "1", "IDLE_CANOPY_DATA": str(data)}
    settings |= {"DJANGO_SETTINGS_MODULE": "server.config.settings"}
    settings |= {"PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    command = [sys.executable, "-m", "benchmarks.archive", way, str(path)]
    done = subprocess.run(
        command, env={**os.environ, **settings}, cwd=ROOT, check=True, capture_output=True
    )
    found: dict[str, Any] = json.loads(done.stdout)
    return found


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    with served() as data, tempfile.TemporaryDirectory() as folder:
        lived_long(Session(), data, datetime.now(UTC))
        path = Path(folder) / "account.canopy.zip"
        out = _apart(data, "out", path)
        back = _apart(data, "in", path)
        size = path.stat().st_size / MB
    return [
        (f"Taken out: {size:.1f} MB", f"{out['s']:.1f} s", "under 10 s"),
        (f"Brought into an empty account: {back['rows']} rows", f"{back['s']:.1f} s", "under 30 s"),
        (
            f"Memory of the process at its most, out and in ({out['before']:.0f} before)",
            f"{out['peak']:.0f} and {back['peak']:.0f} MB",
            "under 300 MB",
        ),
    ]


if __name__ == "__main__":
    if len(sys.argv) == 3:
        print(json.dumps(_here(*sys.argv[1:])))
    else:
        for row in measure():
            print(" | ".join(row))
