"""Noting what was done: by the routes themselves, and by Django's own signals for signing in and out."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.dispatch import receiver

from fentro_server.accounts.models import Person
from fentro_server.audit.models import Event, What
from fentro_server.visits.models import Visit


def note(person: Person, what: What, about: str = "", visit: Visit | None = None) -> None:
    """One event of the person's company."""
    Event.objects.create(company_id=person.company_id, person=person, what=what, about=about[:300], visit=visit)


@receiver(user_logged_in)
def _signed_in(sender: Any, user: Any, **more: Any) -> None:
    if isinstance(user, Person):
        note(user, What.SIGNED_IN)


@receiver(user_logged_out)
def _signed_out(sender: Any, user: Any, **more: Any) -> None:
    if isinstance(user, Person):
        note(user, What.SIGNED_OUT)


@receiver(user_login_failed)
def _refused(sender: Any, credentials: Any, **more: Any) -> None:
    """A wrong password of somebody who is known; a name that nobody has belongs to no company."""
    name = credentials.get("sign_in_name")
    person = Person.objects.filter(sign_in_name=name).first() if isinstance(name, str) and "\0" not in name else None
    if person is not None:
        note(person, What.REFUSED)
