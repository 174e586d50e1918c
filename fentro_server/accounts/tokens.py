"""Tokens that let a program in as a person: shown once, kept as a hash, over on a day."""

from __future__ import annotations

import secrets
from datetime import date, timedelta
from hashlib import sha256

from django.utils import timezone

from fentro_core.base.refusal import Refused
from fentro_server.accounts.models import ApiToken, Person, Scope

BEGINS = "fentro_"
LONGEST_DAYS = 366
MOST_TOKENS = 20


def hashed(token: str) -> str:
    """What is kept of a token: it is long and drawn at random, so that one round of SHA-256 is enough."""
    return sha256(token.encode("utf-8", "replace")).hexdigest()


def make(person: Person, name: str, scope: Scope, ends_on: date) -> tuple[ApiToken, str]:
    """A new token, and what the program shows: it is said here and never again.

    Raises
    ------
    Refused
        No name; a day that is over, or further than a year away; too many.
    """
    today = timezone.localdate()
    if not name.strip():
        raise Refused("Say which program it is for.", "name")
    if ends_on < today:
        raise Refused("This day is over.", "ends_on")
    if ends_on > today + timedelta(days=LONGEST_DAYS):
        raise Refused("A token lasts a year at most. Make a new one then.", "ends_on")
    if person.tokens.filter(ended_at__isnull=True, ends_on__gte=today).count() >= MOST_TOKENS:
        raise Refused("You have twenty tokens already. End those that nothing uses.", "name")
    shown = BEGINS + secrets.token_urlsafe(32)
    row = ApiToken.objects.create(person=person, name=name.strip()[:80], hashed=hashed(shown), scope=scope, ends_on=ends_on)
    return row, shown


def of(shown: str) -> ApiToken | None:
    """The token that a program shows, if it is good today and its person may come in."""
    row = ApiToken.objects.select_related("person__company").filter(hashed=hashed(shown), ended_at__isnull=True).first()
    today = timezone.localdate()
    if row is None or row.ends_on < today or not row.person.may_come_in:
        return None
    if row.used_on != today:
        ApiToken.objects.filter(pk=row.pk).update(used_on=today)
    return row
