"""The examples in core's docstrings run, and core imports nothing but itself."""

import doctest
import importlib
import pkgutil
import subprocess
import sys
from pathlib import Path

import pytest

import weftonos.core

MODULES = [m.name for m in pkgutil.iter_modules(weftonos.core.__path__)]


@pytest.mark.parametrize("name", MODULES)
def test_docstring_examples_run(name):
    module = importlib.import_module(f"weftonos.core.{name}")
    assert doctest.testmod(module).failed == 0


def test_imports_go_one_way():
    command = Path(sys.executable).with_name("lint-imports")
    done = subprocess.run([command, "--no-cache"], cwd=Path(__file__).parents[2], capture_output=True, text=True)
    assert done.returncode == 0, done.stdout
