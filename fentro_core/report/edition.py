"""An edition: a report frozen with what it was made from, and the fingerprint that shows whether it was changed since."""

from __future__ import annotations

import json
from hashlib import sha256
from typing import Any

from fentro_core.base import typed_json
from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import Json
from fentro_core.base.version import fingerprint as core_fingerprint
from fentro_core.report.content import Report

FORMAT = "fentro.edition"
VERSION = 1

WHOLE_BELOW = 2**53
"""Whole numbers up to here are the same in every program that reads JSON."""


def canonical(document: Any) -> str:
    """The one way to write a document: names in order, no blanks, a whole number without a point.

    So it stays the same through any program that reads and writes JSON. Kin to RFC 8785.

    Raises
    ------
    Refused
        A number that is none.

    >>> canonical({"b": 1.0, "a": [0.1, None, "°"]})
    '{"a":[0.1,null,"°"],"b":1}'
    """
    try:
        return json.dumps(_plain(document), sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)
    except ValueError:
        raise Refused("A number in it is none.") from None


def _plain(value: Any) -> Any:
    if isinstance(value, dict):
        return {str(key): _plain(each) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(each) for each in value]
    if isinstance(value, float) and value.is_integer() and abs(value) < WHOLE_BELOW:
        return int(value)
    return value


def fingerprint(document: Any) -> str:
    """SHA-256 of the canonical JSON, 64 letters.

    >>> fingerprint({"a": 1.0}) == fingerprint({"a": 1})
    True
    """
    return sha256(canonical(document).encode("utf-8", "surrogatepass")).hexdigest()


def edition(number: int, company: str, letterhead: str, snapshot: Json, report: Report) -> Json:
    """The document that is signed.

    Parameters
    ----------
    number : int
        Editions of a visit count from 1.
    company, letterhead : str
        As the report shows them on top.
    """
    return {
        "format": FORMAT,
        "version": VERSION,
        "edition": number,
        "core": core_fingerprint(),
        "company": company,
        "letterhead": letterhead,
        "snapshot": snapshot,
        "report": typed_json.write(report),
    }


def read_edition(document: object) -> Report:
    """The report of an edition, as it was frozen.

    Raises
    ------
    Refused
        This is no edition, or one of a newer version.
    """
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise Refused("This file is not a signed report.", "format")
    if document.get("version") != VERSION:
        raise Refused("This report was made by a newer version of Fentro. Bring this one up to date first.", "version")
    return typed_json.read(document.get("report"), Report)
