"""Who is let in from the local network: the passcode, the browsers that are in, and programs with their tokens."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Request
from fastapi import Path as PathParameter

from weftonos.api.strict import StrictRoute
from weftonos.core.kernel.errors import CraftError, require_text
from weftonos.http.passcode import Doorkeeper
from weftonos.store.drawer import NotFoundError

router = APIRouter(prefix="/api/workshop/access", tags=["workshop"], route_class=StrictRoute)


@dataclass(frozen=True, kw_only=True)
class TokenHolder:
    """A program that has a token: the number it goes by here, its name, when it was made and last used."""

    number: str
    name: str
    made_at: datetime
    used_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class Access:
    """Who may come in from the local network; ``chosen`` where the passcode was set at the start."""

    passcode: str
    chosen: bool
    browsers: int
    programs: Sequence[TokenHolder]


def _access(keeper: Doorkeeper) -> Access:
    programs = [
        TokenHolder(
            number=number,
            name=program.name,
            made_at=datetime.fromtimestamp(program.made_at, UTC),
            used_at=datetime.fromtimestamp(program.used_at, UTC) if program.used_at else None,
        )
        for number, program in keeper.programs()
    ]
    return Access(passcode=keeper.passcode, chosen=keeper.chosen, browsers=keeper.sessions, programs=programs)


def _keeper(request: Request) -> Doorkeeper:
    keeper: Doorkeeper = request.app.state.doorkeeper
    return keeper


@router.get("")
def access(request: Request) -> Access:
    """Say who may come in from the local network. Only whoever is in already can ask."""
    return _access(_keeper(request))


@router.post("/new-passcode")
def new_passcode(request: Request) -> Access:
    """Make a new passcode. Browsers that are in stay in; to end them too, log out everywhere."""
    keeper = _keeper(request)
    if keeper.chosen:
        raise CraftError("The passcode was set by WEFTONOS_PASSCODE when Weftonos was started. Change it there.")
    keeper.renew_passcode()
    return _access(keeper)


@router.post("/log-out")
def log_out_everywhere(request: Request) -> Access:
    """Log every browser out, this one too where it came over the network; programs keep their tokens."""
    _keeper(request).log_out_everywhere()
    return _access(_keeper(request))


@dataclass(frozen=True, kw_only=True)
class TokenFor:
    """What the program is called that gets a token."""

    name: str

    def __post_init__(self) -> None:
        require_text(self.name, 60, "The program's name", "name")


@dataclass(frozen=True, kw_only=True)
class NewToken:
    """A token, shown this once, and the number it goes by here; send it as ``Authorization: Bearer TOKEN``."""

    token: str
    number: str
    access: Access


@router.post("/programs", status_code=201)
def give_token(program: TokenFor, request: Request) -> NewToken:
    """Give a program a token of its own, so that it needs no passcode."""
    try:
        token = _keeper(request).give_token(program.name.strip())
    except ValueError as error:
        raise CraftError(str(error), "name") from error
    access = _access(_keeper(request))
    return NewToken(token=token, number=access.programs[-1].number, access=access)


@router.delete("/programs/{number}")
def withdraw_token(number: Annotated[str, PathParameter(pattern="^[0-9a-f]{16}$")], request: Request) -> Access:
    """Withdraw a program's token."""
    if not _keeper(request).withdraw(number):
        raise NotFoundError("There is no such token.")
    return _access(_keeper(request))
