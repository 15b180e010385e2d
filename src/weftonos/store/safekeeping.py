"""Safekeeping of the workshop's file: what is in a file, copies, which of them are kept, and going back to one.

Nothing here needs a running program. A copy is written under another name, checked and renamed: one that is there is
whole. Putting a copy back keeps what it replaces.

The live file is opened through SQLite alone, never with ``open``. POSIX drops all locks of a process on a file when the
process closes any handle of it, and the next program beside a server without its locks deletes the log of changes.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
from collections.abc import Iterable, Sequence
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from weftonos.store.file_errors import GO_BACK, ExitCode, WorkshopFileError, file_error, telling

VERSIONS = Path(__file__).parent / "migrations" / "versions"
#: Copies of seven days, four weeks and twelve months are kept.
KEPT_DAYS, KEPT_WEEKS, KEPT_MONTHS = 7, 4, 12
#: Every copy is kept so long, wherever the day begins.
ALL_KEPT_FOR = timedelta(days=1)
#: Copies that the program makes by itself are named so, with the UTC time between.
COPY_PREFIX, COPY_FORM = "workshop-", "%Y%m%dT%H%M%S-%fZ"
#: What a restore sets aside is named so.
REPLACED_PREFIX = "workshop-replaced-"
#: Room that is left on the disk beside a copy.
SPARE_BYTES = 20 * 1024 * 1024


@dataclass(frozen=True, kw_only=True)
class Contents:
    """What is in a workshop's file: its form, how much of what, and from when to when its records reach."""

    revision: str
    machines: int
    threads: int
    records: int
    first: datetime | None
    last: datetime | None
    size: int


def newest_revision() -> str:
    """Return the newest form of the file that this program knows, by the names of its migrations."""
    return max(step.name[:4] for step in VERSIONS.glob("[0-9]*.py"))


