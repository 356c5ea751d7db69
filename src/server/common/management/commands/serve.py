"""Serve the application on this machine until Ctrl-C."""

import errno
import os
import socket
from typing import Any

import waitress
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.core.servers.basehttp import get_internal_wsgi_application

HOST = "127.0.0.1"

MOST_BODY = 24 * 1024 * 1024


class Command(BaseCommand):
    """`manage.py serve --port 8800`."""

    help = "Serve on loopback until Ctrl-C."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the port."""
        parser.add_argument("--port", default="8800")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the server, or say in a sentence why it cannot."""
        given = str(options["port"])
        if not given.isdigit() or not 1 <= int(given) <= 65535:
            raise CommandError(f"PORT={given} is not a port; give a number from 1 to 65535.")
        port = int(given)
        listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((HOST, port))
            # who reads that it serves may ask at once
            listener.listen()
        except OSError as error:
            if error.errno not in (errno.EADDRINUSE, errno.EACCES):
                raise
            taken = error.errno == errno.EADDRINUSE
            reason = "is taken by another program" if taken else "may not be used here"
            raise CommandError(f"Port {port} {reason}; choose another: PORT={port + 1}.") from error
        # the demo's own devices come in by the door like any other
        os.environ["IDLE_CANOPY_PORT"] = given
        kind = "demo, signed in by itself" if settings.DEMO else "your own data"
        self.stdout.write(f"Idle Canopy ({kind}): http://{HOST}:{port}/  Ctrl-C stops it.")
        self.stdout.flush()
        waitress.serve(
            get_internal_wsgi_application(),
            sockets=[listener],
            threads=4,
            ident=None,
            # the largest that anything takes is a photo
            max_request_body_size=MOST_BODY,
            # nobody here believes a forwarded header, and the demo's sign-in has to see it
            clear_untrusted_proxy_headers=False,
        )
