"""Copies, going back, and files that cannot be used: a sentence, what to do, and nothing half done."""

from __future__ import annotations

import doctest
import shutil
import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.run import Run
from weftonos.core.setup.machine import Machine
from weftonos.store import elsewhere, safekeeping
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME
from weftonos.store.file_errors import ExitCode, WorkshopFileError
from weftonos.store.opening import open_workshop
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
DATABASES = Path(__file__).parent / "databases"
WREN = Machine(nickname="Wren", kind=MachineKind.HOME, scale=TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5))


def note(folder: Path, runs: int) -> None:
    engine = open_workshop(folder)
    with Session(engine) as session, session.begin():
        shop = Workshop(session)
        if not shop.machines():
            shop.add_machine(WREN)
        for number in range(runs):
            shop.note(1, Run(minutes=5), NOW, NOW + timedelta(seconds=number))
    engine.dispose()


def records(path: Path) -> int:
    return safekeeping.look_at(path).records


def test_a_copy_is_checked_and_says_what_is_in_it(tmp_path):
    note(tmp_path, 3)
    copy = tmp_path / "copy.db"
    safekeeping.copy_file(tmp_path / FILE_NAME, copy)
    found = safekeeping.look_at(copy)
    assert (found.machines, found.records, found.first) == (1, 3, NOW)
    assert safekeeping.soundness(copy) == []
    assert not list(tmp_path.glob("*.part*")), "nothing is left over"


def test_each_commit_is_on_the_disk_before_it_is_answered(tmp_path):
    engine = open_workshop(tmp_path)
    with engine.connect() as connection:
        assert connection.exec_driver_sql("PRAGMA synchronous").scalar() == 2, "FULL, by SQLite's own numbering"
    engine.dispose()


def test_going_back_keeps_what_it_replaces_and_can_be_undone(tmp_path):
    note(tmp_path, 2)
    file, copy = tmp_path / FILE_NAME, tmp_path / "copy.db"
    safekeeping.copy_file(file, copy)
    note(tmp_path, 5)
    replaced = safekeeping.restore(copy, file, NOW)
    assert (records(file), records(replaced)) == (2, 7)
    assert safekeeping.replaced_files(tmp_path) == [replaced]
    safekeeping.restore(replaced, file, NOW)
    assert records(file) == 7
    assert check(file).wrong == []


def test_an_old_log_of_changes_is_never_read_into_the_copy_that_is_put_back(tmp_path):
    note(tmp_path, 2)
    file, copy = tmp_path / FILE_NAME, tmp_path / "copy.db"
    safekeeping.copy_file(file, copy)
    # A second opening keeps the log of changes from being folded in, as a killed server leaves it.
    with closing(sqlite3.connect(file)) as held:
        held.execute("SELECT count(*) FROM record").fetchone()
        note(tmp_path, 30)
        for name in (FILE_NAME, f"{FILE_NAME}-wal"):
            shutil.copyfile(tmp_path / name, tmp_path / f"kept-{name}")
    killed = tmp_path / "killed"
    killed.mkdir()
    for name in (FILE_NAME, f"{FILE_NAME}-wal"):
        (tmp_path / f"kept-{name}").rename(killed / name)
    assert (killed / f"{FILE_NAME}-wal").stat().st_size > 0
    replaced = safekeeping.restore(copy, killed / FILE_NAME, NOW)
    assert (records(killed / FILE_NAME), records(replaced)) == (2, 32)
    assert check(killed / FILE_NAME).wrong == []


def test_a_damaged_workshop_can_be_replaced_and_is_kept_as_it_lies(tmp_path):
    note(tmp_path, 2)
    file, copy = tmp_path / FILE_NAME, tmp_path / "copy.db"
    safekeeping.copy_file(file, copy)
    file.write_bytes(b"mold" * 400)
    replaced = safekeeping.restore(copy, file, NOW)
    assert records(file) == 2
    assert replaced.read_bytes() == b"mold" * 400


def spoil_empty(path: Path) -> None:
    path.write_bytes(b"")


def spoil_cut(path: Path) -> None:
    path.write_bytes(path.read_bytes()[:20_000])


def spoil_text(path: Path) -> None:
    path.write_text("a shopping list\n" * 40, encoding="utf-8")


