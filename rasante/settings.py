"""Settings. What differs from place to place comes from the environment: see the README."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

from platformdirs import user_data_dir

PACKAGE = Path(__file__).resolve().parent


def _data_folder() -> Path:
    """Return where the database and the secret key live: beside the sources, or in the user's own data folder."""
    named = os.environ.get("RASANTE_DATA")
    if named:
        return Path(named).resolve()
    checkout = (PACKAGE.parent / "pyproject.toml").exists()
    return PACKAGE.parent / "var" if checkout else Path(user_data_dir("rasante", appauthor=False))


DATA = _data_folder()
DATA.mkdir(parents=True, exist_ok=True, mode=0o700)
# What lies there is for the server's own user: the key, and everything in the database. What SQLite makes beside the
# database gets the database's own rights.
for _name in ("secret_key", "rasante.sqlite3", "rasante.sqlite3-wal", "rasante.sqlite3-shm"):
    if (DATA / _name).exists() and (DATA / _name).stat().st_mode & 0o077:
        (DATA / _name).chmod(0o600)


def _secret_key() -> str:
    """Return the installation's own key, made at the first start and kept beside the database."""
    file = DATA / "secret_key"
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_urlsafe(50))
    return file.read_text().strip()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("RASANTE_HOSTS", "127.0.0.1,localhost,[::1]").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "simple_history",
    "axes",
    "rasante.accounts",
    "rasante.seals",
    "rasante.tanks",
    "rasante.planned",
    "rasante.gauges",
    "rasante.wiring",
    "rasante.scaling",
    "rasante.devices",
    "rasante.proving",
    "rasante.readings",
    "rasante.loading",
    "rasante.pouring",
    "rasante.faults",
    "rasante.register",
    "rasante.visits",
    "rasante.history",
    "rasante.board",
    "rasante.demo",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "rasante.http.PlainAddresses",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "rasante.urls"
# The few pages that are not the web app's: what a customer sees by a link.
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]
WSGI_APPLICATION = "rasante.wsgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "rasante.sqlite3",
        "OPTIONS": {
            # Readers never wait for the writer, a writer waits its turn instead of failing.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA busy_timeout=10000; "
            "PRAGMA foreign_keys=ON; PRAGMA recursive_triggers=ON;",
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
        },
        "ATOMIC_REQUESTS": False,
        # Every thread of the server keeps its own: to open one is a good part of a small answer.
        "CONN_MAX_AGE": None,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("username", "first_name", "last_name"), "max_similarity": 0.6},
    },
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
# Five wrong passwords for one name from one address; nobody can lock a person out from elsewhere.
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
#: Wrong passwords from one address, for whatever names, within the same time.
MOST_FAILURES_OF_AN_ADDRESS = 50
AXES_LOCKOUT_CALLABLE = "rasante.accounts.api.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
# Behind a proxy that speaks https, RASANTE_HTTPS=1 keeps everything to it: cookies, addresses, later visits.
# Which scheme and whose address a request came with is taken from RASANTE_PROXY alone (see `cli.serve`).
HTTPS = os.environ.get("RASANTE_HTTPS") == "1"
PROXY = os.environ.get("RASANTE_PROXY", "127.0.0.1" if HTTPS else "")
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if HTTPS else 0
# What stands under other names of the same domain is not ours to decide.
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "style-src": ["'self'", "'unsafe-inline'"],
        "frame-ancestors": ["'none'"],
    }
}

