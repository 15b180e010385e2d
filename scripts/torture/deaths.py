"""Death at any moment: a child process that writes, migrates, restores or begins is killed, and the file looked at.

A death is SIGKILL, so that nothing is tidied up. Where the moment is counted, the child kills itself at the n-th
statement or the n-th call into C, so that no place between two of them is left out.
"""

from __future__ import annotations

import os
import random
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from bench_exchange import many_lines
from sqlalchemy import Engine, event
from sqlalchemy.orm import Session

from weftonos.cli import load_demo
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.run import Run
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.machine import Machine
from weftonos.store import safekeeping
from weftonos.store.archive import how_many
from weftonos.store.bringing import bring_in
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME
from weftonos.store.opening import open_workshop
from weftonos.store.taking_back import imports
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
DATABASES = Path(__file__).parents[2] / "tests" / "store" / "databases"


def die() -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def in_a_child(
    do: Callable[[int], None], die_after: float | None = None, *, and_lines: int = 0
) -> tuple[bool, list[str]]:
    """Run ``do`` in a child process; say whether it lived, and return the lines it wrote to its pipe.

    ``die_after`` kills it so many seconds after it has written ``and_lines`` lines. Lines are counted, since a slow
    machine writes few of them in a given time.
    """
    reads, writes = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reads)
        code = 1
        try:
            do(writes)
            code = 0
        finally:
            os._exit(code)
    os.close(writes)
    said = b""
    if die_after is not None:
        while said.count(b"\n") < and_lines and (part := os.read(reads, 65536)):
            said += part
        time.sleep(die_after)
        os.kill(child, signal.SIGKILL)
    while part := os.read(reads, 65536):
        said += part
    os.close(reads)
    _, status = os.waitpid(child, 0)
    # What is cut off at the end was never fully said.
    return os.WIFEXITED(status) and os.WEXITSTATUS(status) == 0, said.decode().split("\n")[:-1]


@contextmanager
def dying_at_statement(number: int) -> Iterator[None]:
    """Die when the ``number``-th statement is about to be run."""
    left = [number]

    def count(*_: object) -> None:
        left[0] -= 1
        if left[0] < 0:
            die()

    event.listen(Engine, "before_cursor_execute", count)
    yield


@contextmanager
def dying_at_call(number: int) -> Iterator[None]:
    """Die at the ``number``-th call into C: between any two of them nothing reaches the disk."""
    left = [number]

    def count(_frame: object, what: str, _argument: object) -> None:
        if what == "c_call":
            left[0] -= 1
            if left[0] < 0:
                die()

    sys.setprofile(count)
    try:
        yield
    finally:
        sys.setprofile(None)


def sound(folder: Path, least: int = 0) -> list[str]:
    """Open a workshop again; return what is wrong with it."""
    open_workshop(folder).dispose()
    found = check(folder / FILE_NAME)
    wrong = list(found.wrong)
    if found.contents.records < least:
        wrong.append(f"{least - found.contents.records} records are lost")
    return wrong


def killed_while_writing(rounds: int, seed: int = 1) -> dict[str, object]:
    """Write a steady stream of records and die at a random moment: what was acknowledged is there, and in order."""
    chance = random.Random(seed)
    acknowledged, lost, wrong = 0, 0, []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        with_a_machine(folder)

        def write(pipe: int) -> None:
            engine = open_workshop(folder)
            number = 0
            while True:
                number += 1
                at = NOW + timedelta(seconds=number)
                with Session(engine) as session, session.begin():
                    shop = Workshop(session)
                    said = StitchedLook(setting=4, grade=number % 5 - 2) if number % 2 else Run(minutes=1)
                    row = shop.note(1, said, at - timedelta(days=number % 7), at)
                    if number % 5 == 0:
                        shop.strike(row.id, at)
                    uid = row.uid
                os.write(pipe, f"{uid}\n".encode())

        known: set[str] = set()
        for _ in range(rounds):
            _, said = in_a_child(write, chance.random() * 0.05, and_lines=chance.randrange(40))
            known |= set(said)
            wrong += sound(folder)
            with sqlite3.connect(folder / FILE_NAME) as file:
                stored = {uid for (uid,) in file.execute("SELECT uid FROM record")}
            file.close()
            lost += len(known - stored)
        acknowledged = len(known)
    return {"rounds": rounds, "acknowledged": acknowledged, "lost": lost, "wrong": wrong}


def with_a_machine(folder: Path) -> None:
    engine = open_workshop(folder)
    scale = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
    with Session(engine) as session, session.begin():
        Workshop(session).add_machine(Machine(nickname="Wren", kind=MachineKind.HOME, scale=scale))
    engine.dispose()


