"""Compiled kernels kept on disk, so that only the first process after a change pays for compiling them.

A law marked ``jitable`` is a plain function everywhere and is compiled into the kernels that call it: what stands in a
kernel is the law itself, not a copy. numba looks at one file only when it decides whether a kept kernel is still good;
a changed law of another file would go unnoticed. Kernels are therefore kept in a folder named by a digest of all
sources of the core. Reading those sources is the only thing the core ever reads.
"""

import functools
import hashlib
import itertools
import os
import threading
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any, TypeVar, cast

import numba
from numba.extending import register_jitable

_CORE = Path(__file__).parents[1]


NO_KERNELS = "learning"  # stands above all kernels and has none of its own


def sources_digest(folder: Path = _CORE) -> str:
    """Digest of all Python sources below a folder that kernels may be made of."""
    digest = hashlib.sha256(numba.__version__.encode())
    for path in sorted(folder.rglob("*.py")):
        if path.relative_to(folder).parts[0] == NO_KERNELS:
            continue
        digest.update(path.relative_to(folder).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:16]


_folder = Path(__file__).parent / "__pycache__" / f"kernels-{sources_digest()}"
numba.config.CACHE_DIR = str(_folder)  # type: ignore[attr-defined]  # numba makes its settings at run time

F = TypeVar("F", bound=Callable[..., Any])
T = TypeVar("T")


def jitable(function: F) -> F:
    """A law that kernels call, too."""
    marked: F = register_jitable(function)
    return marked


def kept(function: F) -> F:
    """Compiled and kept on disk; other threads go on while it runs."""
    return cast(F, numba.njit(cache=True, nogil=True)(function))


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
    """Runs a kernel over rows that do not know of each other, in shares on all cores.

    The threads sleep until they are called. Those of the compiler's own parallel loops wait for each other in a circle,
    so that two processes on two cores were ten times slower than one after the other.

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
