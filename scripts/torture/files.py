"""Files from strangers: cut, spoilt, bombs, wrong encodings, a million columns, paths that climb, lines that lie."""

from __future__ import annotations

import codecs
import hashlib
import io
import json
import random
import tempfile
import time
import tracemalloc
import warnings
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from torture.deaths import NOW, with_a_machine
from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.core.log.run import Run
from weftonos.inout.export import ExportChoice, write_everything
from weftonos.runtime.settings import Settings
from weftonos.store.archive import how_many
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME
from weftonos.store.opening import open_workshop
from weftonos.store.workshop import Workshop


def hostile_files(seed: int = 11, number: int = 300) -> Iterator[tuple[str, bytes]]:
    """Yield files that no workshop should take, by what is wrong with each."""
    chance = random.Random(seed)
    archive = an_archive()
    for n in range(number):
        what = HOSTILE[n % len(HOSTILE)]
        yield what.__name__.strip("_").replace("_", " "), what(chance, archive)


def an_archive() -> bytes:
    """Return everything of a small workshop as a file."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        with_a_machine(folder)
        engine = open_workshop(folder)
        with Session(engine) as session, session.begin():
            for n in range(20):
                Workshop(session).note(1, Run(minutes=n + 1), NOW, NOW)
        with Session(engine) as session:
            write_everything(session, folder / "all.zip", ExportChoice(), NOW, lambda done, total: None)
        engine.dispose()
        return (folder / "all.zip").read_bytes()


def _packed(parts: dict[str, bytes], how: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", how) as packed, warnings.catch_warnings():
        warnings.simplefilter("ignore")
        for name, content in parts.items():
            packed.writestr(name, content)
    return out.getvalue()


def _unpacked(archive: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(archive)) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def _with_lines(archive: bytes, change: Callable[[list[bytes]], list[bytes]]) -> bytes:
    """Return an archive with other lines, and a manifest that vouches for them."""
    parts = _unpacked(archive)
    lines = b"".join(line + b"\n" for line in change(parts["workshop.jsonl"].splitlines()))
    manifest = json.loads(parts["manifest.json"])
    for file in manifest["files"]:
        if file["name"] == "workshop.jsonl":
            file |= {"sha256": hashlib.sha256(lines).hexdigest(), "bytes": len(lines)}
    return _packed({**parts, "workshop.jsonl": lines, "manifest.json": json.dumps(manifest).encode()})


def _cut_short(chance: random.Random, archive: bytes) -> bytes:
    return archive[: chance.randrange(10, len(archive) - 30)]


def _bytes_changed(chance: random.Random, archive: bytes) -> bytes:
    spoilt = bytearray(archive)
    for _ in range(200):
        spoilt[chance.randrange(len(spoilt))] ^= chance.randrange(1, 256)
    return bytes(spoilt)


def _bomb(chance: random.Random, archive: bytes) -> bytes:
    return _packed({**_unpacked(archive), "workshop.jsonl": bytes(chance.randrange(40, 70) * 2**20)})


def _climbing_path(chance: random.Random, archive: bytes) -> bytes:
    name = chance.choice(("../../evil", "/etc/evil", "..\\..\\evil", "C:/evil", "csv/../../evil"))
    return _packed({**_unpacked(archive), name: b"x"})


def _too_many_parts(chance: random.Random, archive: bytes) -> bytes:
    return _packed({f"part {n}": b"" for n in range(21_000)}, zipfile.ZIP_STORED)


def _lines_of_rubbish(chance: random.Random, archive: bytes) -> bytes:
    rubbish = chance.choice((b"{}", b"[]", b"null", b'{"what":"record"}', b"\xff\xfe", b'{"what":"machine","uid":1}'))
    return _with_lines(archive, lambda lines: [*lines, rubbish])


def _nested_deep(chance: random.Random, archive: bytes) -> bytes:
    return _with_lines(archive, lambda lines: [*lines, b"[" * 100_000])


def _line_too_long(chance: random.Random, archive: bytes) -> bytes:
    return _with_lines(
        archive, lambda lines: [*lines, b'{"what":"' + chance.randbytes(3 * 2**19).hex().encode() + b'"}']
    )


def _names_what_is_not_there(chance: random.Random, archive: bytes) -> bytes:
    def change(lines: list[bytes]) -> list[bytes]:
        line = json.loads(lines[-1])
        line |= {"uid": f"{chance.getrandbits(128):032x}", "machine": f"{chance.getrandbits(128):032x}"}
        return [*lines, json.dumps(line).encode()]

    return _with_lines(archive, change)


def _says_nonsense(chance: random.Random, archive: bytes) -> bytes:
    def change(lines: list[bytes]) -> list[bytes]:
        line = json.loads(lines[-1])
        line |= {"uid": f"{chance.getrandbits(128):032x}"}
        line["document"]["minutes"] = chance.choice((-1, 1e308, "x", None, [], {}))
        return [*lines, json.dumps(line).encode()]

    return _with_lines(archive, change)


def _stands_twice(chance: random.Random, archive: bytes) -> bytes:
    return _with_lines(archive, lambda lines: [*lines, lines[-1]])


def _moment_of_no_year(chance: random.Random, archive: bytes) -> bytes:
    def change(lines: list[bytes]) -> list[bytes]:
        line = json.loads(lines[-1])
        line |= {
            "uid": f"{chance.getrandbits(128):032x}",
            "at": chance.choice(("9999-99-99", "soon", "2026-01-01", "")),
        }
        return [*lines, json.dumps(line).encode()]

    return _with_lines(archive, change)


def _a_million_columns(chance: random.Random, archive: bytes) -> bytes:
    return b"," * 1_000_000 + b"\n" + b"1," * 50


def _cell_too_long(chance: random.Random, archive: bytes) -> bytes:
    return b"date,minutes\n2026-01-01," + b"9" * 4_000_000


def _no_text(chance: random.Random, archive: bytes) -> bytes:
    return bytes(chance.randrange(256) for _ in range(20_000))


def _wrong_encoding(chance: random.Random, archive: bytes) -> bytes:
    mark = chance.choice((codecs.BOM_UTF8, codecs.BOM_UTF16_LE))
    return mark + b"date,minutes\n" + bytes(chance.randrange(128, 256) for _ in range(2001))


def _empty(chance: random.Random, archive: bytes) -> bytes:
    return chance.choice((b"", b"\n\n\n", b",,,\n,,,\n", b"\xef\xbb\xbf"))


def _too_many_rows(chance: random.Random, archive: bytes) -> bytes:
    return b"date,minutes\n" + b"2026-01-01,5\n" * 110_000


def _sheet(rows: str, besides: dict[str, bytes] | None = None) -> bytes:
    from openpyxl import Workbook

    out = io.BytesIO()
    Workbook().save(out)
    parts = _unpacked(out.getvalue())
    space = b'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"'
    parts["xl/worksheets/sheet1.xml"] = (
        b"<worksheet " + space + b"><sheetData>" + rows.encode() + b"</sheetData></worksheet>"
    )
    return _packed({**parts, **(besides or {})})


def _sheet_bomb(chance: random.Random, archive: bytes) -> bytes:
    return _sheet("<row/>" * 9_000_000)


def _sheet_of_a_million_columns(chance: random.Random, archive: bytes) -> bytes:
    words = [chance.randbytes(4).hex() for _ in range(16_000)]
    cells = "".join(f'<c t="inlineStr"><is><t>{word}</t></is></c>' for word in words)
    return _sheet(f"<row>{cells}</row>" * 6)


def _sheet_that_begins_far_down(chance: random.Random, archive: bytes) -> bytes:
    return _sheet('<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>')


def _sheet_cut_short(chance: random.Random, archive: bytes) -> bytes:
    whole = _sheet("<row><c><v>1</v></c></row>")
    return whole[: chance.randrange(40, len(whole) - 30)]


def _sheet_with_entities(chance: random.Random, archive: bytes) -> bytes:
    laughs = "".join(f'<!ENTITY l{n} "{f"&l{n - 1};" * 10}">' for n in range(1, 10))
    head = f'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY l0 "ha">{laughs}]>'
    bomb = f"{head}<worksheet><sheetData>&l9;</sheetData></worksheet>"
    return _sheet("", {"xl/worksheets/sheet1.xml": bomb.encode()})


def _sheet_of_no_book(chance: random.Random, archive: bytes) -> bytes:
    return _packed({"xl/workbook.xml": b"<workbook/>", "[Content_Types].xml": b"<Types/>"})


HOSTILE: tuple[Callable[[random.Random, bytes], bytes], ...] = (
    _cut_short,
    _bytes_changed,
    _bomb,
    _climbing_path,
    _too_many_parts,
    _lines_of_rubbish,
    _nested_deep,
    _line_too_long,
    _names_what_is_not_there,
    _says_nonsense,
    _stands_twice,
    _moment_of_no_year,
    _a_million_columns,
    _cell_too_long,
    _no_text,
    _wrong_encoding,
    _empty,
    _too_many_rows,
    _sheet_bomb,
    _sheet_of_a_million_columns,
    _sheet_that_begins_far_down,
    _sheet_cut_short,
    _sheet_with_entities,
    _sheet_of_no_book,
)
#: What a hostile file may take, in seconds and MB above what the program has anyway.
MOST_S, MOST_MB = 2.0, 200


def refused_files(number: int = 300, *, measured: bool = True) -> dict[str, Any]:
    """Give hostile files to a workshop: each is refused with a sentence, in time and in bounds, and nothing is kept."""
    taken, unsaid, worst_s, worst_mb = Counter[str](), Counter[str](), (0.0, ""), (0.0, "")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        load_demo(folder)
        app = create_app(Settings(data_dir=folder))
        with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
            before = _held(app)
            for what, content in hostile_files(number=number):
                begin = time.perf_counter()
                said = _give_and_keep(client, content)
                worst_s = max(worst_s, (time.perf_counter() - begin, what))
                if measured:
                    # Watching the memory takes time of its own.
                    tracemalloc.start()
                    _give_and_keep(client, content)
                    worst_mb = max(worst_mb, (tracemalloc.get_traced_memory()[1] / 1e6, what))
                    tracemalloc.stop()
                if said is None:
                    taken[what] += 1
                elif not said.endswith((".", "!")):
                    unsaid[f"{what}: {said[:80]}"] += 1
            kept = [after - was for after, was in zip(_held(app), before, strict=True)]
        wrong = check(folder / FILE_NAME).wrong
    return {
        "files": number,
        "taken": dict(taken),
        "without a sentence": dict(unsaid),
        "slowest": worst_s,
        "largest": worst_mb,
        "kept": sum(kept),
        "wrong": list(wrong),
    }


def _held(app: Any) -> list[int]:
    with Session(app.state.engine) as session:
        return list(how_many(session).values())


def _give_and_keep(client: TestClient, content: bytes) -> str | None:
    """Return the sentence a file is refused with; ``None`` where it was kept."""
    given = client.post("/api/exchange/files?name=stranger", content=content)
    if given.status_code != 201:
        detail = given.json()["detail"]
        return detail if isinstance(detail, str) else str(detail[0]["msg"])
    file = given.json()
    if file["table"]:
        columns = {c["field"]: c["column"] for c in file["table"]["kinds"][2]["columns"] if c["column"] is not None}
        body = {"kind": "runs", "columns": columns, "machine": 1}
        checked = client.post(f"/api/exchange/files/{file['token']}/check", json=body)
        if checked.status_code != 202 or (state := _ended(client, checked.json()["id"]))["state"] != "done":
            return str(checked.json()["detail"][0]["msg"]) if checked.status_code != 202 else state["problem"]
    keeping = client.post(f"/api/exchange/files/{file['token']}/keep", json={})
    state = _ended(client, keeping.json()["id"])
    return None if state["state"] == "done" else str(state["problem"])


def _ended(client: TestClient, job: str) -> Any:
    while (state := client.get(f"/api/exchange/jobs/{job}").json())["state"] == "running":
        time.sleep(0.005)
    return state
