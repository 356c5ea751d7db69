"""The WSGI application that waitress serves."""

import os
from threading import Thread

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
application = get_wsgi_application()

from server.config.settling import settle  # noqa: E402 - needs the apps
from server.devices import running  # noqa: E402 - needs the apps
from server.runs.adapters.bench import warm_up  # noqa: E402 - needs the apps

warm_up()
Thread(target=settle, daemon=True).start()
running.start(os.environ.get("IDLE_CANOPY_PORT"))
