"""`make mutant-sample`: a seeded sample of small faults over the program outside the estimators, and who notices.

The faults are those of `mutants.py`. Which tests run a line is noted once, test by test; a fault is tried against those
of its line, the most specific first. What is done is kept, so that it goes on where it was broken off: give the minutes
of a part as the argument.
"""

from __future__ import annotations

import ast
import json
import math
import os
import random
import subprocess
import sys
import time
from collections import Counter, defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from concurrent.futures import FIRST_COMPLETED, ThreadPoolExecutor, wait
from functools import lru_cache
from pathlib import Path
from typing import Any

from coverage import Coverage, CoverageData
from mutants import ROOT, SOURCES, Mutant, fault_at, file_of, places, run_against

PACKAGES = ("core/evidence", "stations", "learned", "store", "exchange", "http")
SAMPLE, SEED = 500, 27
#: Tests of a line that a fault in it is tried against, and the seconds they may take.
MOST_TESTS, SECONDS = 30, 90
CORES = os.cpu_count() or 1
KEPT = ROOT / ".bench"
#: Tests are noted in two processes at once.
HALVES = {
    "api": ["tests/api"],
    "rest": ["tests/core", "tests/store", "tests/exchange"]
    + [f"tests/test_{name}.py" for name in ("strangers", "jobs", "front", "beside")],
}
#: What a faulty line holds that nobody can tell from the original, and why. These are no part of the share.
NOBODY_CAN_TELL = {
    "String(": "SQLite holds a text of any length",
    "default_rng([": "another luck, as good as this one",
    "IN_USE = 75": "an exit status, which only has to differ from the others",
    "shares=(": "how wide the columns of a printed table are",
    "connection.info[_COMMITS] = ": "a count that only has to be another after each commit",
    "query.limit(10)": "how many cloths are looked through",
    "(plan := rows[0].payload": "one row is asked for, so the first is the last",
    "thread_is_light=": "of a bundle, one thread says as well as another which half of the cloth to use",
    "MOST_ASKED = ": "how many are asked for at once",
    "all(newest[kind].at ": "the file says the same, when it is asked",
    "CurveStep(hours=0, share=1, low=": "a mean takes nothing of the curve's band",
    "scalar(loaded.limit(": "whether there is one, not how many",
    "by_spread = -size": "where a search that went too far may no longer go",
    "why = pairing.reasons[": "each reason of a pairing explains it",
    "significant=2)}": "a ten reads as ten in either way",
    "seed + more * 7919": "another luck, as good as this one",
    "(height - 29) / max(": "a millimeter of a printed strip",
    "Stroke(x1=hole - 0.8": "half a millimeter of a printed needle",
    "matrix_iter(border=": "a margin that every reader of such a code takes",
    "row.incident_id or 0": "a step always names its trouble",
    "NeedleFinish.STEEL, 0, 0": "how long a kind lasts is asked, not how much is sewn with this one",
    "if found.ratio > 1 else": "two that are alike to the last digit are told apart by neither",
    "file.readline(LONGEST_LINE": "a zip's reader gives a few bytes more than it is asked for",
    "str(shown[-1].id) if len(found)": "whether there are more is asked, not from where on",
    "if write.answer is None and self._writes": "the next try forgets it as well",
    "READ_AT_A_TIME = ": "how many are read at a time",
    "yield_per=": "how many are read at a time",
    "table.read(2**20)": "how much is read at a time",
    "READ_RECIPES = ": "how many are looked through",
    "RECORDS_TIMED = ": "how many are looked through",
    "MOST_SPANS = ": "how many are looked through",
    "limit(1)).first()": "one is taken, however many are asked for",
    "named[naming_id or 0]": "no record has either number",
    'manifest.get("made_at", ""))[:40]': "a moment takes fewer letters",
    "machine.see(90)": "another luck, as good as this one",
    "Stroke(x1=x - 2, y1=y - 0.9": "a millimeter of a printed sheet",
    'text="____': "a millimeter of a printed sheet",
    "y=24, text=title": "a millimeter of a printed page",
    'y=16, text="Threads on this machine"': "a millimeter of a printed page",
    "size_mm=3.6), 54)": "a millimeter of a printed label",
    "qr_strokes(address, 35.5": "a millimeter of a printed label",
    "start[-1] = -1.0": "where a search begins",
    "MOST_SESSIONS, MOST_TOKENS, MOST_KNOWN": "how many are remembered, more or less by one",
    "LONGEST_WAIT_S = ": "a long wait, more or less by a second",
}
PACKAGE = str(SOURCES / "weftonos")


