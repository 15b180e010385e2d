"""What the program says, through its own API: the same hand at the same machine, told what to do next."""

from __future__ import annotations

import tempfile
from collections.abc import Set
from datetime import UTC, datetime, timedelta
from pathlib import Path
from types import TracebackType
from typing import Any, Self

from fastapi.testclient import TestClient

from season.life import (
    BELOWS,
    CHANGE_NEEDLE,
    HANG,
    PULL_THREE,
    TAP,
    TOPS,
    TURN_SCREW,
    AtTheMachine,
    Shop,
)
from weftonos.api.app import create_app
from weftonos.runtime.settings import Settings

MOST_LOOKS, MOST_CHECKS = 8, 45
#: Whose thread broke once more looks at so much before sewing on.
CHECKS_AT_A_BREAK = 3
METERS_AN_HOUR = {"longarm": 55.0, "home": 35.0}
_APP = create_app(Settings())


class ByProgram(AtTheMachine):
    """Somebody who puts in what is seen and does what is said."""

    def __init__(self, season: Shop) -> None:
        super().__init__(season)
        self._folder = tempfile.TemporaryDirectory()
        self.now = datetime(2026, 1, 5, 9, tzinfo=UTC)
        self.noted = 0.0
        self.on: set[tuple[str, object]] = set()
        _APP.state.data_dir, _APP.state.clock = Path(self._folder.name), lambda: self.now
        self.client = TestClient(_APP, base_url="http://127.0.0.1")

    def __enter__(self) -> Self:
        self.client.__enter__()
        home = self.shop.head == "home"
        scale = self.shop.scale
        self.post(
            "machines",
            {
                "nickname": "Wren" if home else "Heron",
                "kind": self.shop.head,
                **({} if home else {"throat_in": 24}),
                "has_gauge": self.shop.gauge,
                "scale": {
                    "kind": "dial" if home else "readout",
                    "low": scale.low,
                    "high": scale.high,
                    "step": scale.step,
                },
            },
        )
        drawer = [
            self.post("threads", {"name": yarn.name, "thread": self.label(n, yarn)})["id"]
            for n, yarn in enumerate((*TOPS, *BELOWS))
        ]
        self.tops, self.belows = drawer[: len(TOPS)], drawer[len(TOPS) :]
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        self.client.__exit__(kind, error, at)
        self._folder.cleanup()

    def get(self, path: str) -> Any:
        """Ask; looking costs nothing."""
        answer = self.client.get(f"/api/{path}")
        assert answer.status_code == 200, (path, answer.text)
        return answer.json()

    def _go_on(self) -> None:
        """Let the clock go on by what was done since something was last put in."""
        done = self.ledger.lost
        self.now += timedelta(minutes=max(1 / 60, done - self.noted))
        self.noted = done

    def post(self, path: str, body: Any = None) -> Any:
        """Put something in, as late as it was done."""
        self._go_on()
        answer = self.client.post(f"/api/{path}", json=body)
        assert answer.status_code in (200, 201), (path, body, answer.text)
        return answer.json()

    def put(self, path: str, body: Any) -> None:
        """Correct something."""
        self._go_on()
        answer = self.client.put(f"/api/{path}", json=body)
        assert answer.status_code == 200, (path, body, answer.text)

    def tell(self, path: str, body: Any = None) -> Any:
        """Put something in at the machine, which takes a tap's time."""
        self.ledger.tests += TAP
        return self.post(f"machines/1/{path}", body)

    # The season -------------------------------------------------------------------------------------------------

    def set_up(self) -> None:
        """Put in what goes on, then do what each knot of the line says."""
        self.now += timedelta(hours=20)
        self.tried: set[str] = set()
        loft = {1.5: "low", 2.5: "medium", 4.0: "lofty"}[self.quilt.cloth.thickness_mm]
        # What stays on is not put in again; a new bobbin is.
        if (laid := ("sandwich", loft)) not in self.on:
            self.tell("sandwich", {"loft": loft})
        if (top := ("top", self.tops[self.quilt.top])) not in self.on:
            self.tell("top", {"top": [top[1]]})
        self.on = {laid, top}
        self.tell("bobbin", {"bobbin": self.belows[self.quilt.below]})
        self._needle()
        self._bobbin()
        self._balance()

    def _knot(self, station: str) -> dict[str, Any]:
        found: dict[str, Any] = next(k for k in self.get("machines/1/line")["knots"] if k["station"] == station)
        return found

    def _needle(self) -> None:
        knot = self._knot("needle")
        # What is in is noted, not changed; nearly due is not yet due.
        if knot["fact"] == "note the needle":
            needle = self.machine.needle
            self._fitted({"metric": needle.metric, "american": _AMERICAN[needle.metric], "point": needle.point})
            knot = self._knot("needle")
        if knot["state"] == "ready" or "nearly" in knot["fact"]:
            return
        best = self.get("machines/1/needle")["pairing"]["recommended"]
        self.ledger.tests += CHANGE_NEEDLE
        self.put_needle_in(best["metric"], best["point"])
        self._fitted(best)

    def _fitted(self, needle: dict[str, Any]) -> None:
        body = {"metric": needle["metric"], "american": needle["american"], "point": needle["point"]}
        self.tell("needle", body)

    def _tell_of_needle(self, cause: str) -> None:
        """Put in the needle that a check has changed, if it was that check."""
        if cause == "needle_dull_burred_bent":
            needle = self.machine.needle
            self._fitted({"metric": needle.metric, "american": _AMERICAN[needle.metric], "point": needle.point})

    def _bobbin(self) -> None:
        for _ in range(4):
            if self._knot("bobbin")["state"] == "ready":
                return
            if not self.shop.gauge:
                self._by_hand()
                return
            if first := self.get("machines/1/readings")["turn_first"]:
                self._turn(first["advice"])
                if first["unread"]:
                    return
            self.ledger.tests += PULL_THREE
            pulls = [{"low": round(low, 1), "high": round(high, 1)} for low, high in self.gauge()]
            found = self.post("machines/1/readings/judge", {"unit": "mN", "pulls": pulls})
            self.tell("readings", {"unit": "mN", "pulls": pulls})
            if not (advice := found["advice"]):
                return
            self._turn(advice)

    def _turn(self, advice: dict[str, Any]) -> None:
        self._turn_by(advice["minutes"] * (1 if advice["direction"] == "tighten" else -1))

    def _turn_by(self, minutes: float) -> None:
        """Turn the screw, above 0 in, and put it in."""
        if minutes:
            self.machine.turn_screw(minutes)
            self.ledger.tests += TURN_SCREW
            self.tell("screw", {"minutes": minutes})

    def _by_hand(self) -> None:
        if learned := self.get("machines/1/readings")["turn_by_hand"]:
            self._turn_by(learned["minutes"])
            if learned["unread"]:
                return
        for _ in range(4):
            self.ledger.tests += HANG
            ratio = self.hang() / self.usual_below
            feel = "right" if 0.8 <= ratio <= 1.25 else "loose" if ratio < 1 else "tight"
            self.tell("hand-looks", {"test": "hang", "feel": feel})
            if feel == "right":
                return
            off = self.get("machines/1/readings")["felt_off"]
            if off["then"] == "leave":
                return
            if off["then"] == "turn":
                self._turn_by(5 if feel == "loose" else -5)

    def _balance(self) -> None:
        looks = 0
        while True:
            says = self.get("machines/1/balance?motion=free_motion")
            found = says["estimate"]
            settled = found["sure"] or says["skip_says"]
            if settled or looks == MOST_LOOKS:
                break
            looks += 1
            grade = self.look(found["act_at"])
            self.tell("looks", {"setting": self.machine.setting, "grade": grade})
        setting = found["act_at"] if settled else found["set_to"]
        self.machine.setting = self.shop.scale.snap(setting)

    def wrong_setting(self) -> None:
        """Put in what is seen, and go on as told."""
        grade = self.look(self.machine.setting)
        self.tell("looks", {"setting": self.machine.setting, "grade": grade})
        self._balance()

    def sewn(self, meters: float, broke: str) -> None:
        """Note the run, and a break in one tap."""
        minutes = max(0.2, 60 * meters / METERS_AN_HOUR[self.shop.head])
        self.now += timedelta(minutes=minutes)
        self.post(
            "machines/1/runs",
            {"minutes": round(minutes, 2), "meters": round(max(meters, 0.1), 1), "quilt": f"Quilt {self.number}"},
        )
        if broke:
            self.ledger.troubles += TAP
            self.post("machines/1/breaks", {"symptom": _as_tapped(broke)})

    def broke(self, look: str) -> None:
        """Do what Run says of a break: sew on, or make its first move; after that look for the cause a while."""
        look = _as_tapped(look)
        last = self.get("machines/1/breaks")["last"]
        if last is None:
            return
        lead = last["lead"]
        if lead["sew_on"]:
            return
        if lead["first"] and lead["first"]["cause"] not in self.tried:
            first = lead["first"]["cause"]
            self.tried.add(first)
            self.ledger.troubles += self.knowledge.cause(first).minutes
            self.check(first)
            self._tell_of_needle(first)
            return
        tests = self.ledger.tests
        self._search(self.still_wrong() | {look}, set(), CHECKS_AT_A_BREAK, self.tried)
        self.ledger.troubles += self.ledger.tests - tests
        self.ledger.tests = tests

    def mend(self, symptoms: set[str], signs: set[str]) -> None:
        """Say what is seen; answer what is asked, check what comes next, until it runs."""
        tests = self.ledger.tests
        left: set[str] | None = set(symptoms)
        for _ in range(4):
            left = self._search(left, signs) if left else left
        if left is None or left:
            self.hand_over()
        # What was put in on the way is time lost to the trouble.
        self.ledger.troubles += self.ledger.tests - tests
        self.ledger.tests = tests

    def _search(
        self, symptoms: set[str], signs: set[str], most: int = MOST_CHECKS, made: Set[str] = frozenset()
    ) -> set[str] | None:
        """Look for one cause and prove its cure with a line; say what is still wrong then, ``None`` if none is found.

        A cure after which all is as before has cured nothing: it is said, and the search goes on. Where a test line
        would take longer than it should save, one sews on, and sees on the quilt what is still wrong. It ends after
        ``most`` checks; those ``made`` a moment ago are answered without making them.
        """
        says = self.get("machines/1/mend")
        told = symptoms & {s["id"] for s in says["symptoms"]}
        if not told:
            return None
        changed = [c["id"] for c in says["changes"] if c["changed"] or c["id"] in signs]
        # As the screen fills it in: what the records can tell and did not see change.
        unchanged = [c["id"] for c in says["changes"] if c["recorded"] and c["id"] not in changed]
        seen = {"symptoms": _not_both(told), "changed": changed, "unchanged": unchanged}
        incident = self.tell("incidents", seen)["id"]
        seen_after = count = 0
        while count < most:
            says = self.get("machines/1/mend")
            if says["look_again"] and len(says["steps"]) != seen_after:
                seen_after = len(says["steps"])
                left = self.still_wrong()
                if not left:
                    # Nothing of it is to be seen any more: one sews on.
                    self.ledger.tests += TAP
                    self.post(f"incidents/{incident}/outcome", {"outcome": "left", "cleared": True})
                    return left
                symptoms = symptoms | left
                anew = _not_both(symptoms & {s["id"] for s in says["symptoms"]})
                self.ledger.tests += TAP
                self.put(f"incidents/{incident}", {**seen, "symptoms": anew})
                continue
            diagnosis = says["diagnosis"]
            if says["stage"] != "look" or diagnosis is None:
                self.post(f"incidents/{incident}/outcome", {"outcome": "left"})
                return None
            if question := diagnosis["question"]:
                finding = question["finding"]
                self.ledger.tests += TAP
                self.post(f"incidents/{incident}/answers", {"finding": finding, "present": finding in signs | symptoms})
                continue
            step = diagnosis["next"]
            if step["cause"] in made and not step["again"]:
                said = {"cause": step["cause"], "answer": "not_it", "again": False}
                self.post(f"incidents/{incident}/checks", said)
                continue
            count += 1
            # It takes what it takes, whatever the program makes of one's own minutes.
            self.ledger.tests += self.knowledge.cause(step["cause"]).minutes + TAP
            found = self.check(step["cause"])
            answer = "found" if found else "not_it"
            said = {"cause": step["cause"], "answer": answer, "again": step["again"]}
            self.post(f"incidents/{incident}/checks", said)
            self._tell_of_needle(step["cause"])
            if found:
                if step["cause"].startswith(("top_too", "bobbin_too")):
                    self._bobbin()
                    self._balance()
                proof = self.get("machines/1/mend")["proof"]
                if proof and not proof["pays"]:
                    self.ledger.tests += TAP
                    self.post(f"incidents/{incident}/outcome", {"outcome": "cured", "tested": False})
                    return self.sewn_on()
                left = self.still_wrong()
                cured = not told <= left
                self.ledger.tests += TAP
                self.post(f"incidents/{incident}/outcome", {"outcome": "cured" if cured else "not_cured"})
                if cured:
                    return left
        self.post(f"incidents/{incident}/outcome", {"outcome": "left"})
        return None


def _not_both(symptoms: set[str]) -> list[str]:
    """Return what may be told together: an end is fuzzy or cut clean."""
    both = {"frays_above_the_eye", "clean_snap_of_the_top_thread"} <= symptoms
    return sorted(symptoms - ({"clean_snap_of_the_top_thread"} if both else set()))


def _as_tapped(look: str) -> str:
    """Return which of the three taps a break is noted by: what melts is seen as a snap."""
    return look if look != "thread_melts_or_curls" else "clean_snap_of_the_top_thread"


_AMERICAN = {60: 8, 65: 9, 70: 10, 75: 11, 80: 12, 90: 14, 100: 16, 110: 18, 125: 20}
