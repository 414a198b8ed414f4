"""The simulated pond as a device, for a page that follows a boat."""

import asyncio
import contextlib
import socket
import threading
from collections.abc import Callable, Iterator, Sequence
from unittest.mock import patch

from tests import samples

from kunstflug.pond import stream
from kunstflug.pond.live import LivePond
from kunstflug.pond.world import Fault


@contextlib.contextmanager
def a_boat_on_the_pond(
    port: int, faults: Sequence[Fault] = (), pace: float = 30.0, passes: int = 14
) -> Iterator[Callable[[], None]]:
    """Streams a boat on a port of loopback, thirty times faster than life unless told otherwise.

    What it yields calls the driver in.
    """
    called = threading.Event()

    class Called(LivePond):
        def _next(self) -> None:
            self.told_in = called.is_set()
            super()._next()

    with patch.object(stream, "LivePond", Called), _streamed(port, tuple(faults), pace, passes):
        yield called.set


@contextlib.contextmanager
def _streamed(port: int, faults: tuple[Fault, ...], pace: float, passes: int) -> Iterator[None]:
    loop = asyncio.new_event_loop()
    ready = asyncio.Event()
    task = loop.create_task(
        stream.serve_pond(
            samples.setup(), port, seed=3, faults=faults, dropouts=False, pace=pace, passes=passes, ready=ready
        )
    )

    def run():
        with contextlib.suppress(asyncio.CancelledError):
            loop.run_until_complete(task)

        async def end():
            left = asyncio.all_tasks() - {asyncio.current_task()}
            for one in left:
                one.cancel()
            await asyncio.gather(*left, return_exceptions=True)

        loop.run_until_complete(end())
        loop.close()

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    asyncio.run_coroutine_threadsafe(ready.wait(), loop).result(20)
    try:
        yield
    finally:
        loop.call_soon_threadsafe(task.cancel)
        thread.join(10)


class Line:
    """A network between a phone and the program that can be cut and mended."""

    def __init__(self, to: int) -> None:
        self.to, self.whole = to, True
        self._open: set[socket.socket] = set()
        self._lock = threading.Lock()  # nobody shuts what is closed: its number may be another's
        self._listening = socket.create_server(("127.0.0.1", 0))
        self.port = self._listening.getsockname()[1]
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        with contextlib.suppress(OSError):
            while True:
                here, _ = self._listening.accept()
                if not self.whole:
                    here.close()
                    continue
                there = socket.create_connection(("127.0.0.1", self.to))
                with self._lock:
                    self._open |= {here, there}
                threading.Thread(target=self._connect, args=(here, there), daemon=True).start()

    def _connect(self, here: socket.socket, there: socket.socket) -> None:
        back = threading.Thread(target=self._pump, args=(there, here), daemon=True)
        back.start()
        self._pump(here, there)
        back.join()
        with self._lock:
            self._open -= {here, there}
        here.close()
        there.close()

    @staticmethod
    def _pump(source: socket.socket, sink: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while data := source.recv(65536):
                sink.sendall(data)
        for end in (source, sink):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def cut(self) -> None:
        """Breaks all connections, and lets none through."""
        self.whole = False
        with self._lock:
            for end in self._open:
                with contextlib.suppress(OSError):
                    end.shutdown(socket.SHUT_RDWR)

    def mend(self) -> None:
        """Lets connections through again."""
        self.whole = True

    def close(self) -> None:
        """Ends it."""
        self.cut()
        self._listening.close()
