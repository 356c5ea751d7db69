"""What the figures were measured on."""

import os
import platform
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median


def describe() -> str:
    """Return processor, cores and versions in a line."""
    model = platform.processor() or platform.machine()
    info = Path("/proc/cpuinfo")
    if info.is_file():
        names = [line for line in info.read_text().splitlines() if line.startswith("model name")]
        model = names[0].split(":", 1)[1].strip() if names else model
    return f"{model}, {os.cpu_count()} cores, Python {platform.python_version()}"


def median_ms(work: Callable[[], object], times: int) -> float:
    """Return the median time of a call in ms, after one call that does not count."""
    work()
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spent.append(time.perf_counter() - start)
    return median(spent) * 1000
