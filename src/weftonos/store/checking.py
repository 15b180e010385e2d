"""Whether a workshop's file is sound through and through: SQLite's own checks, every document, and the fold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy.orm import Session

from weftonos.core.kernel.spoken import so_many
from weftonos.store.database import engine_beside
from weftonos.store.file_errors import telling
from weftonos.store.folding import differing
from weftonos.store.safekeeping import Contents, look_at, newest_revision, soundness
from weftonos.store.unreadable import unreadable_rows


@dataclass(frozen=True, kw_only=True)
class FileChecked:
    """What a check found: what is in the file, and what is wrong with it (nothing in a sound one).

    ``unreadable`` documents are no damage: they are kept as they were written and count for nothing.
    """

    contents: Contents
    wrong: Sequence[str]
    unreadable: int


def check(path: Path) -> FileChecked:
    """Check a workshop's file, also while it is in use; raises WorkshopFileError where it can't be read at all."""
    contents = look_at(path)
    wrong = list(soundness(path))
    unreadable = 0
    if not wrong and contents.revision == newest_revision():
        engine = engine_beside(path)
        try:
            with telling(path), Session(engine) as session, session.begin():
                unreadable = len(unreadable_rows(session))
                if outdated := differing(session):
                    wrong.append(f"another setup stands in {so_many(outdated, 'record')} than the log gives")
        finally:
            engine.dispose()
    return FileChecked(contents=contents, wrong=wrong, unreadable=unreadable)
