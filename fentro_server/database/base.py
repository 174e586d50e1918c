"""The database as Django knows it: a pooled connection is looked at before use, and asked only where that tells nothing."""

from __future__ import annotations

import select
import time
from typing import Any
from weakref import WeakKeyDictionary

from django.db.backends.postgresql import base
from psycopg import Connection, Error
from psycopg_pool import ConnectionPool

RESTED_S = 10.0
"""A connection that was handed out so lately needs no question: what ended it since has been told to this machine."""
MOST_STALE = 20
"""More than a pool holds: they can't all be older than the server."""


class DatabaseWrapper(base.DatabaseWrapper):
    """Django's own asks the server about a pooled connection at each request: one more way there and back.

    A server that restarted, or ended the connection, has said so: there is something to read where nothing was asked. Only a
    network that drops connections in silence tells nothing, and it does so to those that rest.
    """

    _handed_out: WeakKeyDictionary[Connection[Any], float] = WeakKeyDictionary()

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """A connection that stands; from the pool if there is one.

        Raises
        ------
        OperationalError
            There is none to be had.
        """
        for _ in range(MOST_STALE):
            connection = super().get_new_connection(conn_params)
            if self.pool is None or self._stands(connection):
                break
            connection.close()
            self.pool.putconn(connection)
        return connection

    @classmethod
    def _stands(cls, connection: Connection[Any]) -> bool:
        now = time.monotonic()
        rested = now - cls._handed_out.get(connection, -RESTED_S)
        cls._handed_out[connection] = now
        if rested < RESTED_S and not _said_something(connection):
            return True
        try:
            ConnectionPool.check_connection(connection)
        except Error:
            return False
        return True


def _said_something(connection: Connection[Any]) -> bool:
    """Whether the server sent what nobody asked for: its end, most likely."""
    if connection.closed:
        return True
    seen = select.poll()
    seen.register(connection.fileno(), select.POLLIN)
    return bool(seen.poll(0))
