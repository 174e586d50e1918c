"""Plain progress, and plain words when something fails."""

from __future__ import annotations

import sys
from collections.abc import Callable
from typing import NoReturn


class Trouble(Exception):
    """Something a person has to put right; the message says what and how."""


def say(text: str) -> None:
    """One line of progress."""
    print(f"  {text}", flush=True)


def stop(text: str) -> NoReturn:
    """End with a sentence."""
    print(f"\n{text}\n", file=sys.stderr, flush=True)
    raise SystemExit(1)


def plainly(main: Callable[[], int]) -> NoReturn:
    """Run a command's main; troubles end it with their sentence, Ctrl-C quietly."""
    try:
        raise SystemExit(main())
    except Trouble as trouble:
        stop(str(trouble))
    except KeyboardInterrupt:
        raise SystemExit(130) from None
    except OSError as error:
        if error.errno == 28:
            stop("The disk is full. Make room and start again; nothing that was saved is lost.")
        raise
