"""Long work beside the requests: it says how far it is, can be broken off, and then leaves nothing half done."""

from __future__ import annotations

import contextvars
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any
from uuid import uuid4

from weftonos.core.kernel.errors import CraftError
from weftonos.runtime.logs import log
from weftonos.store.archive import Told
from weftonos.store.drawer import NotFoundError
from weftonos.store.file_errors import WorkshopFileError

#: Jobs that run at once, and jobs whose outcome is remembered.
MOST_RUNNING, REMEMBERED = 2, 20


class State(StrEnum):
    """How a job stands."""

    RUNNING = "running"
    DONE = "done"
    REFUSED = "refused"
    BROKEN_OFF = "broken_off"


class BrokenOff(Exception):
    """Somebody broke the job off."""


@dataclass
class Job:
    """A piece of long work: what it does, how far it is, and how it ended."""

    doing: str
    id: str = field(default_factory=lambda: uuid4().hex)
    state: State = State.RUNNING
    done: int = 0
    total: int = 0
    problem: str = ""
    result: Any = None
    stop: threading.Event = field(default_factory=threading.Event)
    over: threading.Event = field(default_factory=threading.Event)

    def told(self, done: int, total: int) -> None:
        """Hear how far the work is; raises :class:`BrokenOff` where somebody has broken it off."""
        self.done, self.total = done, total
        if self.stop.is_set():
            raise BrokenOff


class Jobs:
    """The long work of one workshop; each job runs in a thread of its own."""

    def __init__(self) -> None:
        self._jobs: OrderedDict[str, Job] = OrderedDict()

    def start(self, doing: str, work: Callable[[Told], Any]) -> Job:
        """Begin a piece of work; raises :class:`CraftError` while others run."""
        if sum(job.state is State.RUNNING for job in self._jobs.values()) >= MOST_RUNNING:
            raise CraftError("Other long work is still running. Wait for it, or stop it.")
        job = Job(doing)
        self._jobs[job.id] = job
        while len(self._jobs) > REMEMBERED:
            self._jobs.popitem(last=False)
        # The units of whoever asked go with it.
        context = contextvars.copy_context()
        threading.Thread(target=context.run, args=(self._run, job, work), daemon=True).start()
        return job

    @staticmethod
    def _run(job: Job, work: Callable[[Told], Any]) -> None:
        try:
            job.result = work(job.told)
            job.state = State.DONE
        except BrokenOff:
            job.state = State.BROKEN_OFF
        except (CraftError, WorkshopFileError, NotFoundError) as error:
            job.problem, job.state = str(error), State.REFUSED
        except Exception as error:
            log.error("long work failed", exc_info=error)
            job.problem = "Something went wrong inside Weftonos. Nothing was changed."
            job.state = State.REFUSED
        finally:
            job.over.set()

    def get(self, job_id: str) -> Job:
        """Return a job; raises :class:`NotFoundError`."""
        if job_id not in self._jobs:
            raise NotFoundError("There is no such work, or it is long over.")
        return self._jobs[job_id]

    def break_off(self, job_id: str) -> Job:
        """Break a job off and wait until it has let go of everything."""
        job = self.get(job_id)
        job.stop.set()
        job.over.wait(20)
        return job

    def end(self) -> None:
        """Break everything off: the program ends."""
        for job in self._jobs.values():
            job.stop.set()
        for job in self._jobs.values():
            job.over.wait(10)
