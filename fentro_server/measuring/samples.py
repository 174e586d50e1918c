"""Samples in and out of the database, in bulk."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import connection, transaction
from django.db.models import Count, Max, Min

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


@dataclass(frozen=True)
class Logged:
    """A series with its span and its course, thinned; values in SI."""

    series: Series
    count: int
    first: datetime
    last: datetime
    course: list[tuple[float, float]]


MOST_IN_COURSE = 300
MOST_IN_WINDOW = 2_000


def logged(visit: Visit) -> list[Logged]:
    """Every series of a visit that holds samples."""
    found = []
    for series in Series.objects.filter(visit=visit).select_related("instrument"):
        span = Sample.objects.filter(series=series).aggregate(count=Count("at"), first=Min("at"), last=Max("at"))
        if span["count"]:
            found.append(Logged(series, **span, course=window(series, span["first"], span["last"], MOST_IN_COURSE)))
    return found


THINNED = """
select extract(epoch from at)::float8, value from (
  select at, value, row_number() over (order by at) as number, count(*) over () as whole
  from measuring_sample where series_id = %(series)s and at between %(first)s and %(last)s
) as numbered
where (number - 1) %% greatest(1, (whole + %(most)s - 1) / %(most)s) = 0 order by at
"""


def window(series: Series, first: datetime, last: datetime, most: int = MOST_IN_WINDOW) -> list[tuple[float, float]]:
    """Moment [s since 1970] and value (SI) of the samples from one moment to another; of many every so many-th."""
    with connection.cursor() as cursor:
        cursor.execute(THINNED, {"series": series.pk, "first": first, "last": last, "most": most})
        return [(float(at), float(value)) for at, value in cursor.fetchall()]


def lines(visit: Visit) -> Iterator[tuple[Series, datetime, float]]:
    """Every sample of a visit, series by series, without holding them all."""
    for series in Series.objects.filter(visit=visit).select_related("instrument"):
        rows: Iterable[tuple[datetime, float]] = (
            Sample.objects.filter(series=series).order_by("at").values_list("at", "value").iterator(chunk_size=BATCH)
        )
        for at, value in rows:
            yield series, at, value
