"""Events of a company, for its leads. Never changed or removed while the company is here."""

from __future__ import annotations

from django.db import models

from fentro_server.accounts.models import Company, CompanyQuerySet, Person
from fentro_server.visits.models import Visit


class What(models.TextChoices):
    """What was done."""

    SIGNED_IN = "signed_in", "Signed in"
    SIGNED_OUT = "signed_out", "Signed out"
    REFUSED = "refused", "Wrong password"
    SIGNED = "signed", "Signed a report"
    TOOK_REPORT = "took_report", "Took a report along"
    TOOK_VISIT = "took_visit", "Took a visit along"
    TOOK_READINGS = "took_readings", "Took readings along"
    TOOK_ALL = "took_all", "Took everything along"
    BROUGHT_IN = "brought_in", "Brought a visit in"
    PEOPLE = "people", "Changed who may do what"
    INVITED = "invited", "Invited somebody"
    TOKEN = "token", "Let a program in, or shut it out"
    COMPANY = "company", "Changed the company"
    APPOINTMENT = "appointment", "Changed an appointment"


class Event(models.Model):
    """One thing done. `about`: in words; `visit`: where it was about one."""

    company = models.ForeignKey(Company, on_delete=models.PROTECT)
    person = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    what = models.CharField(max_length=20, choices=What.choices)
    about = models.CharField(max_length=300, blank=True, default="")
    visit = models.ForeignKey(Visit, on_delete=models.PROTECT, null=True, related_name="+")

    objects = CompanyQuerySet.as_manager()

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [
            models.Index(fields=["company", "-at"], name="event_by_company"),
            models.Index(fields=["company", "person", "-at"], name="event_by_person"),
        ]

    def __str__(self) -> str:
        return f"{self.get_what_display()}, {self.at:%Y-%m-%d %H:%M}"
