"""Random evenings, compared with a second reading of the log that is written as plainly as a notebook is read.

Records are noted, back-dated, corrected, deleted and put back, threads renamed, and copies put back in their place.
After every step the pages have to say what somebody would find who reads the log from its first line to its last.
"""

from __future__ import annotations

import os
from collections import defaultdict
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from conftest import HERON, LIMPET, SALTMARSH, Workbench

QUILTS = ("Avocet", "Dunlin", "Knot")
PICK = st.integers(0, 10_000)


def read_plainly(entries: list[dict[str, Any]]) -> dict[str, Any]:
    """Say what is on the machine and what was stitched, from the log as it is listed."""
    found: dict[str, Any] = dict.fromkeys(("top", "bobbin", "needle", "reading", "knob", "quilt"))
    hours: defaultdict[str, float] = defaultdict(float)
    taken = 0
    for entry in sorted(entries, key=lambda e: (e["at"], e["id"])):
        said = entry["payload"]
        if entry["struck_at"]:
            continue
        match said["kind"]:
            case "top_threaded":
                found["top"] = said["top"]
            case "bobbin_loaded":
                found |= {"bobbin": said["bobbin"], "reading": None}
            case "bobbin_reading":
                found["reading"] = round(said["mean_mn"], 6)
            case "screw_turned":
                found["reading"] = None
            case "needle_fitted":
                found["needle"] = said["metric"]
                taken += said["packet"] is not None
            case "needle_retired":
                found["needle"] = None
            case "look" | "knob_set":
                found["knob"] = said["setting"]
            case "quilt_on":
                found["quilt"] = said["quilt"]
            case "run":
                found["quilt"] = said["quilt"] or found["quilt"]
                hours[found["quilt"]] += said["minutes"] / 60
    hours.pop(None, None)
    return {**found, "hours": {quilt: round(h, 6) for quilt, h in hours.items()}, "taken": taken}


