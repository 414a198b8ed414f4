"""The simulated pond as a device: streams a boat over TCP, lines of JSON, with dropouts."""

import asyncio
from typing import Final

import numpy as np

from kunstflug.core.live.watch import Sample
from kunstflug.core.setup.setup import Setup
from kunstflug.files.stream import json_line
from kunstflug.pond.live import LivePond
from kunstflug.pond.world import Fault

GONE_EVERY_S: Final = 40.0
HZ: Final = 20.0
"""Samples a second: each step of the pond."""


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
    """Streams a boat to everybody who connects on loopback, each from its start; until it is cancelled.

    Parameters
    ----------
    pace : how much faster than life.
    dropouts : two or three seconds without a word now and then.
    """

    async def tell(_: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        rng = np.random.default_rng((seed, 5))
        pond = LivePond(setup, seed, faults, hz=HZ, passes=passes)
        start, silent = asyncio.get_running_loop().time(), 0.0
        try:
            for r in pond.drive():
                ahead = r.time_s / pace - (asyncio.get_running_loop().time() - start)
                if ahead > 0:
                    await asyncio.sleep(ahead)
                if dropouts and r.time_s > silent and rng.random() < 1.0 / (GONE_EVERY_S * HZ):
                    silent = r.time_s + float(rng.uniform(2.0, 4.0))
                if r.time_s < silent:
                    continue
                writer.write(
                    json_line(
                        Sample(
                            time_s=r.time_s, speed_mps=r.speed_mps, bus_a=r.bus_a, voltage_v=r.voltage_v, rpm=r.rpm,
                            throttle=r.throttle, controller_c=r.controller_c, case_c=r.case_c,
                        )
                    )
                )  # fmt: skip
                await writer.drain()
        except ConnectionError:
            pass  # somebody went away
        finally:
            writer.close()

    server = await asyncio.start_server(tell, "127.0.0.1", port)
    if ready is not None:
        ready.set()
    async with server:
        await server.serve_forever()
