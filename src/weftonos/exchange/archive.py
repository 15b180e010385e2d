"""Everything as one file: a zip of tables, lines and what explains them; and reading the lines back, within bounds.

``workshop.jsonl`` holds all there is and is what an import reads. The tables beside it are for spreadsheets.
"""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryFile
from typing import IO, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from weftonos.core.kernel.errors import CraftError
from weftonos.exchange import LARGEST_GIVEN
from weftonos.exchange.bounds import check_packed
from weftonos.exchange.spreadsheet import MARK, write_rows

LINES, MANIFEST, SCHEMA, README = "workshop.jsonl", "manifest.json", "workshop.schema.json", "README.txt"
FORM = 1
#: What an archive may hold: bytes unpacked, parts, and bytes of one line. Our own of 100 000 records has about 12 MB
#: packed and 140 MB unpacked.
LARGEST_UNPACKED, MOST_PARTS, LONGEST_LINE = 1200 * 2**20, 20_000, 2 * 2**20
MOST_LINES = 1_000_000

Uid = Annotated[str, Field(pattern=r"^[0-9a-f]{32}$")]
MomentText = Annotated[str, Field(max_length=40, pattern=r"^(19[5-9]|20[0-9]|21[0-9])\d-")]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class Said(_Strict):
    """What a record said before it was corrected, or that it was struck out or restored."""

    at: MomentText
    action: Literal["corrected", "struck", "restored"]
    was_at: MomentText | None = None
    document: dict[str, Any] | None = None
    written: str | None = None


class ArchiveLine(_Strict):
    """One line: a thing or a record. ``document`` is what it says; ``written`` its text where that can't be read.

    Other things are named in it by their ``uid``.
    """

    what: Literal["machine", "thread", "packet", "case", "bobbin", "record"]
    uid: Uid
    version: Annotated[int, Field(ge=1, le=10**9)]
    struck_at: MomentText | None = None
    machine: Uid | None = None
    kind: Annotated[str, Field(max_length=30)] | None = None
    at: MomentText | None = None
    noted_at: MomentText | None = None
    document: dict[str, Any] | None = None
    written: str | None = None
    revisions: list[Said] | None = None


#: What a line of each sort has beside what all have.
_NEEDED: Mapping[str, frozenset[str]] = {
    "machine": frozenset(),
    "thread": frozenset({"struck_at"}),
    "packet": frozenset({"struck_at"}),
    "case": frozenset({"struck_at", "machine"}),
    "bobbin": frozenset({"struck_at"}),
    "record": frozenset({"struck_at", "machine", "kind", "at", "noted_at", "revisions"}),
}
_FILLED = ("kind", "at", "noted_at", "revisions")


# Out


class ArchiveWriter:
    """Writes an archive, file by file; tables may be filled in turns, since each waits in a file of its own.

    The manifest lists each file with its size, its SHA-256 and, of tables and lines, its rows.
    """

    def __init__(self, path: Path) -> None:
        self._stack = ExitStack()
        self._zip = self._stack.enter_context(zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=5))
        self._tables: dict[str, tuple[IO[str], int]] = {}
        self._files: list[dict[str, Any]] = []

    def __enter__(self) -> ArchiveWriter:
        return self

    def __exit__(self, *failed: object) -> None:
        self._stack.close()

    def table(self, name: str, head: Sequence[str], rows: Iterable[Sequence[Any]]) -> None:
        """Add rows to a table, which begins with its head."""
        if name not in self._tables:
            out: IO[str] = self._stack.enter_context(TemporaryFile("w+", encoding="utf-8", newline=""))  # noqa: SIM115
            write_rows(out, [head])
            self._tables[name] = out, 0
        out, before = self._tables[name]
        self._tables[name] = out, before + write_rows(out, rows)

    def lines(self, found: Iterable[Mapping[str, Any]]) -> None:
        """Write the lines that hold everything."""
        count = 0
        with _Sum(self._zip, LINES) as out:
            for line in found:
                out.write(json.dumps(line, ensure_ascii=False, separators=(",", ":")).encode() + b"\n")
                count += 1
        self._files.append({**out.found, "rows": count})

    def file(self, name: str, content: bytes) -> None:
        """Write one file."""
        with _Sum(self._zip, name) as out:
            out.write(content)
        self._files.append(out.found)

    def finish(self, manifest: Mapping[str, Any]) -> None:
        """Write the tables, and the manifest that lists every file."""
        for name, (table, count) in sorted(self._tables.items()):
            table.seek(0)
            with _Sum(self._zip, name) as out:
                out.write(MARK)
                while part := table.read(2**20):
                    out.write(part.encode())
            self._files.append({**out.found, "rows": count})
        whole = {**manifest, "form": FORM, "files": self._files}
        self._zip.writestr(MANIFEST, json.dumps(whole, indent=1, ensure_ascii=False))


class _Sum:
    """A file of the archive as it is written, with its size and SHA-256."""

    def __init__(self, packed: zipfile.ZipFile, name: str) -> None:
        entry = zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0))
        entry.compress_type = zipfile.ZIP_DEFLATED
        self._file = packed.open(entry, "w", force_zip64=True)
        self._name, self._size, self._sum = name, 0, hashlib.sha256()
        self.found: dict[str, Any] = {}

    def __enter__(self) -> _Sum:
        return self

    def __exit__(self, *failed: object) -> None:
        self._file.close()
        self.found = {"name": self._name, "bytes": self._size, "sha256": self._sum.hexdigest()}

    def write(self, part: bytes) -> None:
        self._file.write(part)
        self._size += len(part)
        self._sum.update(part)


# In


