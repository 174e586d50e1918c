"""When Python looks for what nothing refers to any more: between requests, not within them.

By itself it does so after so many objects were made, so in the middle of some request: one in twenty-five took twice its time.
Nearly all that a request makes frees itself without being looked for.
"""

from __future__ import annotations

import gc

YOUNG = 10_000
"""Objects more than at the last look: a few milliseconds' walk."""
MIDDLE, OLD = 50, 20
"""Every so many looks at the young ones those that outlived one are walked too, and every so many of these all."""
NEVER_IDLE = 200_000
"""Where there is no pause between requests, Python looks by itself after so many."""


def tidy_when_idle() -> None:
    """Once, when everything is loaded: what was made until now lives as long as the process and is never walked."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(NEVER_IDLE, MIDDLE, OLD)


def tidy_up() -> int | None:
    """Look, if there is enough: which generation was walked; None if none."""
    young, middle, old = gc.get_count()
    if young < YOUNG:
        return None
    generation = 0 if middle < MIDDLE else 1 if old < OLD else 2
    gc.collect(generation)
    return generation
