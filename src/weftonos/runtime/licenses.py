"""The licenses of the libraries that the program runs with, as they are installed beside it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from importlib.metadata import Distribution, PackageNotFoundError, distribution
from typing import Any


@dataclass(frozen=True, order=True)
class Library:
    """A library: its name, version and license in short."""

    name: str
    version: str
    license: str


def libraries(root: str = "weftonos") -> list[Library]:
    """Return every library the program needs, and what those need, by name."""
    return sorted({_described(found) for found in _needed(root) if found.name != root})


def _needed(root: str) -> Iterator[Distribution]:
    wanted, seen = [root], set[str]()
    while wanted:
        name = re.sub(r"[-_.]+", "-", wanted.pop()).lower()
        if name in seen:
            continue
        seen.add(name)
        try:
            found = distribution(name)
        except PackageNotFoundError:
            # Needed on another system only.
            continue
        yield found
        for needed in found.requires or ():
            if "extra ==" not in needed:
                wanted.append(re.split(r"[^A-Za-z0-9_.-]", needed, maxsplit=1)[0])


def _described(found: Distribution) -> Library:
    said: Any = found.metadata
    classified = [c.split(" :: ")[-1] for c in said.get_all("Classifier") or () if c.startswith("License ::")]
    license = said.get("License-Expression") or ", ".join(classified) or (said.get("License") or "").split("\n")[0]
    return Library(found.name, found.version, license or "see its own files")


def as_text() -> str:
    """Return the licenses of all libraries, each with the text that it ships."""
    parts = ["The libraries that Weftonos runs with, and their licenses."]
    for found in sorted(_needed("weftonos"), key=lambda each: each.name.lower()):
        if found.name == "weftonos":
            continue
        library = _described(found)
        parts.append(f"{'=' * 78}\n{library.name} {library.version}, {library.license}")
        parts += _texts(found)
    return "\n\n".join(parts) + "\n"


def _texts(found: Distribution) -> Iterator[str]:
    for file in found.files or ():
        if ".dist-info" in str(file) and re.search(r"(?i)licen[cs]e|copying|notice", file.name):
            try:
                yield file.read_text(encoding="utf-8").strip()
            except (OSError, UnicodeDecodeError):
                continue
