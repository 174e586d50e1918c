"""Sentences that a user reads keep to the words of docs/glossary.md."""

from __future__ import annotations

import ast
import io
import re
import tokenize
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def unsaid() -> list[str]:
    """The last column of the glossary."""
    rows = [line.split("|") for line in (ROOT / "docs" / "glossary.md").read_text().splitlines() if line.startswith("| ")]
    return [word for row in rows for word in re.findall(r"`([^`]+)`", row[3])]


def of_python(source: str) -> Iterator[tuple[int, str]]:
    """Strings with a blank in them that are no docstrings, by line."""
    docs = {
        (node.lineno, node.col_offset)
        for node in ast.walk(ast.parse(source))
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant) and isinstance(node.value.value, str)
    }
    for token in tokenize.generate_tokens(io.StringIO(source).readline):
        if token.type == tokenize.STRING and token.start not in docs and " " in token.string.strip():
            yield token.start[0], token.string


def of_typescript(source: str) -> Iterator[tuple[int, str]]:
    """Lines that are no comments."""
    plain = re.sub(r"/\*.*?\*/", lambda found: "\n" * found[0].count("\n"), source, flags=re.S)
    for number, line in enumerate(plain.splitlines(), 1):
        yield number, line.split("//")[0]


def test_no_sentence_says_what_the_glossary_does_not() -> None:
    words = unsaid()
    assert len(words) > 10
    pattern = re.compile("|".join(rf"\b{re.escape(word)}\b" for word in words))
    found = []
    for folder, ending, sentences in (
        ("fentro_core", "*.py", of_python),
        ("fentro_server", "*.py", of_python),
        ("web/src", "*.ts*", of_typescript),
    ):
        for file in sorted((ROOT / folder).rglob(ending)):
            if ".test." in file.name or ".gen." in file.name:
                continue
            for line, text in sentences(file.read_text()):
                if said := pattern.search(text):
                    found.append(f"{file.relative_to(ROOT)}:{line}: {said[0]}")
    assert found == []


def test_a_word_that_is_not_said_would_be_found() -> None:
    assert [text for _, text in of_python('"""As due."""\nx = f"{a} as due"\n')] == ['f"{a} as due"']
    assert [text for _, text in of_typescript("/** the plate */\n<p>the plate</p> // its plate\n")][
        1
    ].strip() == "<p>the plate</p>"
