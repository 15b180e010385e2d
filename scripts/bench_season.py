"""`make bench-season`: 200 simulated workshops, 30 quilts each, by habit, by the program and by a hand that knows the
truth, with the same hidden luck;
on the first simulated machine, and on a second one with other laws.

Resumable: what is done is kept in a file, one line a workshop. Two processes, each on every other workshop.
"""

from __future__ import annotations

import json
import sys
import time
from collections import Counter
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
from season.habits import ByHabit
from season.life import QUILTS, shop
from season.program import ByProgram
from season.truth import ByTruth

WORKSHOPS = 200
#: So many workshops of a kind are told apart from the rest.
FEWEST_OF_A_KIND = 5
#: What is compared, and whether more of it is worse; needles used are reported only.
LINES = {
    "tests": "minutes lost to tests",
    "troubles": "minutes lost to troubles",
    "lost": "minutes lost in all",
    "breaks": "breaks",
    "unpicked": "meters unpicked",
    "technician": "visits of a technician",
    "needles": "needles used",
}
SHARES = {"balanced": "quilts balanced", "within_one": "quilts within one grade"}


def one(number: int, quilts: int, *, second: bool = False) -> dict[str, Any]:
    """Return both seasons of a workshop."""
    season = shop(number, quilts, second=second)
    habit = ByHabit(season).season()
    program = ByProgram(season)
    with program:
        told = program.season()
    ways = {"habit": habit, "program": told, "truth": ByTruth(season).season()}
    each = {way: {**asdict(ledger), "lost": ledger.lost} for way, ledger in ways.items()}
    return {"number": number, "kind": season.kind, "quilts": quilts, **each}


def _do(numbers: Sequence[int], quilts: int, kept: str, second: bool) -> None:
    for number in numbers:
        line = json.dumps(one(number, quilts, second=second))
        with Path(kept).open("a", encoding="utf-8") as file:
            file.write(line + "\n")


def run(workshops: int, quilts: int, kept: Path, *, second: bool = False) -> list[dict[str, Any]]:
    """Run what is not done yet, and return all."""

    def read() -> dict[int, dict[str, Any]]:
        lines = kept.read_text(encoding="utf-8").splitlines() if kept.exists() else []
        rows = [json.loads(line) for line in lines if line.endswith("}")]
        # A row of before the third way was walked is walked again.
        return {r["number"]: r for r in rows if r["quilts"] == quilts and r["number"] < workshops and "truth" in r}

    kept.parent.mkdir(parents=True, exist_ok=True)
    left = [number for number in range(workshops) if number not in read()]
    if left:
        with ProcessPoolExecutor(2) as pool:
            for done in [pool.submit(_do, left[k::2], quilts, str(kept), second) for k in range(2)]:
                done.result()
    return [row for _, row in sorted(read().items())]


def ratio(rows: Sequence[dict[str, Any]], line: str, level: float) -> tuple[float, float, float]:
    """Return the program's sum over the habits', and its interval by drawing workshops anew."""
    habit = np.array([row["habit"][line] for row in rows], float)
    program = np.array([row["program"][line] for row in rows], float)
    chance = np.random.default_rng(9)
    drawn = chance.integers(0, len(rows), (6000, len(rows)))
    ratios = (program[drawn].sum(1) + 1e-9) / (habit[drawn].sum(1) + 1e-9)
    low, high = np.quantile(ratios, [(1 - level) / 2, (1 + level) / 2])
    return float((program.sum() + 1e-9) / (habit.sum() + 1e-9)), float(low), float(high)


def table(rows: Sequence[dict[str, Any]]) -> None:
    """Print both seasons by kind of workshop, with intervals that allow for the number of lines."""
    each = Counter(row["kind"] for row in rows)
    # One or two workshops say nothing of their kind.
    kinds = sorted(kind for kind, count in each.items() if count >= FEWEST_OF_A_KIND)
    compared = [line for line in LINES if line != "needles"]
    lines = max(1, len(kinds)) * (len(compared) + len(SHARES))
    level = 1 - 0.05 / lines
    worse = []
    for kind in [*kinds, "all"]:
        mine = [row for row in rows if kind in ("all", row["kind"])]
        quilts = sum(row["habit"]["quilts"] for row in mine)
        print(f"\n{kind}: {len(mine)} workshops, {quilts} quilts; a quilt by habit, by the program, and the ratio")
        for line, name in LINES.items():
            habit, program = (sum(row[way][line] for row in mine) / quilts for way in ("habit", "program"))
            middle, low, high = ratio(mine, line, level)
            verdict = ""
            if line != "needles" and low > 1:
                verdict = "WORSE"
                worse.append(f"{kind}: {name}")
            if line == "lost":
                verdict = "met" if middle <= 0.5 else f"{verdict} NOT MET: half".strip()
            print(f"  {name:<26} {habit:8.2f} {program:8.2f}   {middle:5.2f} ({low:.2f} to {high:.2f})  {verdict}")
        truth = sum(row["truth"]["lost"] for row in mine) / quilts
        print(f"  a hand that knows the truth loses {truth:.1f} minutes")
        for line, name in SHARES.items():
            habit, program = (sum(row[way][line] for row in mine) / quilts for way in ("habit", "program"))
            _, _, high = ratio(mine, line, level)
            if high < 1:
                worse.append(f"{kind}: {name}")
            print(f"  {name:<26} {habit:8.1%} {program:8.1%}   {'WORSE' if high < 1 else ''}")
    print(f"\nWholly on the worse side, allowing for {lines} lines: {worse or 'none'}")


def bench_season(workshops: int = WORKSHOPS, quilts: int = QUILTS, kept: Path = Path(".bench/season.jsonl")) -> None:
    """Run both seasons of every workshop on either machine and print what they cost."""
    for second in (False, True):
        begin = time.perf_counter()
        file = kept.with_name(f"{kept.stem}-second{kept.suffix}") if second else kept
        print(f"\n{'A second machine, with other laws' if second else 'The first machine'}")
        table(run(workshops, quilts, file, second=second))
        print(f"{time.perf_counter() - begin:.0f} s for what was not kept from before, in {file}")


if __name__ == "__main__":
    workshops, quilts = [*(int(word) for word in sys.argv[1:3]), WORKSHOPS, QUILTS][:2]
    bench_season(workshops, quilts)
