"""Who is let in from the local network, what a request may hold, one server a workshop, sentences for what fails."""

from __future__ import annotations

import base64
import html
import os
import re
import signal
import socket
import stat
import subprocess
import sys
import time
from pathlib import Path
from urllib.parse import unquote

import pytest
from fastapi.testclient import TestClient
from starlette.responses import PlainTextResponse
from typer.testing import CliRunner

from browser import free_port, server
from weftonos import cli
from weftonos.http.guard import LARGEST_BODY, MOST_ITEMS, Guard
from weftonos.http.passcode import ACCESS_NAME, WRONG_EACH, WRONG_IN_ALL, Doorkeeper, new_passcode
from weftonos.runtime import running
from weftonos.runtime.logs import log, log_to
from weftonos.runtime.settings import Settings
from weftonos.store.file_errors import ExitCode, WorkshopFileError

OPEN = Settings(host="0.0.0.0", passcode="heron-plover")


async def inside(scope, receive, send):
    message = await receive()
    await PlainTextResponse(f"in with {len(message.get('body', b''))}")(scope, receive, send)


def stranger(keeper: Doorkeeper | None = None, address: str = "192.0.2.7") -> TestClient:
    guard = Guard(inside, OPEN, keeper or Doorkeeper("heron-plover"))
    return TestClient(guard, base_url="http://192.0.2.1:8741", client=(address, 50_000), follow_redirects=False)


def test_the_passcode_opens_a_session_that_no_script_can_read():
    client = stranger()
    asked = client.get("/1/needle", headers={"accept": "text/html"})
    assert asked.status_code == 401
    assert '<label for="code">' in asked.text
    assert "<script" not in asked.text
    wrong = client.post("/passcode", data={"code": "curlew"})
    assert (wrong.status_code, "not the passcode" in wrong.text) == (401, True)
    right = client.post("/passcode", data={"code": "heron-plover"})
    assert right.status_code == 303
    cookie = right.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=strict" in cookie
    assert client.get("/api/machines").text.startswith("in with")
    assert stranger().get("/api/machines").status_code == 401


def basic(passcode: str) -> dict[str, str]:
    return {"authorization": "Basic " + base64.b64encode(f":{passcode}".encode()).decode()}


def test_right_answers_cost_nothing():
    keeper = Doorkeeper("heron-plover")
    script, tablet = stranger(keeper), stranger(keeper)
    answers = {script.get("/api/machines", headers=basic("heron-plover")).status_code for _ in range(60)}
    assert answers == {200}
    assert tablet.post("/passcode", data={"code": "heron-plover"}).status_code == 303


def test_past_a_hundred_wrong_guesses_only_who_was_never_in_is_refused():
    time = [1e9]
    keeper = Doorkeeper("heron-plover", clock=lambda: time[0])
    tablet = stranger(keeper, "192.0.2.7")
    assert tablet.post("/passcode", data={"code": "heron-plover"}).status_code == 303
    tablet.cookies.clear()
    looked_at = 0
    for number in range(30):
        for _ in range(WRONG_EACH):
            looked_at += stranger(keeper, f"198.51.100.{number}").get("/", headers=basic("x")).status_code == 401
    assert looked_at == WRONG_IN_ALL
    assert stranger(keeper, "203.0.113.9").get("/", headers=basic("heron-plover")).status_code == 429
    assert tablet.get("/api/machines", headers=basic("heron-plover")).status_code == 200
    # A network of IPv6 is one address.
    late = [stranger(keeper, f"2001:db8::{n}").get("/", headers=basic("x")).status_code for n in range(3)]
    assert late == [429] * 3
    time[0] += 3601
    assert stranger(keeper, "203.0.113.9").get("/", headers=basic("heron-plover")).status_code == 200
    fresh = [stranger(keeper, f"2001:db8::{n}").get("/", headers=basic("x")).status_code for n in range(12)]
    assert fresh == [401] * WRONG_EACH + [429] * 2


def test_passcode_sessions_and_tokens_outlive_a_restart_and_can_be_ended(tmp_path):
    first = Doorkeeper(data_dir=tmp_path)
    code, session, token = first.passcode, first.let_in(), first.give_token("a notebook")
    kept = tmp_path / ACCESS_NAME
    assert stat.S_IMODE(kept.stat().st_mode) == 0o600
    assert session not in kept.read_text()
    assert token not in kept.read_text()
    again = Doorkeeper(data_dir=tmp_path)
    assert (again.passcode, again.knows(session), again.sessions) == (code, True, 1)
    assert stranger(again).get("/api/machines", headers={"authorization": f"Bearer {token}"}).status_code == 200
    ((number, program),) = again.programs()
    assert (program.name, program.used_at is not None) == ("a notebook", True)
    asked = stranger(again).get("/api/workshop/access", headers={"authorization": f"Bearer {token}"})
    assert asked.status_code == 403, "a token does not give the passcode away"
    assert again.renew_passcode() != code
    assert again.knows(session)
    again.log_out_everywhere()
    assert again.withdraw(number)
    last = Doorkeeper(data_dir=tmp_path)
    assert (last.knows(session), last.programs(), last.passcode == code) == (False, [], False)
    refused = stranger(last).get("/api/machines", headers={"authorization": f"Bearer {token}"})
    assert (refused.status_code, "withdrawn" in refused.text) == (401, True)
    kept.write_text("{half", encoding="utf-8")
    assert Doorkeeper(data_dir=tmp_path).passcode, "what can't be read is made anew"


