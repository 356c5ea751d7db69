"""Serve the application until Ctrl-C: on this machine, or on the home network."""

import errno
import os
import socket
import sys
from pathlib import Path
from threading import Event, Thread
from typing import Any

import waitress
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.core.servers.basehttp import get_internal_wsgi_application

from server.common import network
from server.common.backups import daily
from server.common.logs import log
from server.common.problems import CanopyError

HOST = "127.0.0.1"

MOST_BODY = 24 * 1024 * 1024
THREADS = 48
"""Most only wait for their turn to reckon; see server.common.queue."""

MOST_CONNECTIONS, QUIET_S = 1000, 30
"""So many are held open, each so long while nothing is said: half-open ones block nobody."""

SWITCH_S = 0.001

LOOK_S = 600
"""How often it is looked whether the day's backup is due."""


class Command(BaseCommand):
    """`manage.py serve --host 127.0.0.1 --port 8800`."""

    help = "Serve until Ctrl-C; with --host 0.0.0.0 to the home network as well."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take where to listen."""
        parser.add_argument("--host", default=HOST)
        parser.add_argument("--port", default="8800")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the server, or say in a sentence why it cannot."""
        host, given = str(options["host"]), str(options["port"])
        if not given.isdigit() or not 1 <= int(given) <= 65535:
            raise CommandError(f"PORT={given} is not a port; give a number from 1 to 65535.")
        port = int(given)
        if settings.DEMO and host != HOST:
            raise CommandError(
                "The demo signs in by itself and stays on this machine; use make serve."
            )
        listener = self._listen(host, port)
        # the demo's own devices come in by the door like any other
        os.environ["IDLE_CANOPY_PORT"] = given
        self._say(host, port)
        # a light request beside two heavy ones has its turn of the interpreter soon
        sys.setswitchinterval(SWITCH_S)
        stop = Event()
        if not settings.DEMO:
            database = Path(str(settings.DATABASES["default"]["NAME"]))
            Thread(target=_back_up_daily, args=(database, stop), daemon=True).start()
        try:
            waitress.serve(
                get_internal_wsgi_application(),
                sockets=[listener],
                threads=THREADS,
                ident=None,
                connection_limit=MOST_CONNECTIONS,
                channel_timeout=QUIET_S,
                asyncore_use_poll=True,
                # tells who works for long that nobody waits for it any more
                channel_request_lookahead=5,
                # the largest that anything takes is a photo
                max_request_body_size=MOST_BODY,
                **_proxied(),
            )
        finally:
            stop.set()

    def _listen(self, host: str, port: int) -> socket.socket:
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        listener = socket.socket(family, socket.SOCK_STREAM)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, port))
            # who reads that it serves may ask at once
            listener.listen(256)
        except OSError as error:
            if error.errno not in (errno.EADDRINUSE, errno.EACCES):
                raise CommandError(f"HOST={host} is no address of this machine.") from error
            taken = error.errno == errno.EADDRINUSE
            reason = "is taken by another program" if taken else "may not be used here"
            raise CommandError(f"Port {port} {reason}; choose another: PORT={port + 1}.") from error
        return listener

    def _say(self, host: str, port: int) -> None:
        """Print where it can be opened, and let those names in."""
        kind = "demo, signed in by itself" if settings.DEMO else "your own data"
        shown = HOST if host in network.EVERYWHERE else host
        self.stdout.write(f"Idle Canopy ({kind}): http://{shown}:{port}/  Ctrl-C stops it.")
        if host in network.EVERYWHERE or (host != HOST and not settings.SECURE_COOKIES):
            addresses = network.own_addresses() if host in network.EVERYWHERE else [host]
            settings.ALLOWED_HOSTS += [*addresses, *network.host_names()]
            settings.DOORS = network.doors(addresses, port)
            for door in settings.DOORS:
                self.stdout.write(f"On the home network: {door.url}")
            if settings.DOORS:
                self.stdout.write(network.as_text(settings.DOORS[0].url))
            else:
                self.stdout.write("This machine has no address on a network just now.")
            self.stdout.write(network.PLAIN_HTTP)
        self.stdout.flush()


def _proxied() -> dict[str, Any]:
    """Return how far forwarded headers are believed: the proxy's where there is one, no one's else.

    The demo's sign-in has to see that a request was passed on.
    """
    if settings.DEMO or not settings.SECURE_COOKIES:
        return {"clear_untrusted_proxy_headers": False}
    return {
        "trusted_proxy": settings.PROXY,
        "trusted_proxy_count": 1,
        "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"},
        "clear_untrusted_proxy_headers": True,
    }


def _back_up_daily(database: Path, stop: Event) -> None:
    while not stop.is_set():
        try:
            made = daily(database)
            if made is not None:
                log.info("backed up: %s", made.name)
        except CanopyError as error:
            log.error("no backup today: %s", error.sentence)
        stop.wait(LOOK_S)
