"""Which quilt a record belongs to, against a reference that looks at each record by itself."""

from __future__ import annotations

import doctest
from datetime import UTC, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from weftonos.core.log import quilt_spans as module
from weftonos.core.log.quilt_spans import Named, quilt_spans

MONDAY = datetime(2026, 11, 23, tzinfo=UTC)


def belongs_to(log: list[tuple[str, str]], number: int) -> str:
    """Say in plain words to which quilt a record belongs; ``log`` has what each does and the quilt it names."""

    def on(until: int) -> str:
        return next((quilt for _, quilt in reversed(log[: until + 1]) if quilt), "")

    mine = on(number)
    # Walk back through the time this quilt was on: was it stitched before, and is it again before another is named?
    begins = number
    while begins > 0 and on(begins - 1) == mine:
        begins -= 1
    stitched_before = any(does == "run" for does, _ in log[begins:number])
    for does, quilt in log[number:]:
        if quilt and quilt != mine:
            return quilt if stitched_before or not mine else mine
        if does == "run":
            return mine
    return mine


LOGS = st.lists(
    st.tuples(st.sampled_from(["run", "put on", "set up"]), st.sampled_from(["", "", "Avocet", "Dunlin", "Knot"])),
    max_size=25,
)


@given(LOGS)
def test_every_record_belongs_to_the_quilt_that_a_plain_reading_gives_it(said):
    # Only a run and putting on name a quilt; putting on always does.
    log = [(does, "" if does == "set up" else quilt or ("Avocet" if does == "put on" else "")) for does, quilt in said]
    places = [(MONDAY + timedelta(hours=number // 2), number) for number in range(len(log))]
    spans = quilt_spans(
        Named(place, quilt, does == "run") for place, (does, quilt) in zip(places, log, strict=True) if does != "set up"
    )
    for number, place in enumerate(places):
        found = [
            span.quilt
            for span in spans
            if (span.after is None or place > span.after) and (span.until is None or place <= span.until)
        ]
        assert len(found) <= 1
        assert (found or [""]) == [belongs_to(log, number)], (log, number)


def test_the_example_runs():
    assert doctest.testmod(module).failed == 0
