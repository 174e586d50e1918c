"""Numbers to watch, in the open text format that monitoring tools read; over all workers of one machine."""

from __future__ import annotations

import hmac
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from prometheus_client import CONTENT_TYPE_LATEST, REGISTRY, CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

_TIMES = (0.005, 0.01, 0.02, 0.04, 0.08, 0.15, 0.3, 0.6, 1.2, 2.5, 5.0, 10.0)

_requests = Histogram("fentro_request_seconds", "Time to answer, by route.", ["method", "route", "status"], buckets=_TIMES)
_work_ups = Histogram("fentro_work_up_seconds", "Time to work a visit out.", buckets=_TIMES)
_entries = Counter("fentro_entries", "Entries that devices sent, by what became of them.", ["became"])
_streams = Gauge("fentro_streams", "Live streams that are open.", multiprocess_mode="livesum")
_waiting = Gauge("fentro_samples_waiting", "Samples that wait for the database.", multiprocess_mode="livesum")


def answered(method: str, route: str, status: int, seconds: float) -> None:
    """A request was answered."""
    _requests.labels(method, route, str(status)).observe(seconds)


@contextmanager
def working_out() -> Iterator[None]:
    """A visit is worked out in here."""
    begun = time.perf_counter()
    try:
        yield
    finally:
        _work_ups.observe(time.perf_counter() - begun)


def taken(accepted: int, refused: int) -> None:
    """A batch of entries was dealt with."""
    _entries.labels("accepted").inc(accepted)
    _entries.labels("refused").inc(refused)


def streams(more: int) -> None:
    """So many live streams more, or fewer."""
    _streams.inc(more)


def waiting(samples: int) -> None:
    """So many samples wait in this process."""
    _waiting.set(samples)


def show(request: HttpRequest) -> HttpResponse:
    """All numbers, for whoever has the operator's token; without one set there is no such page."""
    token = settings.FENTRO_METRICS_TOKEN
    given = request.headers.get("Authorization", "")
    if not token or not hmac.compare_digest(given.encode(), f"Bearer {token}".encode()):
        raise Http404
    registry = REGISTRY
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        registry = CollectorRegistry()
        MultiProcessCollector(registry)
    return HttpResponse(generate_latest(registry), content_type=CONTENT_TYPE_LATEST)
