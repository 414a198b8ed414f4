"""Run work that is too large for a request on this machine's cores, or on many machines through a scheduler.

Without an address the workers are threads of this process, and nothing listens anywhere. With one they are the workers
of that Dask scheduler, which need the same version of this program installed, and the optional packages ``wide``.
"""

import os
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from contextlib import contextmanager
from itertools import islice
from typing import TYPE_CHECKING, Any, Final, Protocol, TypeVar

from kunstflug.core.laws.shares import cores
from kunstflug.core.quantity.errors import MissingPackages, Unreachable

if TYPE_CHECKING:
    from distributed import Client

T = TypeVar("T")
R = TypeVar("R")
ADDRESS: Final = "KUNSTFLUG_SCHEDULER"
AHEAD: Final = 4
"""So many pieces for each worker thread are under way or ready, so that none waits and memory stays what it is."""
CONNECT_S: Final = "5s"


class Computing(Protocol):
    """Workers that do pieces of work."""

    def done(self, work: Callable[[T], R], pieces: Iterable[T]) -> Generator[R]:
        """Results in the order in which they are done; the next piece is made when a worker has room for it.

        Closing the generator cancels the pieces that have not begun.
        """

    def each(self, work: Callable[[Any, Any], Any], shared: Any, pieces: Sequence[Any]) -> Iterable[Any]:
        """Results in the order of the pieces; what they share is sent to each worker once."""


class Here:
    """Threads of this process: the kernels let go of the interpreter while they run."""

    def __init__(self, pool: ThreadPoolExecutor, threads: int) -> None:
        self._pool, self._threads = pool, threads

    def done(self, work: Callable[[T], R], pieces: Iterable[T]) -> Generator[R]:
        """See ``Computing``."""
        waiting = iter(pieces)
        under_way: set[Future[R]] = {self._pool.submit(work, p) for p in islice(waiting, AHEAD * self._threads)}
        try:
            while under_way:
                ready, under_way = wait(under_way, return_when=FIRST_COMPLETED)
                for future in ready:
                    yield future.result()
                    under_way |= {self._pool.submit(work, piece) for piece in islice(waiting, 1)}
        finally:
            for future in under_way:
                future.cancel()

    def each(self, work: Callable[[Any, Any], Any], shared: Any, pieces: Sequence[Any]) -> Iterable[Any]:
        """See ``Computing``."""
        return self._pool.map(work, [shared] * len(pieces), pieces)


class Elsewhere:
    """The workers of a scheduler.

    Parameters
    ----------
    client : of the scheduler that has them.
    """

    def __init__(self, client: "Client") -> None:
        self._client = client

    @property
    def workers(self) -> int:
        """How many pieces are worked on at once."""
        return max(sum(one["nthreads"] for one in self._client.scheduler_info(n_workers=-1)["workers"].values()), 1)

    def done(self, work: Callable[[T], R], pieces: Iterable[T]) -> Generator[R]:
        """See ``Computing``."""
        from distributed import as_completed

        waiting, ahead = iter(pieces), AHEAD * self.workers
        first = [self._sent(work, piece) for piece in islice(waiting, ahead)]
        under_way = as_completed(first, loop=self._client.loop)
        try:
            for future in under_way:
                yield future.result()
                for piece in islice(waiting, 1):
                    under_way.add(self._sent(work, piece))
        finally:
            self._client.cancel(list(under_way.futures))

    def each(self, work: Callable[[Any, Any], Any], shared: Any, pieces: Sequence[Any]) -> Iterable[Any]:
        """See ``Computing``."""
        held = self._client.scatter([shared], broadcast=True, hash=False)[0]
        found: Iterable[Any] = self._client.gather(self._client.map(work, [held] * len(pieces), pieces, pure=False))
        return found

    def _sent(self, work: Callable[[T], R], piece: T) -> Any:
        return self._client.submit(work, piece, pure=False)


@contextmanager
def computing(address: str | None = None) -> Iterator[Computing]:
    """Workers at an address, or at the one that the environment names, or else threads of this process.

    Raises
    ------
    Unreachable : nobody answers at the address.
    MissingPackages : an address is named, and Dask is not installed.
    """
    told = os.environ.get(ADDRESS, "") if address is None else address
    if not told:
        threads = cores()
        with ThreadPoolExecutor(threads) as pool:
            yield Here(pool, threads)
        return
    try:
        from dask import config
        from distributed import Client
    except ImportError as error:
        raise MissingPackages("work on several machines", "wide") from error
    with config.set({"distributed.comm.timeouts.connect": CONNECT_S}):
        try:
            client = Client(told, timeout=CONNECT_S, set_as_default=False)
        except (OSError, ValueError) as error:
            raise Unreachable(told) from error
        with client:
            yield Elsewhere(client)
