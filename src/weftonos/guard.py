"""Who may talk to the server: this machine, its own pages, and on a local network whoever has the passcode."""

from __future__ import annotations

import base64
import ipaddress
import secrets
from urllib.parse import urlsplit

from starlette.datastructures import Headers
from starlette.responses import PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from weftonos.settings import LOOPBACK, Settings

#: Ordinary requests are small; imports get a larger limit where they are read.
LARGEST_BODY = 25 * 1024 * 1024
_HEADERS = {
    "content-security-policy": (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'"
    ),
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
}


class Guard:
    """Refuse foreign Host and Origin, oversized bodies and, off the loopback, a missing passcode."""

    def __init__(self, app: ASGIApp, settings: Settings) -> None:
        self._app = app
        self._settings = settings

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or answer with the reason why not."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        refusal = self._refusal(Headers(scope=scope))
        if refusal is None:
            await self._app(scope, receive, _with_headers(send))
        elif scope["type"] == "http":
            await refusal(scope, receive, send)
        else:
            await send({"type": "websocket.close", "code": 1008})

    def _refusal(self, headers: Headers) -> Response | None:
        host = headers.get("host", "")
        if not self._host_allowed(host):
            return PlainTextResponse("This address is not one of Weftonos's own.", 400)
        origin = headers.get("origin")
        if origin is not None and urlsplit(origin).netloc != host:
            return PlainTextResponse("Pages from elsewhere may not use this server.", 403)
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length[:12]) > LARGEST_BODY:
            return PlainTextResponse("That is too large.", 413)
        if not self._settings.only_this_machine and not self._passcode_given(headers.get("authorization", "")):
            return PlainTextResponse(
                "Passcode, please.", 401, {"www-authenticate": 'Basic realm="Weftonos", charset="UTF-8"'}
            )
        return None

    def _host_allowed(self, host: str) -> bool:
        try:
            name = urlsplit(f"//{host}").hostname or ""
        except ValueError:
            return False
        if name in LOOPBACK:
            return True
        if self._settings.only_this_machine:
            return False
        if name == self._settings.host:
            return True
        try:
            # An address typed as numbers cannot be a rebound name.
            ipaddress.ip_address(name)
        except ValueError:
            return False
        return True

    def _passcode_given(self, authorization: str) -> bool:
        scheme, _, encoded = authorization.partition(" ")
        if scheme.lower() != "basic" or not self._settings.passcode:
            return False
        try:
            given = base64.b64decode(encoded, validate=True).partition(b":")[2]
        except ValueError:
            return False
        return secrets.compare_digest(given, self._settings.passcode.encode())


def _with_headers(send: Send) -> Send:
    async def sending(message: Message) -> None:
        if message["type"] == "http.response.start":
            known = [(k.encode(), v.encode()) for k, v in _HEADERS.items()]
            message = {**message, "headers": [*message.get("headers", []), *known]}
        await send(message)

    return sending
