"""Listens to signing in and out from the start."""

from __future__ import annotations

from django.apps import AppConfig


class AuditConfig(AppConfig):
    """The audit."""

    name = "fentro_server.audit"

    def ready(self) -> None:
        """Connect the signals."""
        from fentro_server.audit import noting  # noqa: F401
