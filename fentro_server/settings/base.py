"""Settings shared by every way of running. What differs stands in `demo`, `test` and `production`."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import environ
from csp.constants import NONE, SELF

env = environ.Env()

ROOT = Path(__file__).resolve().parents[2]
WEB_BUILD = ROOT / "web" / "dist"

INSTALLED_APPS = [
    "django.contrib.admin",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "fentro_server.accounts",
    "fentro_server.places",
    "fentro_server.instruments",
    "fentro_server.gateways",
    "fentro_server.visits",
    "fentro_server.measuring",
    "fentro_server.photos",
    "fentro_server.records",
    "fentro_server.audit",
    "fentro_server.planning",
    "fentro_server.api",
]

MIDDLEWARE = [
    "fentro_server.operation.logs.Requests",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "fentro_server.api.smaller.Smaller",
    "fentro_server.api.caching.NotKept",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ]
        },
    }
]

ROOT_URLCONF = "fentro_server.urls"
ASGI_APPLICATION = "fentro_server.asgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-us"

AUTH_USER_MODEL = "accounts.Person"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "fentro_server.accounts.backends.ByName",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "/sign-in"
PASSWORD_RESET_TIMEOUT = 14 * 24 * 60 * 60
"""How long a link is good by which somebody chooses a password [s]."""

AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_USERNAME_FORM_FIELD = "sign_in_name"
AXES_VERBOSE = False
AXES_LOCKOUT_CALLABLE = "fentro_server.api.session.locked_out"

SESSION_ENGINE = "fentro_server.accounts.sessions"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF, "'wasm-unsafe-eval'"],
        "style-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "worker-src": [SELF],
        "manifest-src": [SELF],
        "frame-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
FONTS = ROOT / "web" / "node_modules" / "@fontsource" / "atkinson-hyperlegible-next" / "files"
STATICFILES_DIRS = [("fonts", FONTS)] if FONTS.is_dir() else []
"""The interface's own letters, for reports: they are no part of its build."""
WHITENOISE_USE_FINDERS = True
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.is_dir() else None
WHITENOISE_MAX_AGE = 0


def immutable_file(path: str, url: str) -> bool:
    """Files whose name carries a fingerprint of their content never change."""
    return url.startswith("/assets/")


WHITENOISE_IMMUTABLE_FILE_TEST = immutable_file

DATA_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024

FENTRO_GATEWAY_HOSTS: list[str] = env.list("FENTRO_GATEWAY_HOSTS", default=[])
"""Where gateways of probes (docs/probes.md) and controllers (docs/controller.md) may be: ranges of addresses, or machines' names.
A lead registers them there and nowhere else; empty: nowhere."""

FENTRO_METRICS_TOKEN = env.str("FENTRO_METRICS_TOKEN", "")
"""With it numbers to watch are shown at /api/v1/metrics (docs/operating.md); empty: to nobody."""

FENTRO_OPEN_SCHEMA = env.bool("FENTRO_OPEN_SCHEMA", False)
"""The API's description may be seen without signing in."""

LOGGING: dict[str, Any] = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"request_id": {"()": "fentro_server.operation.logs.WithRequestId"}},
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "%(asctime)s %(levelname)s %(name)s %(request_id)s %(message)s",
            "rename_fields": {"asctime": "at", "levelname": "level", "name": "by", "message": "said"},
        }
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["request_id"], "formatter": "json"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"django.request": {"level": "ERROR"}, "weasyprint": {"level": "ERROR"}, "fontTools": {"level": "ERROR"}},
}


def database(url: str) -> dict[str, object]:
    """A PostgreSQL database by URL, with a pool of connections: under ASGI each request runs in a thread of its own."""
    found: dict[str, object] = env.db_url_config(url)
    found["ENGINE"] = "fentro_server.database"
    found["OPTIONS"] = {**found.get("OPTIONS", {}), "pool": {"min_size": 1, "max_size": 10, "timeout": 10}}  # type: ignore[dict-item]
    return found
