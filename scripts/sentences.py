"""List every sentence that a person can read, each with its place: ``python scripts/sentences.py [words…]``.

From Python the texts that are no docstring, key or query; from the knowledge every text; from the pages what stands
between tags, in labels and in scripts. What is worked out stands as ``{}``. Words given narrow the list to sentences
that hold one of them.
"""

from __future__ import annotations

import ast
import re
import sys
import tomllib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
SOURCES = ROOT / "src" / "weftonos"
PAGES = ROOT / "web" / "src"
#: What reads like a sentence and is none: queries, patterns, addresses, headers, formats.
_NO_SENTENCE = re.compile(
    r"^\s*(SELECT|UPDATE|INSERT|DELETE|PRAGMA|WITH|CREATE|ALTER|DROP|AND|ORDER|FROM|WHERE|CASE WHEN|LEFT JOIN|CAST)\b"
    r"|\(\?|\\[dswb]|\[\^|^[a-z-]+/[a-z]|^#|^/|://|^<|%[YmdHMS]|^[\w.-]+\.(py|db|toml|json|svg|pdf|csv)$|;\s*(path|base)="
    r"|^[a-z][\w-]*( [a-z][\w-]*)*:[\w-]|^--|^\W+$|, '|\b(max-age|nosniff|frame-ancestors|charset)\b"
)
#: One of what is said as several, as a count says it that has no word of its own for one.
ONE_OF_SEVERAL = re.compile(
    r"(?<![\d.,/])\b1 (bobbin|break|change|check|hour|line|machine|minute|move|needle|quilt|record|row|run|step|thread"
    r"|test line|time|trouble|turn)s\b"
)
_WORDS = re.compile(r"[A-Za-z’'½¼¾]{2,}")


@dataclass(frozen=True, order=True, kw_only=True)
class Sentence:
    """What a person can read, and where it stands."""

    file: str
    line: int
    text: str


@cache
def sentences() -> Sequence[Sentence]:
    """Return every sentence of the program, in the order of its places."""
    found = set[Sentence]()
    for path in SOURCES.rglob("*.py"):
        if "migrations" not in path.parts:
            found |= set(_of_python(path))
    for path in SOURCES.rglob("*.toml"):
        if path.name != "examples.toml":
            found |= set(_of_toml(path))
    for path in PAGES.rglob("*.*"):
        if path.suffix in (".vue", ".ts") and path.name != "schema.d.ts":
            found |= set(_of_page(path))
    return tuple(sorted(found))


def said_on_screens() -> Iterator[tuple[Sentence, str]]:
    """Yield every sentence of a screen by itself, with the text it stands in; the reference of the API left out."""
    for each in sentences():
        if not each.file.endswith(("examples.toml", "columns.toml")) and "/api/" not in each.file:
            yield from ((each, one) for one in re.split(r"(?<=[.?!])\s+", each.text))


def is_sentence(text: str) -> bool:
    """Say whether a text is one that people read: two words, or one with a capital."""
    words = _WORDS.findall(text)
    alone = re.fullmatch(r"[A-Z][a-z]+", text.replace("{}", "").strip(" .:,"))
    several = len(words) > 1 and " " in text.strip()
    return (several or alone is not None) and not _NO_SENTENCE.search(text)


def _placed(path: Path, line: int, text: str) -> Iterator[Sentence]:
    text = " ".join(text.split())
    if is_sentence(text):
        yield Sentence(file=str(path.relative_to(ROOT)), line=line, text=text)


def _of_python(path: Path) -> Iterator[Sentence]:
    tree = ast.parse(path.read_text(encoding="utf-8"))
    passed = set[int]()
    for node in ast.walk(tree):
        body = getattr(node, "body", None)
        if isinstance(body, list) and body and isinstance(body[0], ast.Expr):
            passed.add(id(body[0].value))
        if isinstance(node, ast.Call) and getattr(node.func, "attr", "") in ("compile", "text", "debug", "getLogger"):
            passed |= {id(inner) for inner in ast.walk(node)}
        if isinstance(node, ast.Assert):
            passed |= {id(inner) for inner in ast.walk(node)}
        if isinstance(node, ast.JoinedStr):
            passed |= {id(inner) for inner in node.values}
    for node in ast.walk(tree):
        if id(node) in passed:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield from _placed(path, node.lineno, node.value)
        elif isinstance(node, ast.JoinedStr):
            said = "".join(str(v.value) if isinstance(v, ast.Constant) else "{}" for v in node.values)
            yield from _placed(path, node.lineno, said)