class Evenings(RuleBasedStateMachine):
    """One machine, two threads, a packet of needles, and whatever somebody does with them."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = TemporaryDirectory()
        self.bench = Workbench(Path(self.folder.name))
        self.bench.client.__enter__()
        post = self.bench.post
        self.machine = post("machines", HERON)["id"]
        self.threads = [post("threads", {"name": n, "thread": t})["id"] for n, t in (("A", SALTMARSH), ("B", LIMPET))]
        self.packet = post("needles", {"metric": 90, "american": 14, "point": "sharp", "bought": 1000})
        self.copies: list[str] = []

    def teardown(self) -> None:
        self.bench.client.__exit__(None, None, None)
        self.folder.cleanup()

    def log(self) -> list[dict[str, Any]]:
        return self.bench.get("log?limit=200")["entries"]

    def note(self, path: str, body: dict[str, Any]) -> None:
        self.bench.later(1)
        answer = self.bench.client.post(f"/api/machines/{self.machine}/{path}", json=body)
        # Some things need others first; what is refused is not written.
        assert answer.status_code in (201, 422), answer.text

    @rule(thread=PICK)
    def threads_the_top(self, thread: int) -> None:
        self.note("top", {"top": [self.threads[thread % 2]]})

    @rule(thread=PICK)
    def loads_a_bobbin(self, thread: int) -> None:
        self.note("bobbin", {"bobbin": self.threads[thread % 2]})

    @rule(mn=st.sampled_from([180, 205, 240]))
    def reads_it(self, mn: int) -> None:
        self.note("readings", {"unit": "mN", "pulls": [{"value": mn}, {"value": mn + 2}]})

    @rule()
    def turns_the_screw(self) -> None:
        self.note("screw", {"minutes": 5})

    @rule(metric=st.sampled_from([(90, 14), (100, 16)]), out_of_packet=st.booleans())
    def fits_a_needle(self, metric: tuple[int, int], out_of_packet: bool) -> None:
        packet = self.packet if out_of_packet and metric[0] == 90 else None
        self.note("needle", {"metric": metric[0], "american": metric[1], "point": "sharp", "packet": packet})

    @rule()
    def takes_the_needle_out(self) -> None:
        self.note("needle/retire", {"why": "dull_sound"})

    @rule(setting=st.sampled_from([180, 200, 230]), grade=st.integers(-1, 1))
    def judges_a_line(self, setting: int, grade: int) -> None:
        self.note("looks", {"setting": setting, "grade": grade})

    @rule(quilt=st.sampled_from(QUILTS))
    def puts_a_quilt_on(self, quilt: str) -> None:
        self.note("quilt", {"quilt": quilt})

    @rule(minutes=st.sampled_from([5, 30, 90]), quilt=st.sampled_from(["", *QUILTS]))
    def stitches(self, minutes: int, quilt: str) -> None:
        self.note("runs", {"minutes": minutes, "quilt": quilt})

    @precondition(lambda self: self.log())
    @rule(which=PICK)
    def deletes_or_puts_back(self, which: int) -> None:
        entry = self.log()[which % len(self.log())]
        self.bench.post(f"log/{entry['id']}/{'restore' if entry['struck_at'] else 'strike'}")

    @precondition(lambda self: self.log())
    @rule(which=PICK, to=PICK, minutes=st.sampled_from([7, 45]))
    def corrects_or_back_dates(self, which: int, to: int, minutes: int) -> None:
        entries = self.log()
        entry, at = entries[which % len(entries)], entries[to % len(entries)]["at"]
        said = dict(entry["payload"])
        if said["kind"] == "run":
            said["minutes"] = minutes
        answer = self.bench.client.put(f"/api/log/{entry['id']}", json={"payload": said, "at": at})
        assert answer.status_code in (200, 422), answer.text

    @rule(thread=PICK)
    def renames_a_thread(self, thread: int) -> None:
        number = self.threads[thread % 2]
        item = next(item for item in self.bench.get("threads")["items"] if item["id"] == number)
        spec = {**item["spec"], "name": item["spec"]["name"][:1] + str(thread)}
        assert self.bench.client.put(f"/api/threads/{number}", json=spec).status_code == 200

    @rule()
    def makes_a_copy(self) -> None:
        self.bench.later(1)
        self.copies.append(self.bench.post("workshop/copies")["name"])

    @precondition(lambda self: self.copies)
    @rule(which=PICK)
    def goes_back_to_a_copy(self, which: int) -> None:
        self.bench.later(1)
        self.bench.post(f"workshop/copies/{self.copies[which % len(self.copies)]}/restore")

    @invariant()
    def the_pages_say_what_the_log_says(self) -> None:
        plain = read_plainly(self.log())
        setup = self.bench.get(f"machines/{self.machine}/line")["setup"]
        assert ([t["id"] for t in setup["top"]] or None) == plain["top"]
        assert (setup["bobbin"] and setup["bobbin"]["id"]) == plain["bobbin"]
        assert (setup["needle"] and setup["needle"]["metric"]) == plain["needle"]
        assert (setup["reading"] and round(setup["reading"]["mean_mn"], 6)) == plain["reading"]
        assert (setup["knob"] and setup["knob"]["setting"]) == plain["knob"]
        assert (setup["quilt"] or None) == plain["quilt"]
        totals = {quilt["name"]: round(quilt["hours"], 6) for quilt in self.bench.get("quilts") if quilt["hours"]}
        assert totals == {quilt: hours for quilt, hours in plain["hours"].items() if hours}
        for quilt, hours in totals.items():
            assert round(self.bench.get(f"quilt?name={quilt}")["hours"], 6) == hours
        (packet,) = self.bench.get(f"machines/{self.machine}/needles")["packets"]
        assert packet["left"] == 1000 - plain["taken"]


TestEvenings = pytest.mark.timeout(3600)(Evenings.TestCase)
TestEvenings.settings = settings(
    max_examples=int(os.environ.get("WEFTONOS_EVENINGS", "6")),
    stateful_step_count=25,
    deadline=None,
    suppress_health_check=list(HealthCheck),
)
