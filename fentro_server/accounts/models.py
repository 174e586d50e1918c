"""Companies and the people who work for them."""

from __future__ import annotations

import uuid
from typing import Any, Self

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.db import models

from fentro_server.accounts.words import words_in


class CompanyQuerySet(models.QuerySet):
    """Every query for a request starts with `of(company)`, so that another company's rows do not exist for it."""

    def of(self, company_id: uuid.UUID) -> Self:
        """Only this company's rows."""
        return self.filter(company_id=company_id)


class LeftNames(models.TextChoices):
    """How a company calls people who left."""

    NAME = "name", "By their name"
    INITIALS = "initials", "By their initials"
    HIDDEN = "hidden", "Someone who left"


class Company(models.Model):
    """A firm. Every row of the product belongs to one.

    `letterhead`: what stands under its name on reports: address, telephone, licence. `left_names`: how people who left are
    called in its records.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120, unique=True)
    is_active = models.BooleanField("still with us", default=True)
    letterhead = models.TextField(max_length=600, blank=True, default="")
    left_names = models.CharField(max_length=10, choices=LeftNames.choices, default=LeftNames.NAME)

    class Meta:
        verbose_name_plural = "companies"

    def __str__(self) -> str:
        return self.name


OFFICE_SECTIONS = frozenset({"accounts", "places", "instruments", "visits"})
"""Parts of the office that hold a company's own rows."""


PERSON_WORDS = words_in("name")
"""What people are found by."""


class Role(models.TextChoices):
    """What a person may do."""

    TECHNICIAN = "technician", "Technician"
    LEAD = "lead", "Lead"
    VIEWER = "viewer", "Viewer"


class PersonManager(BaseUserManager.from_queryset(CompanyQuerySet)):  # type: ignore[misc]
    """Makes people; finds them by sign-in name, each with their company: every request asks whether it is still with us."""

    def get_queryset(self) -> models.QuerySet:
        """People with their companies."""
        return super().get_queryset().select_related("company")

    def create_person(self, company: Company, sign_in_name: str, password: str | None, **fields: Any) -> Person:
        """A new person; without a password nobody can sign in as them with one."""
        person = self.model(company=company, sign_in_name=self.model.normalize_username(sign_in_name), **fields)
        person.set_password(password)
        person.save(using=self._db)
        return person


class Person(AbstractBaseUser):
    """Someone who signs in.

    The office (Django's admin) is open to leads, for their own company. `is_operator` is the one who runs the
    installation and sees all companies there.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    company = models.ForeignKey(Company, on_delete=models.PROTECT, related_name="people")
    sign_in_name = models.CharField(max_length=120, unique=True)
    name = models.CharField(max_length=120)
    role = models.CharField(max_length=20, choices=Role.choices, default=Role.TECHNICIAN)
    is_active = models.BooleanField(default=True)
    is_operator = models.BooleanField(default=False, editable=False)
    session_epoch = models.PositiveIntegerField(default=0, editable=False)

    objects = PersonManager()

    USERNAME_FIELD = "sign_in_name"
    REQUIRED_FIELDS = ["name"]

    class Meta:
        verbose_name_plural = "people"
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=Role.values), name="person_role_known"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def may_come_in(self) -> bool:
        """Neither the person nor the company was ended."""
        return self.is_active and self.company.is_active

    @property
    def is_staff(self) -> bool:
        """May open the office."""
        return self.may_come_in and (self.role == Role.LEAD or self.is_operator)

    @property
    def is_superuser(self) -> bool:
        """Sees every company in the office."""
        return self.may_come_in and self.is_operator

    def has_perm(self, perm: str, obj: object = None) -> bool:
        """Leads keep the office's own sections; what they see there is limited to their company by each admin."""
        return self.has_module_perms(perm.partition(".")[0])

    def has_module_perms(self, app_label: str) -> bool:
        """Leads see the sections of their company; what belongs to the whole installation is an operator's."""
        return self.is_superuser or (self.is_staff and app_label in OFFICE_SECTIONS)

    def _session_auth_hash(self, secret: str | None = None) -> str:
        return self._get_session_auth_hash(secret=secret) + f":{self.session_epoch}"

    def get_session_auth_hash(self) -> str:
        """Changes with the password and with `sign_out_everywhere`, which ends every session."""
        return self._session_auth_hash()

    def get_session_auth_fallback_hash(self) -> Any:
        """The same for retired secret keys."""
        for hashed in super().get_session_auth_fallback_hash():
            yield f"{hashed}:{self.session_epoch}"

    def sign_out_everywhere(self) -> None:
        """End every session of this person, on every device."""
        type(self).objects.filter(pk=self.pk).update(session_epoch=models.F("session_epoch") + 1)


class Scope(models.TextChoices):
    """What a program may do with a token."""

    READ = "read", "Fetch only"
    RECORD = "record", "Fetch, and add to visits"


class ApiToken(models.Model):
    """Lets a program in as a person, up to a day. Only the hash of what the program shows is kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="tokens")
    name = models.CharField(max_length=80)
    hashed = models.CharField(max_length=64, unique=True, editable=False)
    scope = models.CharField(max_length=10, choices=Scope.choices, default=Scope.READ)
    ends_on = models.DateField()
    made_at = models.DateTimeField(auto_now_add=True)
    used_on = models.DateField(null=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made_at"]
        constraints = [models.CheckConstraint(condition=models.Q(scope__in=Scope.values), name="token_scope_known")]

    def __str__(self) -> str:
        return self.name
