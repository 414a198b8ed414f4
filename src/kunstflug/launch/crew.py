"""Copies of this process that serve: what they need is imported once, and what they only read they share.

The one that copies itself serves nobody and has no threads. It starts a copy again that died, and ends with all of them
when its standard input closes: then the program that started it has ended.
"""

import ctypes
import gc
import os
import select
import signal
import sys
import time
import traceback
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Final

from kunstflug.launch.again import Again

_LOOK_EVERY_S: Final = 0.2
_PATIENCE_S: Final = 6.0
_PR_SET_PDEATHSIG: Final = 1  # prctl(2)


@dataclass(slots=True)
class _Post:
    """A place in the crew: who has it now, what ends them, and how it went so far."""

    pid: int = 0
    lifeline: int = -1
    again: Again = field(default_factory=Again)


class Crew:
    """So many copies of this process.

    Parameters
    ----------
    serve : what a copy does until its standard input closes.
    """

    def __init__(self, count: int, serve: Callable[[], None]) -> None:
        self._serve = serve
        self._posts = [_Post() for _ in range(count)]
        self._ended = False

    def work(self) -> None:
        """Until the standard input closes, or a signal says so."""
        signal.signal(signal.SIGTERM, self._told)
        # What was loaded stays for good: no collector walks it, and no copy writes to it.
        gc.collect()
        gc.freeze()
        for post in self._posts:
            self._fill(post)
        while not self._ended:
            if _closed(_LOOK_EVERY_S):
                self._ended = True
            self._look()
        self._end()

    def _told(self, *_: object) -> None:
        self._ended = True

    def _fill(self, post: _Post) -> None:
        ours = os.getpid()
        read, post.lifeline = os.pipe()
        post.pid = os.fork()
        if post.pid == 0:
            self._be_a_copy(read, ours)
        os.close(read)

    def _be_a_copy(self, lifeline: int, parent: int) -> None:
        code = 1
        try:
            signal.signal(signal.SIGTERM, signal.SIG_DFL)
            ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)  # else a killed parent would leave us behind
            if os.getppid() != parent:
                os._exit(1)
            for post in self._posts:  # or none of us would ever see ours close
                if post.lifeline >= 0:
                    os.close(post.lifeline)
            os.dup2(lifeline, 0)
            os.close(lifeline)
            self._serve()
            code = 0
        except BaseException:
            traceback.print_exc()
        finally:
            with suppress(OSError, ValueError):
                sys.stdout.flush()
                sys.stderr.flush()
            os._exit(code)

    def _look(self) -> None:
        for post in self._posts:
            if post.pid:
                pid, status = os.waitpid(post.pid, os.WNOHANG)
                if not pid or self._ended:
                    continue
                post.pid = 0
                self._drop(post)
                post.again.died()
                with suppress(OSError, ValueError):
                    code = os.waitstatus_to_exitcode(status)
                    print(f"A web process ended ({code}); starting it again.", flush=True)
            if post.again.due() and not self._ended:
                post.again.started()
                self._fill(post)

    def _drop(self, post: _Post) -> None:
        if post.lifeline >= 0:
            os.close(post.lifeline)
            post.lifeline = -1

    def _end(self) -> None:
        for post in self._posts:
            self._drop(post)
        end = time.monotonic() + _PATIENCE_S
        for post in self._posts:
            while post.pid and time.monotonic() < end:
                with suppress(ChildProcessError):
                    if os.waitpid(post.pid, os.WNOHANG)[0] == 0:
                        time.sleep(0.02)
                        continue
                post.pid = 0
            if post.pid:
                with suppress(ProcessLookupError, ChildProcessError):
                    os.kill(post.pid, signal.SIGKILL)
                    os.waitpid(post.pid, 0)


def _closed(seconds: float) -> bool:
    """Whether the standard input was closed meanwhile."""
    ready, _, _ = select.select([0], [], [], seconds)
    return bool(ready) and os.read(0, 4096) == b""
