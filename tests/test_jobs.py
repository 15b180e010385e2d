"""Long work beside the requests: how far it is, how it ends, and that nothing is left when it is broken off."""

from __future__ import annotations

import threading

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.spoken import LengthUnits, pull, speaking
from weftonos.runtime.jobs import MOST_RUNNING, REMEMBERED, Jobs, State
from weftonos.store.drawer import NotFoundError


def ended(job):
    assert job.over.wait(10)
    return job


def test_work_says_how_far_it_is_and_what_came_of_it():
    def work(told):
        for done in range(1, 4):
            told(done, 3)
        return "all of it"

    job = ended(Jobs().start("Counting", work))
    assert (job.state, job.done, job.total, job.result) == (State.DONE, 3, 3, "all of it")


def test_work_that_is_broken_off_stops_at_its_next_step():
    begun, seen = threading.Event(), []

    def work(told):
        for done in range(1_000_000):
            begun.set()
            told(done, 1_000_000)
            seen.append(done)

    jobs = Jobs()
    job = jobs.start("Counting", work)
    assert begun.wait(10)
    assert jobs.break_off(job.id).state is State.BROKEN_OFF
    count = len(seen)
    assert count < 1_000_000
    assert len(seen) == count, "nothing goes on"
    assert jobs.break_off(job.id).state is State.BROKEN_OFF, "twice is once"


def test_what_is_refused_is_a_sentence_and_what_nobody_foresaw_is_one_too():
    def refused(_told):
        raise CraftError("That table has no rows.")

    def failed(_told):
        raise ZeroDivisionError

    jobs = Jobs()
    assert ended(jobs.start("x", refused)).problem == "That table has no rows."
    job = ended(jobs.start("x", failed))
    assert (job.state, "othing was changed" in job.problem) == (State.REFUSED, True)


def test_so_many_run_at_once_and_so_many_are_remembered():
    go, jobs = threading.Event(), Jobs()

    def wait(_told):
        go.wait(10)

    running = [jobs.start("Waiting", wait) for _ in range(MOST_RUNNING)]
    with pytest.raises(CraftError, match="still running"):
        jobs.start("One more", wait)
    go.set()
    for job in running:
        ended(job)
    first = running[0].id
    for _ in range(REMEMBERED):
        ended(jobs.start("Quick", lambda told: None))
    with pytest.raises(NotFoundError):
        jobs.get(first)


def test_the_units_of_whoever_asked_go_with_it():
    with speaking(ForceUnit.GF, LengthUnits.INCH):
        job = Jobs().start("Speaking", lambda told: pull(204))
    assert ended(job).result == "20.8 g"


def test_the_end_of_the_program_breaks_everything_off():
    jobs, begun = Jobs(), threading.Event()

    def work(told):
        while True:
            begun.set()
            told(0, 0)

    job = jobs.start("For ever", work)
    assert begun.wait(10)
    jobs.end()
    assert job.state is State.BROKEN_OFF
