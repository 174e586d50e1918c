"""The ASGI application."""

from __future__ import annotations

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fentro_server.settings.production")

application = get_asgi_application()
