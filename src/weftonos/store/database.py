"""Opening the workshop's file: WAL, foreign keys, migrations with a backup before each."""

from __future__ import annotations

import sqlite3
from datetime import datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event

from weftonos.store.folding import renew_all

FILE_NAME = "workshop.db"
MIGRATIONS = Path(__file__).parent / "migrations"


def open_workshop(data_dir: Path, now: datetime) -> Engine:
    """Return an engine on the workshop in ``data_dir``, made or migrated as needed.

    Before a migration of an existing file a copy is left beside it, named after the revision and ``now``.
    """
    data_dir.mkdir(parents=True, exist_ok=True)
    path = data_dir / FILE_NAME
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15})
    event.listen(engine, "connect", _prepare_connection)
    config = _alembic_config(engine)
    head = ScriptDirectory.from_config(config).get_current_head()
    with engine.connect() as connection:
        current = MigrationContext.configure(connection).get_current_revision()
    if current != head:
        if current is not None:
            backup(path, path.with_name(f"workshop-before-{head}-{now:%Y%m%d-%H%M%S}.db"))
        command.upgrade(config, "head")
    renew_all(engine)
    return engine


def backup(source: Path, target: Path) -> None:
    """Copy a workshop file, safely even while it is in use (SQLite's online backup)."""
    with sqlite3.connect(source) as old, sqlite3.connect(target) as new:
        old.backup(new)
    old.close()
    new.close()


def _alembic_config(engine: Engine) -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine
    return config


def _prepare_connection(connection: sqlite3.Connection, _record: object) -> None:
    connection.execute("PRAGMA journal_mode=WAL")
    connection.execute("PRAGMA foreign_keys=ON")
    connection.execute("PRAGMA synchronous=NORMAL")
