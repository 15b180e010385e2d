"""List what wants seeing to on every machine: python whats_due.py"""

import json
import os
import urllib.request

WORKSHOP = os.environ.get("WEFTONOS", "http://127.0.0.1:8741")


def ask(path):
    with urllib.request.urlopen(WORKSHOP + path) as answer:
        return json.load(answer)


for machine in ask("/api/machines"):
    print(machine["spec"]["nickname"])
    for knot in ask(f"/api/machines/{machine['id']}/line")["knots"]:
        if knot["state"] in ("caution", "trouble"):
            print(f"  {knot['station']}: {knot['fact']}. {knot['why']}")
    for upkeep in ask(f"/api/machines/{machine['id']}/upkeep"):
        if upkeep["due"]:
            print(f"  upkeep: {upkeep['name']}, {upkeep['text']}")
