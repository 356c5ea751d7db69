"""A household at once: twenty growers moving rails, and saves while heavy seasons are planned."""

import json
import os
import random
import subprocess
import sys
import threading
import time
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from urllib.error import HTTPError

import numpy as np

from benchmarks.demo_server import ROOT

Row = tuple[str, str, str]
PORT = 8897
URL = f"http://127.0.0.1:{PORT}"
GROWERS, SECONDS = 20, 30

SPACE = {
    "name": "Room",
    "width_cm": 120,
    "depth_cm": 90,
    "height_cm": 180,
    "pot_cm": 20,
    "hangers_cm": 10,
    "timer_step_min": 15,
    "lining": "silver",
    "tariff_per_kwh": 0.3,
    "stands": [],
    "plots": [],
}


class Grower:
    """A browser with an account of its own, a space and a plan."""

    def __init__(self, name: str, space: dict[str, Any] | None = None) -> None:
        self._jar = CookieJar()
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self._jar))
        self._opener.open(URL).read()
        self.ask("POST", "accounts/sign-up", {"name": name, "password": "a long grey password"})
        self.lamp = next(
            each
            for each in self.ask("GET", "fixtures")[1]
            if each["name"].startswith("Wickerlight Six")
        )
        self.crop = self.ask("GET", "crops")[1][0]
        self.plan(space or SPACE)

    def plan(self, space: dict[str, Any]) -> None:
        """Begin a plan in a space of its own."""
        made = self.ask("POST", "spaces", space)[1]
        body = {
            "space_id": made["id"],
            "fixture_id": self.lamp["id"],
            "crop_id": self.crop["id"],
            "over_cap": False,
        }
        self.run = self.ask("POST", "runs", body)[1]
        self.stage = self.run["stage_id"]

    def ask(
        self, method: str, path: str, body: Any = None, read: bool = True
    ) -> tuple[int, Any, float]:
        """Return status, answer, and the seconds it took.

        An answer that is not ``read`` is only taken in: phones read theirs by themselves.
        """
        token = next((c.value for c in self._jar if c.name == "csrftoken"), "") or ""
        headers = {"Content-Type": "application/json", "X-CSRFToken": token}
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"{URL}/api/{path}", data, headers, method=method)
        start = time.perf_counter()
        try:
            with self._opener.open(request, timeout=120) as reply:
                text = reply.read()
                spent = time.perf_counter() - start
                return reply.status, json.loads(text) if text and read else None, spent
        except HTTPError as error:
            return error.code, json.loads(error.read() or b"null"), time.perf_counter() - start

    def move(self, chance: random.Random) -> tuple[int, float]:
        """Move the rails somewhere, and return status and seconds."""
        levers = {
            "stage_id": self.stage,
            "height_cm": chance.randint(25, 60),
            "dial_pct": chance.randint(20, 100),
            "hours": 12,
        }
        status, _, spent = self.ask("POST", f"runs/{self.run['id']}/bench", levers, read=False)
        return status, spent


def _served(data: str) -> subprocess.Popen[bytes]:
    env = {**os.environ, "IDLE_CANOPY_DATA": data, "IDLE_CANOPY_DEMO": ""}
    run = [sys.executable, str(ROOT / "manage.py")]
    subprocess.run([*run, "prepare"], env=env, check=True, capture_output=True)
    server = subprocess.Popen(
        [*run, "serve", "--port", str(PORT)], env=env, stdout=subprocess.DEVNULL
    )
    for _ in range(200):
        try:
            urllib.request.urlopen(f"{URL}/api/health", timeout=1)
            return server
        except OSError:
            time.sleep(0.1)
    raise RuntimeError("the server did not start")


def measure() -> list[Row]:
    """Return the rows of both."""
    with TemporaryDirectory() as data:
        server = _served(data)
        try:
            growers = [Grower(f"Grower {i}") for i in range(GROWERS)]
            return [*_rails(growers), *_saves(growers)]
        finally:
            server.terminate()
            server.wait()
            assert Path(data).exists()


def _rails(growers: list[Grower]) -> list[Row]:
    chance = random.Random(5)
    for grower in growers:
        grower.move(chance)
    spent: list[float] = []
    wrong: list[int] = []
    until = time.monotonic() + SECONDS

    def go(grower: Grower, own: random.Random) -> None:
        while time.monotonic() < until:
            status, seconds = grower.move(own)
            spent.append(seconds)
            if status != 200:
                wrong.append(status)

    _together([(go, (each, random.Random(i))) for i, each in enumerate(growers)])
    p50, p99 = np.percentile(spent, [50, 99])
    return [
        (
            f"{GROWERS} growers moving rails for {SECONDS} s, each as soon as answered",
            f"p99 {p99 * 1000:.0f} ms, median {p50 * 1000:.0f} ms of {len(spent)} moves; "
            f"{len(wrong)} refused",
            "p99 1000 ms, none refused",
        )
    ]


def _saves(growers: list[Grower]) -> list[Row]:
    *busy, saver = growers[:3]
    until = time.monotonic() + SECONDS
    seasons: list[float] = []
    saves: list[float] = []
    light: list[float] = []

    def plan(grower: Grower, own: random.Random) -> None:
        while time.monotonic() < until:
            # a tent nobody has asked for yet
            grower.plan(
                SPACE | {"width_cm": own.randint(120, 200), "depth_cm": own.randint(90, 180)}
            )
            seasons.append(grower.ask("GET", f"runs/{grower.run['id']}/season")[2])

    def save() -> None:
        own = random.Random(9)
        path = f"runs/{saver.run['id']}/stages/{saver.stage}/setting"
        while time.monotonic() < until:
            body = {
                "height_cm": own.randint(25, 60),
                "dial_pct": own.randint(20, 100),
                "hours": 12,
                "on_minute": 360,
                "from_day": 0,
                "locked": [],
            }
            status, _, seconds = saver.ask("PUT", path, body)
            assert status == 200, status
            saves.append(seconds)
            light.append(saver.ask("GET", "accounts/session")[2])
            time.sleep(0.05)

    _together([*((plan, (each, random.Random(i))) for i, each in enumerate(busy)), (save, ())])
    p99, least = np.percentile(saves, 99), np.percentile(light, 99)
    return [
        (
            f"saves while two plan seasons in tents never asked for ({len(seasons)} of them)",
            f"p99 {p99 * 1000:.0f} ms of {len(saves)}",
            "400 ms",
        ),
        ("light requests meanwhile", f"p99 {least * 1000:.0f} ms", "300 ms"),
    ]


def _together(work: list[tuple[Any, tuple[Any, ...]]]) -> None:
    threads = [threading.Thread(target=function, args=given) for function, given in work]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
