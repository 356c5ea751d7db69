"""Settings of the tests: a file database, a fast hasher, a data folder of their own."""

import os
import tempfile

os.environ["IDLE_CANOPY_DATA"] = tempfile.mkdtemp(prefix="idle-canopy-test-")
os.environ.pop("IDLE_CANOPY_DEMO", None)

from server.config.settings import *  # noqa: F403
from server.config.settings import DATA, DATABASES

DATABASES["default"]["TEST"] = {"NAME": str(DATA / "test.sqlite3")}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
