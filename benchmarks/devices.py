"""Messages of devices taken in while somebody works at the bench, and a year of them opened."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median
from typing import Any

from benchmarks.demo_server import URL, Session, served

Row = tuple[str, str, str]

DEVICES = 40
RATE = 1000
"""Messages a second."""
TOGETHER = 100
MOVES = 40
ROUNDS = 5
MQTT_MESSAGES = 5000


def send(tokens: list[str], seconds: float) -> int:
    """Send messages at the rate over HTTP, so many together; return how many were taken."""
    taken, sent, end = 0, 0, time.monotonic() + seconds
    start = time.monotonic()
    while time.monotonic() < end:
        token = tokens[(sent // TOGETHER) % len(tokens)]
        now = datetime.now(UTC)
        messages = [
            {
                "id": f"{start}-{sent + k}",
                "at": (now - timedelta(milliseconds=20 * (TOGETHER - k))).isoformat(),
                "quantity": "power",
                "unit": "W",
                "value": 140 + k / 10,
            }
            for k in range(TOGETHER)
        ]
        request = urllib.request.Request(
            f"{URL}/api/door",
            json.dumps(messages).encode(),
            {"Authorization": f"Bearer {token}", "Content-Type": "application/json"},
        )
        taken += json.load(urllib.request.urlopen(request))["taken"]
        sent += TOGETHER
        time.sleep(max(start + sent / RATE - time.monotonic(), 0))
    return taken


def _moved_ms(session: Session) -> float:
    spent = []
    for i in range(MOVES):
        stage = session.run["stage_id"]
        body = {"stage_id": stage, "height_cm": 25 + i, "dial_pct": 70, "hours": 12}
        spent.append(session.post(f"runs/{session.run['id']}/bench", body)[1])
    return median(spent) * 1000


def _under_load(session: Session, tokens: list[str]) -> tuple[float, float, float]:
    """Return the moved rail's median without and with messages, and how many a second came."""
    quiet, busy, rates = [], [], []
    _moved_ms(session)
    for _ in range(ROUNDS):
        quiet.append(_moved_ms(session))
        # in a process of its own: this one measures
        sender = subprocess.Popen(
            [sys.executable, "-m", "benchmarks.devices", "6", *tokens], stdout=subprocess.PIPE
        )
        time.sleep(1.0)
        busy.append(_moved_ms(session))
        found, _ = sender.communicate()
        rates.append(int(found) / 6)
    return median(quiet), median(busy), median(rates)


@contextmanager
def _mosquitto(folder: str) -> Iterator[int | None]:
    """Serve Debian's broker; none where it is not installed."""
    program = shutil.which("mosquitto", path="/usr/sbin:/usr/bin")
    if program is None:
        yield None
        return
    port, config = 18831, Path(folder) / "mosquitto.conf"
    config.write_text(
        f"listener {port} 127.0.0.1\nallow_anonymous true\nlog_type none\n"
        "max_queued_messages 100000\nmax_inflight_messages 1000\n"
    )
    broker = subprocess.Popen([program, "-c", str(config)], stderr=subprocess.DEVNULL)
    time.sleep(0.5)
    try:
        yield port
    finally:
        broker.terminate()
        broker.wait()


def _mqtt_rate(session: Session, port: int) -> float:
    """Return how many single messages a second are kept that come through a broker."""
    import paho.mqtt.client as mqtt  # noqa: PLC0415 - only where there is a broker
    from paho.mqtt.enums import CallbackAPIVersion  # noqa: PLC0415

    device = session.get("devices")[0]
    topic = "idle-canopy/bench"
    session.post(f"devices/{device['id']}/topic", {"topic": topic}, "PUT")
    client = mqtt.Client(CallbackAPIVersion.VERSION2, protocol=mqtt.MQTTv311)
    client.max_inflight_messages_set(1000)
    client.connect("127.0.0.1", port)
    client.loop_start()
    now = datetime.now(UTC)
    before = device["taken"]
    start = time.perf_counter()
    for k in range(MQTT_MESSAGES):
        at = (now - timedelta(milliseconds=k)).isoformat()
        message = {"id": f"m{k}", "at": at, "quantity": "power", "unit": "W", "value": k % 200}
        client.publish(topic, json.dumps(message), qos=1)
    while session.get("devices")[0]["taken"] < before + MQTT_MESSAGES:
        if time.perf_counter() - start > 60:
            break
        time.sleep(0.1)
    spent = time.perf_counter() - start
    kept = session.get("devices")[0]["taken"] - before
    client.disconnect()
    client.loop_stop()
    return float(kept / spent)


YEAR = """
from datetime import UTC, datetime
from django.db import connection, transaction
from server.devices.models import Device, Series
now = int(datetime.now(UTC).timestamp() * 1000)
series = Series.objects.create(device_id={device}, quantity="temperature", channel=3)
first = now - 365 * 86_400_000
rows = [(series.pk, at, 20 + at % 7919 / 1000) for at in range(first, now, 10_000)]
unsummed = [(series.pk, at - at % 300_000) for at in range(first, now, 300_000)]
with transaction.atomic(), connection.cursor() as cursor:
    cursor.executemany('INSERT INTO devices_reading VALUES (%s, %s, %s)', rows)
    cursor.executemany('INSERT OR IGNORE INTO devices_unsummed VALUES (%s, %s)', unsummed)
from server.devices.services.keeping import sum_up, tidy
sum_up()
tidy(datetime.now(UTC))
"""


def _year_ms(session: Session, data: str, environment: dict[str, str]) -> float:
    """Return the median time from asking for a year of 10-second readings to having it."""
    device = session.get("devices")[0]["id"]
    manage = [sys.executable, "manage.py", "shell", "--verbosity", "0", "-c"]
    subprocess.run([*manage, YEAR.format(device=device)], env=environment, check=True)
    path = f"devices/{device}/curve?quantity=temperature&channel=3&hours=8760"
    return _median_ms(lambda: session.get(path), 15)


def _median_ms(work: Callable[[], Any], times: int) -> float:
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spent.append(time.perf_counter() - start)
    return median(spent) * 1000


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""

    with tempfile.TemporaryDirectory() as data, _mosquitto(data) as port:
        settings = {"IDLE_CANOPY_DATA": data}
        if port is not None:
            settings["IDLE_CANOPY_MQTT"] = f"mqtt://127.0.0.1:{port}"
        environment = {**os.environ, "IDLE_CANOPY_DEMO": "1", **settings}
        with served(**settings):
            session = Session()
            space = session.run["space_id"]
            tokens = []
            for k in range(DEVICES):
                body = {"name": f"Plug {k}", "kind": "meter", "space_id": space}
                tokens.append(session.post("devices", body)[0]["token"])
            quiet, busy, rate = _under_load(session, tokens)
            mqtt = None if port is None else _mqtt_rate(session, port)
            year = _year_ms(session, data, environment)
    return [
        ("Messages a second taken in over HTTP, a hundred together", f"{rate:.0f}", "1000"),
        (
            "Moved rail meanwhile, median against the same without",
            f"{busy:.1f} ms against {quiet:.1f}: {100 * (busy / quiet - 1):+.0f} %",
            "under +25 %",
        ),
        (
            "Single messages a second kept that come through a broker",
            "no mosquitto here" if mqtt is None else f"{mqtt:.0f}",
            "1000",
        ),
        ("A year of 10-second readings opens in", f"{year:.0f} ms", "under 300 ms"),
    ]


if __name__ == "__main__":
    print(send(sys.argv[2:], float(sys.argv[1])))
