"""The simulated pond as a device, for a page that follows a boat."""

import asyncio
import contextlib
import threading

from tests import samples

from kunstflug.pond.stream import serve_pond


@contextlib.contextmanager
def a_boat_on_the_pond(port, faults=(), pace=30.0):
    """Streams a boat on a port of loopback, thirty times faster than life unless told otherwise."""
    loop = asyncio.new_event_loop()
    ready = asyncio.Event()
    task = loop.create_task(
        serve_pond(samples.setup(), port, seed=3, faults=faults, dropouts=False, pace=pace, passes=14, ready=ready)
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
