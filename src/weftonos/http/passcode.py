"""Who is let in from the local network: by the passcode, an open session, or a program's own token.

A right answer costs nothing. An address has ten wrong guesses an hour; past a hundred in all, addresses that were never
let in are not heard. Sessions that are open, and this machine itself, are never held up by somebody else's guessing.
Passcode, sessions and tokens outlive a restart, in a file of the data folder that its owner alone can read; of sessions
and tokens it holds digests.
"""

from __future__ import annotations

import base64
import ipaddress
import json
import os
import secrets
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from hashlib import sha256
from pathlib import Path

from weftonos.runtime.logs import log

#: Where it is kept in the data folder.
ACCESS_NAME = "access.json"
#: Letters and digits that are not mistaken for one another.
_ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"
LENGTH = 10
#: Wrong guesses in an hour: of one address, and of all together before unknown addresses are no longer heard.
WRONG_EACH, WRONG_IN_ALL = 10, 100
HOUR_S = 3600.0
MOST_SESSIONS, MOST_TOKENS, MOST_KNOWN = 200, 50, 500
SESSION_S = 30 * 24 * 3600
COOKIE = "weftonos_session"
#: What a program's token begins with, so that it is known for one where it is found.
TOKEN_MARK = "weftonos-"


def new_passcode() -> str:
    """Return a passcode to type on a tablet: 49 bits of chance."""
    return "".join(secrets.choice(_ALPHABET) for _ in range(LENGTH))


@dataclass
class Program:
    """A program that was given a token: what it is called, when that was, and when it last came (seconds)."""

    name: str
    made_at: float
    used_at: float | None = None


@dataclass
class _Kept:
    """What outlives a restart. Sessions and tokens stand under their digests, times are seconds since 1970."""

    passcode: str = ""
    sessions: dict[str, float] = field(default_factory=dict)
    programs: dict[str, Program] = field(default_factory=dict)
    known: list[str] = field(default_factory=list)


def _digest(key: str) -> str:
    return sha256(key.encode("utf-8", "replace")).hexdigest()


def _place_of(address: str) -> str:
    """Return what counts as one address: of IPv6 the network, since a machine has as many addresses as it likes."""
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return address
    return str(ipaddress.ip_network((found, 64), strict=False)) if found.version == 6 else str(found)


