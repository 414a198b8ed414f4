"""Long work in the background: one at a time, with its progress, stopped when asked."""

import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Final

from kunstflug.core.errors import KunstflugError, NotFound, Stopped
from kunstflug.core.progress import Progress
from kunstflug.formats.plan_document import JobOut, SearchOut

KEPT: Final = 20

Work = Callable[[Progress], SearchOut]


@dataclass(slots=True)
class Job:
    """One work and how far it is."""

    id: str
    state: str = "waiting"
    done: int = 0
    total: int = 1
    problem: str = ""
    result: SearchOut | None = None
    stop: threading.Event = field(default_factory=threading.Event)

    def heard(self, done: int, total: int) -> None:
        """Takes a report of the work; this is where a stop is felt."""
        if self.stop.is_set():
            raise Stopped("stopped")
        self.done, self.total = done, total

    def out(self) -> JobOut:
        """The job as it is told outside."""
        return JobOut(
            id=self.id, state=self.state, done=self.done, total=self.total, problem=self.problem, result=self.result
        )


class Jobs:
    """The works of one program; results of the last twenty are kept."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="search")
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = threading.Lock()

    def start(self, work: Work) -> JobOut:
        """Puts a work in the line."""
        job = Job(id=uuid.uuid4().hex[:12])
        with self._lock:
            self._jobs[job.id] = job
            while len(self._jobs) > KEPT:
                _, old = self._jobs.popitem(last=False)
                old.stop.set()
        self._pool.submit(_run, job, work)
        return job.out()

    def get(self, job_id: str) -> JobOut:
        """A job by its number.

        Raises
        ------
        NotFound : there is none, or it is too old.
        """
        return self._of(job_id).out()

    def stop(self, job_id: str) -> JobOut:
        """Asks a job to stop; it does so at its next report."""
        job = self._of(job_id)
        job.stop.set()
        return job.out()

    def close(self) -> None:
        """Stops everything; called when the program ends."""
        for job in self._jobs.values():
            job.stop.set()
        self._pool.shutdown(wait=True, cancel_futures=True)

    def _of(self, job_id: str) -> Job:
        with self._lock:
            job = self._jobs.get(job_id)
        if job is None:
            raise NotFound("search", job_id)
        return job


def _run(job: Job, work: Work) -> None:
    job.state = "running"
    try:
        job.result = work(job.heard)
        job.state = "done"
    except Stopped:
        job.state = "stopped"
    except KunstflugError as error:
        job.problem = str(error)
        job.state = "failed"
    except Exception:
        job.problem = "the search broke; the log says why"
        job.state = "failed"
        raise
