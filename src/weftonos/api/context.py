"""What every route can ask for: the workshop, the time, checked ids, and the time zone of whoever prints."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import datetime
from typing import Annotated

from fastapi import Depends, Path, Query, Request
from sqlalchemy.orm import Session

from weftonos.exchange.paper import LONGEST_ZONE
from weftonos.store.drawer import LARGEST_ID
from weftonos.store.workshop import Workshop

TimeSource = Callable[[], datetime]


def _workshop(request: Request) -> Iterator[Workshop]:
    with Session(request.app.state.engine) as session, session.begin():
        yield Workshop(session)


def _now(request: Request) -> datetime:
    clock: TimeSource = request.app.state.clock
    return clock()


# The transaction ends with the route, before the answer leaves: what is answered is written.
WorkshopNow = Annotated[Workshop, Depends(_workshop, scope="function")]
Now = Annotated[datetime, Depends(_now)]
Id = Annotated[int, Path(ge=1, le=LARGEST_ID)]
Zone = Annotated[str, Query(max_length=LONGEST_ZONE, description="The time zone of the paper, by its name.")]
