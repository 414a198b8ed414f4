"""A boat streamed at 25 samples a second: ``python -m tests.benchmarks.streaming [kills] [hours]``.

Kills the program, its parts, its database and a browser that looks, at random moments while the boat is streamed; all
that was acknowledged to the device must be there afterwards, and no sample may be missing. Then two hours in fast time:
memory flat, nothing lost, and how far the screen is behind.
"""

import asyncio
import dataclasses
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import numpy as np

from kunstflug.files.stream import END
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.pond.live import DeviceReading, LivePond
from kunstflug.pond.stream import PondBoat
from kunstflug.services.live import drives
from kunstflug.store.database import Store
from tests import samples
from tests.launch.whole import Whole, free_port, until

STEP_S = 0.04


class Endless:
    """A day on the pond over and over, 25 samples a second; ``stop`` lands it."""

    def __init__(self, seconds: float) -> None:
        self.seconds, self.stop = seconds, False
        self._day = list(LivePond(samples.setup(), 3, (), passes=6, hz=20).drive())

    def drive(self) -> Iterator[DeviceReading]:
        """Samples until it is told to stop, or the time is over."""
        k = 0
        while not self.stop and k * STEP_S < self.seconds:
            yield dataclasses.replace(self._day[k % len(self._day)], time_s=round(k * STEP_S, 2))
            k += 1