def spoil_foreign(path: Path) -> None:
    path.unlink()
    with closing(sqlite3.connect(path)) as file:
        file.execute("CREATE TABLE tune (name TEXT)")
        file.commit()


def spoil_newer(path: Path) -> None:
    with closing(sqlite3.connect(path)) as file:
        file.execute("UPDATE alembic_version SET version_num = '9000'")
        file.commit()


def spoil_pages(path: Path) -> None:
    content = bytearray(path.read_bytes())
    content[8192:60_000] = bytes(60_000 - 8192)
    path.write_bytes(content)


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (Path.unlink, "There is no workshop at"),
        (spoil_empty, "is empty"),
        (spoil_cut, "was cut short"),
        (spoil_text, "isn't a workshop"),
        (spoil_foreign, "some other program"),
        (spoil_newer, "a later Weftonos"),
        (spoil_pages, "damaged"),
    ],
)
def test_a_file_that_cannot_be_used_says_so_and_is_never_copied(tmp_path, spoil, says):
    note(tmp_path, 40)
    file, target = tmp_path / FILE_NAME, tmp_path / "copy.db"
    spoil(file)
    with pytest.raises(WorkshopFileError, match=says) as refused:
        safekeeping.copy_file(file, target)
    assert refused.value.code in (ExitCode.DAMAGED, ExitCode.MISSING)
    assert str(refused.value).count("\n") == 0
    assert not target.exists()
    if file.exists() and spoil is not spoil_pages:
        before = file.read_bytes()
        with pytest.raises(WorkshopFileError):
            open_workshop(tmp_path)
        assert file.read_bytes() == before, "it is left as it was"


def test_a_copy_that_is_damaged_is_not_put_back(tmp_path):
    note(tmp_path, 40)
    file, copy = tmp_path / FILE_NAME, tmp_path / "copy.db"
    safekeeping.copy_file(file, copy)
    spoil_pages(copy)
    with pytest.raises(WorkshopFileError, match="damaged"):
        safekeeping.restore(copy, file, NOW)
    assert records(file) == 40
    assert check(file).wrong == []


def test_a_copy_never_fills_the_disk(tmp_path, monkeypatch):
    note(tmp_path, 1)
    few = shutil.disk_usage(tmp_path)._replace(free=1000)
    monkeypatch.setattr(safekeeping.shutil, "disk_usage", lambda folder: few)
    with pytest.raises(WorkshopFileError, match="Make room") as refused:
        safekeeping.copy_file(tmp_path / FILE_NAME, tmp_path / "copy.db")
    assert refused.value.code == ExitCode.DISK
    with pytest.raises(WorkshopFileError, match="There is no folder"):
        safekeeping.copy_file(tmp_path / FILE_NAME, tmp_path / "nowhere" / "copy.db")


def test_seven_days_four_weeks_and_twelve_months_are_kept(tmp_path):
    assert doctest.testmod(safekeeping).failed == 0
    two_years = [NOW - timedelta(days=number) for number in range(730)]
    kept: set[datetime] = set()
    for today in reversed(two_years):
        kept = safekeeping.kept({*kept, today}, today)
    assert {NOW - timedelta(days=number) for number in range(7)} <= kept
    assert len(kept) <= 7 + 4 + 12
    assert len({(time.year, time.month) for time in kept}) == 12
    assert min(kept) < NOW - timedelta(days=320), "a year can be gone back"


def test_copies_of_today_stay_and_one_dated_in_the_future_neither_stops_nor_counts(tmp_path):
    note(tmp_path, 1)
    folder = tmp_path / "copies"
    ahead = safekeeping.back_up(tmp_path / FILE_NAME, folder, datetime(2038, 1, 19, tzinfo=UTC))
    assert safekeeping.is_due(folder, NOW)
    today = [safekeeping.back_up(tmp_path / FILE_NAME, folder, NOW + timedelta(hours=n)) for n in range(4)]
    assert all(path.exists() for path in today)
    assert not safekeeping.is_due(folder, NOW + timedelta(hours=4))
    tomorrow = safekeeping.back_up(tmp_path / FILE_NAME, folder, NOW + timedelta(hours=28))
    assert [path.exists() for path in today] == [False, False, False, True]
    assert tomorrow.exists()
    assert ahead.exists()


