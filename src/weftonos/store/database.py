"""Opening the workshop's file: WAL, foreign keys, migrations with a backup before each."""

from __future__ import annotations

import sqlite3
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from alembic.config import Config
    from sqlalchemy import Engine

FILE_NAME = "workshop.db"
MIGRATIONS = Path(__file__).parent / "migrations"


def open_workshop(data_dir: Path, now: datetime) -> Engine:
    """Return an engine on the workshop in ``data_dir``, made or migrated as needed.

    Before a migration of an existing file a copy is left beside it, named after the revision and ``now``.
    """
    from sqlalchemy import create_engine, event

    from weftonos.store.folding import renew_all

    data_dir.mkdir(parents=True, exist_ok=True)
    path = data_dir / FILE_NAME
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15})
    event.listen(engine, "connect", _prepare_connection)
    current, head = _revision(engine), newest_revision()
    if current != head:
        if current is not None:
            backup(path, path.with_name(f"workshop-before-{head}-{now:%Y%m%d-%H%M%S}.db"))
        migrate(engine, "head")
    renew_all(engine)
    return engine


def backup(source: Path, target: Path) -> None:
    """Copy a workshop file, safely even while it is in use (SQLite's online backup)."""
    with sqlite3.connect(source) as old, sqlite3.connect(target) as new:
        old.backup(new)
    old.close()
    new.close()


def newest_revision() -> str:
    """Return the newest form of the file that this program knows, by the names of its migrations."""
    return max(step.name[:4] for step in (MIGRATIONS / "versions").glob("[0-9]*.py"))


def _revision(engine: Engine) -> str | None:
    from sqlalchemy import inspect, text

    if not inspect(engine).has_table("alembic_version"):
        return None
    with engine.connect() as connection:
        found = connection.scalar(text("SELECT version_num FROM alembic_version"))
    return None if found is None else str(found)


def migrate(engine: Engine, revision: str) -> None:
    """Bring a file to a revision. Alembic is loaded for it alone: most starts have nothing to migrate."""
    from alembic import command

    command.upgrade(_alembic_config(engine), revision)


def _alembic_config(engine: Engine) -> Config:
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine
    return config


def _prepare_connection(connection: sqlite3.Connection, _record: object) -> None:
    connection.execute("PRAGMA journal_mode=WAL")
    connection.execute("PRAGMA foreign_keys=ON")
    connection.execute("PRAGMA synchronous=NORMAL")
