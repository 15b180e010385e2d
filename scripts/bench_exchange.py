"""Export, import and round trip of a workshop with years of records, and a table of 50 000 rows."""

from __future__ import annotations

import random
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from weftonos.exchange.archive import look_through
from weftonos.exchange.spreadsheet import read_sheet
from weftonos.inout.exchange import Given, HowToKeep, check_table, keep
from weftonos.inout.export import ExportChoice, write_everything
from weftonos.inout.table_kinds import Choices, TableKind
from weftonos.store.archive import lines
from weftonos.store.bringing import bring_in
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME, reading
from weftonos.store.opening import open_workshop
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 26, 12, tzinfo=UTC)
MACHINE = {
    "nickname": "Heron",
    "kind": "longarm",
    "throat_in": 24,
    "scale": {"kind": "readout", "low": 80, "high": 400, "step": 5},
}
THREAD = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}


def many_lines(records: int, seed: int = 7) -> Iterator[Mapping[str, Any]]:
    """Yield the lines of a made-up workshop: threads, then records of several kinds, some corrected or struck out."""
    chance = random.Random(seed)

    def uid() -> str:
        return f"{chance.getrandbits(128):032x}"

    machine, threads = uid(), [uid() for _ in range(50)]
    yield {"what": "machine", "uid": machine, "version": 1, "document": MACHINE}
    for number, thread in enumerate(threads):
        document = {"name": f"Tern {number}", "thread": THREAD}
        yield {"what": "thread", "uid": thread, "version": 1, "struck_at": None, "document": document}
    at = NOW - timedelta(minutes=40 * records)
    for number in range(records):
        at += timedelta(minutes=chance.randint(5, 60))
        document = _document(chance, number, threads)
        moment = at.isoformat()
        revisions: list[dict[str, Any]] = []
        if number % 17 == 0:
            revisions.append({"at": moment, "action": "corrected", "was_at": moment, "document": document})
        if number % 41 == 0:
            revisions.append({"at": moment, "action": "struck", "was_at": None})
        yield {
            "what": "record",
            "uid": uid(),
            "version": 1 + len(revisions),
            "machine": machine,
            "kind": document["kind"],
            "at": moment,
            "noted_at": moment,
            "struck_at": moment if number % 41 == 0 else None,
            "document": document,
            "revisions": revisions,
        }


def _document(chance: random.Random, number: int, threads: list[str]) -> dict[str, Any]:
    match number % 10:
        case 0:
            return {"kind": "top_threaded", "top": [chance.choice(threads)]}
        case 1:
            return {"kind": "bobbin_loaded", "bobbin": chance.choice(threads)}
        case 2:
            return {"kind": "needle_fitted", "metric": 100, "american": 16, "point": "topstitch"}
        case 3:
            pulls = [{"value": chance.randint(180, 230)}]
            judged = {"mean_mn": pulls[0]["value"], "swing": None, "calmness": "unknown", "verdict": "on_target"}
            return {"kind": "bobbin_reading", "unit": "mN", "pulls": pulls, **judged}
        case 4 | 5:
            return {"kind": "look", "setting": chance.randrange(100, 400, 5), "grade": chance.randint(-2, 2)}
        case _:
            quilt = f"Quilt {number // 400}"
            return {"kind": "run", "minutes": chance.randint(5, 90), "quilt": quilt, "meters": chance.randint(5, 80)}


def untold(_done: int, _total: int) -> None:
    """Hear nothing."""


def filled(folder: Path, records: int) -> Engine:
    """Return a workshop with so many records."""
    engine = open_workshop(folder)
    with Session(engine) as session, session.begin():
        bring_in(session, lambda: many_lines(records), name="made up", now=NOW)
    return engine


def same(one: Engine, other: Engine) -> bool:
    """Say whether two workshops hold the same, record by record, corrections and struck ones included."""
    with Session(reading(one)) as a, Session(reading(other)) as b:
        return all(x == y for x, y in zip(lines(a), lines(b), strict=True))


#: One step in a process of its own, so that its memory is its own.
_STEPS = ("fill", "export", "import", "table")


def step(name: str, folder: Path, records: int) -> None:
    """Do one step and print its seconds and its peak memory in MB."""
    archive, begin = folder / "all.zip", time.perf_counter()
    if name == "fill":
        filled(folder / "from", records).dispose()
    elif name == "export":
        with Session(reading(open_workshop(folder / "from"))) as session:
            write_everything(session, archive, ExportChoice(), NOW, untold)
    elif name == "import":
        given = Given("all.zip", archive=look_through(archive))
        with Session(open_workshop(folder / "to")) as session, session.begin():
            keep(session, given, HowToKeep(), NOW, untold)
    else:
        text = "Date,Minutes,Quilt,Meters\n" + "".join(
            f"{NOW - timedelta(minutes=50 * n):%Y-%m-%d %H:%M},{n % 80 + 5},Quilt {n // 300},{n % 60 + 1}\n"
            for n in range(records // 2)
        )
        given = Given("runs.csv", sheet=read_sheet(text.encode()))
        choices = Choices(kind=TableKind.RUNS, columns={"at": 0, "minutes": 1, "quilt": 2, "meters": 3}, machine=1)
        with Session(open_workshop(folder / "to")) as session, session.begin():
            check_table(Workshop(session), given, choices, NOW, untold)
            keep(session, given, HowToKeep(), NOW, untold)
    print(f"{time.perf_counter() - begin:.1f} {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f}")


def bench_exchange(records: int = 100_000) -> None:
    """Print seconds and peak memory of each step, and whether the round trip is equal."""
    print(f"\nIn and out: {records} records, each step in a process of its own")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for doing in _STEPS:
            command = [sys.executable, __file__, doing, name, str(records)]
            said = subprocess.run(command, check=True, capture_output=True, text=True).stdout.split()
            rows = f"{records // 2} rows checked and kept" if doing == "table" else f"{records} records"
            print(f"  {doing:<8} {rows:<34} {said[-2]} s, {said[-1]} MB at most")
            if doing == "import":
                equal = same(open_workshop(folder / "from"), open_workshop(folder / "to"))
                print(
                    f"  round trip equal record by record: {equal}; {(folder / 'all.zip').stat().st_size / 1e6:.1f} MB"
                )
        print(f"  sound afterwards: {not check(folder / 'to' / FILE_NAME).wrong}")


if __name__ == "__main__":
    step(sys.argv[1], Path(sys.argv[2]), int(sys.argv[3]))
