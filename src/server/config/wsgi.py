"""The WSGI application that waitress serves."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
application = get_wsgi_application()

from server.runs.adapters.bench import warm_up  # noqa: E402 - needs the apps

warm_up()
