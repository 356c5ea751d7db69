"""The door over MQTT 3.1.1: a client of the broker that whoever runs this server has named.

What arrives is queued, written every half second in one transaction, and acknowledged when it is
kept: what is lost on the way is sent again. What arrived lately is shown to one grower, whose
broker it is; nothing of it is kept but what belongs to a device.
"""

import json
import logging
import queue
from collections import OrderedDict
from dataclasses import dataclass, field
from datetime import datetime
from hashlib import sha256
from threading import Event, Lock, Thread
from typing import Any
from urllib.parse import unquote, urlsplit

import paho.mqtt.client as mqtt
from django.conf import settings
from django.db import DatabaseError, close_old_connections
from django.utils import timezone
from paho.mqtt.enums import CallbackAPIVersion

from server.accounts.models import Grower
from server.common.allowance import MESSAGES
from server.common.problems import CanopyError
from server.devices.adapters.messages import Parcel, parcel_of
from server.devices.door import MOST_BYTES
from server.devices.models import Command, Device
from server.devices.schemas import BrokerOut, TopicOut
from server.devices.services import intake, managing

log = logging.getLogger(__name__)

BATCH_S = 0.5
MOST_WAITING = 20_000
MOST_TOPICS = 200
MOST_SHOWN = 160
TOO_OFTEN = "it sends more than twenty messages a second."


@dataclass(frozen=True)
class Address:
    """Where a broker is, and who this server is there."""

    host: str
    port: int
    tls: bool = False
    user: str | None = None
    password: str | None = field(default=None, repr=False)
    ca_file: str | None = None
    topics: tuple[str, ...] = ("idle-canopy/#",)

    def __str__(self) -> str:
        return f"{'mqtts' if self.tls else 'mqtt'}://{self.host}:{self.port}"

    def sign_in(self, client: mqtt.Client) -> None:
        """Give a client the user and the trust it connects with."""
        if self.user is not None:
            client.username_pw_set(self.user, self.password)
        if self.tls:
            client.tls_set(ca_certs=self.ca_file)


def address_of(url: str, password: str, ca_file: str, topics: str) -> Address:
    """Return the broker that settings name, as ``mqtts://user@host:8883``.

    Raises
    ------
    ValueError
        When that is no such address.
    """
    parts = urlsplit(url)
    if parts.scheme not in ("mqtt", "mqtts") or not parts.hostname:
        raise ValueError("IDLE_CANOPY_MQTT should be like mqtt://host or mqtts://user@host:8883.")
    tls = parts.scheme == "mqtts"
    given = password or (parts.password and unquote(parts.password)) or None
    return Address(
        host=parts.hostname,
        port=parts.port or (8883 if tls else 1883),
        tls=tls,
        user=unquote(parts.username) if parts.username else None,
        password=given,
        ca_file=ca_file or None,
        topics=tuple(topics.split()) or ("idle-canopy/#",),
    )


@dataclass
class Arrived:
    """What came in at a topic lately."""

    topic: str
    at: datetime
    count: int
    begins: str
    readable: bool
    device_id: int | None


@dataclass
class _Batch:
    """What is to be kept together, by device."""

    parcels: dict[int, Parcel] = field(default_factory=dict)
    unread: list[tuple[int, str]] = field(default_factory=list)

    def add(self, device_id: int, parcel: Parcel) -> None:
        known = self.parcels.setdefault(device_id, Parcel())
        known.readings += [(known.count + k, reading) for k, reading in parcel.readings]
        known.refused += parcel.refused
        known.schedule = known.schedule if parcel.schedule is None else parcel.schedule
        known.count += parcel.count


