"""The demo, served for a measurement, and a session with it."""

import json
import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
PORT = 8899
URL = f"http://127.0.0.1:{PORT}"


@contextmanager
def served(stand_ins: bool = False, **settings: str) -> Iterator[Path]:
    """Serve the demo from a fresh folder, with its simulated devices or without; yields where."""
    with tempfile.TemporaryDirectory() as data:
        server = _serve(data, {"IDLE_CANOPY_STAND_INS": str(int(stand_ins)), **settings})
        try:
            yield Path(data)
        finally:
            server.terminate()
            server.wait()


def _serve(data: str, settings: dict[str, str]) -> subprocess.Popen[bytes]:
    environment = {
        **os.environ,
        "IDLE_CANOPY_DEMO": "1",
        "IDLE_CANOPY_DATA": data,
        **settings,
    }
    manage = [sys.executable, str(ROOT / "manage.py")]
    for command in (["migrate", "--verbosity", "0"], ["demo"]):
        subprocess.run([*manage, *command], env=environment, check=True, capture_output=True)
    server = subprocess.Popen(
        [*manage, "serve", "--port", str(PORT)], env=environment, stdout=subprocess.DEVNULL
    )
    for _ in range(300):
        try:
            urllib.request.urlopen(URL, timeout=1)
            return server
        except OSError:
            time.sleep(0.1)
    server.terminate()
    raise RuntimeError("the server did not start")


class Session:
    """The demo grower's session: asks, and tells how long the answer took."""

    def __init__(self) -> None:
        jar = CookieJar()
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        self._opener.open(URL).read()
        self.run = self.get("runs")[0]
        self._token = next(c.value for c in jar if c.name == "csrftoken") or ""

    def get(self, path: str) -> Any:
        """Return what stands at a path."""
        return json.load(self._opener.open(f"{URL}/api/{path}"))

    def post(self, path: str, body: dict[str, Any], method: str = "POST") -> tuple[Any, float]:
        """Return the answer and the seconds it took."""
        headers = {"Content-Type": "application/json", "X-CSRFToken": self._token}
        data = json.dumps(body).encode()
        request = urllib.request.Request(f"{URL}/api/{path}", data, headers, method=method)
        start = time.perf_counter()
        data = self._opener.open(request).read()
        return json.loads(data), time.perf_counter() - start
