"""Everything as tables for a notebook: python to_a_notebook.py FOLDER, or in a notebook:

    from to_a_notebook import tables
    runs = tables()["run"]
    runs.groupby("quilt")["minutes (min)"].sum()

Needs pandas.
"""

import io
import json
import os
import sys
import time
import urllib.request
import zipfile
from pathlib import Path

import pandas as pd

WORKSHOP = os.environ.get("WEFTONOS", "http://127.0.0.1:8741")


def ask(path, body=None):
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(WORKSHOP + path, data, {"content-type": "application/json"})
    with urllib.request.urlopen(request) as answer:
        return answer.read()


def tables():
    """Return every table as a data frame, by its name."""
    job = json.loads(ask("/api/exchange/exports", {}))
    while job["state"] == "running":
        time.sleep(0.2)
        job = json.loads(ask(f"/api/exchange/jobs/{job['id']}"))
    if job["state"] != "done":
        sys.exit(job["problem"])
    with zipfile.ZipFile(io.BytesIO(ask("/api/exchange/exports/everything.zip"))) as packed:
        names = [name for name in packed.namelist() if name.startswith("csv/")]
        frames = {Path(name).stem: pd.read_csv(packed.open(name), encoding="utf-8-sig") for name in names}
    for frame in frames.values():
        for column in ("at", "noted_at", "struck_at"):
            if column in frame:
                frame[column] = pd.to_datetime(frame[column], format="ISO8601")
    return frames


if __name__ == "__main__":
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else ".")
    for name, frame in tables().items():
        frame.to_pickle(folder / f"{name}.pkl")
        print(f"{name}: {len(frame)} rows")
