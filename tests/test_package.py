"""The wheel carries the pages and runs without Node; ``weftonos`` alone opens the workshop; a start icon starts it."""

from __future__ import annotations

import configparser
import json
import os
import shlex
import subprocess
import sys
import sysconfig
import time
import urllib.request
import zipfile
from pathlib import Path

import pytest
from typer.testing import CliRunner

from weftonos import cli
from weftonos.runtime import running
from weftonos.runtime.shortcut import START, start_icon

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("dist")
    command = [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(folder)]
    subprocess.run(command, cwd=ROOT, check=True, capture_output=True)
    return next(folder.glob("weftonos-*.whl"))


def test_a_wheel_in_an_empty_environment_runs_the_demo_without_node(wheel, tmp_path):
    with zipfile.ZipFile(wheel) as packed:
        names = packed.namelist()
    for needed in ("static/index.html", "knowledge/threads.toml", "store/migrations/versions/0006_quilt.py"):
        assert any(name.endswith(needed) for name in names), needed
    env = tmp_path / "env"
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(env)], check=True)
    python = env / "bin" / "python"
    install = [sys.executable, "-m", "pip", "--python", str(python), "install", "-q", "--no-deps", "--no-index"]
    subprocess.run([*install, str(wheel)], check=True)
    # What it depends on comes from here, since a test asks no network; the program itself is the wheel's.
    packages = next((env / "lib").glob("python*")) / "site-packages"
    (packages / "dependencies.pth").write_text(sysconfig.get_path("purelib") + "\n", encoding="utf-8")
    where = subprocess.run([python, "-c", "import weftonos; print(weftonos.__file__)"], capture_output=True, text=True)
    assert str(env) in where.stdout
    data = tmp_path / "data"
    # No PATH: nothing but Python may be needed.
    process = subprocess.Popen(
        [env / "bin" / "weftonos", "demo", "--port", "0", "--data-dir", str(data)],
        stdout=subprocess.DEVNULL,
        env={"HOME": str(tmp_path), "PATH": ""},
    )
    try:
        for _ in range(1200):
            if url := running.url_of(data):
                break
            time.sleep(0.05)
        page = urllib.request.urlopen(url, timeout=60).read().decode()
        assert '<script type="module"' in page
        machines = json.loads(urllib.request.urlopen(f"{url}api/machines", timeout=60).read())
        assert [m["spec"]["nickname"] for m in machines] == ["Heron", "Plover", "Wren"]
        for station in ("thread", "needle", "readings", "balance", "run", "mend"):
            assert urllib.request.urlopen(f"{url}api/machines/1/{station}", timeout=60).status == 200
    finally:
        process.terminate()
        process.wait(30)


def test_alone_it_opens_one_s_own_workshop_in_the_browser(tmp_path, monkeypatch):
    asked = []
    monkeypatch.setattr(cli, "_run", lambda settings, prepare=None, *, show=False: asked.append((settings, show)))
    monkeypatch.setenv("WEFTONOS_DATA_DIR", str(tmp_path))
    assert CliRunner().invoke(cli.app, []).exit_code == 0
    assert [(settings.data_dir, show) for settings, show in asked] == [(tmp_path, True)]
    assert CliRunner().invoke(cli.app, ["serve"]).exit_code == 0
    assert asked[1][1] is False


def test_a_start_icon_is_laid_and_starts_this_very_program(tmp_path):
    done = CliRunner().invoke(cli.app, ["shortcut", "--into", str(tmp_path)])
    assert done.exit_code == 0, done.output
    icon = tmp_path / start_icon()[0]
    assert os.access(icon, os.X_OK)
    name, text = start_icon("linux")
    entry = configparser.ConfigParser(interpolation=None)
    entry.read_string(text)
    assert (name, entry["Desktop Entry"]["Type"]) == ("weftonos.desktop", "Application")
    assert tuple(shlex.split(entry["Desktop Entry"]["Exec"])) == START
    assert shlex.split(start_icon("darwin")[1].splitlines()[1]) == ["exec", *START]
    assert START[0] in start_icon("win32")[1]
    refused = CliRunner().invoke(cli.app, ["shortcut", "--into", str(tmp_path / "nowhere")])
    assert refused.exit_code != 0
    assert "no folder" in refused.output
