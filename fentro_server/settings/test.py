"""Settings of the tests: their own database, quick password hashing, no demo."""

from __future__ import annotations

from fentro_server.settings.base import *  # noqa: F403
from fentro_server.settings.base import INSTALLED_APPS, env

SECRET_KEY = "only for tests, never served to anyone"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
DATABASES = {"default": env.db_url_config(env.str("FENTRO_DATABASE_URL", "postgresql://fentro@127.0.0.1:1/missing"))}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
INSTALLED_APPS = [*INSTALLED_APPS]
AXES_ENABLED = True
FENTRO_GATEWAY_HOSTS = ["127.0.0.0/8"]
