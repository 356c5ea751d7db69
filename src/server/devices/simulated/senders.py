"""How the stand-ins send: through the HTTP door like any device, or to a broker."""

import json
import urllib.error
import urllib.request
from queue import Empty, Queue
from typing import Any, Protocol

import paho.mqtt.client as mqtt
from paho.mqtt.enums import CallbackAPIVersion

from server.devices.broker import Address

MOST_AT_ONCE = 500
TIMEOUT_S = 20


class Sender(Protocol):
    """Sends messages, and asks what is to be done; false where nobody could be reached."""

    def send(self, messages: list[dict[str, Any]]) -> bool: ...

    def commands(self) -> list[dict[str, Any]]: ...

    def close(self) -> None: ...


class HttpSender:
    """A device with a token."""

    def __init__(self, base: str, token: str) -> None:
        self.url = f"{base}/api/door"
        self.headers = {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}

    def _ask(self, path: str = "", body: bytes | None = None) -> dict[str, Any] | None:
        request = urllib.request.Request(self.url + path, body, self.headers)  # noqa: S310 - http
        try:
            with urllib.request.urlopen(request, timeout=TIMEOUT_S) as reply:  # noqa: S310
                found: dict[str, Any] = json.load(reply)
                return found
        except urllib.error.HTTPError as error:
            # refused is answered: sending it again would not help, waiting may
            return None if error.code in (429, 503) else {}
        except (OSError, ValueError):
            return None

    def send(self, messages: list[dict[str, Any]]) -> bool:
        """Send messages, as many together as a device may."""
        return self._ask(body=json.dumps(messages).encode()) is not None

    def send_prices(self, text: str) -> bool:
        """Send a price file."""
        return self._ask("/prices", text.encode()) is not None

    def commands(self) -> list[dict[str, Any]]:
        """Return what is to be done."""
        found: list[dict[str, Any]] = (self._ask() or {}).get("commands", [])
        return found

    def close(self) -> None:
        """Nothing stands open."""


class MqttSender:
    """A device that speaks at a topic, and listens below it."""

    def __init__(self, address: Address, topic: str, name: str) -> None:
        self.topic = topic
        self._told: Queue[dict[str, Any]] = Queue(100)
        client = mqtt.Client(CallbackAPIVersion.VERSION2, client_id=name, protocol=mqtt.MQTTv311)
        address.sign_in(client)
        client.on_connect = self._on_connect
        client.on_message = self._on_message
        client.connect_async(address.host, address.port, keepalive=30)
        client.loop_start()
        self._client = client

    def _on_connect(
        self, client: mqtt.Client, _userdata: Any, _flags: Any, reason: Any, _properties: Any
    ) -> None:
        if not reason.is_failure:
            client.subscribe(f"{self.topic}/command", 1)

    def _on_message(self, _client: mqtt.Client, _userdata: Any, message: mqtt.MQTTMessage) -> None:
        try:
            told = json.loads(message.payload)
        except ValueError:
            return
        if isinstance(told, dict) and not self._told.full():
            self._told.put(told)

    def send(self, messages: list[dict[str, Any]]) -> bool:
        """Publish messages, as many together as a device may."""
        if not self._client.is_connected():
            return False
        sent = self._client.publish(self.topic, json.dumps(messages), qos=1)
        return sent.rc == mqtt.MQTT_ERR_SUCCESS

    def commands(self) -> list[dict[str, Any]]:
        """Return what it was told since it was last asked."""
        found = []
        while True:
            try:
                found.append(self._told.get_nowait())
            except Empty:
                return found

    def close(self) -> None:
        """Let the connection go."""
        self._client.disconnect()
        self._client.loop_stop()
