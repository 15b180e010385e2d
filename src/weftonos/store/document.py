"""A column that holds one of core's frozen dataclasses as JSON, checked on the way in and out."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import JSON, DateTime, Dialect, TypeDecorator


class Document(TypeDecorator[Any]):
    """Store instances of ``shape`` (a dataclass or a union of them) as JSON text."""

    impl = JSON
    cache_ok = True

    def __init__(self, shape: Any) -> None:
        super().__init__(none_as_null=True)
        self.shape = shape
        self._adapter: TypeAdapter[Any] = TypeAdapter(shape)

    def process_bind_param(self, value: Any, dialect: Dialect) -> Any:
        """Turn a dataclass into JSON values."""
        return None if value is None else self._adapter.dump_python(value, mode="json")

    def process_result_value(self, value: Any, dialect: Dialect) -> Any:
        """Turn JSON values back into the dataclass."""
        return None if value is None else self._adapter.validate_python(value)


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
