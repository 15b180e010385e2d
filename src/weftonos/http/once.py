"""A repeated write is answered as it was the first time: a second tap, a lost answer, a queue that sends again.

A write may carry ``Idempotency-Key``. What it wrote and its key are kept in one transaction
(:mod:`weftonos.store.writes`); the last answers are held here, so that a repeat gets the same one.
"""

from __future__ import annotations

import asyncio
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Any

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from weftonos.http.refusal import refused_header

KEY_HEADER = "idempotency-key"
#: Set on a request that wrote something: only that is answered from here when it is repeated.
WROTE = "weftonos.wrote"
LONGEST_KEY = 80
#: Answers that are held, and the largest of them.
ANSWERS_HELD = 500
_LARGEST_HELD = 256 * 1024
_WRITES = ("POST", "PUT", "DELETE", "PATCH")


@dataclass
class _Write:
    """One write: what it asked for, whether it is over, and its answer if it went well."""

    asked: tuple[str, str]
    over: asyncio.Event = field(default_factory=asyncio.Event)
    answer: list[Message] | None = None


class Once:
    """Let a write with a key through once; its repeats wait for it and get its answer."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app
        self._writes: OrderedDict[tuple[Any, str], _Write] = OrderedDict()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a repeat from what is held; pass everything else on."""
        key = Headers(scope=scope).get(KEY_HEADER) if scope["type"] == "http" else None
        if key is None or scope["method"] not in _WRITES:
            await self._app(scope, receive, send)
            return
        if not 8 <= len(key) <= LONGEST_KEY or not key.isascii() or not key.isprintable():
            await refused_header(KEY_HEADER, "The key of a write has 8 to 80 plain letters.")(scope, receive, send)
            return
        # Not the body: what waited for the server says when it was done besides, and the first to arrive holds.
        asked = scope["method"], scope["path"]
        # One process may hold several workshops in its tests, and a file that was put back knows other writes.
        state = scope["app"].state if "app" in scope else None
        place = (state and (str(state.data_dir), getattr(state, "file_number", 0)), key)
        while (write := self._writes.get(place)) is not None:
            if write.asked != asked:
                await refused_header(KEY_HEADER, "This key belongs to another write.")(scope, receive, send)
                return
            await write.over.wait()
            if write.answer is not None:
                for message in write.answer:
                    await send(message)
                return
            # The first was refused or broken off; this one is a try of its own.
            if self._writes.get(place) is write:
                del self._writes[place]
        write = self._writes[place] = _Write(asked)
        try:
            await self._app(scope, receive, _keeping(scope, send, write))
        finally:
            write.over.set()
            if write.answer is None and self._writes.get(place) is write:
                del self._writes[place]
            while len(self._writes) > ANSWERS_HELD and next(iter(self._writes.values())).over.is_set():
                self._writes.popitem(last=False)


def _keeping(scope: Scope, send: Send, write: _Write) -> Send:
    """Return what sends an answer and holds it, if something was written and it is not too large."""
    held: list[Message] = []
    good = False

    async def sending(message: Message) -> None:
        nonlocal good
        if message["type"] == "http.response.start":
            good = 200 <= message["status"] < 300 and scope.get("state", {}).get(WROTE, False)
        held.append(message)
        ended = message["type"] == "http.response.body" and not message.get("more_body", False)
        if good and ended and sum(len(m.get("body", b"")) for m in held) <= _LARGEST_HELD:
            write.answer = held
        await send(message)

    return sending
