"""People who left: what remains of their name in the records, as their company sets. What was signed keeps its names."""

from __future__ import annotations

from fentro_server.accounts.models import Company, LeftNames, Person


def called(name: str, left_names: str) -> str:
    """What stands for the name of somebody who left.

    >>> called("Oona Lindahl", "initials"), called("Oona Lindahl", "hidden"), called("Oona Lindahl", "name")
    ('O. L.', 'Someone who left', 'Oona Lindahl')
    """
    if left_names == LeftNames.INITIALS:
        return " ".join(f"{word[0].upper()}." for word in name.split())
    return "Someone who left" if left_names == LeftNames.HIDDEN else name


def let_go(person: Person) -> None:
    """Take from the row of somebody who left what the company does not keep; it can't be had back."""
    if person.company.left_names == LeftNames.NAME or person.is_active:
        return
    person.name = called(person.name, person.company.left_names)
    person.sign_in_name = f"left-{person.pk}"
    person.set_unusable_password()
    person.save(update_fields=["name", "sign_in_name", "password"])


def let_all_go(company: Company) -> None:
    """The same for everybody who left before the company set it so."""
    for person in Person.objects.of(company.pk).filter(is_active=False):
        person.company = company
        let_go(person)
