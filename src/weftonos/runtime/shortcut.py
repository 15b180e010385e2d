"""A start icon on the desktop, so that nobody needs a terminal.

Linux by the Desktop Entry Specification (tried). macOS by a ``.command`` file that the Finder runs, Windows by a
``.cmd`` file: by their published forms, not tried.
"""

from __future__ import annotations

import os
import shlex
import stat
import sys
from pathlib import Path

from weftonos.runtime.pages import STATIC
from weftonos.store.file_errors import ExitCode, WorkshopFileError

#: What starts the program with the Python it is installed in, whatever the PATH is.
START = (sys.executable, "-m", "weftonos.cli")


def _quoted(part: str) -> str:
    """Quote an argument of ``Exec`` by the Desktop Entry Specification."""
    escaped = part.replace("\\", "\\\\").replace('"', '\\"').replace("`", "\\`").replace("$", "\\$")
    return f'"{escaped}"'.replace("\\", "\\\\").replace("%", "%%")


def start_icon(platform: str = sys.platform) -> tuple[str, str]:
    """Return the name and the text of the start icon for a platform (as ``sys.platform`` names it)."""
    if platform.startswith("win"):
        return "Weftonos.cmd", f'@echo off\r\n"{START[0]}" {" ".join(START[1:])}\r\n'
    if platform == "darwin":
        return "Weftonos.command", f"#!/bin/sh\nexec {shlex.join(START)}\n"
    lines = (
        "[Desktop Entry]",
        "Type=Application",
        "Version=1.5",
        "Name=Weftonos",
        "Comment=Thread, needle, bobbin and balance",
        f"Exec={' '.join(_quoted(part) for part in START)}",
        f"Icon={STATIC / 'favicon.svg'}",
        # The window says where it runs, and closing it ends the program.
        "Terminal=true",
        "Categories=Utility;",
    )
    return "weftonos.desktop", "\n".join(lines) + "\n"


def lay_shortcut(desktop: Path | None = None) -> Path:
    """Lay the start icon on the desktop (or into a folder), and return where it is.

    Raises :class:`WorkshopFileError` where there is no such folder or it can't be written.
    """
    folder = desktop or Path(os.environ.get("XDG_DESKTOP_DIR") or Path.home() / "Desktop")
    if not folder.is_dir():
        raise WorkshopFileError(
            f"There is no folder {folder}. Name the one to lay it into with --into.", ExitCode.CANNOT_MAKE
        )
    name, text = start_icon()
    place = folder / name
    try:
        place.write_text(text, encoding="utf-8", newline="")
        place.chmod(place.stat().st_mode | stat.S_IXUSR)
    except OSError as error:
        raise WorkshopFileError(f"{place} can't be written ({error.strerror}).", ExitCode.FORBIDDEN) from error
    return place
