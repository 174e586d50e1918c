"""Sites and systems in the office."""

from __future__ import annotations

from django.contrib import admin

from fentro_server.accounts.office import CompanyAdmin
from fentro_server.places.models import Site, System


@admin.register(Site)
class SiteAdmin(CompanyAdmin):
    """Places with their elevation."""

    list_display = ("name", "elevation_m", "climate_zone")
    search_fields = ("name",)


@admin.register(System)
class SystemAdmin(CompanyAdmin):
    """Air systems with their nameplates."""

    list_display = ("name", "site", "kind")
    list_filter = ("kind",)
    list_select_related = ("site",)
    search_fields = ("name", "site__name")
