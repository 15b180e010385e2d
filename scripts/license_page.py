"""Write docs/licenses.md: what ships with Weftonos and what it runs with, with their licenses."""

from __future__ import annotations

import json
import re
from pathlib import Path

from weftonos.runtime.licenses import libraries
from weftonos.runtime.pages import STATIC

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "docs" / "licenses.md"
_SHIPPED = re.compile(r"^=+\n(\S+) (\S+), (.+)$", re.MULTILINE)


def page() -> str:
    """Return the page; the pages of the program must be built."""
    shipped = sorted(set(_SHIPPED.findall((STATIC / "third-party.txt").read_text(encoding="utf-8"))))
    own = json.loads((ROOT / "web" / "package.json").read_text(encoding="utf-8"))["license"]
    rows = ["# Licenses", "", f"Weftonos itself: {own}.", "", "## Shipped with the pages", ""]
    rows += ["The texts are shown in the program under Workshop.", "", "| Name | Version | License |", "|---|---|---|"]
    rows += [f"| {name} | {version} | {license} |" for name, version, license in shipped]
    rows += ["| Atkinson Hyperlegible Next (on paper) | | OFL-1.1, `src/weftonos/exchange/fonts/OFL.txt` |"]
    rows += ["| Noto Sans (on paper, other scripts) | | OFL-1.1, `src/weftonos/exchange/fonts/OFL-wider.txt` |"]
    rows += ["", "## Libraries that it runs with", "", "| Name | Version | License |", "|---|---|---|"]
    rows += [f"| {each.name} | {each.version} | {each.license} |" for each in libraries()]
    return "\n".join(rows) + "\n"


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
