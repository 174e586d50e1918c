"""A real installation. Everything comes from the environment (see docs/install.md); nothing of the demo is in it."""

from __future__ import annotations

from django.core.exceptions import ImproperlyConfigured

from fentro_server.settings.base import *  # noqa: F403
from fentro_server.settings.base import INSTALLED_APPS, LOGGING, database, env

SECRET_KEY = env.str("FENTRO_SECRET_KEY")
ALLOWED_HOSTS = env.list("FENTRO_HOSTS")
CSRF_TRUSTED_ORIGINS = env.list("FENTRO_ORIGINS", default=[f"https://{host}" for host in ALLOWED_HOSTS])
DATABASES = {"default": database(env.str("FENTRO_DATABASE_URL"))}

LOGGING["loggers"]["fentro.requests"] = {"level": "INFO"}

SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
SECURE_SSL_REDIRECT = env.bool("FENTRO_REDIRECT_TO_HTTPS", True)
SECURE_HSTS_SECONDS = env.int("FENTRO_HSTS_SECONDS", 31_536_000)
SECURE_REDIRECT_EXEMPT = [r"^api/v1/(health|ready|metrics)$"]
if len(SECRET_KEY) < 40:
    raise ImproperlyConfigured("FENTRO_SECRET_KEY must be at least 40 random letters. bin/serve --new-key prints one.")
if any("demo" in app for app in INSTALLED_APPS):
    raise ImproperlyConfigured("The demo can't be part of a real installation.")
