"""Python looks for garbage between requests: never while one is worked on, never for nothing."""

from __future__ import annotations

import asyncio
import gc
import sys
import threading
from collections.abc import Iterator
from typing import Any

import pytest

from fentro_server import tidying


@pytest.fixture
def walked(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """Generations that were walked."""
    seen: list[int] = []
    monkeypatch.setattr(tidying.gc, "collect", lambda generation=2: seen.append(generation))
    return seen


@pytest.mark.parametrize(
    ("counts", "expected"),
    [
        ((tidying.YOUNG - 1, 900, 900), None),
        ((tidying.YOUNG, 0, 0), 0),
        ((tidying.YOUNG, tidying.MIDDLE - 1, 900), 0),
        ((tidying.YOUNG, tidying.MIDDLE, tidying.OLD - 1), 1),
        ((tidying.YOUNG, tidying.MIDDLE, tidying.OLD), 2),
    ],
)
def test_what_is_walked_by_what_was_made(
    walked: list[int], monkeypatch: pytest.MonkeyPatch, counts: tuple[int, int, int], expected: int | None
) -> None:
    monkeypatch.setattr(tidying.gc, "get_count", lambda: counts)
    assert tidying.tidy_up() == expected
    assert walked == ([] if expected is None else [expected])


def test_each_generation_comes_to_its_turn() -> None:
    """With Python's own counters: a walk of the young ones counts towards the next generation's turn."""
    was = gc.get_threshold(), tidying.YOUNG
    try:
        gc.set_threshold(10_000_000)
        gc.collect()
        tidying.YOUNG = 100
        seen = []
        for _ in range(tidying.MIDDLE + 2):
            kept = [[number] for number in range(200)]
            seen.append(tidying.tidy_up())
            del kept
    finally:
        gc.set_threshold(*was[0])
        tidying.YOUNG = was[1]
    assert seen == [0] * tidying.MIDDLE + [1, 0]


@pytest.fixture(scope="module")
def asgi() -> Iterator[Any]:
    """The server's own handler, which is not what the tests' client uses."""
    thresholds, turns = gc.get_threshold(), sys.getswitchinterval()
    from fentro_server import asgi as module

    yield module
    gc.unfreeze()
    gc.set_threshold(*thresholds)
    sys.setswitchinterval(turns)


def test_the_last_of_two_requests_tidies(asgi: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """Two at once, one of them slow: nothing is walked until both are answered."""
    slow_goes_on, events = threading.Event(), []
    handler = asgi.OneThreadHandler()

    class Answer:
        streaming = False

    def answered(request: str, scope: Any) -> Answer:
        if request == "slow":
            slow_goes_on.wait(10)
        events.append(request)
        return Answer()

    async def sent(response: Answer, send: Any) -> None:
        pass

    monkeypatch.setattr(handler, "_answered", answered)
    monkeypatch.setattr(handler, "send_response", sent)
    monkeypatch.setattr(asgi, "tidy_up", lambda: events.append("tidied"))

    async def both() -> None:
        slow = asyncio.create_task(handler._answer("slow", {}, None))
        await handler._answer("quick", {}, None)
        await asyncio.sleep(5 * asgi.IDLE_S)
        assert events == ["quick"], "the slow one is still inside"
        slow_goes_on.set()
        await slow
        await asyncio.sleep(5 * asgi.IDLE_S)

    asyncio.run(both())
    assert events == ["quick", "slow", "tidied"]


def test_a_request_that_failed_is_not_inside_for_ever(asgi: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    handler = asgi.OneThreadHandler()

    def answered(request: str, scope: Any) -> None:
        raise ValueError(request)

    tidied: list[bool] = []
    monkeypatch.setattr(handler, "_answered", answered)
    monkeypatch.setattr(asgi, "tidy_up", lambda: tidied.append(True))

    async def one() -> None:
        with pytest.raises(ValueError, match="bad"):
            await handler._answer("bad", {}, None)
        await asyncio.sleep(5 * asgi.IDLE_S)

    asyncio.run(one())
    assert tidied == [True]
