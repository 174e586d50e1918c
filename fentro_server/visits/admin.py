"""Visits and entries in the office: to read, not to edit."""

from __future__ import annotations

from django.contrib import admin

from fentro_server.accounts.office import ReadOnlyAdmin
from fentro_server.visits.models import Entry, Visit


@admin.register(Visit)
class VisitAdmin(ReadOnlyAdmin):
    """Visits, newest first."""

    list_display = ("system", "opened_at", "closed_at", "technician", "purpose")
    list_select_related = ("system__site", "technician")
    list_filter = ("opened_at", "closed_at")
    search_fields = ("system__name", "system__site__name", "technician__name")


@admin.register(Entry)
class EntryAdmin(ReadOnlyAdmin):
    """Entries as they were made."""

    company_path = "visit__company"
    list_display = ("visit", "number", "kind", "phase", "at", "by", "body", "replaces")
    list_select_related = ("visit__system", "by", "replaces")
    list_filter = ("kind", "phase")
