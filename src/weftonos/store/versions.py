"""Two hands on one row: whoever changes it says which version they saw."""

from __future__ import annotations

from typing import Any

from weftonos.store.documents import as_fields


class ChangedMeanwhileError(Exception):
    """A row is no longer what it was when somebody began to change it: what it says ``now``, and its version."""

    def __init__(self, what: str, document: Any, version: int) -> None:
        super().__init__(
            f"{what} was changed in the meantime, maybe on another tablet. Nothing was overwritten. See what it says "
            "now, then leave that or save yours over it."
        )
        self.now = as_fields(document)
        self.version = version


def require_version(row: Any, seen: int | None, what: str, document: Any) -> None:
    """Raise :class:`ChangedMeanwhileError` unless a row still has the version that was seen (``None``: any)."""
    if seen is not None and row.version != seen:
        raise ChangedMeanwhileError(what, document, row.version)