class Broker:
    """A connection to a broker, kept up in threads of its own until it is stopped."""

    def __init__(self, address: Address, grower: Grower, name: str) -> None:
        self.address = address
        self.grower_id = grower.pk
        self.connected = False
        self.trouble = "not reached yet"
        self.dropped = 0
        self._arrived: OrderedDict[str, Arrived] = OrderedDict()
        self._lock = Lock()
        self._waiting: queue.Queue[mqtt.MQTTMessage] = queue.Queue(MOST_WAITING)
        self._stopped = Event()
        self._writer = Thread(target=self._write, name="mqtt-writer", daemon=True)
        client = mqtt.Client(
            CallbackAPIVersion.VERSION2,
            client_id=name,
            # it keeps what comes while this server is away
            clean_session=False,
            protocol=mqtt.MQTTv311,
            manual_ack=True,
        )
        address.sign_in(client)
        client.on_connect = self._on_connect
        client.on_subscribe = self._on_subscribe
        client.on_disconnect = self._on_disconnect
        client.on_message = self._on_message
        client.reconnect_delay_set(1, 60)
        self._client = client

    def start(self) -> None:
        """Connect, now or as soon as the broker can be reached."""
        self._client.connect_async(self.address.host, self.address.port, keepalive=30)
        self._client.loop_start()
        self._writer.start()

    def stop(self) -> None:
        """Keep what has arrived, and let the connection go."""
        self._stopped.set()
        self._writer.join(10)
        self._client.disconnect()
        self._client.loop_stop()

    def arrived(self) -> list[Arrived]:
        """Return what came in lately, by topic, the latest first."""
        with self._lock:
            return list(reversed(self._arrived.values()))

    def _on_connect(
        self, client: mqtt.Client, _userdata: Any, _flags: Any, reason: Any, _properties: Any
    ) -> None:
        if reason.is_failure:
            self.trouble = f"it refused: {reason}"
            return
        client.subscribe([(topic, 1) for topic in self.address.topics])

    def _on_subscribe(
        self, _client: mqtt.Client, _userdata: Any, _mid: int, reasons: Any, _properties: Any
    ) -> None:
        barred = [str(reason) for reason in reasons if reason.is_failure]
        self.connected = not barred
        self.trouble = f"it does not let this server read its topics: {barred[0]}" if barred else ""

    def _on_disconnect(
        self, _client: mqtt.Client, _userdata: Any, _flags: Any, reason: Any, _properties: Any
    ) -> None:
        # one that was refused has its reason already
        if self.connected:
            self.trouble = f"the connection is lost: {reason}"
        self.connected = False

    def _on_message(self, _client: mqtt.Client, _userdata: Any, message: mqtt.MQTTMessage) -> None:
        try:
            self._waiting.put_nowait(message)
        except queue.Full:
            # not acknowledged: the broker sends it again
            self.dropped += 1

    def _write(self) -> None:
        while not self._stopped.wait(BATCH_S):
            self._turn()
        self._turn()

    def _turn(self) -> None:
        try:
            close_old_connections()
            self._keep_waiting()
            if self.connected:
                self._tell_waiting()
        except DatabaseError:
            log.exception("what came over MQTT could not be written; it is tried again")
        except Exception:
            log.exception("MQTT")

    def _keep_waiting(self) -> None:
        messages: list[mqtt.MQTTMessage] = []
        while len(messages) < MOST_WAITING:
            try:
                messages.append(self._waiting.get_nowait())
            except queue.Empty:
                break
        if not messages:
            return
        now = timezone.now()
        rows = Device.objects.filter(
            topic__in={message.topic for message in messages}, owner=self.grower_id, removed=False
        )
        of_topic = {row.topic: row.pk for row in rows}
        batch = _Batch()
        for message in messages:
            if message.topic.endswith("/command") and message.topic not in of_topic:
                continue
            self._sort(batch, message, of_topic.get(message.topic), now)
        try:
            intake.take_in_all(list(batch.parcels.items()), now)
            for device_id, sentence in batch.unread:
                intake.refuse_unread(device_id, sentence, now)
        except DatabaseError:
            for message in messages:
                self._on_message(self._client, None, message)
            raise
        for message in messages:
            self._client.ack(message.mid, message.qos)

    def _sort(
        self, batch: _Batch, message: mqtt.MQTTMessage, device_id: int | None, now: datetime
    ) -> None:
        parcel, trouble = None, ""
        try:
            if len(message.payload) > MOST_BYTES:
                raise CanopyError(f"more than {MOST_BYTES:,} bytes came at once.")
            parcel = parcel_of(bytes(message.payload), now)
        except CanopyError as error:
            trouble = error.sentence
        if device_id is not None:
            if parcel is not None and MESSAGES.wait_s(device_id, max(parcel.count, 1)):
                parcel, trouble = None, TOO_OFTEN
            if parcel is None:
                batch.unread.append((device_id, trouble))
            else:
                batch.add(device_id, parcel)
        readable = parcel is not None and bool(parcel.readings or parcel.schedule is not None)
        begins = message.payload[:MOST_SHOWN].decode("utf-8", errors="replace")
        with self._lock:
            known = self._arrived.pop(message.topic, None)
            count = 1 if known is None else known.count + 1
            self._arrived[message.topic] = Arrived(
                message.topic[:200], now, count, begins, readable, device_id
            )
            if len(self._arrived) > MOST_TOPICS:
                self._arrived.popitem(last=False)

    def _tell_waiting(self) -> None:
        """Publish what devices with a topic were told and not given yet."""
        waiting = Command.objects.filter(
            given_at=None,
            done_at=None,
            device__topic__isnull=False,
            device__owner=self.grower_id,
            device__removed=False,
            device__paused=False,
        ).select_related("device")
        for command in waiting.order_by("id")[:100]:
            topic = f"{command.device.topic}/command"
            sent = self._client.publish(topic, json.dumps(command.body), qos=1)
            sent.wait_for_publish(5)
            if not sent.is_published():
                return
            managing.given([command], timezone.now())


