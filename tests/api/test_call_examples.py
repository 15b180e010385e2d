"""Every call is described and has an example, and the examples work, one after the other, on an empty workshop."""

from __future__ import annotations

import os
import re
import time
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.api.app import create_app
from weftonos.api.examples import CallExample, examples
from weftonos.runtime.settings import Settings
from weftonos.store.archive import how_many
from weftonos.store.database import reading
from weftonos.store.models import RecordRow

#: So many send one write at once; ``make torture`` lets it be fifty.
AT_ONCE = int(os.environ.get("WEFTONOS_AT_ONCE", "12"))
#: What streams for ever, what starts a process of its own, and what is no call of a program.
NOT_PLAYED = {"GET /api/changes", "POST /api/workshop/example"}


def open_app(folder: Path) -> TestClient:
    return TestClient(create_app(Settings(data_dir=folder)), base_url="http://127.0.0.1")


class Player:
    """Plays examples, and keeps what later paths are made of."""

    def __init__(self, client: TestClient) -> None:
        self.client = client
        self.known: dict[str, Any] = {}

    def play(self, example: CallExample, key: str = "", headers: Mapping[str, str] | None = None) -> Any:
        method = example.call.split(" ")[0]
        said: dict[str, Any] = {"params": example.query}
        if example.body is not None:
            said["json"] = example.body
        if example.content is not None:
            said["content"] = example.content
        headers = {**(headers or {}), **({"idempotency-key": key} if key else {})}
        return self.client.request(method, example.address(self.known), headers=headers, **said)

    def learn(self, example: CallExample, answer: Any) -> None:
        for name, field in example.keep.items():
            self.known[name] = answer.json()[field]
        if "job_id" in example.keep:
            self.until_done()

    def play_all_but(self, *aside: str) -> None:
        """Play every example in its order but those whose call holds one of these words."""
        for example in examples():
            if not any(word in example.call for word in aside):
                self.learn(example, self.play(example))

    def until_done(self) -> None:
        path = f"/api/exchange/jobs/{self.known['job_id']}"
        while (state := self.client.get(path).json())["state"] == "running":
            time.sleep(0.02)
        assert state["state"] == "done", state


def all_calls(client: TestClient) -> dict[str, Any]:
    paths = client.get("/api/openapi.json").json()["paths"]
    return {f"{method.upper()} {path}": op for path, methods in paths.items() for method, op in methods.items()}


def test_every_call_is_described_and_its_example_works(tmp_path: Path):
    with open_app(tmp_path) as client:
        calls = all_calls(client)
        player, played = Player(client), set()
        for example in examples():
            answer = player.play(example)
            assert answer.status_code < 300, (example.call, answer.text[:300])
            player.learn(example, answer)
            played.add(example.call)
        for call in calls.keys() - played - NOT_PLAYED:
            # What is not listed needs no more than its path.
            assert "requestBody" not in calls[call], f"{call} needs an example"
            answer = player.play(CallExample(call=call))
            assert answer.status_code < 300, (call, answer.text[:300])
        assert played <= calls.keys(), "no example of a call that is gone"
        for call, operation in calls.items():
            assert len(operation.get("description", "")) > 10, call
            for parameter in operation.get("parameters", ()):
                if parameter["in"] == "path" or parameter.get("required"):
                    assert "example" in parameter, (call, parameter["name"])
            for media in operation.get("requestBody", {}).get("content", {}).values():
                assert "example" in media, call


