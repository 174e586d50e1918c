"""Who signs in, and whose a session is."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.contrib.auth.backends import ModelBackend
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest

from fentro_server.accounts.models import Person
from fentro_server.accounts.sessions import BY_KEY, came_along

BY_NAME = "fentro_server.accounts.backends.ByName"
"""Where a person comes in without a password: an invitation, the demo."""


class ByName(ModelBackend):
    """By name and password. Whose a session is, is asked with every request: with the session itself where that can be."""

    def authenticate(self, request: HttpRequest | None, **credentials: Any) -> Person:  # type: ignore[override]
        """The person.

        Raises
        ------
        PermissionDenied
            Nobody: no other way in is tried. (Django's own is still named in the settings, for sessions begun by it.)
        """
        person = super().authenticate(request, **credentials)
        if person is None:
            raise PermissionDenied
        return person

    def get_user(self, user_id: UUID) -> Person | None:
        """Who it is, with the company, if still with us."""
        person = came_along(user_id) or BY_KEY.first(user_id)
        return person if person is not None and self.user_can_authenticate(person) else None
