"""Samples in and out of the database, in bulk."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import connection, transaction

from fentro_server.measuring.models import Sample, Series
from fentro_server.visits.models import Visit

BATCH = 5_000
HOUR = timedelta(hours=1)


@dataclass(frozen=True)
class Channel:
    """What a series is of."""

    station: str
    point: int
    quantity: str
    instrument: str | None
    origin: str


def series_of(visit: Visit, channel: Channel) -> int:
    """The number of the series of a channel, made when it is new."""
    made, _ = Series.objects.get_or_create(
        visit=visit,
        station=channel.station,
        point=channel.point,
        quantity=channel.quantity,
        instrument_id=channel.instrument,
        origin=channel.origin,
    )
    return int(made.pk)


def add(rows: Iterable[tuple[int, datetime, float]], before_insert: Callable[[], None] = lambda: None) -> int:
    """Add samples (series, moment, value); one that is already there stays as it is. Returns how many were new.

    By COPY into a table of the transaction's own, then one insert: quick, and memory stays flat however many come.
    `before_insert` is called once all are read; what it raises, undoes everything.
    """
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(
            "create temp table if not exists fresh_samples (series_id bigint, at timestamptz, value double precision)"
            " on commit drop"
        )
        with cursor.copy("copy fresh_samples (series_id, at, value) from stdin (format binary)") as copy:
            copy.set_types(["int8", "timestamptz", "float8"])
            for row in rows:
                copy.write_row(row)
        before_insert()
        cursor.execute(
            "insert into measuring_sample (series_id, at, value)"
            " select distinct on (series_id, at) series_id, at, value from fresh_samples order by series_id, at"
            " on conflict do nothing"
        )
        added = int(cursor.rowcount)
        cursor.execute("truncate fresh_samples")
    return added


def recent(visit: Visit, most: int = 400) -> dict[str, list[tuple[float, float]]]:
    """The last hour of live samples by channel key, thinned to at most `most` each, for the trends of a page just opened."""
    found: dict[str, list[tuple[float, float]]] = {}
    for series in Series.objects.filter(visit=visit, origin="live"):
        newest = Sample.objects.filter(series=series).order_by("-at").values_list("at", flat=True).first()
        if newest is None:
            continue
        rows = list(Sample.objects.filter(series=series, at__gt=newest - HOUR).order_by("at").values_list("at", "value"))
        step = max(len(rows) // most, 1)
        kept = rows[::-1][::step][::-1]
        found[f"{series.instrument_id}/{series.quantity}/{series.station}/{series.point}"] = [
            (at.timestamp(), value) for at, value in kept
        ]
    return found


def lines(visit: Visit) -> Iterator[tuple[Series, datetime, float]]:
    """Every sample of a visit, series by series, without holding them all."""
    for series in Series.objects.filter(visit=visit).select_related("instrument"):
        rows: Iterable[tuple[datetime, float]] = (
            Sample.objects.filter(series=series).order_by("at").values_list("at", "value").iterator(chunk_size=BATCH)
        )
        for at, value in rows:
            yield series, at, value