def test_a_question_without_a_session_brings_up_no_window_of_the_browsers_own():
    asked = stranger().get("/api/machines")
    assert (asked.status_code, asked.headers["www-authenticate"].split()[0]) == (401, "Bearer")


@pytest.mark.parametrize(
    ("asked", "led_to"),
    [
        ("/3/run?point=2", "/3/run?point=2"),
        ("/passcode?next=/3/run", "/3/run"),
        ("/passcode?next=//elsewhere.example", "/"),
        ("/passcode?next=/%5Celsewhere.example", "/"),
        ("/passcode?next=http://elsewhere.example", "/"),
        ('/3/log?words="><script>', '/3/log?words="><script>'),
    ],
)
def test_after_the_passcode_comes_the_page_that_was_asked_for(asked, led_to):
    client = stranger()
    page = client.get(asked, headers={"accept": "text/html"}).text
    assert "<script" not in page
    hidden = html.unescape(re.search(r'name="next" value="([^"]*)"', page)[1])
    let_in = client.post("/passcode", data={"code": "heron-plover", "next": hidden})
    assert unquote(let_in.headers["location"]) == unquote(led_to)
    assert client.get("/passcode?next=/3/run").headers["location"] == "/3/run", "who is in already goes on"


def test_guesses_run_out_for_strangers_and_for_nobody_else():
    keeper = Doorkeeper("heron-plover")
    friend, guesser = stranger(keeper), stranger(keeper)
    friend.post("/passcode", data={"code": "heron-plover"})
    answers = [guesser.post("/passcode", data={"code": str(n)}).status_code for n in range(WRONG_EACH + 5)]
    assert answers == [401] * WRONG_EACH + [429] * 5
    late = guesser.post("/passcode", data={"code": "heron-plover"})
    assert late.status_code == 429
    assert late.headers["retry-after"]
    script = guesser.get("/api/machines", headers=basic("heron-plover"))
    assert script.status_code == 429, "scripts guess from the same purse"
    assert stranger(keeper, "192.0.2.8").get("/api/machines", headers=basic("heron-plover")).status_code == 200
    assert friend.get("/api/machines").status_code == 200
    assert stranger(keeper, "127.0.0.1").get("/api/machines").status_code == 200, "the machine itself"


def test_a_passcode_is_long_and_never_twice_the_same():
    codes = {new_passcode() for _ in range(200)}
    assert len(codes) == 200
    assert all(len(code) == 10 and not set(code) & set("0o1il") for code in codes)


@pytest.mark.parametrize("host", [*running.own_names(), "192.0.2.1", "[2001:db8::1]", "localhost"])
def test_the_names_of_this_machine_are_its_own(host):
    answer = stranger(address="127.0.0.1").get("/", headers={"host": f"{host}:8741"})
    assert answer.status_code == 200


def test_refusals_carry_the_headers_too():
    client = stranger()
    for answer in (
        client.get("/"),
        client.get("/", headers={"host": "elsewhere.example"}),
        client.get("/", headers={"origin": "http://elsewhere.example"}),
        stranger(address="127.0.0.1").post("/api/threads", content=b"x" * (LARGEST_BODY + 1)),
    ):
        assert answer.status_code >= 400
        assert "script-src" not in answer.headers["content-security-policy"]
        assert "default-src 'self'" in answer.headers["content-security-policy"]
        assert answer.headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize(
    ("path", "size", "status"),
    [
        ("/api/threads", LARGEST_BODY, 200),
        ("/api/threads", LARGEST_BODY + 1, 413),
        ("/api/gauge/trace", 3 * LARGEST_BODY, 200),
        ("/api/gauge/csv/columns", 26 * LARGEST_BODY, 413),
    ],
)
def test_a_body_is_bounded_whether_it_says_its_length_or_not(path, size, status):
    client = stranger(address="127.0.0.1")
    assert client.post(path, content=b"x" * size).status_code == status
    in_parts = (b"x" * min(50_000, size - start) for start in range(0, size, 50_000))
    answer = client.post(path, content=in_parts)
    assert answer.status_code == status
    if status == 200:
        assert answer.text == f"in with {size}"


