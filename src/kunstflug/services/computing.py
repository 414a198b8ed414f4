"""Run work that is too large for a request on this machine's cores, or on many machines through a scheduler.

Dask distributes it. Without an address the workers are threads of this process; with one, they are the workers of that
scheduler, which need the same version of this program installed.
"""

import os
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from contextlib import contextmanager
from itertools import islice
from typing import TYPE_CHECKING, Any, Final, TypeVar

from kunstflug.core.quantity.errors import Unreachable

if TYPE_CHECKING:
    from distributed import Client

T = TypeVar("T")
R = TypeVar("R")
ADDRESS: Final = "KUNSTFLUG_SCHEDULER"
AHEAD: Final = 4
"""So many pieces for each worker thread are under way or ready, so that none waits and memory stays what it is."""
CONNECT_S: Final = "5s"


class Computing:
    """Workers that do pieces of work.

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
        """Results in the order in which they are done; the next piece is made when a worker has room for it.

        Closing the generator cancels the pieces that have not begun.
        """
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
        """Results in the order of the pieces; what they share is sent to each worker once."""
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
    """
    from dask import config
    from distributed import Client

    told = os.environ.get(ADDRESS, "") if address is None else address
    alone: dict[str, Any] = {"processes": False, "n_workers": 1, "threads_per_worker": os.cpu_count() or 1}
    alone["dashboard_address"] = None
    with config.set({"distributed.comm.timeouts.connect": CONNECT_S}):
        try:
            client = Client(told, timeout=CONNECT_S, set_as_default=False) if told else Client(**alone)
        except (OSError, ValueError) as error:
            raise Unreachable(told) from error
        with client:
            yield Computing(client)