# The largest body that is read at all; what a tank file or a CSV may have is less, and is said in words.
DATA_UPLOAD_MAX_MEMORY_SIZE = 12_000_000

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rasante.accounts.permissions.SignedInAndOnlyALeadDeletes"],
    "DEFAULT_RENDERER_CLASSES": ["rasante.http.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["rasante.http.JSONParser"],
    "DEFAULT_PAGINATION_CLASS": "rasante.http.Pages",
    "PAGE_SIZE": 50,
    "EXCEPTION_HANDLER": "rasante.http.problems_response",
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "UNAUTHENTICATED_USER": "django.contrib.auth.models.AnonymousUser",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Rasante",
    "DESCRIPTION": "Survey, table, scale and prove level transmitters. Lengths in mm, volumes in litres.",
    "VERSION": "1",
    "SERVE_INCLUDE_SCHEMA": False,
    "SERVE_PERMISSIONS": ["rasante.accounts.permissions.SignedInAndOnlyALeadDeletes"],
    "COMPONENT_SPLIT_REQUEST": True,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "rasante.http.with_refusals",
    ],
    "ENUM_NAME_OVERRIDES": {
        "KeptKindEnum": [
            "survey",
            "gauge",
            "wet-ends",
            "wiring",
            "chain",
            "slopes",
            "parting",
            "marks",
            "load",
            "pours",
            "trouble",
        ],
        "VerdictEnum": ["pass", "fail", "incomplete"],
        "CaseVerdictEnum": ["go-on", "found", "nothing-fits", "cannot-tell"],
        "SystemEnum": ["metric", "us"],
        "CountedEnum": ["innage", "ullage"],
        "StandingEnum": ["same", "newer", "own"],
        "FitEnum": ["fits", "fits_if", "no"],
        "FieldStateEnum": ["empty", "read", "wrong"],
        "HopEnum": ["sensed", "sent", "arriving", "counts", "number", "words", "read", "shown"],
        "ChainStationEnum": ["level", "sensed", "sent", "arriving", "counts", "number", "words", "read", "shown"],
        "MarkEnum": ["overfill", "high", "safe", "reorder", "low", "empty", "pump_start", "pump_stop"],
        "WetEndEnum": ["full", "empty"],
        "FoundEnum": ["same", "differs", "missing", "extra"],
        "AgreementEnum": ["agrees", "parts", "after", "unread"],
        "SourceKindEnum": ["modbus", "push", "mqtt", "csv", "hand"],
        "LoadRuleEnum": ["weight", "filling"],
        "LoadStateEnum": ["load", "stop", "over"],
        "VisitStateEnum": "rasante.visits.models.Visit.STATES",
        "StepStateEnum": ["open", "running", "done", "skip", "override"],
        "DeviceStateEnum": "rasante.register.models.Device.STATES",
        "RungEnum": ["joined", "open", "short", "doubtful", "unread"],
    },
}

# Mail goes to the server that RASANTE_MAIL_HOST names; without one, into files that a page shows.
_MAIL_HOST = os.environ.get("RASANTE_MAIL_HOST", "")
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if _MAIL_HOST else 'filebased'}.EmailBackend"
EMAIL_HOST = _MAIL_HOST or "localhost"
EMAIL_PORT = int(os.environ.get("RASANTE_MAIL_PORT", "25"))
EMAIL_HOST_USER = os.environ.get("RASANTE_MAIL_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("RASANTE_MAIL_PASSWORD", "")
EMAIL_USE_TLS = os.environ.get("RASANTE_MAIL_TLS") == "1"
EMAIL_FILE_PATH = str(DATA / "mail")
DEFAULT_FROM_EMAIL = os.environ.get("RASANTE_MAIL_FROM", "rasante@localhost")
EMAIL_TIMEOUT = 20

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("TZ", "UTC")
USE_TZ = True

#: The built web app; `make web` makes it, and compresses its files once for all.
WEBAPP = PACKAGE / "webapp"
WEBAPP.mkdir(exist_ok=True)
STATIC_URL = "/static/"
STATIC_ROOT = WEBAPP
# Every file's name carries a hash of its content; only index.html does not, and that the shell serves itself.
WHITENOISE_MAX_AGE = 365 * 24 * 3600

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"axes": {"level": "ERROR"}, "django.request": {"level": "ERROR"}},
}
