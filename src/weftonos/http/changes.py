"""Who has the workshop open hears at once when something was written, on this screen or on another."""

from __future__ import annotations

import asyncio
import json
import secrets
from collections.abc import AsyncIterator
from weakref import WeakSet

from weftonos.runtime.pages import STAND

#: Screens that listen at once, and seconds between signs of life.
MOST_LISTENERS = 60
ALIVE_EVERY_S = 15


#: All that are open in this process, to be let go of when it is told to stop.
_OPEN: WeakSet[Changes] = WeakSet()


def let_all_go() -> None:
    """Let every listener go: a server that stops would wait for them."""
    for changes in list(_OPEN):
        changes.end()


class Changes:
    """A number that counts up with every write, and those who wait for it; made in the loop that serves them."""

    def __init__(self) -> None:
        self._loop = asyncio.get_running_loop()
        self._listeners: set[asyncio.Queue[str]] = set()
        self._opened = secrets.token_hex(4)
        self._number = 0
        self._over = False
        _OPEN.add(self)

    @property
    def full(self) -> bool:
        """Whether no further screen can listen."""
        return self._over or len(self._listeners) >= MOST_LISTENERS

    @property
    def stand(self) -> str:
        """What has been written since the workshop was opened: the same until something is."""
        return f"{self._opened}-{self._number}"

    def tell(self, key: str = "") -> None:
        """Say that something was written, by whom its key says; called from any thread."""
        self._loop.call_soon_threadsafe(self._tell, key)

    def _tell(self, key: str) -> None:
        self._number += 1
        said = json.dumps({"number": self._number, "key": key})
        for listener in self._listeners:
            listener.put_nowait(said)

    async def listen(self) -> AsyncIterator[str]:
        """Yield server-sent events until the listener goes or the server ends; the first says how it stands."""
        mine: asyncio.Queue[str] = asyncio.Queue()
        self._listeners.add(mine)
        try:
            yield f"retry: 1000\nevent: {STAND}\ndata: {json.dumps({STAND: self.stand})}\n\n"
            while not self._over:
                try:
                    said = await asyncio.wait_for(mine.get(), ALIVE_EVERY_S)
                except TimeoutError:
                    yield ": here\n\n"
                    continue
                yield f"data: {said}\n\n"
        finally:
            self._listeners.discard(mine)

    def end(self) -> None:
        """Let all listeners go."""
        self._over = True
        for listener in self._listeners:
            listener.put_nowait("{}")
