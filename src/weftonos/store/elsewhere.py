"""Copies in a second place: a stick, another disk, a folder that syncs.

A copy beside the workshop does not outlive its disk.
"""

from __future__ import annotations

import json
import shutil
from contextlib import suppress
from dataclasses import asdict, dataclass
from datetime import datetime
from pathlib import Path

from weftonos.core.kernel.errors import CraftError
from weftonos.store.file_errors import ExitCode, WorkshopFileError, file_error, telling
from weftonos.store.safekeeping import let_go, room_for, soundness, take_place

#: Where the second place is written down, beside the workshop: it belongs to this computer, not to the records.
PLACE_NAME = "second-copies.json"


@dataclass(frozen=True, kw_only=True)
class Elsewhere:
    """A second place for copies: its folder, when the last one came there, and what stood in the way since.

    ``same_disk`` says that the folder is on the workshop's own disk, which helps only where it syncs elsewhere.
    """

    folder: str
    at: datetime | None = None
    trouble: str = ""
    same_disk: bool = False


def second_place(data_dir: Path) -> Elsewhere | None:
    """Return the second place that was named, or nothing."""
    try:
        said = json.loads((data_dir / PLACE_NAME).read_text(encoding="utf-8"))
        at = datetime.fromisoformat(said["at"]) if said["at"] else None
        return Elsewhere(folder=str(said["folder"]), at=at, trouble=str(said["trouble"]), same_disk=said["same_disk"])
    except (OSError, ValueError, KeyError, TypeError):
        return None


def name_second_place(data_dir: Path, folder: str) -> Elsewhere | None:
    """Name a second place for copies, or none with an empty name; raises :class:`CraftError` for no folder."""
    if not folder.strip():
        (data_dir / PLACE_NAME).unlink(missing_ok=True)
        return None
    path = Path(folder.strip()).expanduser()
    if not path.is_absolute() or not path.is_dir():
        raise CraftError(f"There is no folder {folder.strip()}. Name one in full, as /media/stick/weftonos.", "folder")
    if path.resolve().is_relative_to(data_dir.resolve()):
        raise CraftError("That folder is beside the workshop already. Name one on a stick or another disk.", "folder")
    same = path.stat().st_dev == data_dir.stat().st_dev
    return _remember(data_dir, Elsewhere(folder=str(path), same_disk=same))


def copy_elsewhere(data_dir: Path, copy: Path, now: datetime) -> Elsewhere | None:
    """Bring a copy to the second place, whole or not at all; say how it went. Nothing where no place is named."""
    place = second_place(data_dir)
    if place is None:
        return None
    folder = Path(place.folder)
    try:
        if not folder.is_dir():
            raise WorkshopFileError(f"{folder} is not there. Is the stick in?", ExitCode.MISSING)
        with telling(folder):
            room_for(copy.stat().st_size, folder)
            partial = folder / f"{copy.name}.part"
            try:
                # A copy is a whole, closed file: it may be read like any other.
                shutil.copyfile(copy, partial)
                if wrong := soundness(partial, alone=True):
                    raise WorkshopFileError(f"The copy in {folder} is damaged ({wrong[0]}).", ExitCode.DISK)
                take_place(partial, folder / copy.name)
            finally:
                partial.unlink(missing_ok=True)
            let_go(folder, now)
    except (WorkshopFileError, OSError) as error:
        said = error if isinstance(error, WorkshopFileError) else file_error(error, folder)
        return _remember(data_dir, Elsewhere(**{**asdict(place), "trouble": str(said or error)}))
    return _remember(data_dir, Elsewhere(**{**asdict(place), "at": now, "trouble": ""}))


def _remember(data_dir: Path, place: Elsewhere) -> Elsewhere:
    said = {**asdict(place), "at": place.at.isoformat() if place.at else None}
    # What can't be written down is tried again with the next copy.
    with suppress(OSError):
        (data_dir / PLACE_NAME).write_text(json.dumps(said), encoding="utf-8")
    return place