class Recorder:
    """Notes which lines of the program each test runs, and how long it takes."""

    def __init__(self, half: str) -> None:
        self.took: dict[str, float] = {}
        self._cover = Coverage(str(KEPT / f"tests-{half}.lines"), source=[PACKAGE], config_file=False, messages=False)
        # As the notes name it, a file is the same in another copy of the tree.
        self._cover.set_option("run:relative_files", True)

    def pytest_sessionstart(self) -> None:
        """Begin with what is run while modules are loaded, which is no test's own."""
        self._cover.erase()
        self._cover.start()

    def pytest_runtest_logstart(self, nodeid: str, location: object) -> None:
        """Begin a test."""
        self._begin = time.perf_counter()
        self._cover.switch_context(nodeid)

    def pytest_runtest_logfinish(self, nodeid: str, location: object) -> None:
        """End a test."""
        self.took[nodeid] = time.perf_counter() - self._begin

    def pytest_sessionfinish(self) -> None:
        """Write it down."""
        self._cover.stop()
        self._cover.save()


def note(half: str) -> None:
    """Note the tests of a half."""
    import pytest

    KEPT.mkdir(exist_ok=True)
    recorder = Recorder(half)
    pytest.main(["-q", "-p", "no:cacheprovider", "-p", "no:xdist", "--timeout", "0", *HALVES[half]], plugins=[recorder])
    (KEPT / f"tests-{half}.json").write_text(json.dumps(recorder.took), encoding="utf-8")


class Lines:
    """Which tests run a line: of each file of tests those first that run few other lines and are quick."""

    def __init__(self) -> None:
        missing = [half for half in HALVES if not (KEPT / f"tests-{half}.json").exists()]
        for each in [subprocess.Popen([sys.executable, __file__, "note", half]) for half in missing]:
            each.wait()
        took: dict[str, float] = {}
        self._by_file: dict[str, dict[int, set[str]]] = defaultdict(lambda: defaultdict(set))
        for half in HALVES:
            took |= json.loads((KEPT / f"tests-{half}.json").read_text(encoding="utf-8"))
            data = CoverageData(str(KEPT / f"tests-{half}.lines"))
            data.read()
            for file in data.measured_files():
                for line, tests in data.contexts_by_lineno(file).items():
                    self._by_file[file][line].update(test for test in tests if test)
        many = Counter(test for lines in self._by_file.values() for tests in lines.values() for test in tests)
        self._weight = {test: many[test] * (1 + seconds) for test, seconds in took.items()}

    def tests(self, mutant: Mutant) -> Sequence[str]:
        """Return the tests of a fault's line; of what no test runs itself, a few of each line of its module."""
        lines = self._by_file[_named(file_of(mutant.module))]
        within = statement_of(mutant)
        if within is not None:
            # A part of a long expression may have no code of its own.
            found = set().union(*(lines[n] for n in lines if within[0] <= n <= within[1]))
            return self._sorted(found)
        if not any(lines.values()):
            # What a package says of itself is run by whoever loads one of its modules.
            package = _named(file_of(mutant.module).parent)
            mine = [each for file, each in self._by_file.items() if file.startswith(package)]
            return self._sorted({test for each in mine for tests in each.values() for test in self._sorted(tests)[:1]})
        return self._sorted({test for tests in lines.values() for test in self._sorted(tests)[:2]})

    def _sorted(self, tests: Collection[str]) -> Sequence[str]:
        def weigh(test: str) -> float:
            return self._weight.get(test, math.inf)

        seen = Counter[str]()
        place: dict[str, int] = {}
        for test in sorted(tests, key=weigh):
            file = test.split("::")[0]
            place[test] = seen[file]
            seen[file] += 1
        # Another file looks at it from another side.
        return sorted(tests, key=lambda test: (place[test], weigh(test)))


def _named(file: Path) -> str:
    return str(file.relative_to(ROOT))


def sample() -> Iterator[Mutant]:
    """Return the faults of the sample, always the same: a module by its lines, then one of its places."""
    files = [file for package in PACKAGES for file in sorted((SOURCES / "weftonos" / package).rglob("*.py"))]
    lines = [len(file.read_text(encoding="utf-8").splitlines()) for file in files]
    chance = random.Random(SEED)
    for file, at in [(chance.choices(files, lines)[0], chance.random()) for _ in range(SAMPLE)]:
        module = str(file.relative_to(SOURCES))[:-3].replace("/", ".")
        every = _places(module)
        first = int(at * len(every))
        # Where a fault means nothing the next one is taken.
        some = (fault_at(module, *place) for place in every[first:])
        if (fault := next((each for each in some if each), None)) is not None:
            yield fault


