"""The demo: loopback only, made-up people, sign-in at one tap. Never reachable from another machine."""

from __future__ import annotations

from fentro_server.settings.base import *  # noqa: F403
from fentro_server.settings.base import INSTALLED_APPS, database, env

SECRET_KEY = env.str("FENTRO_SECRET_KEY")
DEBUG = env.bool("FENTRO_DEBUG", False)
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
DATABASES = {"default": database(env.str("FENTRO_DATABASE_URL"))}
INSTALLED_APPS = [*INSTALLED_APPS, "fentro_server.demo"]
FENTRO_OPEN_SCHEMA = True
FENTRO_GATEWAY_HOSTS = ["127.0.0.0/8"]
CSRF_TRUSTED_ORIGINS = env.list("FENTRO_ORIGINS", default=[])
SESSION_COOKIE_NAME = "fentro_demo_session"
CSRF_COOKIE_NAME = "csrftoken"
