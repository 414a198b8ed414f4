"""Long work as a long answer: a line of JSON for each report, the result on the last; closing it stops the work.

No state is left behind, so that any number of processes can answer.
"""

import asyncio
import threading
from collections.abc import AsyncIterator, Callable
from concurrent.futures import Future, ThreadPoolExecutor
from contextvars import copy_context
from dataclasses import dataclass
from typing import Any, Final, Literal

from starlette.responses import StreamingResponse

from kunstflug.core.quantity.errors import KunstflugError, Stopped
from kunstflug.core.quantity.progress import Progress
from kunstflug.documents.base import LongAnswer
from kunstflug.wording import METRIC, Tongue, say_error

REPORT_EVERY_S: Final = 0.15
MEDIA_TYPE: Final = "application/x-ndjson"

Work = Callable[[Progress], Any]
"""Gives what its form of line has as ``result``."""


@dataclass(slots=True)
class _Watch:
    """How far a work is, and whether somebody still wants it."""

    done: int = 0
    total: int = 1
    running: bool = False
    unwanted: bool = False
    tongue: Tongue = METRIC

    def heard(self, done: int, total: int) -> None:
        """Takes a report of the work; this is where a stop is felt."""
        if self.unwanted:
            raise Stopped("stopped")
        self.done, self.total, self.running = done, total, True


class Line:
    """Where long works of one process wait for one another: one at a time, so that sliders still answer."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="long-work")
        self._watches: set[int] = set()
        self._lock = threading.Lock()

    def answer(self, work: Work, form: type[LongAnswer], tongue: Tongue = METRIC) -> StreamingResponse:
        """The long answer of a work, in lines of a form; a refusal on its last line is written in a tongue."""
        return StreamingResponse(
            self._lines(work, form, tongue), media_type=MEDIA_TYPE, headers={"x-accel-buffering": "no"}
        )

    @property
    def waiting(self) -> int:
        """Works that run or wait."""
        return len(self._watches)

    async def _lines(self, work: Work, form: type[LongAnswer], tongue: Tongue = METRIC) -> AsyncIterator[str]:
        watch = _Watch(tongue=tongue)
        with self._lock:
            self._watches.add(id(watch))
        future = self._pool.submit(copy_context().run, _begun, work, watch)
        ended = asyncio.wrap_future(future)
        ended.add_done_callback(lambda f: None if f.cancelled() else f.exception())  # told on the last line
        try:
            while not future.done():
                state: Literal["running", "waiting"] = "running" if watch.running else "waiting"
                yield _line(form(state=state, done=watch.done, total=watch.total))
                await asyncio.wait([ended], timeout=REPORT_EVERY_S)
            yield _line(_last(future, watch, form))
        finally:
            # Reached by the end, and as well when whoever asked has gone.
            watch.unwanted = True
            future.cancel()
            with self._lock:
                self._watches.discard(id(watch))

    def close(self) -> None:
        """Lets nothing begin any more; called when the program ends."""
        self._pool.shutdown(wait=False, cancel_futures=True)


def _begun(work: Work, watch: _Watch) -> Any:
    watch.heard(0, 1)
    return work(watch.heard)


def _last(future: "Future[Any]", watch: _Watch, form: type[LongAnswer]) -> LongAnswer:
    """The last line: the result, or why there is none."""
    try:
        return form.model_validate(
            {"state": "done", "done": watch.total, "total": watch.total, "result": future.result()}
        )
    except KunstflugError as error:
        return form(state="failed", done=watch.done, total=watch.total, problem=say_error(error, watch.tongue))


def _line(progress: LongAnswer) -> str:
    return progress.model_dump_json() + "\n"
