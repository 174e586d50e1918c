"""People in the office."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import admin
from django.contrib.auth.models import Group
from django.contrib.auth.password_validation import validate_password
from django.http import HttpRequest

from fentro_server.accounts.models import Company, Person
from fentro_server.accounts.office import CompanyAdmin

admin.site.site_header = "Fentro office"
admin.site.site_title = "Fentro office"
admin.site.index_title = "People, places, instruments, visits"
admin.site.site_url = "/"
admin.site.unregister(Group)


class PersonForm(forms.ModelForm):
    """A person, with a new password when one is to be set."""

    new_password = forms.CharField(
        required=False, widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}), help_text="Leave empty to keep it."
    )

    class Meta:
        model = Person
        fields = ("company", "name", "sign_in_name", "role", "is_active")

    def clean_new_password(self) -> str:
        """Strong enough, or a sentence why not."""
        password: str = self.cleaned_data["new_password"]
        if password:
            validate_password(password, self.instance)
        return password


@admin.register(Person)
class PersonAdmin(CompanyAdmin):
    """People of the company. People who made records can't be deleted, only switched off."""

    form = PersonForm
    list_display = ("name", "sign_in_name", "role", "is_active")
    list_filter = ("role", "is_active")
    search_fields = ("name", "sign_in_name")

    def save_model(self, request: HttpRequest, obj: Any, form: Any, change: bool) -> None:
        """Set the new password, if any; a new person without one can't sign in yet."""
        password = form.cleaned_data.get("new_password")
        if password:
            obj.set_password(password)
        elif not change:
            obj.set_unusable_password()
        super().save_model(request, obj, form, change)

    def has_change_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """An operator is changed by an operator only."""
        if obj is not None and obj.is_operator and not request.user.is_superuser:
            return False
        return super().has_change_permission(request, obj)

    def has_delete_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Switch people off instead: their records stay theirs."""
        return False


@admin.register(Company)
class CompanyOnlyForOperators(admin.ModelAdmin):
    """Companies, for the operator of the installation."""

    def has_module_permission(self, request: HttpRequest) -> bool:
        """Operators only."""
        return bool(getattr(request.user, "is_superuser", False))

    def has_view_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Operators only."""
        return self.has_module_permission(request)

    def has_add_permission(self, request: HttpRequest) -> bool:
        """Operators only."""
        return self.has_module_permission(request)

    def has_change_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """Operators only."""
        return self.has_module_permission(request)

    def has_delete_permission(self, request: HttpRequest, obj: Any = None) -> bool:
        """A company with records can't go."""
        return False
