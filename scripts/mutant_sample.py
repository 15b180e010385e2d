"""`make mutant-sample`: a seeded sample of small faults over the program outside the estimators, and who notices.

The faults are those of `mutants.py`. Which tests run a function is noted once, test by test; a fault is tried against
those of its function, the most specific first. What is done is kept, so that it goes on where it was broken off: give
the minutes of a part as the argument.
"""

from __future__ import annotations

import ast
import json
import os
import random
import subprocess
import sys
import threading
import time
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from types import CodeType, FrameType
from typing import Any

from mutants import ROOT, SOURCES, Mutant, fault_at, places, run_against

PACKAGES = ("core/evidence", "stations", "learned", "store", "exchange", "http")
SAMPLE, SEED = 500, 27
#: Tests of a function that a fault in it is tried against, and the seconds they may take.
MOST_TESTS, SECONDS = 40, 120
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
    "thread_is_light=": "of a bundle, one thread says as well as another which half of the cloth to use",
    "why = pairing.reasons[": "each reason of a pairing explains it",
}
PACKAGE = str(SOURCES / "weftonos")


class Recorder:
    """Notes which functions of the program each test runs, and how long it takes."""

    def __init__(self) -> None:
        self.tests: dict[str, tuple[float, list[str]]] = {}
        self._ours: dict[CodeType, str] = {}
        self._run = set[CodeType]()

    def profile(self, frame: FrameType, event: str, _: object) -> None:
        """Note a call."""
        if event == "call":
            self._run.add(frame.f_code)

    def name(self, code: CodeType) -> str:
        """Return the module and function of a code object; empty for what is not ours."""
        if code not in self._ours:
            file = code.co_filename
            mine = file.startswith(PACKAGE)
            module = file[len(str(SOURCES)) + 1 : -3].replace("/", ".") if mine else ""
            self._ours[code] = f"{module}:{code.co_qualname.split('.<locals>')[0]}" if mine else ""
        return self._ours[code]

    def pytest_runtest_logstart(self, nodeid: str, location: object) -> None:
        """Begin a test."""
        self._run, self._begin = set(), time.perf_counter()
        threading.setprofile(self.profile)
        sys.setprofile(self.profile)

    def pytest_runtest_logfinish(self, nodeid: str, location: object) -> None:
        """End a test."""
        sys.setprofile(None)
        took = time.perf_counter() - self._begin
        self.tests[nodeid] = took, sorted({name for code in list(self._run) if (name := self.name(code))})


def note(half: str) -> None:
    """Note the tests of a half."""
    import pytest

    recorder = Recorder()
    pytest.main(["-q", "-p", "no:cacheprovider", "-p", "no:xdist", "--timeout", "0", *HALVES[half]], plugins=[recorder])
    KEPT.mkdir(exist_ok=True)
    (KEPT / f"tests-{half}.json").write_text(json.dumps(recorder.tests), encoding="utf-8")


def tests_by_function() -> Mapping[str, Sequence[str]]:
    """Return the tests that run each function, those that run fewest others and are quick first."""
    missing = [half for half in HALVES if not (KEPT / f"tests-{half}.json").exists()]
    for each in [subprocess.Popen([sys.executable, __file__, "note", half]) for half in missing]:
        each.wait()
    found: dict[str, list[tuple[float, str]]] = defaultdict(list)
    for half in HALVES:
        for test, (took, names) in json.loads((KEPT / f"tests-{half}.json").read_text(encoding="utf-8")).items():
            for name in names:
                found[name].append((len(names) * (1 + took), test))
    return {name: [test for _, test in sorted(tests)] for name, tests in found.items()}


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


def function_of(mutant: Mutant) -> str | None:
    """Return the function a fault lies in, with its class; ``None`` for what is run when the module is loaded."""

    def within(body: Sequence[ast.stmt], prefix: str) -> str | None:
        for node in body:
            if node.lineno <= mutant.line <= (node.end_lineno or node.lineno):
                if isinstance(node, ast.ClassDef):
                    return within(node.body, f"{prefix}{node.name}.")
                if isinstance(node, ast.FunctionDef):
                    return f"{prefix}{node.name}"
        return None

    return within(ast.parse((SOURCES / (mutant.module.replace(".", "/") + ".py")).read_text("utf-8")).body, "")


def noticed(mutant: Mutant, tests: Sequence[str]) -> bool:
    """Say whether a test fails against a fault; time that runs out proves nothing, nor that no test was found."""
    return run_against(mutant, [tests], SECONDS) not in (None, 0, 5)


def _try(mutant: Mutant, by_function: Mapping[str, Sequence[str]]) -> dict[str, Any]:
    name = function_of(mutant)
    if name is not None:
        tests = by_function.get(f"{mutant.module}:{name}", ())
    else:
        own = [t for key, each in by_function.items() if key.startswith(f"{mutant.module}:") for t in each[:4]]
        tests = list(dict.fromkeys(own))
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
    by_function, kept, end = tests_by_function(), KEPT / "mutant-sample.jsonl", time.monotonic() + 60 * minutes
    done = [json.loads(line) for line in kept.read_text("utf-8").splitlines()] if kept.exists() else []
    known = {(each["module"], each["line"], each["before"], each["after"]) for each in done}
    waiting = (m for m in sample() if (m.module, m.line, m.before, m.after) not in known)
    with ThreadPoolExecutor(os.cpu_count() or 1) as pool, kept.open("a", encoding="utf-8") as file:
        while time.monotonic() < end and (some := [m for m, _ in zip(waiting, range(8), strict=False)]):
            for said in pool.map(lambda mutant: _try(mutant, by_function), some):
                done.append(said)
                file.write(json.dumps(said) + "\n")
            file.flush()
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
