"""What of a list to show: the same question for the page and for the table of it."""

from __future__ import annotations

from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from weftonos.core.log.logbook import KIND_NAMES
from weftonos.core.thread.thread import Fiber
from weftonos.store.drawer import LARGEST_ID, DrawerOrder, DrawerSearch
from weftonos.store.reading import LogSearch

KindName = Annotated[str, StringConstraints(max_length=30)]


class LogQuery(BaseModel):
    """What of the log to show."""

    machine: int | None = Field(None, ge=1, le=LARGEST_ID)
    kind: list[KindName] = Field([], max_length=len(KIND_NAMES))
    quilt: str | None = Field(None, max_length=80)
    since: AwareDatetime | None = Field(None, description="From this moment on.")
    until: AwareDatetime | None = Field(None, description="Before this moment.")
    words: str = Field("", max_length=200, description="Each of them must be there.")
    before: int | None = Field(None, ge=1, le=LARGEST_ID)
    limit: int = Field(50, ge=1, le=200)

    def search(self) -> LogSearch:
        """Return the question as the log's station takes it."""
        return LogSearch(kinds=self.kind, **self.model_dump(exclude={"kind"}))


class DrawerQuery(BaseModel):
    """What of the drawer to show; every word of ``text`` must be there. ``after`` is where a page ended."""

    text: str = Field("", max_length=200)
    fiber: Fiber | None = None
    light: bool | None = None
    struck: bool = False
    order: DrawerOrder = DrawerOrder.NAME
    after: str | None = Field(None, max_length=1000)
    limit: int = Field(60, ge=1, le=200)

    def search(self) -> DrawerSearch:
        """Return the question as the drawer takes it."""
        return DrawerSearch(**self.model_dump())
