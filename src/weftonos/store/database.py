"""The workshop's file: made whole or not at all, migrated whole or not at all, each commit on the disk.

A transaction that may write takes the write lock when it begins, so that what it looked up still holds when it writes.
"""

from __future__ import annotations

import sqlite3
import threading
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING

from weftonos.store.file_errors import telling
from weftonos.store.safekeeping import VERSIONS, beside, read_only, take_place

if TYPE_CHECKING:
    from alembic.config import Config
    from sqlalchemy import Connection, Engine
    from sqlalchemy.orm import Session
    from sqlalchemy.pool import ConnectionPoolEntry

FILE_NAME = "workshop.db"
MIGRATIONS = VERSIONS.parent
#: How many may ask at once; as many connections are kept. More would not be quicker: they take turns anyway.
MOST_AT_ONCE = 4
#: How long another program may hold the file before a writer gives up, in seconds.
LONGEST_WAIT_S = 15
_WRITES, _SEES, _COMMITS = "weftonos_writes", "weftonos_sees", "weftonos_commits"

Fill = Callable[["Engine"], None]


def make_workshop(data_dir: Path, fill: Fill | None = None) -> None:
    """Make a new workshop in ``data_dir``, with ``fill`` putting in what it begins with; whole or not at all."""
    path, new = data_dir / FILE_NAME, data_dir / "workshop-new.db"
    with telling(path):
        data_dir.mkdir(parents=True, exist_ok=True)
        for left in data_dir.glob(f"{new.name}*"):
            left.unlink()
        for left in beside(path):
            # What belonged to a file that was taken away must not be read into the new one.
            if left.exists():
                left.replace(left.with_name(f"{left.name}-aside"))
        engine = engine_on(new)
        try:
            migrate(engine, "head")
            if fill is not None:
                fill(engine)
        finally:
            engine.dispose()
        put_in_place(new, path)


def put_in_place(new: Path, path: Path) -> None:
    """Let a whole, closed file take the place of another, at once and on the disk."""
    with closing(sqlite3.connect(new)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    for left in beside(new):
        left.unlink(missing_ok=True)
    take_place(new, path)


def engine_on(path: Path) -> Engine:
    """Return an engine on a file; its transactions write unless they come through :func:`reading`."""
    from sqlalchemy import create_engine, event

    engine = create_engine(
        f"sqlite:///{path}", connect_args={"timeout": LONGEST_WAIT_S}, pool_size=MOST_AT_ONCE, max_overflow=4
    )
    event.listen(engine, "connect", _prepare_connection)
    event.listen(engine, "begin", _begin)
    event.listen(engine, "checkin", lambda _connection, record: _count_write(str(path), record))
    event.listen(engine, "commit", _commit)
    # Another file may lie there now: what was kept of the one before is not kept of it.
    _writes.opened(str(path))
    return engine


class _Writes:
    """How often each file was opened or may have been written to by this program, and who is just writing it down."""

    def __init__(self) -> None:
        self._one = threading.Lock()
        self._ended: Counter[str] = Counter()
        self._ending: Counter[str] = Counter()

    def opened(self, path: str) -> None:
        with self._one:
            self._ended[path] += 1

    def ending(self, path: str) -> None:
        """Somebody is about to commit: until it has ended, who begins sees what was before or what comes after."""
        with self._one:
            self._ending[path] += 1

    def ended(self, path: str, commits: int) -> None:
        with self._one:
            self._ended[path] += 1
            self._ending[path] -= commits

    def counted(self, path: str) -> int | None:
        """Return how many have ended; ``None`` while one is ending."""
        with self._one:
            return None if self._ending[path] else self._ended[path]


_writes = _Writes()


def writes_to(session: Session) -> tuple[str, int] | None:
    """Return the number of writes to a session's file that its transaction sees: what is kept goes by it.

    It counts up when a transaction that may write has ended, and when a file is opened, put back or made. ``None``
    where a write was just ending, so that nobody can say. One program writes at a time: commands beside a server go
    through it.
    """
    connection = session.connection()
    seen = connection.info.get(_SEES)
    return None if seen is None else (_path(connection), seen)


def may_write(session: Session) -> bool:
    """Say whether a session's transaction may write: what it sees need not be there for others yet."""
    return bool(session.connection().info.get(_WRITES, False))


def _commit(connection: Connection) -> None:
    if connection.info.get(_WRITES):
        connection.info[_COMMITS] = connection.info.get(_COMMITS, 0) + 1
        _writes.ending(_path(connection))


def _count_write(path: str, record: ConnectionPoolEntry) -> None:
    if record.info.pop(_WRITES, False):
        _writes.ended(path, record.info.pop(_COMMITS, 0))


def _path(connection: Connection) -> str:
    return str(connection.engine.url.database)


def engine_beside(path: Path) -> Engine:
    """Return an engine that only reads, for a command beside a server: it can neither checkpoint nor delete."""
    from sqlalchemy import NullPool, create_engine, event

    engine = create_engine("sqlite://", creator=lambda: read_only(path), poolclass=NullPool)
    event.listen(engine, "connect", _leave_transactions_to_us)
    event.listen(engine, "begin", _begin)
    return reading(engine)


def reading(engine: Engine) -> Engine:
    """Return the engine for transactions that only read: they wait for nobody and nobody waits for them."""
    return engine.execution_options(**{_WRITES: False})


def _leave_transactions_to_us(connection: sqlite3.Connection, _record: object) -> None:
    # The driver's own transactions begin late and not around changes of tables: ours begin in _begin.
    connection.isolation_level = None


def _prepare_connection(connection: sqlite3.Connection, record: object) -> None:
    _leave_transactions_to_us(connection, record)
    connection.execute("PRAGMA journal_mode=WAL")
    connection.execute("PRAGMA foreign_keys=ON")
    # Each commit is on the disk before it is answered.
    connection.execute("PRAGMA synchronous=FULL")


def _begin(connection: Connection) -> None:
    path = _path(connection)
    if connection.get_execution_options().get(_WRITES, True):
        connection.info[_WRITES] = True
        connection.exec_driver_sql("BEGIN IMMEDIATE")
        # Not before: it may have had to wait for another that wrote.
        connection.info[_SEES] = _writes.counted(path)
        return
    before = _writes.counted(path)
    connection.exec_driver_sql("BEGIN")
    # A transaction sees what is there when it first reads: that is now, and no write ended meanwhile.
    connection.connection.cursor().execute("SELECT 1 FROM sqlite_schema").fetchone()
    connection.info[_SEES] = before if before == _writes.counted(path) else None


def migrate(engine: Engine, revision: str) -> None:
    """Bring a file to a revision, in one transaction. Alembic is loaded for it alone: most starts migrate nothing."""
    from alembic import command

    command.upgrade(_alembic_config(engine), revision)


def _alembic_config(engine: Engine) -> Config:
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine
    return config


def remove_workshop(data_dir: Path) -> None:
    """Remove the workshop's file and what belongs to it (for a demo that is begun anew)."""
    path = data_dir / FILE_NAME
    for left in (path, *beside(path)):
        left.unlink(missing_ok=True)
