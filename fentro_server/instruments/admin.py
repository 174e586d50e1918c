"""Instruments in the office."""

from __future__ import annotations

from django.contrib import admin

from fentro_server.accounts.office import CompanyAdmin
from fentro_server.instruments.models import Instrument


@admin.register(Instrument)
class InstrumentAdmin(CompanyAdmin):
    """Probes and meters. Switched off rather than deleted once readings name them."""

    list_display = ("name", "kind", "serial", "calibration_due_on", "held_by", "in_use")
    list_filter = ("kind", "in_use")
    search_fields = ("name", "serial")

    def has_delete_permission(self, request: object, obj: object = None) -> bool:
        """Readings name their instrument: switch it off instead."""
        return False
