"""The WSGI application that waitress serves."""

import os
from threading import Thread

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
application = get_wsgi_application()

from server.devices import running  # noqa: E402 - needs the apps
from server.runs.adapters.bench import load_sun, warm_up  # noqa: E402 - needs the apps

warm_up()
# pvlib takes seconds to load and only daylight needs it
Thread(target=load_sun, daemon=True).start()
running.start(os.environ.get("IDLE_CANOPY_PORT"))
