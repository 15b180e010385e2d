"""Opening a workshop: its file made where there is none, migrated, and its cache renewed where the rules are newer."""

from __future__ import annotations

from pathlib import Path

from sqlalchemy import Engine

from weftonos.store.database import FILE_NAME, engine_on, make_workshop, migrate
from weftonos.store.file_errors import ExitCode, WorkshopFileError, file_error
from weftonos.store.folding import renew_all
from weftonos.store.safekeeping import copy_file, form_of, newest_revision


def open_workshop(data_dir: Path) -> Engine:
    """Return an engine on the workshop in ``data_dir``, made or migrated as needed.

    Before a migration of an existing file a copy is left beside it, one for each form. Raises
    :class:`WorkshopFileError` for a file that cannot be used; it is left as it was.
    """
    path = data_dir / FILE_NAME
    if not path.exists():
        make_workshop(data_dir)
    form = form_of(path)
    engine = engine_on(path)
    before = path.with_name(f"workshop-before-{newest_revision()}.db")
    try:
        if form != newest_revision():
            copy_file(path, before)
            migrate(engine, "head")
        renew_all(engine)
    except Exception as error:
        engine.dispose()
        if said := file_error(error, path):
            raise said from error
        kept = f" A copy from before is {before}: weftonos restore {before}" if before.exists() else ""
        raise WorkshopFileError(
            f"{path} could not be brought to this version's form and was left as it was.{kept}", ExitCode.DAMAGED
        ) from error
    return engine
