"""A boat that is being driven: a device on loopback, its lines, and what is said of them."""

import asyncio
import dataclasses
from collections.abc import AsyncIterator
from typing import Final

from kunstflug.core.live.watch import Watch
from kunstflug.documents.live import LiveOut, live_out
from kunstflug.files.stream import LineReader
from kunstflug.services.aims import circuit_of, duty_of, schools_of
from kunstflug.services.knowing import known_setup
from kunstflug.services.plan import cooling_of
from kunstflug.services.rows import document_of, local_racer, owned
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, SetupRow

SAY_EVERY_S: Final = 0.1
HOST: Final = "127.0.0.1"


@dataclasses.dataclass(slots=True)
class Live:
    """What is read and said of one boat."""

    watch: Watch
    reader: LineReader


def begin(store: Store, setup_id: int) -> Live:
    """What follows a setup, with what its runs taught and the boat's own water, duty and schools.

    Raises
    ------
    NotFound : no such setup.
    """
    with store.transaction() as session:
        owner = local_racer(session)
        row = owned(session, SetupRow, setup_id, owner)
        boat = owned(session, Boat, row.boat_id, owner)
        document, drawn = document_of(row), circuit_of(boat)
        schools, duty = schools_of(boat).core(), duty_of(boat)
    setup = known_setup(document)
    return Live(watch=Watch(setup, schools, cooling_of(setup, drawn), duty.pass_s), reader=LineReader())


async def follow(live: Live, port: int) -> AsyncIterator[LiveOut]:
    """What is said of a device on loopback, ten times a second, until it closes its stream.

    Raises
    ------
    OSError : nobody answers at that port.
    """
    source, sink = await asyncio.open_connection(HOST, port)
    loop = asyncio.get_running_loop()
    heard, told = loop.time(), 0.0
    line: asyncio.Task[bytes] | None = None
    try:
        while True:
            line = line or asyncio.ensure_future(source.readline())
            done, _ = await asyncio.wait({line}, timeout=SAY_EVERY_S)
            now = loop.time()
            if done:
                words, line = line.result(), None
                if not words:
                    yield live_out(live.watch.state(), live.reader.unread, ended=True)
                    return
                sample = live.reader.read(words)
                if sample is not None:
                    live.watch.feed(sample)
                    heard = now
            if now - told >= SAY_EVERY_S:
                told = now
                state = live.watch.state()
                if now - heard > 1.0:
                    state = live.watch.state(state.time_s + now - heard)
                yield live_out(state, live.reader.unread, ended=False)
    finally:
        if line is not None:
            line.cancel()
        sink.close()
