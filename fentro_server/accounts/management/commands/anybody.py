"""``manage.py anybody``: whether a company is here yet; bin/serve asks, to say what comes first."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from fentro_server.accounts.models import Company


class Command(BaseCommand):
    """Prints yes or no."""

    help = "Say whether a company is here yet."

    def handle(self, *args: Any, **options: Any) -> None:
        """Look."""
        self.stdout.write("yes" if Company.objects.filter(is_active=True).exists() else "no")