class Bridge:
    """A device in a thread of its own that remembers what was acknowledged, and when each line was told."""

    def __init__(self, port: int, seconds: float, pace: float) -> None:
        self.port, self.pace, self.pond = port, pace, Endless(seconds)
        self.boat: PondBoat | None = None
        self._ready = threading.Event()
        self._loop = asyncio.new_event_loop()
        threading.Thread(target=self._run, daemon=True).start()
        assert self._ready.wait(20)

    def _run(self) -> None:
        with suppress(asyncio.CancelledError):
            self._loop.run_until_complete(self._serve())

    async def _serve(self) -> None:
        async def tell(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            if self.boat is None:
                self.boat = PondBoat(self.pond, 1, dropouts=False, pace=self.pace)  # type: ignore[arg-type]
            await self.boat.tell(reader, writer)

        server = await asyncio.start_server(tell, "127.0.0.1", self.port)
        self._ready.set()
        async with server:
            await server.serve_forever()

    @property
    def acknowledged(self) -> list[bytes]:
        """The lines of which the device was told that they are kept."""
        return [] if self.boat is None else self.boat.lines[: self.boat.kept]


class Screen:
    """Follows the drive as a page does, and measures how far it is behind."""

    def __init__(self, whole: Whole, drive_id: int, bridge: Bridge) -> None:
        self.delays_s: list[float] = []
        self.last: dict[str, object] = {}
        self._url = f"http://127.0.0.1:{whole.port}/api/drives/{drive_id}/live"
        self._bridge = bridge
        self.thread = threading.Thread(target=self._follow, daemon=True)
        self.thread.start()

    def _follow(self) -> None:
        with suppress(OSError), urllib.request.urlopen(self._url, timeout=60) as stream:
            for line in stream:
                if line.startswith(b"data: {"):
                    now = time.monotonic()
                    self.last = json.loads(line[6:])
                    told = self._bridge.boat.told_at if self._bridge.boat else []
                    k = round(float(self.last["time_s"]) / STEP_S)  # type: ignore[arg-type]
                    if self.last["link"] == "there" and k < len(told):
                        self.delays_s.append(now - told[k])


def opened(whole: Whole, port: int) -> int:
    status, boat = whole.ask("POST", "/api/boats", {"name": f"Streamed {port}", "document": samples.raw()})
    assert status == 201, boat
    status, drive = whole.ask("POST", f"/api/setups/{boat['id']}/drives", {"port": port})
    assert status == 201, drive
    return int(drive["id"])


def kept(whole: Whole, drive_id: int) -> list[bytes]:
    """The lines of a drive as they lie in the database."""
    url = PrivateMariaDB(whole.folder / "demo").socket_url("kunstflug")
    assert url is not None
    store = Store(url)
    try:
        return list(drives.kept_lines(store, drive_id))
    finally:
        store.close()


def browser(whole: Whole, drive_setup: str) -> "subprocess.Popen[bytes]":
    profile = tempfile.mkdtemp(prefix="kunstflug-browser-")
    return subprocess.Popen(
        ["chromium", "--headless", "--no-sandbox", f"--user-data-dir={profile}", "--remote-debugging-port=0",
         f"http://127.0.0.1:{whole.port}{drive_setup}"],
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True,
    )  # fmt: skip


def killed(whole: Whole, looks: "subprocess.Popen[bytes]", rng: random.Random) -> str:
    """Kills one of them; which."""
    kind = rng.choice(["program", "web process", "web processes", "database", "browser", "all"])
    assert whole.process is not None
    groups = {
        "program": [whole.process.pid],
        "web process": rng.sample(whole.workers(), 1) if whole.workers() else [],
        "web processes": whole.workers(),
        "database": [whole.database],
        "browser": [],
        "all": [whole.process.pid, whole.database, *whole.workers()],
    }
    for pid in groups[kind]:
        with suppress(OSError):
            os.kill(pid, signal.SIGKILL)
    if kind in ("browser", "all"):
        with suppress(OSError):
            os.killpg(looks.pid, signal.SIGKILL)
        looks.wait()
    return kind


def through_kills(whole: Whole, times: int) -> None:
    """Prints what was killed, and that nothing was lost."""
    rng = random.Random(7)
    bridge = Bridge(free_port(), 3600.0, 1.0)
    drive_id = opened(whole, bridge.port)
    setup = whole.ask("GET", f"/api/drives/{drive_id}")[1]["setup_id"]
    looks = browser(whole, f"/setups/{setup}/live")
    Screen(whole, drive_id, bridge)
    counts: dict[str, int] = {}
    for _ in range(times):
        before = len(bridge.acknowledged)
        time.sleep(rng.uniform(0.2, 3.0))
        kind = killed(whole, looks, rng)
        counts[kind] = counts.get(kind, 0) + 1
        time.sleep(0.3)
        if whole.process is not None and whole.process.poll() is not None:
            whole.start()
        until(lambda: whole.ask("GET", "/api/boats")[0] == 200, 90, "an answer")
        if looks.poll() is not None:
            looks = browser(whole, f"/setups/{setup}/live")
        Screen(whole, drive_id, bridge)
        until(lambda before=before: len(bridge.acknowledged) > before, 60, "something acknowledged")
        acknowledged = bridge.acknowledged  # by now; more are while the database is read
        lost = set(acknowledged) - set(kept(whole, drive_id))
        assert not lost, f"{len(lost)} lost after a kill of {kind}"
    bridge.pond.stop = True
    until(lambda: whole.ask("GET", f"/api/drives/{drive_id}")[1]["ended_at"] is not None, 120, "the landing")
    with suppress(OSError):
        os.killpg(looks.pid, signal.SIGKILL)
    told = bridge.boat.lines if bridge.boat else []
    missing = set(told) - set(kept(whole, drive_id))
    assert not missing, f"{len(missing)} of {len(told)} lines are missing"
    run = whole.ask("GET", f"/api/drives/{drive_id}")[1]["run_id"]
    samples_of = whole.ask("GET", f"/api/runs/{run}")[1]["log"]["samples"]
    assert samples_of == len(told) - 1, (samples_of, len(told))
    print(f"{times} kills ({', '.join(f'{v} {k}' for k, v in sorted(counts.items()))}): {len(told)} lines, none lost")


def resident_mb(pids: list[int]) -> float:
    """Memory of processes."""
    found = 0
    for pid in pids:
        with suppress(OSError):
            found += int(Path(f"/proc/{pid}/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    return found / 1e6


def hours_long(whole: Whole, hours: float) -> None:
    """Prints memory, losses and delay of a long stream in fast time, and the delay at life's own pace."""
    for pace, seconds in ((1.0, 60.0), (40.0, hours * 3600)):
        bridge = Bridge(free_port(), seconds, pace)
        drive_id = opened(whole, bridge.port)
        screen = Screen(whole, drive_id, bridge)
        memory: list[float] = []
        until(lambda bridge=bridge: bridge.boat is not None, 60, "the device reached")
        while bridge.boat is not None and not bridge.boat.over:
            time.sleep(1.0)
            memory.append(resident_mb(whole.workers()))
        screen.thread.join(120)
        told = bridge.boat.lines if bridge.boat else []
        missing = len(set(told) - set(kept(whole, drive_id)))
        delays = np.array(screen.delays_s) * 1e3
        third = max(len(memory) // 3, 1)
        print(
            f"pace {pace:.0f}: {len(told)} lines in {len(memory)} s, {missing} missing, {len(delays)} shown, "
            f"behind p50 {np.percentile(delays, 50):.0f} p95 {np.percentile(delays, 95):.0f} "
            f"most {delays.max():.0f} ms; web processes {np.mean(memory[:third]):.0f} MB in the first third, "
            f"{np.mean(memory[-third:]):.0f} MB in the last; ended {screen.last.get('link')}"
        )
        assert missing == 0
        assert END in told


def main(kills: int = 30, hours: float = 2.0) -> None:
    """Prints the figures."""
    whole = Whole(Path(tempfile.mkdtemp(prefix="kunstflug-stream-"))).start()
    try:
        if kills:
            through_kills(whole, kills)
        if hours:
            hours_long(whole, hours)
    finally:
        whole.stop()


if __name__ == "__main__":
    main(*(int(word) if k == 0 else float(word) for k, word in enumerate(sys.argv[1:3])))
