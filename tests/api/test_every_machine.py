"""What cannot be there is never mentioned: every kind of machine, every screen, list, walk, question and check.

What may not be said is a table of words written here, by the kinds of machine there are and not by the data that the
program reads. The screens of a seeded few are gone through; WEFTONOS_MACHINES says of how many.
"""

from __future__ import annotations

import itertools
import os
import random
import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import asdict
from typing import Any

import pytest
from pydantic import TypeAdapter
from sentences import ONE_OF_SEVERAL

from conftest import LIMPET, SALTMARSH, Workbench
from weftonos.core.needle.fitting import fitting_steps
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.knowledge import procedures, troubles

DIAL = {"kind": "dial", "low": 0, "high": 10, "step": 0.5}
TURNS = {"kind": "turns", "low": -4, "high": 4, "step": 0.25}
GAUGE_NUMBERS = {"kind": "readout", "low": 80, "high": 400, "step": 5}
DISPLAY = {"kind": "readout", "low": 0, "high": 9, "step": 0.5}
HEADS: tuple[dict[str, Any], ...] = (
    {"kind": "longarm", "on_frame": True},
    {"kind": "longarm", "on_frame": False},
    {"kind": "longarm"},
    {"kind": "home"},
)
BOBBINS: tuple[dict[str, Any], ...] = (
    {"removable_case": True, "has_gauge": True},
    {"removable_case": True, "has_gauge": True, "gauge_unit": None},
    {"removable_case": True, "has_gauge": False},
    {"removable_case": False},
    {"removable_case": None, "has_gauge": None},
)
#: What is said in each of these words is of something that the machine has not.
NEVER = {
    "frame": r"\bframes?\b|\brails?\b|\brollers?\b|channel lock|mid-frame|head rolls",
    "case": r"\bcases?\b|\bpalm\b|\bhang (it|test)|pigtail|clockwise|draw a 9|pull the gauge|gauge flutters"
    r"|loosen the bobbin\b(?!'s own)|turn the screw",
    "gauge": r"pull the gauge|gauge flutters|on the gauge|pulls on|read the case|read it again|\bread or feel\b"
    r"|\ba gauge tells|\bread the bobbin|bobbin has(n't| not) been read|before the bobbin is read|should read",
    "sensor": r"break sensor|false break alarm|tie-off",
    "regulator": r"regulat",
    "holes": r"guide holes?|hole guide|\bholes only|all three holes",
    "flat shank": r"six o'clock|thin pin",
    "table": r"light and table|gloves",
}
#: Words that look like one of these and are none.
BUT = (
    r"in (that|this|any) case|the stitch is its gauge|stitch is the gauge|from a bobbin in a case|the gauge of a bobbin"
)


def machines() -> Iterator[dict[str, Any]]:
    """Every kind of machine: head, bobbin, scale, shank, what else it has."""
    scales = {"longarm": (DIAL, TURNS, GAUGE_NUMBERS), "home": (DIAL, DISPLAY, TURNS)}
    for head, bobbin, shank, sensor, holes in itertools.product(
        HEADS, BOBBINS, ("round", "flat", None), (True, False, None), (0, 3)
    ):
        for scale in scales[head["kind"]][: 3 if sensor is None else 1]:
            more = {"shank": shank, "break_sensor": sensor, "regulator": sensor, "guide_holes": holes}
            yield {**head, **bobbin, **more, "scale": scale, "nickname": "Heron"}


def never_said(spec: Mapping[str, Any]) -> list[str]:
    """Return the names of the word groups that no screen of this machine may have."""
    longarm, drops_in = spec["kind"] == "longarm", spec.get("removable_case") is False
    framed = longarm and spec.get("on_frame") is not False
    shank = spec.get("shank") or ("round" if longarm else "flat")
    said = {
        "frame": not framed,
        "case": drops_in,
        "gauge": drops_in or spec.get("has_gauge") is False,
        "sensor": spec.get("break_sensor") is False or (spec.get("break_sensor") is None and not framed),
        "regulator": spec.get("regulator") is False or (spec.get("regulator") is None and not framed),
        "holes": not spec.get("guide_holes"),
        "flat shank": shank == "flat",
        "table": framed,
    }
    return [name for name, not_there in said.items() if not_there]


#: Fields whose texts are ids, choices of another screen, or people's own words.
UNREAD = {
    "id",
    "kind",
    "cause",
    "rule",
    "station",
    "drawing",
    "opens",
    "picture",
    "nickname",
    "features",
    "only",
    "needs",
}


def texts(answer: Any) -> Iterator[str]:
    """Every sentence of an answer."""
    if isinstance(answer, str):
        yield answer
    elif isinstance(answer, list):
        for each in answer:
            yield from texts(each)
    elif isinstance(answer, dict):
        for name, each in answer.items():
            if name not in UNREAD:
                yield from texts(each)


