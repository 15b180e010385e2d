"""What every route can ask for: the workshop, the time, checked ids, and the time zone of whoever prints."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from datetime import UTC, datetime, timedelta
from typing import Annotated

from fastapi import Depends, Header, Path, Query, Request
from sqlalchemy.orm import Session

from weftonos.api.strict import OLDER_MOMENT
from weftonos.core.kernel.errors import CraftError
from weftonos.demo import DEMO_MARK
from weftonos.exchange.paper import LONGEST_ZONE
from weftonos.http.once import KEY_HEADER, WROTE
from weftonos.runtime.running import urls
from weftonos.store.database import reading
from weftonos.store.drawer import LARGEST_ID
from weftonos.store.workshop import Workshop
from weftonos.store.writes import claim

TimeSource = Callable[[], datetime]


#: When something was done that is sent later, and when it was sent, by the sender's clock. Nothing else is so named.
DONE_AT, SENT_AT = "done-at", "sent-at"
#: Two clocks that differ by less are taken for one.
CLOCKS_AGREE = timedelta(minutes=1)
#: Methods that only read.
_READS = ("GET", "HEAD")


def _workshop(request: Request) -> Iterator[Workshop]:
    state = request.app.state
    if request.method in _READS:
        yield from _workshop_to_read(request)
        return
    # Writers wait for one another here, in order; SQLite's own waiting would make them try again and again.
    key = request.headers.get(KEY_HEADER, "")
    with state.writing, Session(state.engine) as session, session.begin():
        if key:
            claim(session, key, state.clock())
        yield Workshop(session)
    setattr(request.state, WROTE, True)
    state.changes.tell(key)


def _workshop_to_read(request: Request) -> Iterator[Workshop]:
    with Session(reading(request.app.state.engine)) as session, session.begin():
        yield Workshop(session)


def _now(request: Request) -> datetime:
    clock: TimeSource = request.app.state.clock
    return clock()


def _done(request: Request) -> datetime:
    """Return when what is noted was done: now, unless it waited for the server.

    How long ago that was goes by the clock of whoever sends it; a clock that is wrong does not move it.
    """
    now = _now(request)
    said = request.headers.get(DONE_AT) or getattr(request.state, OLDER_MOMENT, None)
    if said is None:
        return now
    done, sent = _moment(said), _moment(request.headers.get(SENT_AT) or now.isoformat())
    # A server that was just opening lets a request wait, which is no matter of clocks.
    differs = now - sent if abs(now - sent) > CLOCKS_AGREE else timedelta()
    return min(now, done + differs)


def _moment(said: str) -> datetime:
    try:
        moment = datetime.fromisoformat(said)
    except ValueError:
        moment = None
    if moment is None or moment.tzinfo is None or not 1950 <= moment.year <= 9000:
        raise CraftError("When it was done is a date and time with its zone, as 2026-11-24T09:30:00Z.", DONE_AT)
    return moment.astimezone(UTC)


def _in_demo(request: Request) -> bool:
    return bool((request.app.state.data_dir / DEMO_MARK).exists())


def addresses(request: Request) -> Sequence[str]:
    """Return the addresses at which the workshop is to be reached, the handiest first, the one that stays last."""
    settings = request.app.state.settings
    return urls(settings.host, request.url.port or settings.port)


def _stable_address(request: Request) -> str:
    return "" if request.app.state.settings.only_this_machine else addresses(request)[-1]


# The transaction ends with the route, before the answer leaves: what is answered is written.
WorkshopNow = Annotated[Workshop, Depends(_workshop, scope="function")]
#: For questions that are posted since they are long, and write nothing.
WorkshopToRead = Annotated[Workshop, Depends(_workshop_to_read, scope="function")]
Now = Annotated[datetime, Depends(_now)]
#: When what is noted was done.
Done = Annotated[datetime, Depends(_done)]
#: Where a tablet opens this workshop, under a name that stays; empty where it is not open to the network.
OpenedAt = Annotated[str, Depends(_stable_address)]
#: Whether this is the demo and no real workshop.
InDemo = Annotated[bool, Depends(_in_demo)]
Id = Annotated[int, Path(ge=1, le=LARGEST_ID)]
#: The number of a thing that a question may name.
AnyId = Annotated[int | None, Query(ge=1, le=LARGEST_ID)]

#: Whether what is on a machine is deleted all the same.
Anyway = Annotated[bool, Query(description="Also where it is on a machine now.")]


def _seen(
    if_match: Annotated[
        str | None, Header(max_length=30, description="The version that was seen; another one answers 409.")
    ] = None,
) -> int | None:
    number = "*" if if_match is None else if_match.removeprefix("W/").strip('"')
    if number == "*":
        return None
    if not number.isascii() or not number.isdigit():
        raise CraftError("The version that was seen is a number.", "if-match")
    return int(number)


#: The version of a row that whoever changes it has seen (If-Match); none where they do not mind.
Seen = Annotated[int | None, Depends(_seen)]
Zone = Annotated[str, Query(max_length=LONGEST_ZONE, description="The time zone of the paper, by its name.")]
