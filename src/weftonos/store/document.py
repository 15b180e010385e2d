"""A column that holds one of core's frozen dataclasses as JSON, checked on the way in and out."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import lru_cache
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import DateTime, Dialect, Text, TypeDecorator

#: Texts whose dataclasses are kept at hand: a drawer of some thousand threads is read again and again.
KEPT_READ = 8192


class Document(TypeDecorator[Any]):
    """Store instances of ``shape`` (a frozen dataclass or a union of them) as JSON text.

    Equal texts are read once and the instance is shared, which is safe because it cannot be changed.
    """

    impl = Text
    cache_ok = True

    def __init__(self, shape: Any) -> None:
        super().__init__()
        self.shape = shape
        self._adapter: TypeAdapter[Any] = TypeAdapter(shape)
        self._read = lru_cache(KEPT_READ)(self._adapter.validate_json)

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:
        """Turn a dataclass into JSON text."""
        return None if value is None else self._adapter.dump_json(value).decode()

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:
        """Turn JSON text back into the dataclass."""
        return None if value is None else self._read(value)


class Moment(TypeDecorator[datetime]):
    """A time with zone, stored in UTC."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Drop the zone after going to UTC."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Put UTC back."""
        return None if value is None else value.replace(tzinfo=UTC)