def test_many_at_once_are_one_record_for_every_write(tmp_path: Path):
    """A write with a key, sent many times at once, is written once: all writes of the interface in turn."""
    with open_app(tmp_path) as client, ThreadPoolExecutor(AT_ONCE) as crowd:
        player, writes = Player(client), 0
        for number, example in enumerate(examples()):
            method, path = example.call.split(" ")
            # What only asks, and long work, whose outcome is a file or an import: those are asked for once.
            asks = method == "GET" or re.search(r"/(compute|gauge|exchange|workshop)/|judge|plan|ladder$|left$", path)
            if asks or path.endswith(("/wish", "/together", "/read-label", "/cross-swap")):
                answer = player.play(example)
                player.learn(example, answer)
                continue
            before = counted(client)
            answers = list(crowd.map(lambda _: player.play(example, f"key-of-{number:04}"), range(AT_ONCE)))  # noqa: B023
            assert {answer.status_code for answer in answers} <= {200, 201}, (example.call, answers[0].text)
            assert len({answer.text for answer in answers}) == 1, example.call
            changed = [after - was for after, was in zip(counted(client), before, strict=True)]
            assert sum(map(abs, changed[:5])) <= 1, (example.call, changed)
            # A plan sewn in two steps is two looks; a recipe put back is as many records as moves.
            assert changed[5] <= (8 if re.search("ladders|done|breaks", path) else 1), (example.call, changed)
            player.learn(example, answers[0])
            writes += 1
        assert writes > 45


def new_records(client: TestClient, after: int) -> list[tuple[int, datetime]]:
    with Session(reading(client.app.state.engine)) as session:
        rows = session.execute(select(RecordRow.id, RecordRow.at).where(RecordRow.id > after).order_by(RecordRow.id))
        return [(number, at) for number, at in rows.tuples()]


@pytest.mark.parametrize("sent_by", ["this version", "the version before"])
def test_what_waited_lands_when_it_was_done_and_an_unknown_field_is_refused(tmp_path: Path, sent_by: str):
    """Every record of the interface, sent ten minutes late, by a tablet whose clock is a day slow."""
    with open_app(tmp_path) as client:
        player, last, late, refused = Player(client), 0, 0, 0
        began = datetime.now(UTC) - timedelta(hours=1)
        for number, example in enumerate(examples()):
            done = began + timedelta(seconds=20 * number)
            slow = timedelta(days=1)
            headers = {
                "done-at": (done - slow).isoformat(),
                "sent-at": (datetime.now(UTC) - slow).isoformat(),
            }
            body = example.body
            plain = isinstance(body, dict) and not example.content
            if plain:
                answer = player.play(replace(example, body={**body, "nobody_knows": 1}))
                assert answer.status_code == 422, (example.call, answer.text)
                assert "nobody_knows" in answer.text, answer.text
                refused += 1
            if sent_by == "the version before":
                # It put the moment into the body, wherever no moment stood there.
                headers = {}
                if plain and not body.get("at"):
                    example = replace(example, body={**body, "at": done.isoformat()})
            answer = player.play(example, headers=headers)
            assert answer.status_code < 300, (example.call, answer.text[:300])
            player.learn(example, answer)
            for number_of_it, at in new_records(client, last):
                last = number_of_it
                if isinstance(body, dict) and "at" in body and sent_by == "the version before":
                    continue
                if body is None and sent_by == "the version before":
                    continue
                if re.match(r"POST /api/(machines/\{machine_id\}|incidents)/", example.call):
                    assert abs(at - done) < timedelta(seconds=5), example.call
                    late += 1
        assert late > 30
        assert refused > 60


def counted(client: TestClient) -> list[int]:
    """How many rows there are of each thing."""
    with Session(reading(client.app.state.engine)) as session:
        return list(how_many(session).values())


def test_the_reference_is_served_without_the_network(tmp_path: Path):
    with open_app(tmp_path) as client:
        page = client.get("/reference")
        if page.status_code == 503:
            pytest.skip("the pages are not built")
        assert "http" not in re.sub(r"http-equiv|<!doctype html>", "", page.text), "nothing from elsewhere"
        for address in re.findall(r'(?:src|href)="(/reference/[^"]+)"', page.text):
            assert client.get(address).status_code == 200, address
        assert "script>" not in page.text.replace("></script>", ""), "no script within the page"
