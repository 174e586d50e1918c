"""Bodies of requests as JSON: what no database and no file can keep is refused here, once for all routes."""

from __future__ import annotations

import json
from math import inf
from typing import Any

from django.http import HttpRequest
from ninja.parser import Parser

from fentro_core.base.refusal import Refused
from fentro_core.base.typed_json import unkeepable

LONGEST_NUMBER = 400
"""Digits of a whole number. A longer one is taken for endless: it is none of this job."""

ODD_LETTER = "There is a letter in this that can't be kept. Type it again."


class OddLetter(ValueError):
    """A text in a body can't be kept."""


def _whole(digits: str) -> float:
    return int(digits) if len(digits) <= LONGEST_NUMBER else inf


class CarefulParser(Parser):
    """JSON whose texts can be kept. A batch of entries goes through as it is: each entry answers for itself."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body; `ValueError` where it is not JSON."""
        given = json.loads(request.body, parse_int=_whole)
        if not request.path.endswith("/entries") and _odd(given):
            raise OddLetter(ODD_LETTER)
        return given


def read_file(body: bytes, words: str) -> Any:
    """A file that somebody chose, as JSON.

    Parameters
    ----------
    words : str
        Said where it is none.

    Raises
    ------
    Refused
        It is no JSON, goes too deep, or has a letter that can't be kept.
    """
    try:
        given = json.loads(body, parse_int=_whole)
        odd = _odd(given)
    except (ValueError, RecursionError):
        raise Refused(words, "file") from None
    if odd:
        raise Refused("There is a letter in this file that can't be kept.", "file")
    return given


def _odd(given: Any) -> bool:
    """A text somewhere in it has a letter that can't be kept; no deeper than JSON is read."""
    waiting = [given]
    while waiting:
        each = waiting.pop()
        if isinstance(each, str):
            if unkeepable(each):
                return True
        elif isinstance(each, dict):
            waiting += [*each.keys(), *each.values()]
        elif isinstance(each, list):
            waiting += each
    return False
