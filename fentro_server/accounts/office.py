"""Shared behaviour of the office: a lead sees and makes rows of their own company only."""

from __future__ import annotations

from typing import Any

from django.contrib import admin
from django.core.paginator import Paginator
from django.db.models import Model, QuerySet
from django.http import HttpRequest
from django.utils.functional import cached_property

PAGED = 10_000
"""Rows of a list that are counted and paged: counting millions takes longer than anybody waits."""


class CappedPaginator(Paginator):
    """Pages over the first ten thousand rows; beyond them one filters, and is told so."""

    @cached_property
    def count(self) -> int:
        """Of the rows, up to one more than are paged."""
        return int(self.object_list[: PAGED + 1].count())


class CompanyAdmin(admin.ModelAdmin):
    """Limits lists, choices and new rows to the signed-in lead's company."""

    company_path = "company"

    def get_queryset(self, request: HttpRequest) -> QuerySet:
        """Own company's rows; an operator sees all."""
        rows = super().get_queryset(request)
        return rows if request.user.is_superuser else rows.filter(**{self.company_path: request.user.company})

    def get_exclude(self, request: HttpRequest, obj: Any = None) -> Any:
        """The company is never chosen by a lead."""
        own = tuple(super().get_exclude(request, obj) or ())
        return own if request.user.is_superuser else (*own, "company")

    def save_model(self, request: HttpRequest, obj: Any, form: Any, change: bool) -> None:
        """A new row belongs to the lead's company."""
        if not change and not request.user.is_superuser:
            obj.company = request.user.company
        super().save_model(request, obj, form, change)

    def get_form(self, request: HttpRequest, obj: Any = None, change: bool = False, **kwargs: Any) -> Any:
        """The form knows the company before it checks the row, so that the model's own checks can use it."""
        form = super().get_form(request, obj, change, **kwargs)
        company = None if request.user.is_superuser else request.user.company

        class CompanyForm(form):
            def _post_clean(self) -> None:
                if company is not None and self.instance.company_id is None:
                    self.instance.company = company
                super()._post_clean()

        return CompanyForm

    def formfield_for_foreignkey(self, db_field: Any, request: HttpRequest, **kwargs: Any) -> Any:
        """Choices from the own company only."""
        related: type[Model] = db_field.remote_field.model
        if not request.user.is_superuser and any(field.name == "company" for field in related._meta.fields):
            kwargs["queryset"] = related._default_manager.filter(company=request.user.company)
        return super().formfield_for_foreignkey(db_field, request, **kwargs)


class ReadOnlyAdmin(CompanyAdmin):
    """For records that nobody edits, and of which there are many."""

    paginator = CappedPaginator
    show_full_result_count = False

    def changelist_view(self, request: HttpRequest, extra_context: Any = None) -> Any:
        """The list; where it is longer than is paged, that is said."""
        response = super().changelist_view(request, extra_context)
        listed = getattr(response, "context_data", None) or {}
        if "cl" in listed and listed["cl"].result_count > PAGED:
            self.message_user(request, f"More than {PAGED:,}: the first of them are shown. Narrow the list by its filters.")
        return response

    def has_add_permission(self, request: HttpRequest) -> bool:
        """Records are made on a visit."""
        return False

    def has_change_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Records are never edited."""
        return False

    def has_delete_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Records are never deleted."""
        return False
