"""Tests of one group stay on one worker: two browsers at once are more than a small machine can drive."""

from __future__ import annotations

import os

import pytest


@pytest.mark.xdist_group("grouped")
@pytest.mark.skipif("PYTEST_XDIST_WORKER" not in os.environ, reason="No workers: nothing is grouped.")
def test_a_tests_group_is_known_to_its_worker(request: pytest.FixtureRequest) -> None:
    assert request.node.nodeid.endswith("@grouped")


def test_every_browser_test_has_its_group(request: pytest.FixtureRequest) -> None:
    driven = [item for item in request.session.items if "/browser/" in f"/{item.path.as_posix()}"]
    assert all(item.get_closest_marker("xdist_group") for item in driven)
