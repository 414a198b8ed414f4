"""The simulated pond as a device: streams a boat over TCP, lines of JSON, with dropouts.

There is one boat. It starts with the first who connects, and goes on whether anybody listens or not. Lines that nobody
acknowledged are told again to whoever connects next, as a bridge with a memory does.
"""

import asyncio
import time
from typing import Final

import numpy as np

from kunstflug.core.live.watch import Sample
from kunstflug.core.setup.setup import Setup
from kunstflug.files.stream import END, json_line, kept_of
from kunstflug.pond.course import placed
from kunstflug.pond.live import DeviceReading, LivePond
from kunstflug.pond.world import Fault

GONE_EVERY_S: Final = 40.0
HZ: Final = 20.0
"""Samples a second: each step of the pond."""


def line_of(r: DeviceReading) -> bytes:
    """A reading as a boat's instruments tell it."""
    latitude, longitude = placed(r.east_m, r.north_m)
    return json_line(
        Sample(
            time_s=r.time_s, speed_mps=r.speed_mps, bus_a=r.bus_a, voltage_v=r.voltage_v, rpm=r.rpm,
            throttle=r.throttle, controller_c=r.controller_c, case_c=r.case_c, latitude_deg=latitude,
            longitude_deg=longitude,
        )
    )  # fmt: skip


class PondBoat:
    """A boat that drives, and what it said.

    Parameters
    ----------
    pace : how much faster than life.
    dropouts : two or three seconds without a word now and then.
    """

    def __init__(self, pond: LivePond, seed: int, *, dropouts: bool, pace: float) -> None:
        self.lines: list[bytes] = []
        self.told_at: list[float] = []
        self.kept = 0
        self.over = False
        self._pond, self._pace, self._dropouts = pond, pace, dropouts
        self._rng = np.random.default_rng((seed, 5))
        self._news = asyncio.Condition()
        self._drives = asyncio.create_task(self._drive())

    async def _drive(self) -> None:
        clock = asyncio.get_running_loop().time
        start, silent = clock(), 0.0
        for r in self._pond.drive():
            ahead = r.time_s / self._pace - (clock() - start)
            if ahead > 0:
                await asyncio.sleep(ahead)
            if self._dropouts and r.time_s > silent and self._rng.random() < 1.0 / (GONE_EVERY_S * HZ):
                silent = r.time_s + float(self._rng.uniform(2.0, 4.0))
            if r.time_s >= silent:
                await self._say(line_of(r))
        await self._say(END)

    async def _say(self, line: bytes) -> None:
        async with self._news:
            self.lines.append(line)
            self.told_at.append(time.monotonic())
            self.over = line == END
            self._news.notify_all()

    async def tell(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Tells one listener what was never acknowledged, then what comes."""
        at = self.kept
        hears = asyncio.create_task(self._hear(reader, at))
        try:
            while not hears.done():
                async with self._news:
                    if at == len(self.lines):
                        if self.over:
                            return
                        await self._news.wait()
                new, at = self.lines[at:], len(self.lines)
                writer.write(b"".join(new))
                await writer.drain()
        except (ConnectionError, asyncio.CancelledError):
            pass  # somebody went away, or the pond is over
        finally:
            if self.over and not hears.done():
                await asyncio.wait({hears}, timeout=10.0)
            hears.cancel()
            writer.close()

    async def _hear(self, reader: asyncio.StreamReader, since: int) -> None:
        while line := await reader.readline():
            kept = kept_of(line)
            if kept is not None:
                self.kept = min(max(self.kept, since + kept), len(self.lines))

    def stop(self) -> None:
        """Drives no more."""
        self._drives.cancel()


async def serve_pond(
    setup: Setup,
    port: int,
    *,
    seed: int = 1,
    faults: tuple[Fault, ...] = (),
    dropouts: bool = True,
    pace: float = 1.0,
    passes: int = 8,
    ready: "asyncio.Event | None" = None,
) -> None:
    """Streams a boat to everybody who connects on loopback; the next one when all of the last is acknowledged.

    Parameters
    ----------
    pace : how much faster than life.
    dropouts : two or three seconds without a word now and then.
    """
    boat: PondBoat | None = None

    async def tell(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        nonlocal boat
        if boat is None or (boat.over and boat.kept == len(boat.lines)):
            boat = PondBoat(LivePond(setup, seed, faults, hz=HZ, passes=passes), seed, dropouts=dropouts, pace=pace)
        await boat.tell(reader, writer)

    server = await asyncio.start_server(tell, "127.0.0.1", port)
    if ready is not None:
        ready.set()
    try:
        async with server:
            await server.serve_forever()
    finally:
        if boat is not None:
            boat.stop()