def killed_while_migrating(every: int = 1) -> dict[str, object]:
    """Die at each ``every``-th statement of the migration of a workshop of each form; it opens again, nothing lost."""
    points, wrong = 0, []
    for dump in sorted(DATABASES.glob("*.sql")):
        with tempfile.TemporaryDirectory() as name:
            whole = Path(name) / "whole"
            whole.mkdir()
            with sqlite3.connect(whole / FILE_NAME) as file:
                file.executescript(dump.read_text(encoding="utf-8"))
            file.close()
            records = safekeeping.look_at(whole / FILE_NAME).records

            def migrate(at: int, folder: Path) -> Callable[[int], None]:
                def run(_pipe: int) -> None:
                    with dying_at_statement(at):
                        open_workshop(folder).dispose()

                return run

            lived, at = False, 0
            while not lived:
                folder = Path(name) / str(at)
                shutil.copytree(whole, folder)
                lived, _ = in_a_child(migrate(at, folder))
                if not lived:
                    points += 1
                wrong += [f"{dump.name} at {at}: {said}" for said in sound(folder, records)]
                if len(list(folder.glob("workshop-before-*"))) > 1:
                    wrong.append(f"{dump.name} at {at}: more than one copy is left")
                shutil.rmtree(folder)
                at += every
    return {"points": points, "wrong": wrong}


def killed_while_beginning(rounds: int, seed: int = 2) -> dict[str, object]:
    """Die at a random moment of a first start and of a first demo; the next start makes it whole."""
    chance = random.Random(seed)
    wrong: list[str] = []
    for number in range(rounds):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "new"
            demo = number % 2 == 1

            def begin(_pipe: int, folder: Path = folder, demo: bool = demo) -> None:
                if demo:
                    load_demo(folder)
                open_workshop(folder).dispose()

            in_a_child(begin, chance.random() * (2.0 if demo else 0.5))
            if demo:
                load_demo(folder)
                if safekeeping.look_at(folder / FILE_NAME).records < 80:
                    wrong.append("the demo stays empty")
            wrong += sound(folder)
    return {"rounds": rounds, "wrong": wrong}


def killed_while_restoring(every: int = 1) -> dict[str, object]:
    """Die at each ``every``-th call of going back to a copy, over a workshop whose log of changes still lies there."""
    points, wrong = 0, []
    with tempfile.TemporaryDirectory() as name:
        base, copy = Path(name) / "base", Path(name) / "copy.db"
        with_a_machine(base)
        safekeeping.copy_file(base / FILE_NAME, copy)

        def leave_a_log(_pipe: int) -> None:
            engine = open_workshop(base)
            with Session(engine) as session, session.begin():
                for number in range(20):
                    Workshop(session).note(1, Run(minutes=1), NOW, NOW + timedelta(seconds=number))
            die()

        in_a_child(leave_a_log)
        assert (base / f"{FILE_NAME}-wal").stat().st_size > 0, "the old log of changes has to lie there"
        lived, at = False, 0
        while not lived:
            folder = Path(name) / str(at)
            shutil.copytree(base, folder)

            def go_back(_pipe: int, folder: Path = folder, at: int = at) -> None:
                with dying_at_call(at):
                    safekeeping.restore(copy, folder / FILE_NAME, NOW)

            lived, _ = in_a_child(go_back)
            points += not lived
            wrong += [f"at {at}: {said}" for said in sound(folder)]
            records = safekeeping.look_at(folder / FILE_NAME).records
            if records not in (0, 20) or (lived and records != 0):
                wrong.append(f"at {at}: {records} records, neither the old workshop nor the copy")
            if records == 0 and not any(
                safekeeping.look_at(kept).records == 20 for kept in safekeeping.replaced_files(folder)
            ):
                wrong.append(f"at {at}: what was replaced is not kept")
            shutil.rmtree(folder)
            at += every
    return {"points": points, "wrong": wrong}


def killed_while_importing(rounds: int, records: int = 400, seed: int = 5) -> dict[str, object]:
    """Bring a file in and die at a random call into C: the workshop holds all of it or nothing."""
    chance = random.Random(seed)
    whole = nothing = 0
    wrong: list[str] = []
    made = list(many_lines(records))
    with tempfile.TemporaryDirectory() as name:
        # The first one loads what the children have then.
        empty, calls = Path(name) / "empty", [_calls_of_an_import(Path(name) / n, made) for n in ("a", "b")][1]
        open_workshop(empty).dispose()
        for number in range(rounds):
            folder = Path(name) / str(number)
            shutil.copytree(empty, folder)

            # Half of them near the end, where it is committed.
            dies_at = chance.randrange(calls) if number % 2 else calls - chance.randrange(calls // 100)

            def bring(_pipe: int, folder: Path = folder, dies_at: int = dies_at) -> None:
                with dying_at_call(dies_at):
                    _import(folder, made)

            in_a_child(bring)
            wrong += sound(folder)
            with Session(open_workshop(folder)) as session:
                held = sum(how_many(session).values())
                brought = len(imports(session))
            if held not in (0, len(made)) or brought != (held > 0):
                wrong.append(f"{held} of {len(made)} things, {brought} imports")
            whole += held == len(made)
            nothing += held == 0
    return {"rounds": rounds, "whole": whole, "nothing": nothing, "wrong": wrong}


def _import(folder: Path, made: list[Mapping[str, Any]]) -> None:
    with Session(open_workshop(folder)) as session, session.begin():
        bring_in(session, lambda: iter(made), name="all.zip", now=NOW)


def _calls_of_an_import(folder: Path, made: list[Mapping[str, Any]]) -> int:
    """Return how many calls into C an import makes, opening and committing included."""
    open_workshop(folder).dispose()
    count = 0

    def counting(_frame: object, what: str, _argument: object) -> None:
        nonlocal count
        count += what == "c_call"

    sys.setprofile(counting)
    try:
        _import(folder, made)
    finally:
        sys.setprofile(None)
    return count