@lru_cache(None)
def _places(module: str) -> Sequence[tuple[str, int]]:
    return places(module)


def statement_of(mutant: Mutant) -> tuple[int, int] | None:
    """Return the lines of the smallest statement of a function that a fault lies in.

    Of one that holds others only its head counts. ``None`` for what is run when the module is loaded.
    """

    def within(body: Sequence[ast.stmt], inside: bool) -> tuple[int, int] | None:
        for node in body:
            first, last = node.lineno, node.end_lineno or node.lineno
            if first <= mutant.line <= last:
                inner = [
                    each
                    for name in ("body", "orelse", "finalbody", "handlers", "cases")
                    for part in getattr(node, name, [])
                    for each in (part.body if isinstance(part, ast.ExceptHandler | ast.match_case) else [part])
                ]
                deeper = within(inner, inside or isinstance(node, ast.FunctionDef))
                if deeper is not None or not inside:
                    return deeper
                # The head of a loop or a condition ends where what it holds begins.
                return first, min([last, *(max(first, each.lineno - 1) for each in inner)])
        return None

    return within(ast.parse(file_of(mutant.module).read_text("utf-8")).body, inside=False)


def noticed(mutant: Mutant, tests: Sequence[str]) -> bool:
    """Say whether a test fails against a fault; time that runs out proves nothing, nor that no test was found."""
    return run_against(mutant, [tests], SECONDS) not in (None, 0, 5)


def _try(mutant: Mutant, lines: Lines) -> dict[str, Any]:
    tests = lines.tests(mutant)
    said = {"module": mutant.module, "line": mutant.line, "before": mutant.before, "after": mutant.after}
    return {**said, "tests": len(tests), "noticed": bool(tests) and noticed(mutant, tests[:MOST_TESTS])}


def nobody_can_tell(fault: Mapping[str, Any]) -> Sequence[str]:
    """Return why nobody can tell a fault from the original; empty where somebody can."""
    return [why for held, why in NOBODY_CAN_TELL.items() if held in fault["before"]]


def main(minutes: float) -> None:
    """Go on with the sample for so many minutes, and say what stands."""
    import fastapi.testclient
    import hypothesis
    import pytest
    import scipy.special
    import scipy.stats
    import sqlalchemy.orm

    assert fastapi and hypothesis and pytest and scipy and sqlalchemy
    lines, kept, end = Lines(), KEPT / "mutant-sample.jsonl", time.monotonic() + 60 * minutes
    done = [json.loads(line) for line in kept.read_text("utf-8").splitlines()] if kept.exists() else []
    known = {(each["module"], each["line"], each["before"], each["after"]) for each in done}
    waiting = (m for m in sample() if (m.module, m.line, m.before, m.after) not in known)
    with ThreadPoolExecutor(CORES) as pool, kept.open("a", encoding="utf-8") as file:
        running = {pool.submit(_try, mutant, lines) for mutant, _ in zip(waiting, range(2 * CORES), strict=False)}
        while running:
            ready, running = wait(running, return_when=FIRST_COMPLETED)
            for each in ready:
                done.append(each.result())
                file.write(json.dumps(done[-1]) + "\n")
                file.flush()
                if time.monotonic() < end and (mutant := next(waiting, None)):
                    running.add(pool.submit(_try, mutant, lines))
    counted = [each for each in done if each["noticed"] or not nobody_can_tell(each)]
    for each in done:
        if not each["noticed"]:
            print(
                f"  {each['module']}:{each['line']} ({each['tests']} tests)",
                f"    - {each['before']}",
                f"    + {each['after']}",
                *(f"    nobody can tell: {why}" for why in nobody_can_tell(each)),
                sep="\n",
            )
    found = sum(each["noticed"] for each in counted)
    share = found / max(1, len(counted))
    print(f"{found} of {len(counted)} noticed, {share:.0%}; {len(done) - len(counted)} that nobody can tell.")
    print(f"The sample has {SAMPLE}.")


if __name__ == "__main__":
    if sys.argv[1:2] == ["note"]:
        note(sys.argv[2])
    else:
        main(float(sys.argv[1]) if sys.argv[1:] else 30)
