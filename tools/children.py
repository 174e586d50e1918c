"""Child processes that end with us, whatever happens to us."""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import subprocess
from collections.abc import Callable
from typing import Any

_PR_SET_PDEATHSIG = 1
_libc = ctypes.CDLL(None, use_errno=True)


def dies_with_us(how: signal.Signals) -> Callable[[], None]:
    """For `preexec_fn`: the kernel sends the child this signal when its parent is gone, even by kill -9."""

    def arrange() -> None:
        os.setsid()
        _libc.prctl(_PR_SET_PDEATHSIG, how)

    return arrange


def start(command: list[str], *, ends_by: signal.Signals = signal.SIGTERM, **options: Any) -> subprocess.Popen[Any]:
    """Start a child in a session of its own, tied to our life."""
    return subprocess.Popen(command, stdin=subprocess.DEVNULL, preexec_fn=dies_with_us(ends_by), **options)


def end(child: subprocess.Popen[Any], how: signal.Signals = signal.SIGTERM, seconds: float = 20) -> None:
    """End a child; if it does not listen, end its whole session."""
    if child.poll() is None:
        child.send_signal(how)
        try:
            child.wait(seconds)
        except subprocess.TimeoutExpired:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(child.pid, signal.SIGKILL)
            child.wait()
