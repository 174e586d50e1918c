"""Sessions in the database, each found by a query that is written once."""

from __future__ import annotations

from datetime import UTC, datetime

from django.contrib.sessions.backends import db
from django.contrib.sessions.models import Session
from django.utils import timezone

from fentro_server.prepared import Prepared

_STANDING: Prepared[Session] = Prepared(
    lambda key, now: Session.objects.filter(session_key=key, expire_date__gt=now), "a key", datetime(2000, 1, 1, tzinfo=UTC)
)


class SessionStore(db.SessionStore):
    """As Django's."""

    def _get_session_from_db(self) -> Session | None:
        found = _STANDING.first(self.session_key, timezone.now())
        if found is None:
            self._session_key = None
        return found
