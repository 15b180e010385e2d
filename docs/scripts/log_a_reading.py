"""Log a gauge reading: python log_a_reading.py MACHINE CASE 204 210 206

Needs nothing but Python. WEFTONOS names another address than http://127.0.0.1:8741.
"""

import json
import os
import sys
import urllib.error
import urllib.request
import uuid

WORKSHOP = os.environ.get("WEFTONOS", "http://127.0.0.1:8741")


def ask(path, body=None):
    """Ask the workshop; a write carries a key of its own, so that sending it twice writes it once."""
    headers = {"content-type": "application/json", "idempotency-key": uuid.uuid4().hex}
    data = None if body is None else json.dumps(body).encode()
    with urllib.request.urlopen(urllib.request.Request(WORKSHOP + path, data, headers)) as answer:
        return json.load(answer)


def main(nickname, label, *pulls):
    machine = next(m["id"] for m in ask("/api/machines") if m["spec"]["nickname"] == nickname)
    case = next(c["id"] for c in ask(f"/api/machines/{machine}/rack")["cases"] if c["spec"]["label"] == label)
    reading = {"unit": "mN", "case": case, "pulls": [{"value": float(pull)} for pull in pulls]}
    kept = ask(f"/api/machines/{machine}/readings", reading)
    print(kept["text"] if "text" in kept else kept["entry"]["text"])


if __name__ == "__main__":
    try:
        main(*sys.argv[1:])
    except urllib.error.HTTPError as refused:
        # The workshop says in a sentence what it could not use.
        sys.exit(json.load(refused)["detail"][0]["msg"])
