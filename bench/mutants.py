"""Breaks the core in places drawn by seed, and counts how many of the breaks its own tests notice.

One run of `tests/core` under coverage, one half on each core of the machine, says which tests come past each line. Each break
is then tried alone, in a copy of the core, against the tests that come past it: the quick ones, the kept answers (always), then
slower ones, as many as take 45 seconds under coverage. A break that no line of the tests comes past, or that only slower ones
would see, counts as not noticed. Which ones were not is written to ``.data/mutants.txt``, so that a test can be written for them.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import accumulate
from multiprocessing import get_context
from pathlib import Path
from queue import Queue

import cattrs  # noqa: F401, loaded once for all breaks, as the next ones are
import coverage
import hypothesis  # noqa: F401
import jsonschema  # noqa: F401
import psychrolib  # noqa: F401
import pytest

from bench.report import Row

ROOT = Path(__file__).resolve().parents[1]
COUNT = 200
SEED = 11
WORKERS = 2
AT_MOST_S = 45.0
"""The tests tried against one break, as long as they take under coverage; that is about a third of it without."""

QUICK_S = 2.0
ANSWERS = "tests/core/test_answers.py"
"""Kept answers see the most of all tests that are not quick: they go before the others."""

ENDLESS_S = 180
"""No test of a sound core takes so long: a break that does never ends, and that is noticed."""

TABLES = {"refrigerant/saturation_tables.py", "__main__.py", "reference.py"}
"""Data, the command line and what only the browser reads: other tests look at these."""

LIMITS = "tests/core/test_answers.py::test_answers_stay[limits]"
FIGURES = ("tests/core/test_figures.py", "tests/core/test_answers.py::test_answers_stay[table]", LIMITS)
"""They look at what is set on import, tables and constants: no line of a table is passed by any test."""

PASSED, NO_SUCH_TEST = 0, 4
"""As pytest ends."""

PYTEST = ("-x", "-q", "-o", "addopts=", "-p", "no:cacheprovider")


@dataclass(frozen=True)
class Break:
    """One place and what stands there instead."""

    path: str
    line: int
    start: int
    end: int
    was: str
    now: str

    def apply(self, source: str) -> str:
        """The file with the break in it."""
        data = source.encode()
        return (data[: self.start] + self.now.encode() + data[self.end :]).decode()

    def __str__(self) -> str:
        return f"{self.path}:{self.line}: {self.was!r} -> {self.now!r}"


SWAPPED: dict[type[ast.AST], tuple[str, str]] = {
    ast.Lt: ("<", ">="),
    ast.LtE: ("<=", ">"),
    ast.Gt: (">", "<="),
    ast.GtE: (">=", "<"),
    ast.Eq: ("==", "!="),
    ast.NotEq: ("!=", "=="),
    ast.Is: ("is", "is not"),
    ast.IsNot: ("is not", "is"),
    ast.In: ("in", "not in"),
    ast.NotIn: ("not in", "in"),
    ast.Add: ("+", "-"),
    ast.Sub: ("-", "+"),
    ast.Mult: ("*", "/"),
    ast.Div: ("/", "*"),
    ast.And: ("and", "or"),
    ast.Or: ("or", "and"),
}
"""What stands there, and what does after the break."""


class Places(ast.NodeVisitor):
    """Every place of a file that can be broken: comparisons turned round, arithmetic swapped, and with or, numbers changed."""

    def __init__(self, path: str, source: str) -> None:
        self.path = path
        self.source = source.encode()
        self.begins = [0]
        for line in self.source.splitlines(keepends=True):
            self.begins.append(self.begins[-1] + len(line))
        self.found: list[Break] = []

    def at(self, line: int, column: int) -> int:
        return self.begins[line - 1] + column

    def between(self, left: ast.expr, right: ast.expr, was: str, now: str) -> None:
        """Swap an operator that stands between two expressions."""
        begin = self.at(left.end_lineno or 0, left.end_col_offset or 0)
        end = self.at(right.lineno, right.col_offset)
        where = self.source[begin:end].find(was.encode())
        if where >= 0:
            self.found.append(Break(self.path, left.end_lineno or 0, begin + where, begin + where + len(was), was, now))

    def visit_Compare(self, node: ast.Compare) -> None:
        for left, operator, right in zip([node.left, *node.comparators], node.ops, node.comparators, strict=False):
            self.between(left, right, *SWAPPED[type(operator)])
        self.generic_visit(node)

    def visit_BinOp(self, node: ast.BinOp) -> None:
        swapped = SWAPPED.get(type(node.op))
        if swapped and not any(isinstance(each, ast.JoinedStr) or _is_text(each) for each in (node.left, node.right)):
            self.between(node.left, node.right, *swapped)
        self.generic_visit(node)

    def visit_BoolOp(self, node: ast.BoolOp) -> None:
        self.between(node.values[0], node.values[1], *SWAPPED[type(node.op)])
        self.generic_visit(node)

    def visit_UnaryOp(self, node: ast.UnaryOp) -> None:
        if isinstance(node.op, ast.Not):
            begin = self.at(node.lineno, node.col_offset)
            self.found.append(Break(self.path, node.lineno, begin, begin + 4, "not ", ""))
        self.generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> None:
        if type(node.value) in (int, float):
            begin, end = self.at(node.lineno, node.col_offset), self.at(node.end_lineno or 0, node.end_col_offset or 0)
            now = str(node.value * 2 if node.value else 1)
            self.found.append(Break(self.path, node.lineno, begin, end, self.source[begin:end].decode(), now))

    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        if node.value:
            self.visit(node.value)

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        for each in (*node.body, *node.args.defaults, *(d for d in node.args.kw_defaults if d)):
            self.visit(each)

    def visit_Assert(self, node: ast.Assert) -> None:
        """What holds by itself is not a rule of the job."""

    def visit_JoinedStr(self, node: ast.JoinedStr) -> None:
        """Words are read, not counted."""


def _is_text(node: ast.expr) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, str)


def places() -> list[Break]:
    """Every place of the core that can be broken, file by file."""
    found: list[Break] = []
    core = ROOT / "fentro_core"
    for file in sorted(core.rglob("*.py")):
        name = str(file.relative_to(core))
        if name not in TABLES:
            source = file.read_text()
            look = Places(name, source)
            look.visit(ast.parse(source))
            found += look.found
    return found


def _environment(home: Path) -> dict[str, str]:
    told = {"PYTHONPATH": str(home), "PYTHONPYCACHEPREFIX": str(home / ".pyc"), "PYTEST_DISABLE_PLUGIN_AUTOLOAD": "1"}
    return {**os.environ, **told}


def _copy(home: Path) -> Path:
    home.mkdir()
    for name in ("fentro_core", "fentro_standins", "fentro_server", "tests", "bench", "pyproject.toml"):
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, home / name, ignore=shutil.ignore_patterns("__pycache__"))
        else:
            shutil.copy(source, home / name)
    return home


Past = dict[tuple[str, int], set[str]]


def seen_by(homes: list[Path]) -> tuple[Past, dict[str, float]]:
    """By file and line, the tests that come past it; and how long each test takes. The tests are dealt out over the copies."""
    files = sorted((ROOT / "tests" / "core").glob("test_*.py"), key=lambda file: -file.stat().st_size)
    hands = [[f"tests/core/{file.name}" for file in files[number :: len(homes)]] for number in range(len(homes))]
    past: Past = {}
    slow: dict[str, float] = {}
    with ThreadPoolExecutor(len(homes)) as pool:
        for here, took in pool.map(_seen_by, homes, hands):
            slow |= took
            for place, tests in here.items():
                past.setdefault(place, set()).update(tests)
    return past, slow


def _seen_by(home: Path, tests: list[str]) -> tuple[Past, dict[str, float]]:
    (home / ".coveragerc").write_text("[run]\ndynamic_context = test_function\nsource = fentro_core\n[report]\n")
    command = [sys.executable, "-m", "coverage", "run", "-m", "pytest", *PYTEST, "--durations=0", "--durations-min=0.05", *tests]
    done = subprocess.run(command, cwd=home, env=_environment(home), capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise RuntimeError(f"The tests of the core fail as they are:\n{done.stdout[-2000:]}")
    slow: dict[str, float] = {}
    for row in done.stdout.splitlines():
        words = row.split()
        if len(words) == 3 and words[0].endswith("s") and "::" in words[2]:
            name = words[2].split("[")[0]
            slow[name] = slow.get(name, 0.0) + float(words[0][:-1])
    data = coverage.CoverageData(str(home / ".coverage"))
    data.read()
    past: Past = {}
    for file in data.measured_files():
        name = str(Path(file).relative_to(home / "fentro_core"))
        for line, contexts in data.contexts_by_lineno(file).items():
            past[name, line] = {_as_named(each) for each in contexts if each.startswith("tests.core.")}
    return past, slow


def _as_named(context: str) -> str:
    """``tests.core.test_air.test_mix`` as pytest calls it."""
    module, _, function = context.rpartition(".")
    return f"{module.replace('.', '/')}.py::{function}"


def tests_for(place: Break, past: Past, slow: dict[str, float]) -> list[str]:
    """The tests that come past a place, as many as there is time for; what only runs on import is seen by those past its file."""
    here = past.get((place.path, place.line), set())
    if not here:
        here = {test for (path, _), tests in past.items() if path == place.path for test in tests}
        here |= {*FIGURES}
    quickest = sorted(here, key=lambda test: (_turn(test, slow), slow.get(test, 0.0), test))
    taken = accumulate(slow.get(test, 0.0) for test in quickest)
    return [test for test, so_far in zip(quickest, taken, strict=True) if so_far <= AT_MOST_S or test.startswith(ANSWERS)]


def _turn(test: str, slow: dict[str, float]) -> int:
    return 0 if slow.get(test, 0.0) < QUICK_S else 1 if test.startswith(ANSWERS) else 2


def noticed(place: Break, tests: list[str], home: Path) -> bool:
    """Whether a test fails with this break in the copy."""
    file = home / "fentro_core" / place.path
    whole = file.read_text()
    try:
        file.write_text(place.apply(whole))
        os.utime(file, (time.time(), time.time() + random.random() * 1e6))
        ended = _forked(home, tests)
    finally:
        file.write_text(whole)
        os.utime(file, (time.time(), time.time() - random.random() * 1e6))
    if ended == NO_SUCH_TEST and b"not found" in (home / SAID).read_bytes():
        raise RuntimeError(f"There is no such test among {', '.join(tests)}.")
    return ended != PASSED


SAID = ".said"
"""What the tests of the last break said; a module that the break keeps from loading ends as one that is not there does."""


def _forked(home: Path, tests: list[str]) -> int | None:
    """How the tests ended, in a process forked from this one, which has loaded what takes long to load; None for endless."""
    process = get_context("fork").Process(target=_run, args=(home, tests))
    process.start()
    process.join(ENDLESS_S)
    if process.exitcode is None:
        process.kill()
        process.join()
        return None
    return process.exitcode


def _run(home: Path, tests: list[str]) -> None:
    """In the forked process: nothing of ours is loaded yet, and all of it comes from the copy."""
    for name in [name for name in sys.modules if name.startswith(("fentro_", "tests", "bench."))]:
        del sys.modules[name]
    os.chdir(home)
    os.environ.update(_environment(home))
    sys.path[:] = [str(home), *(each for each in sys.path if Path(each or ".").resolve() != ROOT)]
    sys.pycache_prefix = str(home / ".pyc")
    said = os.open(home / SAID, os.O_WRONLY | os.O_CREAT | os.O_TRUNC)
    os.dup2(said, 1)
    os.dup2(said, 2)
    os._exit(int(pytest.main([*PYTEST, *tests])))


def rows(count: int = COUNT, seed: int = SEED) -> Iterator[Row]:
    """Draw, break, test; the share noticed against the 85 % asked for, so that up to 1.00 is in order."""
    started = time.monotonic()
    drawn = random.Random(seed).sample(places(), count)
    with tempfile.TemporaryDirectory() as folder:
        copies = [_copy(Path(folder) / str(worker)) for worker in range(WORKERS)]
        past, slow = seen_by(copies)
        homes: Queue[Path] = Queue()
        for copy in copies:
            homes.put(copy)

        def tried(place: Break) -> bool:
            tests = tests_for(place, past, slow)
            if not tests:
                return False
            home = homes.get()
            try:
                return noticed(place, tests, home)
            finally:
                homes.put(home)

        with ThreadPoolExecutor(WORKERS) as pool:
            found = list(pool.map(tried, drawn))
    missed = [str(place) for place, was in zip(drawn, found, strict=True) if not was]
    kept = ROOT / ".data" / "mutants.txt"
    kept.parent.mkdir(exist_ok=True)
    kept.write_text("\n".join(missed) + "\n")
    share, minutes = sum(found) / count, (time.monotonic() - started) / 60
    made_from = f"{sum(found)} of {count}, {share:.1%}, asked for 85 %; {minutes:.1f} min; the others in .data/mutants.txt"
    yield Row(f"breaks that tests/core notices, seed {seed}", 0.85 / max(share, 0.01), 1.0, made_from)


if __name__ == "__main__":
    for row in rows(*(int(each) for each in sys.argv[1:])):
        print(row.line())