_running: Broker | None = None


def whose() -> Grower | None:
    """Return the grower whose broker it is: the one settings name, else the only one there is."""
    named = settings.MQTT_GROWER
    rows = Grower.objects.filter(name=named) if named else Grower.objects.all()
    found = list(rows[:2])
    return found[0] if len(found) == 1 else None


def start() -> Broker | None:
    """Connect to the broker that settings name, if they do and it is somebody's."""
    global _running
    if not settings.MQTT_URL:
        return None
    try:
        address = address_of(
            settings.MQTT_URL, settings.MQTT_PASSWORD, settings.MQTT_CA, settings.MQTT_TOPICS
        )
    except ValueError as error:
        log.warning("%s No broker is used.", error)
        return None
    grower = whose()
    if grower is None:
        log.warning("Name the account the broker belongs to: IDLE_CANOPY_MQTT_GROWER.")
        return None
    name = f"idle-canopy-{sha256(settings.SECRET_KEY.encode()).hexdigest()[:12]}"
    _running = Broker(address, grower, name)
    _running.start()
    return _running


def stop() -> None:
    """Let the connection go."""
    global _running
    if _running is not None:
        _running.stop()
        _running = None


def _of(grower: Grower) -> Broker | None:
    return _running if _running is not None and _running.grower_id == grower.pk else None


def shown_to(grower: Grower) -> BrokerOut | None:
    """Return the broker as its grower may see it; none for others."""
    found = _of(grower)
    if found is None:
        return None
    return BrokerOut(
        address=str(found.address),
        topics=list(found.address.topics),
        connected=found.connected,
        trouble=found.trouble,
        arrived=[TopicOut(**vars(each)) for each in found.arrived()],
    )


def check_theirs(grower: Grower) -> None:
    """Check that a grower may map topics.

    Raises
    ------
    CanopyError
        When no broker is named, or it is another's.
    """
    if _of(grower) is None:
        raise CanopyError(
            "No broker is set up for you; whoever runs this server names one (docs/devices.md).",
            "topic",
        )
