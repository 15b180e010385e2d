"""Who may talk to the server: this machine, its own pages, and on a local network whoever has the passcode."""

from __future__ import annotations

import ipaddress
from html import escape
from urllib.parse import parse_qs, urlsplit

from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.responses import HTMLResponse, JSONResponse, PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from weftonos.exchange import LARGEST_GIVEN
from weftonos.http.passcode import COOKIE, SESSION_S, TOKEN_MARK, Doorkeeper, passcode_or_token
from weftonos.runtime.running import own_names
from weftonos.runtime.settings import LOOPBACK, Settings

#: An ordinary request is a few kB; recorded pulls and whole files are uploads.
LARGEST_BODY = 1024 * 1024
LARGEST_UPLOAD = 25 * 1024 * 1024
UPLOADS = ("/api/gauge/trace", "/api/gauge/csv/")
#: Files to bring in go through piece by piece: their route counts and keeps them on the disk.
STREAMED = "/api/exchange/files"
#: Commas in an ordinary request: what has more is a list that nobody typed, and each item would be judged.
MOST_ITEMS = 20_000
_LONGEST_FORM = 1000
#: Set on what a guard has let through: the application is guarded on its own as well as behind its door.
_GUARDED = "weftonos.guarded"
_HEADERS = {
    "content-security-policy": (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
        "base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    ),
    "x-content-type-options": "nosniff",
    # Without any referrer a browser also leaves out where a form comes from, and the passcode's form would be foreign.
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}
_ASKING = """<!doctype html><html lang="en"><meta charset="utf-8"><title>Weftonos: passcode</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
<style>body{{font:1.25rem/1.5 system-ui,sans-serif;max-width:26rem;margin:12vh auto;padding:0 1rem;color:#22303a}}
input,button{{font:inherit;padding:.6rem .8rem;width:100%;box-sizing:border-box;margin-top:.5rem}}</style>
<main><h1>Weftonos</h1><p role="status">{said}</p>
<form method="post" action="/passcode"><input type="hidden" name="next" value="{next}">
<label for="code">Passcode</label>
<input id="code" name="code" autocomplete="current-password" autocapitalize="none" autofocus required maxlength="100">
<button>Open the workshop</button></form>
<p>It stands on the page “Workshop” of the computer on which Weftonos runs, and in the window in which it was started.
The page is not encrypted: use it on a network of your own.</p></main></html>"""
_FIRST = "Type the passcode of this workshop."
_WRONG = "That is not the passcode."
#: Who is let in is no matter for programs: a token would open the door for others.
ACCESS = "/api/workshop/access"
_NO_PROGRAM = JSONResponse({"detail": "A program can't see or change who is let in. Use the Workshop page."}, 403)
_WRONG_TOKEN = "That token is not known here, or it was withdrawn."
_TOO_MANY = "Too many wrong passcodes in the last hour. Wait a while, or use the computer on which Weftonos runs."
#: Where the passcode is put in.
PASSCODE = "/passcode"


class Guard:
    """Refuse foreign Host and Origin, oversized bodies and, from other machines, a missing passcode."""

    def __init__(self, app: ASGIApp, settings: Settings, doorkeeper: Doorkeeper | None = None) -> None:
        self._app = app
        self._settings = settings
        self._doorkeeper = doorkeeper or Doorkeeper(settings.passcode or "")
        self._names = {*LOOPBACK, *own_names()}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or answer with the reason why not."""
        if scope["type"] not in ("http", "websocket") or scope.get(_GUARDED):
            await self._app(scope, receive, send)
            return
        scope[_GUARDED] = True
        guarded = _with_headers(send)
        headers = Headers(scope=scope)
        refusal = self._refusal(scope, headers)
        if refusal is None and not self._is_let_in(scope, headers):
            refusal = await self._ask(scope, receive)
        elif refusal is None and scope["type"] == "http" and scope["path"] == PASSCODE:
            # Whoever is in already, by another tab or at the machine itself, goes on to the page.
            refusal = RedirectResponse(_page_asked_for(scope), 303)
        reads = scope["type"] == "http" and scope["method"] not in ("GET", "HEAD") and scope["path"] != STREAMED
        if refusal is None and reads:
            body = await _whole(receive, _largest(scope))
            if body is None or (not _is_upload(scope) and body.count(b",") > MOST_ITEMS):
                refusal = _too_large(scope)
            else:
                receive = _again(body, receive)
        if refusal is None:
            await self._app(scope, receive, guarded)
        elif scope["type"] == "http":
            await refusal(scope, receive, guarded)
        else:
            await send({"type": "websocket.close", "code": 1008})

    def _refusal(self, scope: Scope, headers: Headers) -> Response | None:
        host = headers.get("host", "")
        if not self._host_allowed(host):
            return PlainTextResponse("This address is not one of Weftonos's own.", 400)
        origin = headers.get("origin")
        if origin is not None and urlsplit(origin).netloc != host:
            return PlainTextResponse("Pages from elsewhere may not use this server.", 403)
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length[:12]) > _largest(scope):
            return _too_large(scope)
        return None

    def _host_allowed(self, host: str) -> bool:
        try:
            name = (urlsplit(f"//{host}").hostname or "").lower()
        except ValueError:
            return False
        if name in LOOPBACK:
            return True
        if self._settings.only_this_machine:
            return False
        if name in self._names or name == self._settings.host:
            return True
        try:
            # An address typed as numbers cannot be a rebound name.
            ipaddress.ip_address(name)
        except ValueError:
            return False
        return True

    def _is_let_in(self, scope: Scope, headers: Headers) -> bool:
        """Say whether this is the machine itself or an open session; asks nobody anything."""
        if self._settings.only_this_machine or _is_loopback(scope):
            return True
        return self._doorkeeper.knows(cookie_parser(headers.get("cookie", "")).get(COOKIE, ""))

    async def _ask(self, scope: Scope, receive: Receive) -> Response | None:
        """Let a stranger in who gives the passcode or a token, by the form of the page or as a script; else ask."""
        headers = Headers(scope=scope)
        typed = scope["type"] == "http" and scope["method"] == "POST" and scope["path"] == PASSCODE
        given = passcode_or_token(headers.get("authorization", ""))
        back = _page_asked_for(scope)
        if typed:
            body = await _whole(receive, _LONGEST_FORM)
            form = parse_qs((body or b"").decode("utf-8", "replace"))
            given, back = form.get("code", [""])[0], own_page(form.get("next", [""])[0])
        page = typed or ("text/html" in headers.get("accept", "") and given is None)
        if given is None:
            return _asking(page, _FIRST, 401, back)
        keeper, address = self._doorkeeper, str((scope.get("client") or ("",))[0])
        if not keeper.may_guess(address):
            return _asking(page, _TOO_MANY, 429, back)
        if not typed and given.startswith(TOKEN_MARK):
            if not keeper.has_token(given, address):
                return _asking(page, _WRONG_TOKEN, 401, back)
            return _NO_PROGRAM if str(scope["path"]).startswith(ACCESS) else None
        if not keeper.is_right(given, address):
            return _asking(page, _WRONG, 401, back)
        if not typed:
            return None
        answer = RedirectResponse(back, 303)
        answer.set_cookie(COOKIE, keeper.let_in(), max_age=SESSION_S, httponly=True, samesite="strict")
        return answer


def own_page(path: str) -> str:
    """Return a page of ours to go on to; the first one for anything that could lead elsewhere."""
    ours = path.startswith("/") and not path.startswith(("//", "/\\", PASSCODE, "/api/")) and path.isprintable()
    return path if ours else "/"


def _page_asked_for(scope: Scope) -> str:
    query = scope.get("query_string", b"").decode("latin-1")
    path = str(scope.get("path", ""))
    if path == PASSCODE:
        return own_page(parse_qs(query).get("next", [""])[0])
    return own_page(f"{path}?{query}" if query else path)


def _asking(page: bool, said: str, status: int, back: str) -> Response:
    more = {"retry-after": "600"} if status == 429 else {}
    if page:
        return HTMLResponse(_ASKING.format(said=said, next=escape(back)), status, {"cache-control": "no-store", **more})
    # A browser would answer "Basic" with a window of its own, over a page that asks better.
    return PlainTextResponse(said, status, {"www-authenticate": 'Bearer realm="Weftonos"', **more})


def _is_loopback(scope: Scope) -> bool:
    client = scope.get("client")
    try:
        return client is not None and ipaddress.ip_address(client[0]).is_loopback
    except ValueError:
        return False


def _is_upload(scope: Scope) -> bool:
    path = str(scope.get("path", ""))
    return path == STREAMED or path.startswith(UPLOADS)


def _largest(scope: Scope) -> int:
    if scope.get("path") == STREAMED:
        return LARGEST_GIVEN
    return LARGEST_UPLOAD if _is_upload(scope) else LARGEST_BODY


def _too_large(scope: Scope) -> Response:
    most = f"at most {_largest(scope) // (1024 * 1024)} MB"
    items = "" if _is_upload(scope) else f" and {MOST_ITEMS} items"
    return JSONResponse({"detail": f"That is too large: {most}{items} can be taken here."}, 413)


async def _whole(receive: Receive, largest: int) -> bytes | None:
    """Return a body, whether it says its length or not; ``None`` as soon as it is too large."""
    body = bytearray()
    while True:
        message = await receive()
        if message["type"] != "http.request":
            return bytes(body)
        body += message.get("body", b"")
        if len(body) > largest:
            return None
        if not message.get("more_body", False):
            return bytes(body)


def _again(body: bytes, receive: Receive) -> Receive:
    """Return what gives a body that was read already."""
    given = False

    async def again() -> Message:
        nonlocal given
        if given:
            return await receive()
        given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return again


def _with_headers(send: Send) -> Send:
    async def sending(message: Message) -> None:
        if message["type"] == "http.response.start":
            known = [(k.encode(), v.encode()) for k, v in _HEADERS.items()]
            message = {**message, "headers": [*message.get("headers", []), *known]}
        await send(message)

    return sending
