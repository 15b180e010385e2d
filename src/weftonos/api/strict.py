"""What a body may hold: fields that nobody knows are refused, since what they were to say would be dropped.

What a page of an earlier version sends is taken still: it put the moment at which something was done into the body, as
``at``, also where no such field is known. So is the older spelling of a field (:mod:`weftonos.core.kernel.spelling`).
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Coroutine
from functools import cached_property
from typing import Any
from urllib.parse import parse_qsl, urlencode

from fastapi import Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from fastapi.routing import APIRoute
from pydantic import TypeAdapter, ValidationError

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spelling import in_both_spellings, in_todays_spelling

#: Where the moment lies that an earlier page put into the body.
OLDER_MOMENT = "older_moment"
#: What pydantic calls a field that a model or a dataclass does not know.
UNKNOWN = ("extra_forbidden", "unexpected_keyword_argument")
_AT = "at"
#: What a page copied from elsewhere brings along and nobody sees: controls, blanks of no width, and the marks that turn
#: what stands beside a name round.
_UNSEEN = re.compile("[\x7f-\x9f\u200b\u202a-\u202e\u2066-\u2069\ufeff]")
_Handler = Callable[[Request], Coroutine[Any, Any, Response]]


class _Body(Request):
    """A request whose body is known."""

    def __init__(self, request: Request, said: Any) -> None:
        super().__init__(request.scope, request.receive)
        self._said = said
        self._body = json.dumps(said).encode()

    async def json(self) -> Any:
        return self._said


class StrictRoute(APIRoute):
    """A route that says which field of a body it does not know."""

    @cached_property
    def _shape(self) -> TypeAdapter[Any] | None:
        # Worked out when the first body comes: at the start it would cost every route.
        if self.body_field is None or self.body_field.field_info.annotation is None:
            return None
        return TypeAdapter(self.body_field.field_info.annotation)

    @cached_property
    def _own_at(self) -> dict[str, Any] | None:
        """What this body itself says under ``at``, as JSON Schema; ``None`` where it says nothing there."""
        if self._shape is None:
            return {}
        schema = self._shape.json_schema()
        found = schema.get("anyOf") or schema.get("oneOf") or [schema]
        shapes = [schema.get("$defs", {}).get(str(each.get("$ref", "")).rpartition("/")[2], each) for each in found]
        own: list[dict[str, Any]] = [shape["properties"] for shape in shapes if "properties" in shape]
        # What has no fields of its own takes whatever it is given.
        return next((each[_AT] for each in own if _AT in each), None) if own else {}

    def _without_older_moment(self, request: Request, said: dict[str, Any]) -> None:
        if self._own_at is None:
            setattr(request.state, OLDER_MOMENT, said.pop(_AT))
        elif self._own_at.get("type") == "number":
            # A mark's own number was written over where it was 0, and only there.
            setattr(request.state, OLDER_MOMENT, said[_AT])
            said[_AT] = 0

    def get_route_handler(self) -> _Handler:
        """Return what answers a request, after its body was looked through."""
        answer = super().get_route_handler()

        async def strictly(request: Request) -> Response:
            request = _asked_in_todays_spelling(request)
            if self.body_field is None or "json" not in request.headers.get("content-type", "json"):
                return await answer(request)
            try:
                given = json.loads(await request.body() or b"null")
            except (ValueError, RecursionError):
                # The route says so itself.
                return await answer(request)
            said = in_todays_spelling(_as_seen(given))
            if isinstance(said, dict) and isinstance(said.get(_AT), str):
                self._without_older_moment(request, said)
            if said != given:
                request = _Body(request, said)
            if said is not None and (unknown := self._unknown(said)):
                raise RequestValidationError(unknown)
            return await answer(request)

        return strictly

    def _unknown(self, said: Any) -> list[dict[str, Any]]:
        """Return a complaint for each field that is not known."""
        if self._shape is None:
            return []
        try:
            self._shape.validate_python(said, extra="forbid")
        except ValidationError as error:
            return [
                {**each, "loc": ("body", *each["loc"])}
                for each in error.errors(include_url=False)
                if each["type"] in UNKNOWN
            ]
        return []


class BothSpellings(StrictRoute):
    """A route that answers each field which is spelled anew under its older name too, for programs, until 1.0."""

    def get_route_handler(self) -> _Handler:
        """Return what answers a request, each name in both spellings."""
        strictly = super().get_route_handler()

        async def answer(request: Request) -> Response:
            told = await strictly(request)
            if told.media_type != "application/json":
                return told
            found = json.loads(bytes(told.body))
            both = in_both_spellings(found)
            return told if both == found else JSONResponse(both, told.status_code)

        return answer


def _asked_in_todays_spelling(request: Request) -> Request:
    """Return a request whose question, after the ``?``, spells its fields as today's do."""
    if not request.scope["query_string"]:
        return request
    asked = parse_qsl(request.url.query, keep_blank_values=True)
    respelled = [next(iter(in_todays_spelling({name: value}).items())) for name, value in asked]
    if respelled == asked:
        return request
    return Request({**request.scope, "query_string": urlencode(respelled).encode()}, request.receive)


def _as_seen(given: Any) -> Any:
    """Return a body without the letters that nobody sees.

    Raises :class:`CraftError` for half a surrogate pair, which JSON can write and no file can hold: ``"\\ud800"``.
    """
    text = json.dumps(given, ensure_ascii=False)
    try:
        text.encode()
    except UnicodeEncodeError:
        raise CraftError("Half a character in it can't be saved. Type it again.") from None
    return json.loads(_UNSEEN.sub("", text)) if _UNSEEN.search(text) else given
