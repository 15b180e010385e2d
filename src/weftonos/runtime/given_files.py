"""Files that were given to be brought in, and zips that were written, until somebody fetches them."""

from __future__ import annotations

import shutil
from collections import OrderedDict
from pathlib import Path
from typing import TYPE_CHECKING

from weftonos.store.drawer import NotFoundError

if TYPE_CHECKING:
    from weftonos.inout.exchange import Given

#: Files that wait to be brought in; an older one is let go of.
MOST_GIVEN = 4
FOLDER = "exchange"


class GivenFiles:
    """The files that were given and wait, in a folder beside the workshop that is emptied at every start."""

    def __init__(self, data_dir: Path) -> None:
        self.folder = data_dir / FOLDER
        shutil.rmtree(self.folder, ignore_errors=True)
        self._given: OrderedDict[str, Given] = OrderedDict()
        self._written: OrderedDict[str, None] = OrderedDict()

    def place(self, name: str) -> Path:
        """Return where a file may lie."""
        self.folder.mkdir(parents=True, exist_ok=True)
        return self.folder / name

    def add(self, token: str, given: Given) -> None:
        """Remember a file; the oldest beyond the limit is let go of."""
        self._given[token] = given
        while len(self._given) > MOST_GIVEN:
            old, _ = self._given.popitem(last=False)
            self.place(old).unlink(missing_ok=True)

    def wrote(self, token: str) -> None:
        """Remember a zip that is whole; the oldest beyond the limit is let go of."""
        self._written[token] = None
        while len(self._written) > MOST_GIVEN:
            old, _ = self._written.popitem(last=False)
            self.place(f"{old}.zip").unlink(missing_ok=True)

    def written(self, token: str | None = None) -> Path:
        """Return a zip that was written, the last one where none is named; raises :class:`NotFoundError`."""
        token = token or next(reversed(self._written), None)
        if token is None:
            raise NotFoundError("Nothing is written yet. Ask for the file first.")
        if token not in self._written:
            raise NotFoundError("That file isn't here anymore. Ask for it again.")
        return self.place(f"{token}.zip")

    def get(self, token: str) -> Given:
        """Return a file that waits; raises :class:`NotFoundError`."""
        if token not in self._given:
            raise NotFoundError("That file isn't here anymore. Give it again.")
        return self._given[token]
