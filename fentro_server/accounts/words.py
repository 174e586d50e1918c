"""What rows are found by: their words, with signs between them as blanks, so that GF-90/36 is found by gf and by 36."""

from __future__ import annotations

from django.contrib.postgres.search import SearchVector
from django.db.models import CharField, F, Func, Value
from django.db.models.expressions import Combinable


def words_in(*columns: str | Combinable) -> SearchVector:
    """The words of these columns; the same expression serves as an index and in a question."""
    return SearchVector(*[_plain(F(each) if isinstance(each, str) else each) for each in columns], config="simple")


def _plain(column: Combinable) -> Func:
    signs = (Value("[^[:alnum:]]+"), Value(" "), Value("g"))
    return Func(column, *signs, function="regexp_replace", output_field=CharField())
