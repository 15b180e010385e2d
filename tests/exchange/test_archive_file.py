"""The zip itself: what is written is what its manifest says, and what was spoilt or is not ours is refused."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from pathlib import Path

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.exchange import archive
from weftonos.exchange.archive import LINES, MANIFEST, ArchiveWriter, is_archive, look_through
from weftonos.exchange.bounds import check_packed

MACHINE = {"what": "machine", "uid": "a" * 32, "version": 1, "document": {"nickname": "Wren"}}
RUN = {
    **{"what": "record", "uid": "b" * 32, "version": 2, "struck_at": None, "machine": "a" * 32, "kind": "run"},
    **{"at": "2026-05-03T10:00:00+00:00", "noted_at": "2026-05-03T10:00:00+00:00"},
    "document": {"minutes": 5},
    "revisions": [{"at": "2026-05-04T10:00:00+00:00", "action": "struck", "was_at": None}],
}


@pytest.fixture
def whole(tmp_path: Path) -> Path:
    path = tmp_path / "all.zip"
    with ArchiveWriter(path) as out:
        out.file("README.txt", b"what is in it")
        out.lines([MACHINE, RUN])
        # Tables are filled in turns.
        out.table("csv/run.csv", ["uid", "reads"], [["b", "=5"]])
        out.table("csv/look.csv", ["uid"], [])
        out.table("csv/run.csv", ["uid", "reads"], [["c", "-5"]])
        out.finish({"made_at": "2026-05-05T10:00:00+00:00", "counts": {"machine": 1, "record": 1}})
    return path


def changed(path: Path, name: str, content: bytes | None) -> Path:
    """Return a copy in which one file is another, or gone."""
    spoilt = path.with_name("spoilt.zip")
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(spoilt, "w") as new:
        for part in {*old.namelist(), name}:
            said = content if part == name else old.read(part)
            if said is not None:
                new.writestr(part, said)
    return spoilt


def test_the_manifest_says_what_is_there(whole):
    with zipfile.ZipFile(whole) as packed:
        manifest = json.loads(packed.read(MANIFEST))
        for said in manifest["files"]:
            content = packed.read(said["name"])
            assert (len(content), hashlib.sha256(content).hexdigest()) == (said["bytes"], said["sha256"])
            assert packed.getinfo(said["name"]).compress_type == zipfile.ZIP_DEFLATED
        rows = {said["name"]: said["rows"] for said in manifest["files"] if "rows" in said}
        assert rows == {LINES: 2, "csv/run.csv": 2, "csv/look.csv": 0}
        assert packed.read("csv/run.csv").decode("utf-8-sig") == "uid,reads\r\nb,'=5\r\nc,-5\r\n"


def test_what_is_written_is_read_back(whole):
    assert is_archive(whole)
    told: list[tuple[int, int]] = []
    found = look_through(whole, lambda done, total: told.append((done, total)))
    assert (found.counts, found.made_at) == ({"machine": 1, "record": 1}, "2026-05-05T10:00:00+00:00")
    assert [dict(line) for line in found.lines()] == [MACHINE, RUN]


def test_two_of_the_same_are_the_same_bytes_but_for_their_date(whole, tmp_path):
    with zipfile.ZipFile(whole) as packed:
        assert {part.date_time for part in packed.infolist() if part.filename != MANIFEST} == {(2020, 1, 1, 0, 0, 0)}


@pytest.mark.parametrize(
    ("name", "content", "says"),
    [
        (LINES, b"{}\n", "lacks"),
        (LINES, json.dumps(MACHINE).encode() + b"\n", "not what its manifest says"),
        (LINES, None, "holds no workshop.jsonl"),
        (MANIFEST, None, "manifest can't be read"),
        (MANIFEST, b"[1]", "manifest can't be read"),
        (MANIFEST, b"[" * 5000, "manifest can't be read"),
        ("csv/run.csv", b"uid,reads\r\nb,9\r\n", "csv/run.csv in it was changed"),
        ("csv/run.csv", None, "csv/run.csv in it was changed"),
        ("../up.txt", b"x", "point outside it"),
    ],
)
def test_what_was_spoilt_is_refused_with_its_reason(whole, name, content, says):
    with pytest.raises(CraftError) as refused:
        look_through(changed(whole, name, content))
    assert says in str(refused.value) or "isn't one of Weftonos's" in str(refused.value)


def test_a_later_form_is_refused(whole):
    with zipfile.ZipFile(whole) as packed:
        manifest = {**json.loads(packed.read(MANIFEST)), "form": 2}
    with pytest.raises(CraftError, match="later Weftonos"):
        look_through(changed(whole, MANIFEST, json.dumps(manifest).encode()))


def test_a_line_as_long_as_a_record_may_be_is_read_and_one_longer_is_told_by_its_number(whole, monkeypatch):
    # Longer than the manifest, which may be no longer either.
    second = json.dumps({**RUN, "document": {"minutes": 5, "note": 5000 * "a"}}).encode() + b"\n"
    monkeypatch.setattr(archive, "LONGEST_LINE", len(second))
    with pytest.raises(CraftError, match="not what its manifest says"):
        look_through(changed(whole, LINES, json.dumps(MACHINE).encode() + b"\n" + second))
    monkeypatch.setattr(archive, "LONGEST_LINE", len(second) - 1)
    with pytest.raises(CraftError, match=r"^Line 2 is longer than any record"):
        look_through(changed(whole, LINES, json.dumps(MACHINE).encode() + b"\n" + second))


@pytest.mark.parametrize(
    "change",
    [
        {"uid": "A" * 32},
        {"version": 0},
        {"at": "1899-01-01T00:00:00+00:00"},
        {"kind": None},
        {"machine": None},
        {"document": None},
        {"written": "twice"},
        {"color": "red"},
        {"revisions": [{"at": "2026-05-04T10:00:00+00:00", "action": "burned"}]},
    ],
)
def test_a_line_of_another_form_is_none(whole, change):
    line = json.dumps({**RUN, **change}).encode() + b"\n"
    with pytest.raises(CraftError, match=r"^Line 1"):
        look_through(changed(whole, LINES, line))


def test_another_zip_is_none_of_ours(tmp_path):
    other = tmp_path / "other.zip"
    with zipfile.ZipFile(other, "w") as packed:
        packed.writestr("a.txt", "a")
    assert not is_archive(other)
    other.write_bytes(b"PK\x03\x04")
    assert not is_archive(other)
    with pytest.raises(CraftError, match="n't a zip"):
        look_through(other)


@pytest.mark.parametrize("left", [LINES, MANIFEST])
def test_what_is_left_of_ours_is_known_as_ours(tmp_path, left):
    damaged = tmp_path / "damaged.zip"
    with zipfile.ZipFile(damaged, "w") as packed:
        packed.writestr(left, "{}")
    assert is_archive(damaged), "it is told what is missing, not that it is no table"


def test_bounds_are_looked_at_before_anything_is_read():
    def packed(parts: dict[str, bytes]) -> zipfile.ZipFile:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
            for name, content in parts.items():
                new.writestr(name, content)
        return zipfile.ZipFile(out)

    check_packed(packed({"a": b"x" * 100}), 1000)
    for parts, most, says in (
        ({"a": b"x" * 2000}, 1000, "unpacks to"),
        ({"a": bytes(3 * 2**20)}, 10**9, "packed tighter"),
        ({str(n): b"" for n in range(501)}, 1000, "501 parts"),
        ({"/etc/x": b""}, 1000, "point outside"),
        ({"C:x": b""}, 1000, "point outside"),
    ):
        with pytest.raises(CraftError, match=says):
            check_packed(packed(parts), most)
