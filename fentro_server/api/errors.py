"""How refusals and missing things leave the API: a sentence, the field's path, and the numbers in it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from fentro_core.base.refusal import Refused
from fentro_core.base.sentence import Sentence


class Refusal(BaseModel):
    """An input that can't be used: where, and why, as a sentence with its numbers."""

    path: str
    sentence: Sentence


class Problem(BaseModel):
    """Why a request was not answered."""

    detail: str
    refusals: list[Refusal] = []


class NotAllowed(Exception):
    """The person's role does not allow this; the sentence says who may."""


def refusal_of(refused: Refused, under: str = "") -> Refusal:
    """A core refusal for the wire."""
    path = f"{under}.{refused.path}".strip(".") if under else refused.path
    return Refusal(path=path, sentence=refused.sentence)


def plain(message: str, path: str = "") -> dict[str, Any]:
    """A problem with one plain sentence."""
    return Problem(detail=message, refusals=[Refusal(path=path, sentence=Sentence(message))]).model_dump()
