"""Sites and systems in the office."""

from __future__ import annotations

from typing import Any

from django.contrib import admin
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse

from fentro_server.accounts.office import CompanyAdmin
from fentro_server.places.models import Site, System
from fentro_server.places.plate_form import PREFIX, SystemForm, plate_fields


@admin.register(Site)
class SiteAdmin(CompanyAdmin):
    """Places with their elevation."""

    list_display = ("name", "elevation_m", "climate_zone")
    search_fields = ("name",)


@admin.register(System)
class SystemAdmin(CompanyAdmin):
    """Air systems with their nameplates."""

    form = SystemForm
    list_display = ("name", "site", "kind")
    list_filter = ("kind",)
    list_select_related = ("site",)
    search_fields = ("name", "site__name")

    def get_form(self, request: HttpRequest, obj: Any = None, change: bool = False, **kwargs: Any) -> Any:
        """Model fields only: those of the plate are made by the form itself."""
        return super().get_form(request, obj, change, **{**kwargs, "fields": None})

    def get_fieldsets(self, request: HttpRequest, obj: System | None = None) -> Any:
        """The system, then its plate."""
        own = ("site", "name", "kind", "location")
        first = ("company", *own) if request.user.is_superuser else own
        if obj is None:
            return [(None, {"fields": first})]
        return [(None, {"fields": first}), ("Nameplate", {"fields": [PREFIX + name for name in plate_fields(obj.kind)]})]

    def response_add(self, request: HttpRequest, obj: System, post_url_continue: str | None = None) -> HttpResponse:
        """On to the nameplate."""
        self.message_user(request, "Saved. Now fill in what the nameplate says.")
        return HttpResponseRedirect(reverse("admin:places_system_change", args=[obj.pk]))
