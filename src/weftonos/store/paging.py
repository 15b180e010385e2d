"""Pages that go on to the end: where one ended is a cursor, and the next begins there, whatever was added."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from sqlalchemy import ColumnElement, literal, tuple_

from weftonos.core.kernel.errors import CraftError

T = TypeVar("T")


@dataclass(frozen=True)
class Page(Generic[T]):
    """Some of a list, and the cursor at which it goes on; ``None`` at the end."""

    items: Sequence[T]
    more: str | None = None


def cursor(values: Sequence[Any]) -> str:
    """Return the cursor for a place in an order."""
    return base64.urlsafe_b64encode(json.dumps(list(values)).encode()).decode().rstrip("=")


def beyond(columns: Sequence[Any], place: str) -> ColumnElement[bool]:
    """Return the condition for what comes after a cursor in ascending order; raises :class:`CraftError`."""
    try:
        values = json.loads(base64.urlsafe_b64decode(place + "=" * (-len(place) % 4)))
    except (ValueError, binascii.Error):
        values = None
    plain = isinstance(values, list) and all(isinstance(v, str | int | float) for v in values)
    if not plain or len(values) != len(columns):
        raise CraftError("That page is gone. Start the list over.", "after")
    return tuple_(*columns) > tuple_(*(literal(value) for value in values))
