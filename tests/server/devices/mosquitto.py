"""Debian's mosquitto on a free port, for the tests that speak MQTT with a real broker."""

import os
import shutil
import socket
import subprocess
import time
from contextlib import contextmanager
from pathlib import Path

import pytest

PROGRAM = shutil.which("mosquitto", path="/usr/sbin:/usr/bin:/usr/local/sbin:/opt/homebrew/sbin")
needed = pytest.mark.skipif(
    PROGRAM is None, reason="mosquitto is not installed: apt-get install mosquitto"
)


def free_port():
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return found.getsockname()[1]


@contextmanager
def broker(folder, *more, port=None):
    """Serve on a port until the end; some more lines for its configuration."""
    port = port or free_port()
    Path(folder).mkdir(exist_ok=True)
    config = Path(folder) / f"mosquitto-{port}.conf"
    lines = [f"listener {port} 127.0.0.1", "persistence false", "log_type none", *more]
    if not any(line.startswith("allow_anonymous") for line in more):
        lines.append("allow_anonymous true")
    if os.getuid() == 0:
        # else it reads files as somebody who may not
        lines.append("user root")
    config.write_text("\n".join(lines) + "\n")
    server = subprocess.Popen(
        [PROGRAM, "-c", str(config)], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    try:
        for _ in range(200):
            try:
                socket.create_connection(("127.0.0.1", port), 0.2).close()
                break
            except OSError:
                time.sleep(0.02)
        yield port
    finally:
        server.terminate()
        server.wait(10)


def becomes(check, seconds=15):
    """Whether something becomes so within some seconds."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if check():
            return True
        time.sleep(0.02)
    return bool(check())
