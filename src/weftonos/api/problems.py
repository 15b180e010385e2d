"""Bad input said in a quilter's words, in FastAPI's own form: ``detail: [{loc, msg, type}]`` with status 422."""

from __future__ import annotations

import re
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from sqlalchemy.exc import DBAPIError

from weftonos.api.strict import UNKNOWN
from weftonos.core.kernel.errors import CraftError
from weftonos.runtime.logs import log
from weftonos.store.database import FILE_NAME
from weftonos.store.drawer import NotFoundError
from weftonos.store.file_errors import ExitCode, WorkshopFileError, file_error
from weftonos.store.versions import ChangedMeanwhileError
from weftonos.store.writes import AlreadyWrittenError

FIELD_NAMES = {
    "american": "American size",
    "at": "date",
    "bobbin": "bobbin thread",
    "color": "color",
    "grams": "weight",
    "high": "highest",
    "low": "lowest",
    "metric": "metric size",
    "pulls": "list of pulls",
    "system": "weight system",
    "throat_in": "throat",
    "top": "top thread",
    "value": "number",
}
#: What a trouble with the file is to the browser: full, busy, not to be written, broken, not there.
_STATUS = {
    ExitCode.DISK: 507,
    ExitCode.IN_USE: 503,
    ExitCode.FORBIDDEN: 503,
    ExitCode.CANNOT_MAKE: 503,
    ExitCode.DAMAGED: 422,
    ExitCode.MISSING: 404,
}
#: Complaints that are told at most; a list of a thousand wrong numbers is one mistake.
MOST_COMPLAINTS = 20
_NOT_A_NUMBER = {"float_parsing", "float_type", "int_parsing", "int_type", "decimal_parsing", "finite_number"}


def install(app: FastAPI) -> None:
    """Answer bad input with a sentence, never with a 5xx."""

    @app.exception_handler(RequestValidationError)
    async def _invalid(_request: Request, error: RequestValidationError) -> JSONResponse:
        return _unprocessable([_entry(e) for e in error.errors()[:MOST_COMPLAINTS]])

    @app.exception_handler(CraftError)
    async def _craft(_request: Request, error: CraftError) -> JSONResponse:
        return _unprocessable([{"loc": _loc(["body"], error), "msg": str(error), "type": "craft"}])

    @app.exception_handler(NotFoundError)
    async def _missing(_request: Request, error: NotFoundError) -> JSONResponse:
        return JSONResponse({"detail": _plain(str(error))}, 404)

    @app.exception_handler(ChangedMeanwhileError)
    async def _changed(_request: Request, error: ChangedMeanwhileError) -> JSONResponse:
        return JSONResponse({"detail": str(error), "now": error.now, "version": error.version}, 409)

    @app.exception_handler(AlreadyWrittenError)
    async def _already(_request: Request, _error: AlreadyWrittenError) -> JSONResponse:
        # 208, Already Reported: the answer of the first time is not held any more, what it wrote is.
        return JSONResponse({"detail": "This was saved already. Nothing is saved twice."}, 208)

    @app.exception_handler(WorkshopFileError)
    async def _file(_request: Request, error: WorkshopFileError) -> JSONResponse:
        return JSONResponse({"detail": str(error)}, _STATUS.get(error.code, 500))

    @app.exception_handler(DBAPIError)
    async def _database(request: Request, error: DBAPIError) -> JSONResponse:
        said = file_error(error, request.app.state.data_dir / FILE_NAME)
        if said is None:
            raise error
        log.warning("a request failed: %s", type(error.orig).__name__, exc_info=error)
        return JSONResponse({"detail": str(said)}, _STATUS.get(said.code, 500))


def _unprocessable(detail: list[dict[str, Any]]) -> JSONResponse:
    return JSONResponse({"detail": [{**each, "msg": _plain(each["msg"])} for each in detail]}, 422)


def _plain(said: str) -> str:
    """Return a sentence that can be sent: half a character that somebody gave cannot."""
    return said.encode("utf-8", "replace").decode()


def _loc(loc: list[Any], error: CraftError) -> list[Any]:
    return [*loc, error.field] if error.field and error.field not in loc[-1:] else loc


def _entry(error: dict[str, Any]) -> dict[str, Any]:
    loc = [str(part)[:80] if not isinstance(part, int) else part for part in error["loc"]]
    cause = error.get("ctx", {}).get("error")
    if isinstance(cause, CraftError):
        return {"loc": _loc(loc, cause), "msg": str(cause), "type": "craft"}
    return {"loc": loc, "msg": _sentence(error, loc), "type": error["type"]}


def _sentence(error: dict[str, Any], loc: list[Any]) -> str:
    kind, ctx = error["type"], error.get("ctx", {})
    field = next((part for part in reversed(loc) if isinstance(part, str)), "")
    name = FIELD_NAMES.get(field, field.replace("_", " ")) or "value"
    given = str(error.get("input"))[:40].encode("utf-8", "replace").decode()
    if kind == "missing":
        return f"The {name} is missing."
    if kind in UNKNOWN:
        return f"“{field[:40]}” isn't a field here. Leave it out, or look up its name in the reference."
    if kind in _NOT_A_NUMBER:
        return f"“{given}” is not a number. Type figures, such as 204."
    if kind == "int_from_float":
        return f"The {name} must be a whole number. This is {given}."
    if kind in ("enum", "literal_error"):
        known = re.sub(r"'([^']*)'", lambda m: m[1].replace("_", " "), str(ctx.get("expected", "")))
        return f"“{given}” is not a known {name}. Known: {known}."
    if kind == "union_tag_invalid":
        return f"“{given}” is not a kind of record."
    if kind.startswith(("datetime", "date_", "timezone")):
        return f"“{given}” is not a date and time."
    if kind == "json_invalid":
        return "The request could not be read."
    if kind in ("greater_than_equal", "greater_than", "less_than_equal", "less_than"):
        limit = next(iter(ctx.values()), "")
        return f"The {name} is out of range (limit {limit})."
    if kind.startswith(("string", "dataclass", "list", "tuple", "dict", "model")):
        return f"The {name} doesn't have the form it needs: {error['msg'].lower()}."
    return f"The {name} can't be used: {error['msg']}."