#: Threads that the trade has an advice of its own for.
NATURES: tuple[dict[str, Any], ...] = (
    {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"},
    {"fiber": "metallic", "construction": "film", "value": 40, "system": "wt"},
    {"fiber": "polyester", "construction": "monofilament", "value": 90, "system": "wt"},
    {"fiber": "cotton", "construction": "spun", "value": 8, "system": "wt"},
)

SCREENS = ("line", "thread", "needle", "readings", "balance", "run", "mend", "preflight", "upkeep", "practice")


def screens(bench: Workbench, machine: int) -> Iterator[tuple[str, Any]]:
    for screen in SCREENS:
        yield screen, bench.get(f"machines/{machine}/{screen}")
    yield "procedures", bench.get(f"words/procedures?machine={machine}")


def lines_that_jump(bench: Workbench, machine: int, scale: Mapping[str, float]) -> Iterator[Any]:
    """What Balance says of lines that nothing in the top can make: too loose and too tight in turn at two settings."""
    for n in range(6):
        bench.later(1)
        setting = scale["low"] + scale["step"] * (4 + n % 2)
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": (2, -2)[n // 2 % 2]})
        yield bench.get(f"machines/{machine}/balance?motion=free_motion")


#: Checks that a search goes through here; the sentences of all others are read from the knowledge itself.
CHECKS = 2


def everything_said(bench: Workbench, spec: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Go through an evening on a machine: nothing on it, set up, in trouble with each symptom."""
    machine = bench.post("machines", spec)["id"]
    empty = dict(screens(bench, machine))
    threads = [bench.post("threads", {"name": n, "thread": t})["id"] for n, t in (("A", SALTMARSH), ("B", LIMPET))]
    bench.post(f"machines/{machine}/top", {"top": threads[:1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": threads[1]})
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    said = [("empty " + name, answer) for name, answer in empty.items()]
    said += [("set up " + name, answer) for name, answer in screens(bench, machine)]
    said.append(("plan", bench.post(f"machines/{machine}/plan", {"top": threads[:1]})))
    for nature in NATURES:
        thread = bench.post("threads", {"name": nature["construction"], "thread": nature})["id"]
        bench.post(f"machines/{machine}/top", {"top": [thread]})
        of_it = (("line", "line"), ("needle", "needle"), ("balance", "balance?motion=free_motion"))
        said += [(f"{name} {nature}", bench.get(f"machines/{machine}/{path}")) for name, path in of_it]
        said.append((f"plan {nature}", bench.post(f"machines/{machine}/plan", {"top": [thread]})))
    bench.post(f"machines/{machine}/top", {"top": threads[:1]})
    said += [(f"jumping lines {n}", answer) for n, answer in enumerate(lines_that_jump(bench, machine, spec["scale"]))]
    for symptom in empty["mend"]["symptoms"]:
        bench.post(f"machines/{machine}/incidents", {"symptoms": [symptom["id"]]})
        said.append(("line in trouble", bench.get(f"machines/{machine}/line")))
        for _ in range(CHECKS):
            station = bench.get(f"machines/{machine}/mend")
            said.append((f"mend {symptom['id']}", station))
            incident = station["incident"]["id"]
            bench.later(1)
            checked = {"cause": station["diagnosis"]["next"]["cause"], "answer": "not_it"}
            bench.post(f"incidents/{incident}/checks", checked)
        bench.post(f"incidents/{incident}/outcome", {"outcome": "left"})
    for screen, answer in said:
        for text in texts(answer):
            yield screen, text


def known_of(machine: Machine) -> Iterator[tuple[str, str]]:
    """Every sentence of the data for a machine, whatever the situation: troubles, walks, help, words, path."""
    has = machine.features
    known = troubles().at(has)
    for cause in known.causes:
        for text in (cause.name, cause.check, cause.how, cause.cure):
            yield f"cause {cause.id}", text
    yield from ((f"trap {trap.id}", trap.text) for trap in known.traps)
    for name, finding in known.findings.items():
        for text in (finding.name, finding.ask):
            yield f"finding {name}", text
    yield from (("procedures", text) for text in texts(asdict(procedures().at(has))))
    yield from (("path", text) for point in machine.thread_path for text in texts(asdict(point)))
    yield from (("fitting", step) for step in fitting_steps(machine.takes_shank))
    yield from (("missing", text) for text in Setup().lacking(has))


def wrong_among(spec: Mapping[str, Any], said: Iterable[tuple[str, str]]) -> set[tuple[str, str, str]]:
    """Return what is said of something that the machine has not: group, screen, sentence."""
    groups = never_said(spec)
    return {
        (group, screen, text)
        for screen, text in said
        for group in groups
        if re.search(NEVER[group], re.sub(BUT, "", text.lower()))
    }


ALL = list(machines())
PART = random.Random(29).sample(ALL, int(os.environ.get("WEFTONOS_MACHINES", "5")))


def test_there_are_enough_kinds():
    assert len(ALL) >= 400


def test_no_data_speaks_of_what_cannot_be_there():
    read = TypeAdapter(Machine).validate_python
    wrong = set().union(*(wrong_among(spec, known_of(read(spec))) for spec in ALL))
    assert wrong == set()


@pytest.mark.parametrize("spec", PART, ids=lambda spec: "-".join(str(v) for v in list(spec.values())[:4]))
def test_no_screen_speaks_of_what_cannot_be_there(bench, spec):
    said = list(everything_said(bench, spec))
    assert wrong_among(spec, said) == set()
    assert [text for _, text in said if ONE_OF_SEVERAL.search(text)] == []