@dataclass(frozen=True, kw_only=True)
class Archive:
    """An archive that was looked through: when it was made, and how many things of each sort it holds."""

    path: Path
    made_at: str
    counts: Mapping[str, int]

    def lines(self) -> Iterator[Mapping[str, Any]]:
        """Yield the lines, each checked; raises :class:`CraftError` with the number of one that is none."""
        with _opened(self.path) as packed, packed.open(LINES) as file:
            for number, raw in enumerate(_raw_lines(file), 1):
                yield _line(number, raw)


def is_archive(path: Path) -> bool:
    """Say whether a file is an archive of a workshop, and not some other zip (a spreadsheet is one as well)."""
    try:
        with zipfile.ZipFile(path) as packed:
            return LINES in packed.namelist() or MANIFEST in packed.namelist()
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        return False


def look_through(path: Path, told: Callable[[int, int], None] | None = None) -> Archive:
    """Check an archive through and through before anything of it is used.

    Raises :class:`CraftError` for one that is damaged, too large, of a later form, or not one of ours.
    """
    with _opened(path) as packed:
        try:
            with packed.open(MANIFEST) as file:
                manifest = json.loads(file.read(LONGEST_LINE))
            whole, form = next(f for f in manifest["files"] if f["name"] == LINES), manifest["form"]
            expected, size = str(whole["sha256"]), int(whole["bytes"])
        except (KeyError, TypeError, ValueError, StopIteration, RecursionError, zipfile.BadZipFile) as error:
            raise CraftError(
                ("Its manifest can't be read. It's damaged, or it isn't one of Weftonos's."), "file"
            ) from error
        if form != FORM:
            raise CraftError("It was written by a later Weftonos, in a form that this one does not know.", "file")
        found, counts, done = hashlib.sha256(), dict[str, int](), 0
        with packed.open(LINES) as file:
            for number, raw in enumerate(_raw_lines(file), 1):
                found.update(raw)
                line = _line(number, raw)
                counts[line["what"]] = counts.get(line["what"], 0) + 1
                done += len(raw)
                if told and number % 1000 == 0:
                    told(done, size)
        if found.hexdigest() == expected:
            _check_others(packed, manifest["files"])
        else:
            raise CraftError("It is damaged: what it holds is not what its manifest says. Take another copy.", "file")
    return Archive(path=path, made_at=str(manifest.get("made_at", ""))[:40], counts=counts)


def _check_others(packed: zipfile.ZipFile, files: Iterable[Mapping[str, Any]]) -> None:
    """Refuse an archive whose other files were changed: whoever changed a table means it to be brought in."""
    names = set(packed.namelist())
    for said in files:
        name = str(said.get("name"))
        if name == LINES:
            continue
        found = hashlib.sha256()
        if name in names:
            with packed.open(name) as file:
                while part := file.read(2**20):
                    found.update(part)
        if found.hexdigest() != said.get("sha256"):
            raise CraftError(
                f"{name[:80]} in it was changed since it was written. What is brought in is {LINES}. To bring in a "
                "table, give it by itself.",
                "file",
            )


class _opened:
    """A zip that was checked before anything is read from it; what is damaged in it is a sentence."""

    def __init__(self, path: Path) -> None:
        self._path = path

    def __enter__(self) -> zipfile.ZipFile:
        if self._path.stat().st_size > LARGEST_GIVEN:
            raise CraftError(f"That file is over {LARGEST_GIVEN // 2**20} MB.", "file")
        try:
            self._zip = zipfile.ZipFile(self._path)
        except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
            raise CraftError("That file isn't a zip, or it's damaged.", "file") from error
        try:
            check_packed(self._zip, LARGEST_UNPACKED, MOST_PARTS)
            if LINES not in self._zip.namelist():
                raise CraftError(f"That zip holds no {LINES}: it is not one of Weftonos's.", "file")
        except BaseException:
            self._zip.close()
            raise
        return self._zip

    def __exit__(self, kind: object, error: object, trace: object) -> None:
        self._zip.close()
        if isinstance(error, zipfile.BadZipFile | EOFError | NotImplementedError | OSError) or (
            type(error).__module__ == "zlib"
        ):
            raise CraftError("That zip is damaged: its end or its middle is missing. Take another copy.", "file")


def _raw_lines(file: IO[bytes]) -> Iterator[bytes]:
    for number in range(1, MOST_LINES + 1):
        raw = file.readline(LONGEST_LINE + 1)
        if not raw:
            return
        if len(raw) > LONGEST_LINE:
            raise CraftError(f"Line {number} is longer than any record.", "file")
        yield raw
    raise CraftError(f"It has over {MOST_LINES} lines.", "file")


def _line(number: int, raw: bytes) -> Mapping[str, Any]:
    try:
        line = ArchiveLine.model_validate_json(raw)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        where = ".".join(str(part) for part in first["loc"])
        why = f"its {where} cannot be used" if where else "it isn't JSON, or it's nested too deep"
        raise CraftError(f"Line {number} isn't one of Weftonos's: {why}.", "file") from error
    said = line.model_dump(exclude_unset=True)
    lacking = _NEEDED[line.what] - said.keys()
    if lacking or any(name in _NEEDED[line.what] and said[name] is None for name in _FILLED):
        raise CraftError(f"Line {number} lacks {', '.join(sorted(lacking or _NEEDED[line.what]))}.", "file")
    if (line.document is None) is (line.written is None):
        raise CraftError(f"Line {number} says nothing, or twice.", "file")
    if line.what == "record" and line.machine is None:
        raise CraftError(f"Line {number} is a record without a machine.", "file")
    return said
