"""A calculation ends in time: inputs are bounded, and should one run on all the same, it is stopped."""

from __future__ import annotations

import ctypes
import threading
from collections.abc import Iterator
from contextlib import contextmanager

from fentro_core.base.refusal import Refused

LONGEST_S = 5.0
TOO_LONG = "This takes longer than a calculation may. Give less at once."


class _TooLong(Exception):
    """Raised in the thread that calculates, from outside."""


@contextmanager
def in_time(seconds: float = LONGEST_S) -> Iterator[None]:
    """Stop what runs in here after some seconds; it is all Python, so it can be stopped anywhere.

    Raises
    ------
    Refused
        It took too long.
    """
    thread, over, turn = threading.get_ident(), False, threading.Lock()

    def stop() -> None:
        with turn:
            if not over:
                ctypes.pythonapi.PyThreadState_SetAsyncExc(ctypes.c_ulong(thread), ctypes.py_object(_TooLong))

    clock = threading.Timer(seconds, stop)
    clock.daemon = True
    clock.start()
    try:
        yield
    except _TooLong:
        raise Refused(TOO_LONG) from None
    finally:
        with turn:
            over = True
        clock.cancel()
