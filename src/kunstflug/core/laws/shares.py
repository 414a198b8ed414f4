"""Rows that do not know of each other, worked on side by side by threads that sleep until they are called.

Kernels let other threads go on while they run, see ``jit.kept``. The threads of the compiler's own parallel loops wait
for each other in a circle, so that two processes on two cores were ten times slower than one after the other.
"""

import functools
import itertools
import os
import threading
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Final, TypeVar

S = TypeVar("S")
T = TypeVar("T")
LEAST_THINGS: Final = 8  # fewer are done before a thread has begun


def cores() -> int:
    """Processor cores that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


class _Helping(threading.local):
    """Whether this thread is one of the helpers: it hands nothing on to the others, who may wait for it."""

    now = False


_helping = _Helping()


def _help() -> None:
    _helping.now = True


@functools.cache
def _helpers(_process: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(cores(), thread_name_prefix="rows", initializer=_help)


def in_shares(rows: int, least: int, run: Callable[[slice], None]) -> None:
    """Runs a kernel over rows in shares, one for each core.

    Parameters
    ----------
    rows : how many there are.
    least : fewer rows than this in a share cost more to hand out than they save.
    run : called with the rows of a share.
    """
    count = 1 if _helping.now else min(cores(), rows // least)
    if count < 2:
        run(slice(0, rows))
        return
    edges = [rows * k // count for k in range(count + 1)]
    others = [_helpers(os.getpid()).submit(run, slice(a, b)) for a, b in itertools.pairwise(edges[1:])]
    run(slice(0, edges[1]))
    for other in others:
        other.result()


def pieces(run: Callable[[slice], T], rows: int, most: int) -> Iterator[T]:
    """Works on pieces of rows side by side, and gives what each made in order.

    Only as many pieces are under way as there are cores: what they need at once is that of so many.

    Parameters
    ----------
    run : called with the rows of a piece.
    most : rows in a piece.
    """
    cuts = [slice(a, min(a + most, rows)) for a in range(0, rows, most)]
    if _helping.now or len(cuts) == 1:
        yield from map(run, cuts)
        return
    under_way: deque[Future[T]] = deque()
    for cut in cuts:
        if len(under_way) == cores():
            yield under_way.popleft().result()
        under_way.append(_helpers(os.getpid()).submit(run, cut))
    while under_way:
        yield under_way.popleft().result()


def side_by_side(run: Callable[[S], T], things: Sequence[S]) -> Iterator[T]:
    """What is made of each thing, in order; as many at once as there are cores, for work that is mostly kernels."""
    if _helping.now or len(things) < LEAST_THINGS:
        return map(run, things)
    return _helpers(os.getpid()).map(run, things)
