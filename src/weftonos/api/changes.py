"""What was written meanwhile, on this screen or on another, as server-sent events."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response, StreamingResponse

from weftonos.api.strict import StrictRoute
from weftonos.http.turnstile import CHANGES

router = APIRouter(tags=["workshop"], route_class=StrictRoute)


@router.get(CHANGES, response_class=StreamingResponse)
async def changes(request: Request) -> Response:
    """Tell of every write, as server-sent events ``{"number": n, "key": the write's key}``; a script may listen too.

    The first is an event ``stand``: how the workshop stood then, the same until something is written.
    """
    told = request.app.state.changes
    if told.full:
        return JSONResponse({"detail": "Too many screens are open. Close one."}, 503, {"retry-after": "10"})
    # Disable proxy buffering: events must be flushed at once.
    return StreamingResponse(
        told.listen(), media_type="text/event-stream", headers={"cache-control": "no-store", "x-accel-buffering": "no"}
    )
