"""How well it reads, by two libraries: textstat's grade of every sentence on a screen, proselint over the docs."""

from __future__ import annotations

import re
import sys
import warnings
from statistics import median

import pytest
from proselint.checks import __register__
from proselint.config import DEFAULT
from proselint.registry import CheckRegistry
from proselint.tools import LintFile
from sentences import ROOT, said_on_screens

from weftonos.knowledge import procedures

_PATH = sys.path[:]
with warnings.catch_warnings():
    # It asks setuptools where its word lists are; the pin holds that.
    warnings.simplefilter("ignore")
    import textstat
# Setuptools puts libraries of its own there, which are then taken for installed ones.
sys.path[:] = _PATH

#: Heads of tables as people write them, names of formats, and the log's pattern: no sentences.
NOT_PROSE = ("table_kinds.py", "logs.py", "calendar.py", "shortcut.py")
#: Sentences of a grade above ten, by a piece of each, and why.
HARDER = {
    "machines under warranty": "a caution names what it is about in full",
    "Physical Properties of Textile Fibers": "the title of a book",
    "correlation between": "the method page says it in the field's own terms",
}


def grades() -> list[tuple[float, str]]:
    """Flesch's and Kincaid's grade of each sentence of six words or more, a glossary term counted as two syllables."""
    terms = sorted((word.term for word in procedures().terms), key=len, reverse=True)
    explained = re.compile(rf"\b({'|'.join(re.escape(term) for term in terms)})s?\b", re.IGNORECASE)
    found = []
    for each, one in said_on_screens():
        if each.file.endswith(NOT_PROSE) or each.text.startswith("input, "):
            continue
        # What is filled in is a word or a figure.
        plain = explained.sub("needle", one.replace("{}", "five"))
        if len(re.findall(r"[A-Za-z'’]+", plain)) >= 6:
            found.append((textstat.flesch_kincaid_grade(plain), f"{each.file}:{each.line}: {one}"))
    return found


def test_a_sentence_is_read_once():
    found = grades()
    assert len(found) > 1500
    assert median(grade for grade, _ in found) <= 5
    hard = [said for grade, said in found if grade > 10]
    assert [said for said in hard if not any(piece in said for piece in HARDER)] == []
    assert [piece for piece in HARDER if not any(piece in said for said in hard)] == [], "what is allowed is there"


CheckRegistry().register_many(__register__)
#: What proselint says of these is not so here: a check and a piece of the line, and why.
TRADE = {
    ("redundancy", "sharp point"): "a needle's point is a ballpoint or a sharp one",
    ("redundancy", "for free"): "free-motion",
    ("cliches", "for free"): "free-motion",
    ("misc.preferred_forms", "ne "): "the English cotton count",
    ("typography.symbols.multiplication", "15x1"): "a family of needles, as its packet has it",
    ("weasel_words.very", "very fine"): "a class of thread: 100 wt silk and the like",
}
DOCS = ("README.md", "CHANGELOG.md", "CONTRIBUTING.md", *(f"docs/{path.name}" for path in (ROOT / "docs").glob("*.md")))


def test_proselint_finds_what_is_wrong():
    checks = {
        result.check_result.check_path for result in LintFile("one", "It is very good, and the the end.\n").lint()
    }
    assert any(check.startswith("weasel_words") for check in checks)


@pytest.mark.parametrize("name", DOCS)
def test_the_docs_as_proselint_reads_them(name: str):
    text = (ROOT / name).read_text(encoding="utf-8")
    text = re.sub(r"```.*?```", "", text, flags=re.DOTALL)
    # A name in code reads as a word; addresses, rows of tables and headings are no prose.
    text = re.sub(r"`[^`]*`", "Name", text)
    text = re.sub(r"\]\([^)]*\)|^\|.*$|^#.*$", "", text, flags=re.MULTILINE)
    file = LintFile(name, text)
    found = []
    for result in file.lint(DEFAULT):
        start, end = result.check_result.span
        said, around = result.check_result.check_path, " ".join(text[max(0, start - 40) : end + 20].split())
        if not any(said.startswith(check) and piece in around.lower() for check, piece in TRADE):
            found.append(f"{said}: {around}")
    assert found == []
