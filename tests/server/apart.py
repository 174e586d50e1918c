"""Calls in a thread of their own: the browser tests keep an event loop in the worker's main thread."""

from __future__ import annotations

import asyncio
from collections.abc import Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

from django.db import connections

T = TypeVar("T")


def apart(call: Callable[[], T]) -> T:
    """The call's answer, from a fresh thread whose database connections are closed after it."""

    def called() -> T:
        try:
            return call()
        finally:
            connections.close_all()

    with ThreadPoolExecutor(1) as pool:
        return pool.submit(called).result()


def in_a_loop(call: Callable[[], Coroutine[Any, Any, T]]) -> T:
    """A coroutine's answer, from a loop of its own in a fresh thread."""
    return apart(lambda: asyncio.run(call()))
