"""The examples in docstrings run, and core imports nothing but itself."""

import doctest
import importlib
import subprocess
import sys
from pathlib import Path

import pytest

import weftonos

SOURCES = Path(weftonos.__file__).parent
MODULES = [
    ".".join(("weftonos", *path.relative_to(SOURCES).with_suffix("").parts))
    for path in sorted(SOURCES.rglob("*.py"))
    if ">>>" in path.read_text(encoding="utf-8")
]


@pytest.mark.parametrize("name", MODULES)
def test_docstring_examples_run(name):
    found = doctest.testmod(importlib.import_module(name), optionflags=doctest.ELLIPSIS | doctest.NORMALIZE_WHITESPACE)
    assert (found.failed, found.attempted > 0) == (0, True)


def test_there_are_examples_to_run():
    assert len(MODULES) > 30


def test_imports_go_one_way():
    command = Path(sys.executable).with_name("lint-imports")
    done = subprocess.run([command, "--no-cache"], cwd=Path(__file__).parents[2], capture_output=True, text=True)
    assert done.returncode == 0, done.stdout