def _of_toml(path: Path) -> Iterator[Sentence]:
    text = path.read_text(encoding="utf-8")
    lines = text.splitlines()

    def walk(found: Any) -> Iterator[str]:
        if isinstance(found, str):
            yield found
        elif isinstance(found, dict | list):
            for each in found.values() if isinstance(found, dict) else found:
                yield from walk(each)

    for said in walk(tomllib.loads(text)):
        begins = next((n for n, line in enumerate(lines, 1) if said.split("\n")[0][:40] in line), 1)
        yield from _placed(path, begins, said)


_TAG = re.compile(r"<[^<>]*?(?:\"[^\"]*\"[^<>]*?)*>", re.S)
_LABELS = re.compile(r"(?<![\w:-])(?:label|placeholder|aria-label|title|alt|words|heading|says|hint)=\"([^\"]+)\"")
_QUOTED = re.compile(r"'((?:[^'\\\n]|\\.)*)'|`((?:[^`\\]|\\.)*)`|\"((?:[^\"\\\n]|\\.)*)\"", re.S)
_COMMENT = re.compile(r"/\*.*?\*/|<!--.*?-->|(?<![:\"'`\w])//[^\n]*", re.S)


def _of_page(path: Path) -> Iterator[Sentence]:
    text = _COMMENT.sub(lambda m: re.sub(r"[^\n]", " ", m[0]), path.read_text(encoding="utf-8"))
    begins, ends = text.find("<template>"), text.rfind("</template>")
    template = text[begins:ends] if path.suffix == ".vue" and begins >= 0 else ""
    script = text[: begins if template else len(text)]

    def at(offset: int) -> int:
        return text.count("\n", 0, offset) + 1

    for found in _QUOTED.finditer(script):
        if not script[: found.start()].rstrip().endswith(("from", "import")):
            yield from _placed(path, at(found.start()), _filled_in(next(g for g in found.groups() if g is not None)))
    for found in _LABELS.finditer(template):
        yield from _placed(path, at(begins + found.start()), found[1])
    for found in re.finditer(r"(?:[:@][\w-]+|v-[\w-]+)=\"([^\"]+)\"|\{\{(.*?)\}\}", template, re.S):
        for said in _QUOTED.finditer(found[1] or found[2]):
            yield from _placed(
                path, at(begins + found.start()), _filled_in(next(g for g in said.groups() if g is not None))
            )
    # What stands between tags; a tag within a line of text breaks no sentence.
    bare = re.sub(r"\{\{.*?\}\}", lambda m: "{}" + re.sub(r"[^\n]", "", m[0]), template, flags=re.S)
    bare = re.sub(r"<WordNote\b[^<>]*?(?:says|term)=\"([^\"]*)\"[^<>]*?/>", r"\1", bare)
    bare = re.sub(r"</?(strong|small|em|bdi|span|RouterLink|a|template)\b[^<>]*?(\"[^\"]*\"[^<>]*?)*/?>", "", bare)
    place = 0
    for piece in _TAG.split(bare):
        found_at = max(place, bare.find(piece, place))
        # A tag before a stop leaves a blank that no browser shows.
        shown = re.sub(r"\s+([,.;:])", r"\1", piece)
        yield from _placed(path, at(begins) + bare.count("\n", 0, found_at), shown)
        place = found_at + len(piece)


def _filled_in(text: str) -> str:
    """Return a template's text with what is worked out as ``{}``."""
    while (plain := re.sub(r"\$\{[^{}]*\}", "{}", text)) != text:
        text = plain
    return text


def main() -> None:
    wanted = [re.compile(word, re.IGNORECASE) for word in sys.argv[1:]]
    found = [s for s in sentences() if not wanted or any(word.search(s.text) for word in wanted)]
    for each in found:
        print(f"{each.file}:{each.line}: {each.text}")
    print(f"{len(found)} sentences", file=sys.stderr)


if __name__ == "__main__":
    main()
