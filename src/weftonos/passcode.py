"""The passcode for other machines on the local network: hard to guess, and asked for once a browser.

All strangers together have a small number of guesses an hour. Sessions that are open, and this machine itself, are
never held up by somebody else's guessing.
"""

from __future__ import annotations

import base64
import secrets
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from weftonos.logs import log

#: Letters and digits that are not mistaken for one another.
_ALPHABET = "abcdefghjkmnpqrstuvwxyz23456789"
LENGTH = 10
#: Guesses of all strangers together: so many at once, and then one in so many seconds. At most 90 in any hour.
AT_ONCE = 10
SECONDS_EACH = 45.0
MOST_SESSIONS = 200
SESSION_S = 30 * 24 * 3600
COOKIE = "weftonos_session"


def new_passcode() -> str:
    """Return a passcode to type on a tablet: 49 bits of chance."""
    return "".join(secrets.choice(_ALPHABET) for _ in range(LENGTH))


@dataclass
class Doorkeeper:
    """Knows the passcode and who has given it. ``clock`` is in seconds."""

    passcode: str
    clock: Callable[[], float] = time.monotonic
    _left: float = AT_ONCE
    _counted_at: float | None = None
    _sessions: dict[str, float] = field(default_factory=dict)

    def may_guess(self) -> bool:
        """Take one guess from what strangers have left; say whether there was one."""
        now = self.clock()
        if self._counted_at is not None:
            self._left = min(AT_ONCE, self._left + (now - self._counted_at) / SECONDS_EACH)
        self._counted_at = now
        if self._left < 1:
            return False
        self._left -= 1
        return True

    def is_right(self, guess: str) -> bool:
        """Compare a guess with the passcode, in a time that says nothing; a wrong one is written down."""
        right = secrets.compare_digest(guess.strip().encode("utf-8", "replace"), self.passcode.encode())
        if not right:
            log.warning("a wrong passcode was given")
        return right

    def let_in(self) -> str:
        """Begin a session and return its key."""
        now = self.clock()
        self._sessions = {key: ends for key, ends in self._sessions.items() if ends > now}
        while len(self._sessions) >= MOST_SESSIONS:
            self._sessions.pop(min(self._sessions, key=self._sessions.__getitem__))
        key = secrets.token_urlsafe(32)
        self._sessions[key] = now + SESSION_S
        return key

    def knows(self, key: str) -> bool:
        """Say whether a session is open."""
        ends = self._sessions.get(key)
        return ends is not None and ends > self.clock()


def basic_passcode(authorization: str) -> str | None:
    """Return the passcode of a Basic header (for scripts), ``None`` without one."""
    scheme, _, encoded = authorization.partition(" ")
    if scheme.lower() != "basic":
        return None
    try:
        return base64.b64decode(encoded, validate=True).partition(b":")[2].decode()
    except (ValueError, UnicodeDecodeError):
        return ""