def test_a_copy_goes_to_a_second_place_too_and_says_where_it_cannot(tmp_path):
    data_dir, stick = tmp_path / "workshop", tmp_path / "stick"
    note(data_dir, 3)
    stick.mkdir()
    copy = safekeeping.back_up(data_dir / FILE_NAME, data_dir / "copies", NOW)
    assert elsewhere.copy_elsewhere(data_dir, copy, NOW) is None, "none was named"
    for wrong in ("stick", str(tmp_path / "nowhere"), str(data_dir / "copies")):
        with pytest.raises(CraftError, match="folder"):
            elsewhere.name_second_place(data_dir, wrong)
    assert elsewhere.name_second_place(data_dir, str(stick)).same_disk
    assert elsewhere.copy_elsewhere(data_dir, copy, NOW).at == NOW
    assert records(stick / copy.name) == 3
    shutil.rmtree(stick)
    later = NOW + timedelta(days=1)
    said = elsewhere.copy_elsewhere(data_dir, copy, later)
    assert (said.at, "Is the stick in?" in said.trouble) == (NOW, True)
    stick.mkdir()
    assert elsewhere.copy_elsewhere(data_dir, copy, later) == elsewhere.second_place(data_dir)
    assert (elsewhere.second_place(data_dir).at, elsewhere.second_place(data_dir).trouble) == (later, "")
    assert [path.name for path in stick.iterdir()] == [copy.name]
    elsewhere.name_second_place(data_dir, "")
    assert elsewhere.second_place(data_dir) is None


def test_daily_copies_are_made_once_a_day_and_old_ones_let_go(tmp_path):
    note(tmp_path, 1)
    folder = tmp_path / "copies"
    for number in range(40):
        now = NOW + timedelta(days=number)
        assert safekeeping.is_due(folder, now)
        safekeeping.back_up(tmp_path / FILE_NAME, folder, now)
        assert not safekeeping.is_due(folder, now + timedelta(hours=2))
    stranger = folder / "workshop-holiday.db"
    stranger.write_text("not ours", encoding="utf-8")
    names = [path.name for path in safekeeping.copies(folder)]
    assert names == sorted(names, reverse=True)
    assert 10 <= len(names) <= 13
    assert stranger.exists()


def test_the_check_finds_what_does_not_follow_from_the_log(tmp_path):
    with closing(sqlite3.connect(tmp_path / FILE_NAME)) as file:
        file.executescript((DATABASES / "0004.sql").read_text(encoding="utf-8"))
    open_workshop(tmp_path).dispose()
    assert check(tmp_path / FILE_NAME).wrong == []
    with closing(sqlite3.connect(tmp_path / FILE_NAME)) as file:
        file.execute("UPDATE record SET top_id = NULL, detail = 'x' WHERE kind = 'look'")
        file.commit()
    (said,) = check(tmp_path / FILE_NAME).wrong
    assert "another setup" in said


def test_one_copy_a_form_is_left_before_a_migration(tmp_path):
    for _ in range(3):
        with closing(sqlite3.connect(tmp_path / "old.db")) as file:
            file.executescript((DATABASES / "0003.sql").read_text(encoding="utf-8"))
        (tmp_path / "old.db").replace(tmp_path / FILE_NAME)
        open_workshop(tmp_path).dispose()
    (copy,) = tmp_path.glob("workshop-before-*.db")
    assert safekeeping.look_at(copy).revision == "0003"
    assert safekeeping.look_at(tmp_path / FILE_NAME).revision == safekeeping.newest_revision()


def test_a_migration_that_fails_leaves_the_file_and_names_the_copy(tmp_path, monkeypatch):
    with closing(sqlite3.connect(tmp_path / FILE_NAME)) as file:
        file.executescript((DATABASES / "0003.sql").read_text(encoding="utf-8"))
    monkeypatch.setattr("weftonos.store.opening.migrate", lambda engine, revision: 1 / 0)
    with pytest.raises(WorkshopFileError, match="weftonos restore"):
        open_workshop(tmp_path)
    monkeypatch.undo()
    open_workshop(tmp_path).dispose()
    assert check(tmp_path / FILE_NAME).wrong == []
