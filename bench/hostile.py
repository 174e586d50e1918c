"""Two hundred thousand spoiled inputs: how many the core answers with another exception than a refusal, or with no number."""

from __future__ import annotations

import copy
import sys
from collections import Counter
from collections.abc import Iterator
from random import Random

from bench.report import Row
from tests.core.hostile import complaint, complaint_of_visit, spoiled
from tests.core.test_calculation import EXAMPLES
from tests.core.test_hostile import visits

INPUTS, VISITS = 200_000, 8_000
SEED = 20_261_126


def rows(inputs: int = INPUTS, documents: int = VISITS, seed: int = SEED) -> Iterator[Row]:
    """Calculations by turns, then whole visits; what went wrong is printed by kind."""
    sys.set_int_max_str_digits(0)
    chance = Random(seed)
    names = [name for name in EXAMPLES if name != "air.chart"]
    wrong: Counter[str] = Counter()
    for number in range(inputs):
        name = names[number % len(names)]
        said = complaint(name, spoiled(EXAMPLES[name], chance))
        if said:
            wrong[f"{name}: {said}"] += 1
    yield Row(f"calculations, wrong of {inputs:,} spoiled inputs, seed {seed}", float(sum(wrong.values())), 0.0, _said(wrong))
    wrong.clear()
    whole = visits()
    for number in range(documents):
        document = copy.deepcopy(whole[number % len(whole)])
        where = chance.choice(("entries", "entries", "system", "site", "instruments", "whole"))
        if where == "entries" and document["entries"]:
            index = chance.randrange(len(document["entries"]))
            document["entries"][index] = spoiled(document["entries"][index], chance)
        elif where in ("system", "site", "instruments"):
            document[where] = spoiled(document[where], chance)
        else:
            document = spoiled(document, chance)
        said = complaint_of_visit(document)
        if said:
            wrong[said] += 1
    yield Row(f"visits, wrong of {documents:,} spoiled", float(sum(wrong.values())), 0.0, _said(wrong))


def _said(wrong: Counter[str]) -> str:
    return "; ".join(f"{count} {what}" for what, count in wrong.most_common(5)) or "none"


if __name__ == "__main__":
    for row in rows(*(int(each) for each in sys.argv[1:])):
        print(row.line())
