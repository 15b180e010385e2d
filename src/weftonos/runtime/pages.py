"""Where the built pages lie."""

from __future__ import annotations

from pathlib import Path

STATIC = Path(__file__).parents[1] / "static"
