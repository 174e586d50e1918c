"""Visits and the entries of their logbooks."""

from __future__ import annotations

import uuid
from typing import Any, Self, get_args

from django.contrib.postgres.indexes import GinIndex
from django.db import models
from django.db.models import Q
from django.db.models.fields.json import KT

from fentro_core.logbook.entry import Phase
from fentro_core.logbook.kinds import all_kinds
from fentro_server.accounts.models import Company, CompanyQuerySet, Person
from fentro_server.accounts.words import words_in
from fentro_server.places.models import System

PHASES = get_args(Phase)

LEDGER_KINDS = tuple(kind.key for kind in all_kinds().values() if kind.ledger)
"""Kinds of entry that make up the ledger of temporary changes."""


NOTE_KINDS = ("note", "closing")
VISIT_WORDS = words_in("purpose")
NOTE_WORDS = words_in(KT("body__text"), KT("body__summary"))
"""What visits, and notes and last words, are found by; the same expressions are their indexes."""


class VisitQuerySet(CompanyQuerySet):
    """Visits by company, and by what lists show of them."""

    def behind(self) -> Self:
        """Those that entries came to since their lines were worked out."""
        return self.filter(line_number__lt=models.F("entries_number"))


class Visit(models.Model):
    """One visit to one system.

    `practice`: begun at a made-up system; said when it is made and never changed, for only such a visit can be deleted.
    `closed_at` follows the closing entries of its logbook, by the server's clock; `entries_number` is that of its last entry, and
    `chain` that one's link (`visits.chain`).
    `line`, what lists show of it, is worked out (`visits.lines`) from the entries up to `line_number` and from what
    `line_stands_on` stands for.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    system = models.ForeignKey(System, on_delete=models.PROTECT, related_name="visits")
    technician = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="visits")
    purpose = models.CharField(max_length=500, blank=True, default="")
    practice = models.BooleanField(default=False, editable=False)
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True, blank=True)
    entries_number = models.PositiveIntegerField(default=0, editable=False)
    chain = models.CharField(max_length=64, default="", editable=False)
    line = models.JSONField(null=True, editable=False)
    line_number = models.PositiveIntegerField(default=0, editable=False)
    line_stands_on = models.CharField(max_length=16, default="", editable=False)

    objects = VisitQuerySet.as_manager()

    class Meta:
        ordering = ["-opened_at"]
        indexes = [
            models.Index(fields=["company", "closed_at", "-opened_at"], name="visit_open_first"),
            models.Index(fields=["id"], condition=Q(line_number__lt=models.F("entries_number")), name="visit_line_behind"),
            models.Index(fields=["company", "-opened_at", "-id"], condition=Q(closed_at__isnull=True), name="visit_open"),
            models.Index(fields=["company", "-opened_at", "-id"], name="visit_latest"),
            GinIndex(VISIT_WORDS, name="visit_words"),
        ]

    def __str__(self) -> str:
        return f"{self.system.name}, {self.opened_at:%Y-%m-%d}"

    def save(self, *args: Any, **options: Any) -> None:
        """A new one at a practice system is practice."""
        if self._state.adding:
            self.practice = self.system.site.practice
        super().save(*args, **options)


class EntryQuerySet(models.QuerySet):
    """Entries as a snapshot needs them."""

    def in_order(self) -> Self:
        """In the order they were made, each with its person's name as `by_name`."""
        return self.annotate(by_name=models.F("by__name")).order_by("number")


class Entry(models.Model):
    """One thing done on a visit. Never edited or deleted: the database itself refuses (see the migration's trigger).

    `id` is made by the device, so that sending twice is harmless; `at` is the device's time, `received_at` ours; `core`:
    which core judged it first, the device's or this server's.
    """

    id = models.UUIDField(primary_key=True, editable=False)
    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, related_name="entries")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=20)
    phase = models.CharField(max_length=10)
    at = models.DateTimeField()
    received_at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT)
    body = models.JSONField()
    replaces = models.OneToOneField("self", null=True, blank=True, on_delete=models.PROTECT, related_name="replaced_by")
    reason = models.TextField(blank=True, default="")
    core = models.CharField(max_length=40, blank=True, default="", editable=False)
    chain = models.CharField(max_length=64, default="", editable=False)

    objects = EntryQuerySet.as_manager()

    class Meta:
        ordering = ["visit", "number"]
        verbose_name_plural = "entries"
        indexes = [
            models.Index(fields=["kind", "visit"], name="entry_ledger", condition=Q(kind__in=LEDGER_KINDS)),
            GinIndex(NOTE_WORDS, name="entry_words", condition=Q(kind__in=NOTE_KINDS)),
            models.Index(fields=["-received_at"], name="entry_latest"),
            models.Index(fields=["by", "-received_at"], name="entry_latest_by"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["visit", "number"], name="entry_number_once_per_visit"),
            models.CheckConstraint(condition=Q(phase__in=PHASES), name="entry_phase_known"),
            models.CheckConstraint(
                condition=~Q(kind="withdrawal") | Q(replaces__isnull=False), name="entry_withdrawal_names_its_target"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.number}"