class Doorkeeper:
    """Knows the passcode and who was let in. ``clock`` is in seconds since 1970.

    ``passcode`` is the one that was chosen for this run; left empty, the one that is kept, or a new one. ``data_dir``
    is where it is kept; without one everything is forgotten at the end.
    """

    def __init__(
        self, passcode: str = "", data_dir: Path | None = None, clock: Callable[[], float] = time.time
    ) -> None:
        self.clock = clock
        self._lock = threading.RLock()
        self._file = data_dir / ACCESS_NAME if data_dir else None
        self._kept = _read(self._file)
        self.chosen = bool(passcode)
        self._passcode = passcode
        self._wrong: dict[str, list[float]] = {}

    @property
    def passcode(self) -> str:
        """The passcode; made and kept where there was none yet."""
        if self.chosen:
            return self._passcode
        with self._lock:
            if not self._kept.passcode:
                self._kept.passcode = new_passcode()
                self._keep()
            return self._kept.passcode

    def renew_passcode(self) -> str:
        """Make a new passcode; whoever is in stays in."""
        with self._lock:
            self._kept.passcode = new_passcode()
            self._keep()
            return self._kept.passcode

    # Guesses

    def may_guess(self, address: str) -> bool:
        """Say whether what an address puts in is looked at."""
        with self._lock:
            since = self.clock() - HOUR_S
            self._wrong = {
                place: times for place, all_ in self._wrong.items() if (times := [at for at in all_ if at > since])
            }
            place = _place_of(address)
            if len(self._wrong.get(place, ())) >= WRONG_EACH:
                return False
            return place in self._kept.known or sum(map(len, self._wrong.values())) < WRONG_IN_ALL

    def is_right(self, guess: str, address: str) -> bool:
        """Compare a guess with the passcode, in a time that says nothing; a wrong one is counted and written down."""
        right = secrets.compare_digest(guess.strip().encode("utf-8", "replace"), self.passcode.encode())
        self._heard(address, right=right)
        return right

    def _heard(self, address: str, *, right: bool) -> None:
        place = _place_of(address)
        with self._lock:
            if not right:
                log.warning("a wrong passcode was given")
                self._wrong.setdefault(place, []).append(self.clock())
            elif place not in self._kept.known:
                self._kept.known = [*self._kept.known, place][-MOST_KNOWN:]
                self._keep()

    # Sessions

    def let_in(self) -> str:
        """Begin a session and return its key."""
        with self._lock:
            now, sessions = self.clock(), self._kept.sessions
            sessions = {digest: ends for digest, ends in sessions.items() if ends > now}
            while len(sessions) >= MOST_SESSIONS:
                sessions.pop(min(sessions, key=sessions.__getitem__))
            key = secrets.token_urlsafe(32)
            sessions[_digest(key)] = now + SESSION_S
            self._kept.sessions = sessions
            self._keep()
            return key

    def knows(self, key: str) -> bool:
        """Say whether a session is open."""
        ends = self._kept.sessions.get(_digest(key)) if key else None
        return ends is not None and ends > self.clock()

    @property
    def sessions(self) -> int:
        """How many browsers are let in."""
        now = self.clock()
        return sum(ends > now for ends in self._kept.sessions.values())

    def log_out_everywhere(self) -> None:
        """End every session; programs keep their tokens."""
        with self._lock:
            self._kept.sessions = {}
            self._keep()

    # Programs

    def give_token(self, name: str) -> str:
        """Return a token for a program: it is shown once. Raises :class:`ValueError` past the number that is kept."""
        with self._lock:
            if len(self._kept.programs) >= MOST_TOKENS:
                raise ValueError(f"There are {MOST_TOKENS} tokens already. Withdraw one that is not used.")
            token = TOKEN_MARK + secrets.token_urlsafe(24)
            self._kept.programs[_digest(token)] = Program(name, self.clock())
            self._keep()
            return token

    def programs(self) -> Sequence[tuple[str, Program]]:
        """Return the programs that have a token, each with the number it goes by here."""
        return [(digest[:16], program) for digest, program in self._kept.programs.items()]

    def withdraw(self, number: str) -> bool:
        """Withdraw a program's token; say whether there was one."""
        with self._lock:
            found = [digest for digest in self._kept.programs if digest[:16] == number]
            for digest in found:
                del self._kept.programs[digest]
            self._keep()
            return bool(found)

    def has_token(self, token: str, address: str) -> bool:
        """Say whether a program has this token; a wrong one counts as a guess."""
        program = self._kept.programs.get(_digest(token))
        self._heard(address, right=program is not None)
        if program is None:
            return False
        with self._lock:
            now = self.clock()
            # Once an hour is often enough to be written down.
            if program.used_at is None or now - program.used_at > HOUR_S:
                program.used_at = now
                self._keep()
        return True

    def _keep(self) -> None:
        if self._file is None:
            return
        partial = self._file.with_name(f"{self._file.name}.part")
        try:
            # Made unreadable for others before anything is in it.
            with os.fdopen(
                os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w", encoding="utf-8"
            ) as out:
                json.dump(asdict(self._kept), out)
            partial.replace(self._file)
        except OSError as error:
            # Who is in stays in until the program ends.
            log.warning("who was let in could not be written down", exc_info=error)


def _read(file: Path | None) -> _Kept:
    kept = _Kept()
    if file is None:
        return kept
    with suppress(OSError, ValueError, KeyError, TypeError, AttributeError):
        said = json.loads(file.read_text(encoding="utf-8"))
        kept = _Kept(
            passcode=str(said["passcode"]),
            sessions={str(digest): float(ends) for digest, ends in said["sessions"].items()},
            programs={str(digest): Program(**program) for digest, program in said["programs"].items()},
            known=[str(each) for each in said["known"]],
        )
    return kept


def passcode_or_token(authorization: str) -> str | None:
    """Return what a script gives to be let in, by a Bearer or a Basic header; ``None`` without one."""
    scheme, _, said = authorization.partition(" ")
    if scheme.lower() == "bearer":
        return said.strip()
    if scheme.lower() != "basic":
        return None
    try:
        return base64.b64decode(said, validate=True).partition(b":")[2].decode()
    except (ValueError, UnicodeDecodeError):
        return ""
