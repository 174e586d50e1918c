"""Routes: the API, the office (Django's admin), and the built interface for everything else."""

from __future__ import annotations

from django.contrib import admin
from django.urls import path, re_path
from django.views.generic import RedirectView

from fentro_server.api.root import api
from fentro_server.web import page

urlpatterns = [
    path("api/v1/", api.urls),
    path("admin/login/", RedirectView.as_view(url="/sign-in")),
    path("admin/", admin.site.urls),
    re_path(r"^(?!api/|admin/|static/|assets/).*$", page),
]
