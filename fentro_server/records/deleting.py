"""Deleting a company's practice, with all that was entered and signed there. The database deletes no other visit."""

from __future__ import annotations

from uuid import UUID

from django.db import connection, transaction
from django.db.models import Exists, OuterRef

from fentro_server.accounts.models import Company
from fentro_server.audit.models import Event
from fentro_server.measuring.models import Sample, Series
from fentro_server.photos.models import Photo
from fentro_server.places.models import Site, System
from fentro_server.planning.models import Appointment
from fentro_server.visits.models import Entry, Visit


def delete_practice(company: Company) -> int:
    """All of it, or nothing; how many visits that were. What was done stays told in the company's events, without the visit."""
    with transaction.atomic():
        systems = System.objects.of(company.pk).filter(site__practice=True)
        visits = list(
            Visit.objects.of(company.pk)
            .filter(system__in=systems, practice=True)
            .order_by("pk")
            .select_for_update(of=("self",))
            .values_list("pk", flat=True)
        )
        with connection.cursor() as cursor:
            for visit in visits:
                cursor.execute("select fentro_delete_practice(%s)", [visit])
        _leave_photos(company, visits)
        Sample.objects.filter(series__visit__in=visits).delete()
        Series.objects.filter(visit__in=visits).delete()
        Event.objects.filter(visit__in=visits).update(visit=None)
        Visit.objects.filter(pk__in=visits).delete()
        Appointment.objects.filter(system__in=systems).delete()
        empty = systems.filter(~Exists(Visit.objects.filter(system=OuterRef("pk"))))
        empty.delete()
        Site.objects.of(company.pk).filter(~Exists(System.objects.filter(site=OuterRef("pk"))), practice=True).delete()
    return len(visits)


def _leave_photos(company: Company, visits: list[UUID]) -> None:
    """A photo is kept once for a company: one that a real visit shows too belongs to that visit from now on."""
    photos = Photo.objects.filter(visit__in=visits)
    for pk, sha256 in list(photos.values_list("pk", "sha256")):
        real = Entry.objects.filter(visit__company=company, visit__practice=False, kind="photo", body__sha256=sha256)
        shown_at = real.order_by().values_list("visit", flat=True).first()
        if shown_at is not None:
            Photo.objects.filter(pk=pk).update(visit=shown_at)
    photos.delete()