def test_a_list_nobody_typed_is_refused_before_it_is_judged():
    client = stranger(address="127.0.0.1")
    assert client.post("/api/threads", content=b"," * MOST_ITEMS).status_code == 200
    assert client.post("/api/threads", content=b"," * (MOST_ITEMS + 1)).status_code == 413


def test_one_server_a_workshop(tmp_path, monkeypatch):
    opened = []
    monkeypatch.setattr("weftonos.cli.webbrowser.open", opened.append)
    with server(tmp_path, command="serve") as address:
        again = CliRunner().invoke(cli.app, ["serve", "--data-dir", str(tmp_path), "--port", "0"])
        assert (again.exit_code, opened) == (0, [f"{address}/"])
        assert "already" in again.output
        refused = CliRunner().invoke(
            cli.app, ["restore", str(tmp_path / "workshop.db"), "--yes", "--data-dir", str(tmp_path)]
        )
        assert refused.exit_code == ExitCode.IN_USE
        assert "Stop it first" in refused.output
        beside = CliRunner().invoke(cli.app, ["backup", "--data-dir", str(tmp_path)])
        assert (beside.exit_code, "checked" in beside.output) == (0, True)
        assert CliRunner().invoke(cli.app, ["check", "--data-dir", str(tmp_path)]).exit_code == 0
    with running.alone(tmp_path):
        pass


@pytest.mark.parametrize("ends", [signal.SIGHUP, signal.SIGTERM, signal.SIGINT])
def test_a_closed_terminal_ends_it_in_order(tmp_path, ends):
    port = free_port()
    command = [sys.executable, "-m", "weftonos.cli", "serve", "--port", str(port), "--data-dir", str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        for _ in range(600):
            try:
                socket.create_connection(("127.0.0.1", port)).close()
                break
            except OSError:
                time.sleep(0.05)
        while not (tmp_path / "workshop.db").exists():
            time.sleep(0.05)
        time.sleep(0.5)
        os.kill(process.pid, ends)
        process.wait(30)
    assert not list(tmp_path.glob("workshop.db-*")), "the log of changes is folded in"
    assert not (tmp_path / running.CARD).exists()


@pytest.mark.parametrize(
    ("spoil", "code", "says"),
    [
        (lambda folder: (folder / "workshop.db").write_bytes(b""), ExitCode.DAMAGED, "is empty"),
        (lambda folder: (folder / "workshop.db").write_text("list"), ExitCode.DAMAGED, "isn't a workshop"),
    ],
)
def test_what_cannot_be_opened_ends_with_a_sentence_and_a_code(tmp_path, spoil, code, says):
    spoil(tmp_path)
    for command in ("serve", "backup", "check"):
        run = CliRunner().invoke(cli.app, [command, "--data-dir", str(tmp_path)])
        assert run.exit_code == code, run.output
        assert says in run.output
        assert "Traceback" not in run.output
        assert len(run.output.splitlines()) == 1


def test_other_troubles_of_starting_are_sentences_too(tmp_path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        run = CliRunner().invoke(cli.app, ["serve", "--data-dir", str(tmp_path), "--port", str(port)])
        assert run.exit_code == ExitCode.IN_USE
        assert f"--port {port + 1}" in run.output
    (tmp_path / "file").write_text("no folder", encoding="utf-8")
    run = CliRunner().invoke(cli.app, ["serve", "--data-dir", str(tmp_path / "file"), "--port", "0"])
    assert run.exit_code == ExitCode.CANNOT_MAKE
    run = CliRunner().invoke(cli.app, ["restore", str(tmp_path / "none.db"), "--data-dir", str(tmp_path)])
    assert (run.exit_code, "There is no workshop at" in run.output) == (ExitCode.MISSING, True)


def test_a_passcode_on_the_loopback_is_not_ignored_without_a_word(tmp_path, monkeypatch):
    monkeypatch.setattr(cli, "_serve", lambda *arguments: None)
    monkeypatch.setenv("WEFTONOS_PASSCODE", "heron")
    run = CliRunner().invoke(cli.app, ["serve", "--port", "0", "--data-dir", str(tmp_path)])
    assert "No passcode is needed" in run.output
    run = CliRunner().invoke(cli.app, ["serve", "--port", "0", "--host", "0.0.0.0", "--data-dir", str(tmp_path)])
    assert "The passcode is heron" in run.output
    assert "0.0.0.0" not in run.output, "nobody can type that on a tablet"
    assert "isn't encrypted" in run.output


def test_the_log_file_names_places_and_never_what_was_typed(tmp_path):
    path = log_to(tmp_path)
    try:
        raise WorkshopFileError("the quilt Redshank is secret", ExitCode.DISK)
    except WorkshopFileError as error:
        log.error("a request failed", exc_info=error)
    written = path.read_text(encoding="utf-8")
    assert "WorkshopFileError" in written
    assert Path(__file__).name in written
    assert "Redshank" not in written