def form_of(path: Path) -> str:
    """Return the form a workshop's file is in, without changing it.

    Raises :class:`WorkshopFileError` for one that is missing, empty, cut short, foreign or newer than this program.
    """
    if not path.is_file():
        raise WorkshopFileError(f"There is no workshop at {path}.", ExitCode.MISSING)
    if path.stat().st_size == 0:
        raise WorkshopFileError(
            f"{path} is empty. If it never held a workshop, delete it and start again. {GO_BACK}", ExitCode.DAMAGED
        )
    with telling(path), closing(read_only(path)) as file:
        try:
            tables = {name for (name,) in file.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        except sqlite3.DatabaseError:
            if _cut_short(file):
                raise WorkshopFileError(
                    f"{path} was cut short: its end is missing. {GO_BACK}", ExitCode.DAMAGED
                ) from None
            raise
        if not {"alembic_version", "machine", "thread", "record"} <= tables:
            raise WorkshopFileError(f"{path} is a file of some other program. It was left alone.", ExitCode.DAMAGED)
        row = file.execute("SELECT version_num FROM alembic_version").fetchone()
        revision = row[0] if row else ""
        if revision > newest_revision():
            raise WorkshopFileError(
                f"{path} was written by a later Weftonos. Use that one, or an earlier copy.", ExitCode.DAMAGED
            )
    return str(revision)


def look_at(path: Path) -> Contents:
    """Return what is in a workshop's file, without changing it; raises as :func:`form_of` does."""
    revision = form_of(path)
    with telling(path), closing(read_only(path)) as file:
        counts = [file.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in _COUNTED]
        first, last = file.execute("SELECT min(at), max(at) FROM record").fetchone()
    return Contents(
        revision=revision,
        machines=counts[0],
        threads=counts[1],
        records=counts[2],
        first=_moment(first),
        last=_moment(last),
        size=path.stat().st_size,
    )


_COUNTED = ("machine", "thread", "record")


def _moment(text: str | None) -> datetime | None:
    return datetime.fromisoformat(text).replace(tzinfo=UTC) if text else None


def _cut_short(file: sqlite3.Connection) -> bool:
    """Say whether a file that SQLite refuses is shorter than it says: then it reads once that is overlooked."""
    try:
        file.execute("PRAGMA writable_schema=ON")
        file.execute("PRAGMA schema_version")
    except sqlite3.DatabaseError:
        return False
    return True


def read_only(path: Path, *, alone: bool = False) -> sqlite3.Connection:
    """Open a file to read; ``alone`` for a copy that nobody writes to, which then needs no files beside it.

    A connection that only reads neither writes the log of changes into the file nor deletes it when it closes, even
    where it takes itself for the last one.
    """
    return sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro{'&immutable=1' if alone else ''}", uri=True, timeout=15)


def soundness(path: Path, *, alone: bool = False) -> Sequence[str]:
    """Return what SQLite finds wrong with a file: nothing for a sound one."""
    try:
        with closing(read_only(path, alone=alone)) as file:
            found = [str(row[0]) for row in file.execute("PRAGMA integrity_check(20)") if row[0] != "ok"]
            broken = file.execute("PRAGMA foreign_key_check").fetchmany(20)
    except sqlite3.Error as error:
        return [str(error)]
    return [*found, *(f"a row of {table} points to a {other} that is not there" for table, _, other, _ in broken)]


def room_for(size: int, folder: Path) -> None:
    """Raise :class:`WorkshopFileError` where a copy of ``size`` bytes would fill the disk."""
    free = shutil.disk_usage(folder).free
    if free < size + SPARE_BYTES:
        raise WorkshopFileError(
            f"The copy needs {size / 1e6:.0f} MB and the disk of {folder} has {free / 1e6:.0f} MB left. "
            "Make room, or choose another folder.",
            ExitCode.DISK,
        )


def copy_file(source: Path, target: Path) -> None:
    """Copy a workshop's file, safely even while it is in use, and check the copy before it gets its name.

    Raises :class:`WorkshopFileError` for a damaged source, a missing folder or a full disk; nothing is left then.
    """
    form_of(source)
    if not target.parent.is_dir():
        raise WorkshopFileError(f"There is no folder {target.parent}. Make it first.", ExitCode.MISSING)
    partial = target.with_name(f"{target.name}.part")
    try:
        with telling(target):
            room_for(source.stat().st_size, target.parent)
            with closing(read_only(source)) as old, closing(sqlite3.connect(partial)) as new:
                old.backup(new)
            if wrong := soundness(partial, alone=True):
                raise WorkshopFileError(
                    f"{source} is damaged ({wrong[0]}), so it was not copied. {GO_BACK}", ExitCode.DAMAGED
                )
            take_place(partial, target)
    finally:
        for left in target.parent.glob(f"{partial.name}*"):
            with suppress(OSError):
                left.unlink()


def beside(path: Path) -> tuple[Path, Path]:
    """Return the files that SQLite keeps beside another: its log of changes, and the index of that."""
    return path.with_name(f"{path.name}-wal"), path.with_name(f"{path.name}-shm")


def take_place(new: Path, path: Path) -> None:
    """Let a whole, closed file take a name, also another's, at once and on the disk."""
    _sync(new)
    new.replace(path)
    # The folder's names as well, where the system can.
    with suppress(OSError):
        handle = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _sync(path: Path) -> None:
    with path.open("rb+") as file:
        os.fsync(file.fileno())


# Copies that the program makes by itself


def _free(folder: Path, prefix: str, now: datetime) -> Path:
    """Return a name for a copy made now that no other has: nothing is ever written over."""
    while (path := folder / f"{prefix}{now.astimezone(UTC):{COPY_FORM}}.db").exists():
        now += timedelta(microseconds=1)
    return path


def copy_time(path: Path) -> datetime | None:
    """Return when a copy was made, by its name; ``None`` for a file that is no such copy."""
    for prefix in (COPY_PREFIX, REPLACED_PREFIX):
        with suppress(ValueError):
            return datetime.strptime(path.name, f"{prefix}{COPY_FORM}.db").replace(tzinfo=UTC)
    return None


def copy_folder(data_dir: Path, chosen: Path | None) -> Path:
    """Return the folder of the copies: the one that was chosen, else one beside the workshop."""
    return chosen or data_dir / "copies"


def copies(folder: Path) -> Sequence[Path]:
    """Return the copies in a folder, newest first."""
    return _dated(folder, COPY_PREFIX)


def replaced_files(data_dir: Path) -> Sequence[Path]:
    """Return what going back has set aside in a data folder, newest first."""
    return _dated(data_dir, REPLACED_PREFIX)


def _dated(folder: Path, prefix: str) -> Sequence[Path]:
    # The time begins with the digits of its year, so that one prefix does not find the other's files.
    found = [path for path in folder.glob(f"{prefix}[0-9]*.db") if copy_time(path)] if folder.is_dir() else []
    return sorted(found, key=lambda path: path.name, reverse=True)


def kept(times: Iterable[datetime], now: datetime) -> set[datetime]:
    """Return which copies are kept: all of the last day, and the newest of each day, week and month that has one.

    A copy dated in the future was made by a clock that ran ahead: it is kept and counts for nothing.

    >>> days = [datetime(2026, 11, day, 9, tzinfo=UTC) for day in range(1, 26)]
    >>> [time.day for time in sorted(kept(days, days[-1]))]
    [8, 15, 19, 20, 21, 22, 23, 24, 25]
    """
    times = list(times)
    newest_first = sorted((time for time in times if time <= now), reverse=True)
    keep = {time for time in times if time > now - ALL_KEPT_FOR}
    for period, most in ((_day, KEPT_DAYS), (_week, KEPT_WEEKS), (_month, KEPT_MONTHS)):
        newest: dict[object, datetime] = {}
        for time in newest_first:
            newest.setdefault(period(time), time)
        keep |= set(list(newest.values())[:most])
    return keep


def _day(time: datetime) -> date:
    return time.date()


def _week(time: datetime) -> tuple[int, int]:
    return time.isocalendar()[:2]


def _month(time: datetime) -> tuple[int, int]:
    return time.year, time.month


def back_up(path: Path, folder: Path, now: datetime) -> Path:
    """Copy the workshop's file into ``folder``, and let go of copies that are no longer kept."""
    folder.mkdir(parents=True, exist_ok=True)
    target = _free(folder, COPY_PREFIX, now)
    copy_file(path, target)
    let_go(folder, now)
    return target


def let_go(folder: Path, now: datetime) -> None:
    """Delete the copies of a folder that are no longer kept."""
    times = {found: time for found in copies(folder) if (time := copy_time(found))}
    keep = kept(times.values(), now)
    for found, time in times.items():
        if time not in keep:
            found.unlink(missing_ok=True)


def is_due(folder: Path, now: datetime) -> bool:
    """Say whether today has no copy yet."""
    made = next((time for found in copies(folder) if (time := copy_time(found)) and time <= now), None)
    return made is None or (made.date() != now.astimezone(UTC).date() and now - made > timedelta(hours=1))


# Going back


def restore(copy: Path, path: Path, now: datetime) -> Path | None:
    """Put a copy in the place of the workshop's file and return where the replaced one is kept.

    Nothing may have the workshop open. The copy is checked first. Whenever this is broken off, the workshop is the old
    one or the new one, whole; what it replaced is never deleted.
    """
    form_of(copy)
    if wrong := soundness(copy):
        raise WorkshopFileError(
            f"{copy} is damaged ({wrong[0]}). Nothing was changed. Use another copy.", ExitCode.DAMAGED
        )
    new = path.with_name("workshop-restoring.db")
    aside = _free(path.parent, REPLACED_PREFIX, now)
    with telling(path):
        path.parent.mkdir(parents=True, exist_ok=True)
        copy_file(copy, new)
        replaced = _set_aside(path, aside)
        # A log of changes of the old file must never be read into the new one.
        for left in beside(path):
            if left.exists():
                left.replace(aside.with_name(aside.name + left.name.removeprefix(path.name)))
        take_place(new, path)
    return aside if replaced else None


def _set_aside(path: Path, aside: Path) -> bool:
    """Keep the present file under another name, whole; a damaged one as it lies."""
    if not path.exists():
        return False
    try:
        with closing(sqlite3.connect(path)) as old, closing(sqlite3.connect(aside)) as kept_file:
            old.backup(kept_file)
            kept_file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        with closing(sqlite3.connect(path)) as old:
            old.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except sqlite3.DatabaseError as error:
        if isinstance(error, sqlite3.OperationalError) and (said := file_error(error, aside)):
            raise said from error
        for left in aside.parent.glob(f"{aside.name}*"):
            left.unlink()
        shutil.copyfile(path, aside)
    _sync(aside)
    return True
