"""Settings. Everything that may differ from one machine to the next comes from the environment."""

import os
from pathlib import Path

from csp.constants import NONE, SELF

from server.common.network import Door
from server.common.private import own_key

ROOT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("IDLE_CANOPY_DATA", ROOT / "var"))
WEB = ROOT / "web" / "dist"


def _secret() -> str:
    """Return this installation's key, made on the first start."""
    given = os.environ.get("IDLE_CANOPY_SECRET_KEY")
    return given or own_key(DATA / "secret.key")


SECRET_KEY = _secret()
DEBUG = False
DEMO = os.environ.get("IDLE_CANOPY_DEMO") == "1"
LOOPBACK_HOSTS = ["localhost", "127.0.0.1", "[::1]"]
ALLOWED_HOSTS = [*LOOPBACK_HOSTS, *os.environ.get("IDLE_CANOPY_HOSTS", "").split()]
# the broker devices speak through, if any: mqtts://user@host:8883, and whose account it is
MQTT_URL = os.environ.get("IDLE_CANOPY_MQTT", "")
MQTT_PASSWORD = os.environ.get("IDLE_CANOPY_MQTT_PASSWORD", "")
MQTT_CA = os.environ.get("IDLE_CANOPY_MQTT_CA", "")
MQTT_TOPICS = os.environ.get("IDLE_CANOPY_MQTT_TOPICS", "")
MQTT_GROWER = os.environ.get("IDLE_CANOPY_MQTT_GROWER", "")
# whether the demo has stand-ins for devices, and how fast they catch up with the present
STAND_INS = os.environ.get("IDLE_CANOPY_STAND_INS") != "0"
STAND_IN_RATE = float(os.environ.get("IDLE_CANOPY_STAND_IN_RATE", "1500"))
# behind a proxy that speaks TLS: cookies go over https only, and its headers are believed
SECURE_COOKIES = os.environ.get("IDLE_CANOPY_HTTPS") == "1"
PROXY = os.environ.get("IDLE_CANOPY_PROXY", "127.0.0.1")
# where others on the network open it; filled when it serves
DOORS: list[Door] = []

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "ninja",
    "axes",
    "csp",
    "server.common",
    "server.accounts",
    "server.changes",
    "server.spaces",
    "server.fixtures",
    "server.crops",
    "server.runs",
    "server.choosing",
    "server.devices",
    "server.power",
    "server.sums",
    "server.readings",
    "server.logbook",
    "server.review",
    "server.archive",
]

MIDDLEWARE = [
    "server.common.headers.Headers",
    "server.common.queue.Queue",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "server.accounts.demo.DemoSignIn",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "server.config.urls"
WSGI_APPLICATION = "server.config.wsgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / ("demo.sqlite3" if DEMO else "idle-canopy.sqlite3"),
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            "init_command": (
                # FULL: what was answered as kept is on the disk, also where the power goes
                "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;"
            ),
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.Grower"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 8},
    },
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ["name"]},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 8
# the name authenticate() is called with, not the model's field: otherwise no try is counted for it
AXES_USERNAME_FORM_FIELD = "username"
AXES_COOLOFF_TIME = 0.25
# a name is locked whoever tries it, an address whatever names it tries
AXES_LOCKOUT_PARAMETERS = ["username", "ip_address"]
AXES_USERNAME_CALLABLE = "server.accounts.names.tried_name"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_LOCKOUT_CALLABLE = "server.common.problems.locked_out"

SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_COOKIES
CSRF_TRUSTED_ORIGINS = [
    f"https://{host}" for host in os.environ.get("IDLE_CANOPY_HOSTS", "").split() if SECURE_COOKIES
]
SECURE_SSL_REDIRECT = SECURE_COOKIES
# whether it is up is asked from this machine, without TLS
SECURE_REDIRECT_EXEMPT = [r"^api/health$"]
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if SECURE_COOKIES else 0
# other names of the household's domain are not ours to speak for
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 3 * 1024 * 1024

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "connect-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "manifest-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB if WEB.is_dir() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_MIMETYPES = {".webmanifest": "application/manifest+json"}
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8,}\.\w+$"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"lines": {"()": "server.common.logs.Lines"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "lines"}},
    "loggers": {
        "django.request": {"level": "ERROR"},
        "waitress.queue": {"level": "ERROR"},
        "axes": {"level": "ERROR"},
        "idle_canopy": {"level": "INFO"},
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
}
