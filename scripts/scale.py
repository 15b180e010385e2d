"""What a workshop costs: the time of its process, memory and disk, measured on the example; figures of docs/scale.md.

``python scripts/scale.py`` takes about a minute.
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path
from statistics import median

from fastapi.testclient import TestClient
from sqlalchemy import func, select
from sqlalchemy.orm import Session
from torture.storms import memory

from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.runtime.settings import Settings
from weftonos.store.database import FILE_NAME, reading
from weftonos.store.models import RecordRow

TIMES = 60
READS = ("line", "thread", "needle", "readings", "balance", "run", "mend", "evidence")
#: An evening's work, as the example's owner sews: how often each page is opened, and how much is noted.
PAGES_AN_EVENING, NOTES_AN_EVENING, EVENINGS_A_WEEK = 120, 25, 3


def cpu_ms(client: TestClient, method: str, path: str, body: object = None) -> float:
    """Return the middle time of the process that one call takes."""
    took = []
    for _ in range(TIMES):
        began = time.process_time()
        client.request(method, f"/api/{path}", json=body)
        took.append((time.process_time() - began) * 1000)
    return median(took)


def main() -> None:
    """Print what a call, a record and a server cost."""
    folder = Path(tempfile.mkdtemp())
    began = time.process_time()
    load_demo(folder)
    print(f"the example filled: {time.process_time() - began:.1f} s")
    with TestClient(create_app(Settings(data_dir=folder)), base_url="http://127.0.0.1") as client:
        with Session(reading(client.app.state.engine)) as session:  # type: ignore[attr-defined]
            records = session.scalar(select(func.count(RecordRow.id))) or 1
        size = (folder / FILE_NAME).stat().st_size
        print(f"disk: {records} records, {size / 1e6:.1f} MB, {size / records:.0f} bytes each, indexes included")
        reads = {name: cpu_ms(client, "GET", f"machines/1/{name}") for name in READS}
        print("a page, ms of CPU:", ", ".join(f"{name} {ms:.1f}" for name, ms in reads.items()))
        note = cpu_ms(client, "POST", "machines/1/upkeep", {"what": "oiling"})
        print(f"a note, ms of CPU: {note:.1f}")
        page = sum(reads.values()) / len(reads)
        evening = (PAGES_AN_EVENING * page + NOTES_AN_EVENING * note) / 1000
        print(f"an evening of {PAGES_AN_EVENING} pages and {NOTES_AN_EVENING} notes: {evening:.1f} s of CPU")
    print("memory of its server, MB:", ", ".join(f"{when} {mb}" for when, mb in memory(200, 100).items()))
    print(f"Python {sys.version.split()[0]}")


if __name__ == "__main__":
    main()
