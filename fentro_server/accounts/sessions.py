"""Sessions in the database, each found by a query that is written once, together with the person whose it was last time.

Every request asks for both, one after the other: the session names the person. Whose a session is does not change while it
lasts, so what was seen before is only a hint which person to ask for along with it; the session still has the word.
"""

from __future__ import annotations

from contextvars import ContextVar
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends import db
from django.contrib.sessions.models import Session
from django.utils import timezone

from fentro_server.accounts.models import Person
from fentro_server.prepared import Prepared, first_of_both

BY_KEY: Prepared[Person] = Prepared(lambda key: Person.objects.filter(pk=key), UUID(int=1))

_STANDING: Prepared[Session] = Prepared(
    lambda key, now: Session.objects.filter(session_key=key, expire_date__gt=now), "a key", datetime(2000, 1, 1, tzinfo=UTC)
)

MOST_HINTS = 10_000
_hints: dict[str, UUID] = {}
_person: ContextVar[Person | None] = ContextVar("person", default=None)


def came_along(key: UUID) -> Person | None:
    """The person who was fetched with the session that was read just now, if it is this one; told once."""
    person = _person.get()
    _person.set(None)
    return person if person is not None and person.pk == key else None


class SessionStore(db.SessionStore):
    """As Django's."""

    def load(self) -> dict[str, Any]:
        """What the session holds; whose it is will be known when it is asked for again."""
        held: dict[str, Any] = super().load()
        if self.session_key and SESSION_KEY in held:
            if len(_hints) >= MOST_HINTS:
                _hints.clear()
            _hints[self.session_key] = UUID(held[SESSION_KEY])
        return held

    def _get_session_from_db(self) -> Session | None:
        hint = _hints.get(self.session_key or "")
        asked = (self.session_key, timezone.now())
        found, person = first_of_both(_STANDING, asked, BY_KEY, (hint,)) if hint else (_STANDING.first(*asked), None)
        _person.set(person)
        if found is None:
            self._session_key = None
            _hints.pop(asked[0] or "", None)
        return found
