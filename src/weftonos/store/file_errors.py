"""What is wrong with a file, in one sentence that says what to do; each kind has an exit code of its own."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from enum import IntEnum
from pathlib import Path

GO_BACK = "Go back to a copy with: weftonos restore COPY"


class ExitCode(IntEnum):
    """How a command ends when a file cannot be used; the numbers are those of sysexits.h."""

    DAMAGED = 65
    MISSING = 66
    CANNOT_MAKE = 73
    DISK = 74
    IN_USE = 75
    FORBIDDEN = 77


class WorkshopFileError(Exception):
    """A file that cannot be used: a sentence says why and what to do, ``code`` how a command ends."""

    def __init__(self, message: str, code: ExitCode) -> None:
        super().__init__(message)
        self.code = code


_BUSY = ("{path} is busy with something else just now. Try again in a moment.", ExitCode.IN_USE)
#: By SQLite's primary result code: a sentence on a file, and how a command ends.
_BY_SQLITE = {
    sqlite3.SQLITE_FULL: (
        "The disk is full, so nothing was written to {path}. Make room on it and try again.",
        ExitCode.DISK,
    ),
    sqlite3.SQLITE_IOERR: (
        "The disk of {path} isn't working as it should. Is it full, or was it taken out? "
        "Nothing was left half-written.",
        ExitCode.DISK,
    ),
    sqlite3.SQLITE_READONLY: (
        "{path} can only be read, so nothing was written. Allow writing to it and its folder, and try again.",
        ExitCode.FORBIDDEN,
    ),
    sqlite3.SQLITE_PERM: ("You aren't allowed to open {path}. Allow reading and writing it.", ExitCode.FORBIDDEN),
    sqlite3.SQLITE_CANTOPEN: (
        "{path} can't be opened. Is its folder there, and may you write in it? A full disk does this too.",
        ExitCode.CANNOT_MAKE,
    ),
    sqlite3.SQLITE_BUSY: _BUSY,
    sqlite3.SQLITE_LOCKED: _BUSY,
    sqlite3.SQLITE_CORRUPT: ("{path} is damaged. " + GO_BACK, ExitCode.DAMAGED),
    sqlite3.SQLITE_NOTADB: ("{path} isn't a workshop, or it's damaged. " + GO_BACK, ExitCode.DAMAGED),
}
_BY_ERRNO = {
    errno.ENOSPC: sqlite3.SQLITE_FULL,
    errno.EDQUOT: sqlite3.SQLITE_FULL,
    errno.EROFS: sqlite3.SQLITE_READONLY,
    errno.EACCES: sqlite3.SQLITE_PERM,
    errno.EPERM: sqlite3.SQLITE_PERM,
    errno.EIO: sqlite3.SQLITE_IOERR,
}


def file_error(error: BaseException, path: Path | str) -> WorkshopFileError | None:
    """Return what an error of SQLite or of the system says of a file; ``None`` for an error of another kind."""
    cause: BaseException | None = getattr(error, "orig", None) or error
    if isinstance(cause, WorkshopFileError):
        return cause
    code: int | None = None
    if isinstance(cause, sqlite3.Error):
        # The low byte is the kind, the rest says more of it.
        code = (getattr(cause, "sqlite_errorcode", None) or 0) & 0xFF
    elif isinstance(cause, OSError):
        code = _BY_ERRNO.get(cause.errno or 0, sqlite3.SQLITE_CANTOPEN)
    if code not in _BY_SQLITE:
        return None
    sentence, ends = _BY_SQLITE[code]
    return WorkshopFileError(sentence.format(path=path), ends)


@contextmanager
def telling(path: Path) -> Iterator[None]:
    """Turn errors of SQLite and of the system into what they say of a file; others pass."""
    try:
        yield
    except Exception as error:
        said = file_error(error, path)
        if said is None or said is error:
            raise
        raise said from error
