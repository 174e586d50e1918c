"""Links by which somebody chooses a password: good for two weeks, and for one use."""

from __future__ import annotations

from uuid import UUID

from django.contrib.auth.tokens import default_token_generator

from fentro_server.accounts.models import Person


def path_of(person: Person) -> str:
    """The link's path; it goes out with the password it changes, and by itself after `PASSWORD_RESET_TIMEOUT`."""
    return f"/invitation/{person.pk}/{default_token_generator.make_token(person)}"


def invited(person_id: str, token: str) -> Person | None:
    """Whom a link is for, if it is still good."""
    try:
        wanted = UUID(person_id)
    except ValueError:
        return None
    person = Person.objects.filter(pk=wanted).first()
    if person is None or not person.may_come_in or not default_token_generator.check_token(person, token):
        return None
    return person
