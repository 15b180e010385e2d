"""The lists on screen as tables, as they are filtered there, to their end."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from weftonos.core.log.references import Thing
from weftonos.inout.tables import Tables, heads, log_table
from weftonos.learned.entries import LogEntry
from weftonos.stations.log import log_page
from weftonos.stations.recipes import RecipeSearch, recipe_page
from weftonos.store.drawer import DrawerSearch
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: Rows that are read at once.
ROWS_AT_ONCE = 200


def log_rows(workshop: Workshop, search: LogSearch) -> Iterator[list[Any]]:
    """Yield the log as it is filtered."""
    return log_table(workshop.session, _entries(workshop, replace(search, limit=ROWS_AT_ONCE)))


def _entries(workshop: Workshop, search: LogSearch) -> Iterator[LogEntry]:
    while True:
        page = log_page(workshop, search)
        yield from page.entries
        if page.more is None:
            return
        search = replace(search, before=page.more)


def quilt_rows(workshop: Workshop, name: str) -> Iterator[list[Any]]:
    """Yield every record of one quilt."""
    return log_rows(workshop, LogSearch(quilt=name))


def thread_rows(workshop: Workshop, search: DrawerSearch) -> Iterator[list[Any]]:
    """Yield the drawer as it is filtered and sorted."""
    tables = Tables(workshop.session)
    yield heads(Thing.THREAD.value)
    search = replace(search, limit=ROWS_AT_ONCE)
    while True:
        page, _ = workshop.drawer.threads(search)
        for row in page.items:
            struck = row.struck_at.isoformat() if row.struck_at else ""
            yield [row.uid, struck, *tables.fields(Thing.THREAD.value, row.spec)]
        if page.more is None:
            return
        search = replace(search, after=page.more)


def recipe_rows(workshop: Workshop, search: RecipeSearch) -> Iterator[list[Any]]:
    """Yield the recipe book as it is filtered."""
    tables = Tables(workshop.session)
    yield [*heads("recipe"), "setting in words", "bobbin in words"]
    search = replace(search, limit=ROWS_AT_ONCE)
    while True:
        page = recipe_page(workshop, search)
        for item in page.items:
            yield [*tables.record(item.entry), item.setting_words, item.bobbin_words]
        if page.more is None:
            return
        search = replace(search, before=page.more)
