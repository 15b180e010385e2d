"""An example of every call, in the description of the interface and, played in their order, in a test."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from pydantic import TypeAdapter

from weftonos.core.kernel.spelling import OLDER_NAMES

PAGE = Path(__file__).parent / "examples.toml"
#: What stands in a path where nothing else is said.
_USUAL = {
    "form": "pdf",
    "token": "0" * 32,
    "number": "0" * 16,
    "job_id": "0" * 32,
    "name": "workshop-20261120T090000-000000Z.db",
}
_METHODS = ("get", "post", "put", "delete")


@dataclass(frozen=True, kw_only=True)
class CallExample:
    """A call, and what it says. ``keep`` names what of the answer later paths are made of."""

    call: str
    path: dict[str, Any] = field(default_factory=dict)
    query: dict[str, Any] = field(default_factory=dict)
    body: dict[str, Any] | None = None
    content: str | None = None
    keep: dict[str, str] = field(default_factory=dict)

    def address(self, known: dict[str, Any] | None = None) -> str:
        """Return the path with its numbers in place."""
        values = {**_USUAL, **(known or {}), **self.path}
        return re.sub(r"\{(\w+)\}", lambda found: str(values.get(found[1], 1)), self.call.split(" ", 1)[1])


@cache
def examples() -> tuple[CallExample, ...]:
    """Return the examples in the order in which they work."""
    document = tomllib.loads(PAGE.read_text(encoding="utf-8"))
    return tuple(TypeAdapter(list[CallExample]).validate_python(document["example"]))


def describe(app: FastAPI) -> None:
    """Let the description of the interface carry an example of every call."""

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            app.state.stations.build()
            schema = get_openapi(title=app.title, version=app.version, description=app.description, routes=app.routes)
            first: dict[str, CallExample] = {}
            for example in examples():
                first.setdefault(example.call, example)
            for path, methods in schema["paths"].items():
                for method in _METHODS:
                    if method in methods:
                        call = f"{method.upper()} {path}"
                        _with_example(methods[method], first.get(call, CallExample(call=call)))
                        if path.startswith("/api/compute/"):
                            _with_older_names(methods[method], schema["components"]["schemas"])
            app.openapi_schema = schema
        return app.openapi_schema

    app.openapi = openapi  # type: ignore[method-assign]


def _with_older_names(operation: dict[str, Any], shapes: Mapping[str, Any]) -> None:
    """Describe the older names that an answer for programs carries beside today's, as deprecated."""
    for media in operation["responses"]["200"].get("content", {}).values():
        fields = shapes.get(media["schema"].get("$ref", "").rpartition("/")[2], {}).get("properties", {})
        older = {was: {"deprecated": True, **fields[now]} for was, now in OLDER_NAMES.items() if now in fields}
        if older:
            media["schema"] = {"allOf": [media["schema"], {"type": "object", "properties": older}]}


def _with_example(operation: dict[str, Any], example: CallExample) -> None:
    for parameter in operation.get("parameters", ()):
        name = parameter["name"]
        if parameter["in"] == "path":
            parameter["example"] = example.path.get(name, _USUAL.get(name, 1))
        elif parameter["in"] == "query" and name in example.query:
            parameter["example"] = example.query[name]
    for media in operation.get("requestBody", {}).get("content", {}).values():
        if example.body is not None or example.content is not None:
            media["example"] = example.content if example.body is None else example.body
