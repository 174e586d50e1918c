"""A pooled connection that ended is never handed out; one that stands is not asked each time."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from typing import Any

import psycopg
import pytest
from django.db import connection
from psycopg_pool import ConnectionPool

from fentro_server.database import base
from fentro_server.database.base import DatabaseWrapper


@pytest.fixture
def pooled() -> Iterator[DatabaseWrapper]:
    """The database of the tests, with a pool of its own."""
    settings = copy.deepcopy(connection.settings_dict)
    settings["OPTIONS"] = {**settings["OPTIONS"], "pool": {"min_size": 1, "max_size": 1, "timeout": 10}}
    wrapper = DatabaseWrapper(settings, alias="pooled")
    yield wrapper
    wrapper.close()
    wrapper.close_pool()


def asked_who(wrapper: DatabaseWrapper) -> int:
    """One request: which of the server's processes answered."""
    with wrapper.cursor() as cursor:
        cursor.execute("select pg_backend_pid()")
        (number,) = cursor.fetchone()
    wrapper.close()
    return int(number)


@pytest.fixture
def questions(monkeypatch: pytest.MonkeyPatch) -> list[Any]:
    """Connections whose server was asked whether they stand."""
    seen: list[Any] = []
    own = ConnectionPool.check_connection

    def check(one: Any) -> None:
        seen.append(one)
        own(one)

    monkeypatch.setattr(ConnectionPool, "check_connection", staticmethod(check))
    return seen


@pytest.mark.django_db(transaction=True)
def test_a_connection_used_just_now_is_not_asked(pooled: DatabaseWrapper, questions: list[Any]) -> None:
    first = asked_who(pooled)
    questions.clear()
    assert [asked_who(pooled) for _ in range(5)] == [first] * 5
    assert questions == []


@pytest.mark.django_db(transaction=True)
def test_one_that_the_server_ended_is_never_handed_out(pooled: DatabaseWrapper) -> None:
    for _ in range(3):
        ended = asked_who(pooled)
        with psycopg.connect(
            **{**connection.get_connection_params(), "cursor_factory": psycopg.Cursor, "context": None}
        ) as other:
            other.execute("select pg_terminate_backend(%s, 5000)", [ended])
        assert asked_who(pooled) != ended


@pytest.mark.django_db(transaction=True)
def test_one_that_rested_is_asked(pooled: DatabaseWrapper, questions: list[Any], monkeypatch: pytest.MonkeyPatch) -> None:
    first = asked_who(pooled)
    monkeypatch.setattr(base, "RESTED_S", 0.0)
    questions.clear()
    assert asked_who(pooled) == first
    assert len(questions) == 1
