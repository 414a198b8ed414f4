"""How lists, Compare and many clients do with few and with many runs, printed beside each other.

Run with ``make torture``; ``python -m tests.benchmarks.growth 60`` sets the seconds of the load.
"""

import asyncio
import json
import random
import statistics
import sys
import tempfile
import time
from collections import Counter
from datetime import timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import insert, select, text

from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.pond import Weather
from kunstflug.services.boats import boats
from kunstflug.services.match import match
from kunstflug.services.run import simulated
from kunstflug.services.shared.changes import Change
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate
from kunstflug.store.people import Racer
from kunstflug.store.tables import (
    ControllerLogRow,
    IdempotencyRow,
    ObservationRow,
    ReadingRow,
    RunRow,
    TrackRow,
)
from tests import samples
from tests.launch.whole import Whole
from tests.samples import q

BOATS, SETUPS_EACH, RUNS = 100, 5, 10_000
CLIENTS = 100
PAUSE_S = (0.5, 1.5)
"""A client asks, looks for so long, and asks again; in the second load it asks without a pause."""


def seed(store: Store) -> None:
    """The boats with their setups, and one run with all that belongs to one."""
    for k in range(BOATS):
        current = boats.new_boat(store, f"boat {k}", samples.document(all_up_mass=q(1900 + k, "g")))
        for step in range(1, SETUPS_EACH):
            change = [Change(path="propeller.diameter", value=q(40 + step, "mm"))]
            changed = match.draft(current.document, change, None).document
            current = boats.adopt(store, current.id, changed, f"{40 + step} mm", {})
        if k % 10 == 0:
            simulated.simulate(store, current.id, k + 1, 2, Weather())
    with store.transaction() as session:
        session.get_one(Racer, 1).demo = "loaded"


def grow(store: Store, count: int) -> None:
    """Copies of the runs that are there, spread over all setups, to so many in all."""
    with store.transaction() as session:
        there = session.scalars(select(RunRow)).all()
        setups = session.execute(text("SELECT id, boat_id FROM setups")).all()
        first = there[0]
        beside: dict[Any, list[dict[str, Any]]] = {}
        for table in (TrackRow, ControllerLogRow, ReadingRow, ObservationRow):
            rows = session.execute(select(table.__table__).where(table.run_id == first.id)).mappings().all()
            beside[table] = [{k: v for k, v in r.items() if k != "id"} for r in rows]
        missing = count - len(there)
        for k in range(missing):
            setup_id, boat_id = setups[k % len(setups)]
            row = RunRow(
                owner_id=first.owner_id, boat_id=boat_id, setup_id=setup_id, source="copy", note="",
                started_at=first.started_at - timedelta(hours=k + 1), conditions=first.conditions,
                best_mps=(first.best_mps or 20) + random.uniform(-1, 1), duration_s=first.duration_s,
            )  # fmt: skip
            session.add(row)
            session.flush()
            for table, rows in beside.items():
                if rows:
                    session.execute(insert(table.__table__), [{**r, "run_id": row.id} for r in rows])
        session.query(IdempotencyRow).delete()


LISTS = {
    "boats": "/api/boats",
    "setups of a boat": "/api/boats/{boat}/setups",
    "runs of a boat": "/api/boats/{boat}/runs",
    "a run": "/api/runs/{run}",
    "its track": "/api/runs/{run}/track",
    "Compare": "/api/boats/{boat}/trail",
    "runs compared": "/api/setups/{setup}/compared",
    "shelf": "/api/parts",
    "bin": "/api/bin",
    "knowledge": "/api/boats/{boat}/knowledge",
    "Logbook": "/api/logbook",
    "the day": "/api/days/2026-05-04",
}


def milliseconds(whole: Whole, ids: dict[str, int]) -> dict[str, float]:
    """Median time of each list, alone."""
    found = {}
    for name, path in LISTS.items():
        times = []
        for _ in range(15):
            start = time.perf_counter()
            status, _ = whole.ask("GET", path.format(**ids))
            times.append((time.perf_counter() - start) * 1e3)
            assert status == 200, (name, status)
        found[name] = statistics.median(times[3:])
    return found


def memory_mb(whole: Whole) -> float:
    """Resident memory of the web processes."""
    total = 0
    for pid in whole.workers():
        line = next(li for li in Path(f"/proc/{pid}/status").read_text().splitlines() if li.startswith("VmRSS"))
        total += int(line.split()[1])
    return total / 1024


class Load:
    """Clients that read and draft, each on a connection of its own; light, because they share the cores."""

    def __init__(self, port: int, document: dict[str, Any], paths: list[str], pause: bool) -> None:
        self.port, self.document, self.paths, self.pause = port, document, paths, pause
        self.times: list[float] = []
        self.wrong: Counter[int] = Counter()
        self.until = 0.0

    def run(self, seconds: float) -> None:
        self.until = time.monotonic() + seconds

        async def all_of_them() -> None:
            await asyncio.gather(*(self._client(k) for k in range(CLIENTS)))

        asyncio.run(all_of_them())

    def _request(self, rng: random.Random) -> bytes:
        if rng.random() < 0.5:
            change = {"path": "propeller.diameter", "value": q(rng.uniform(38, 46), "mm")}
            body = json.dumps({"document": self.document, "changes": [change]}).encode()
            head = f"POST /api/draft HTTP/1.1\r\nhost: 127.0.0.1:{self.port}\r\ncontent-type: application/json\r\n"
            return f"{head}content-length: {len(body)}\r\n\r\n".encode() + body
        return f"GET {rng.choice(self.paths)} HTTP/1.1\r\nhost: 127.0.0.1:{self.port}\r\n\r\n".encode()

    async def _client(self, number: int) -> None:
        rng = random.Random(number)
        await asyncio.sleep(rng.uniform(0, 1))
        reader, writer = await asyncio.open_connection("127.0.0.1", self.port)
        while time.monotonic() < self.until:
            request = self._request(rng)
            start = time.perf_counter()
            writer.write(request)
            head = (await reader.readuntil(b"\r\n\r\n")).lower()
            length = int(head.split(b"content-length: ")[1].split(b"\r\n")[0])
            await reader.readexactly(length)
            self.times.append(time.perf_counter() - start)
            status = int(head.split(b" ")[1])
            if status != 200:
                self.wrong[status] += 1
            if self.pause:
                await asyncio.sleep(rng.uniform(*PAUSE_S))
        writer.close()

    def said(self) -> str:
        ordered = sorted(self.times)
        p50, p95, p99 = (ordered[int(len(ordered) * p)] * 1e3 for p in (0.5, 0.95, 0.99))
        wrong = sum(self.wrong.values())
        return f"{len(ordered)} requests, {wrong} errors; median {p50:.0f} ms, p95 {p95:.0f} ms, p99 {p99:.0f} ms"


def main() -> None:
    """Prints the figures."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 300.0
    folder = Path(tempfile.mkdtemp(prefix="kunstflug-growth-"))
    whole = Whole(folder)

    def fill(count: int) -> None:
        with PrivateMariaDB(folder / "demo") as server:
            store = Store(server.url("kunstflug"))
            migrate(store.engine)
            if not boats.boats(store).items:
                seed(store)
            grow(store, count)
            store.close()

    tables = []
    for count in (50, RUNS):
        fill(count)
        whole.start()
        page = whole.ask("GET", "/api/boats")[1]["items"]
        boat = max(page, key=lambda b: b["runs"])
        runs = whole.ask("GET", f"/api/boats/{boat['id']}/runs")[1]["items"]
        ids = {"boat": boat["id"], "run": runs[0]["id"], "setup": runs[0]["setup_id"]}
        tables.append(milliseconds(whole, ids))
        if count == 50:
            whole.stop()
    print(f"median of 12, alone, ms: {'':8} 50 runs  {RUNS} runs")
    for name in LISTS:
        print(f"  {name:24} {tables[0][name]:9.1f} {tables[1][name]:9.1f}")
    worst = max(tables[1].values())
    print(f"slowest {worst:.0f} ms (at most 100)")
    paths = [p.format(**ids) for name, p in LISTS.items() if name not in ("shelf", "bin")]
    document = whole.ask("GET", f"/api/setups/{ids['setup']}")[1]["document"]
    before = 0.0
    for pause, how_long in ((True, seconds), (False, min(seconds, 60.0))):
        load = Load(whole.port, document, paths, pause)
        load.run(min(10.0, how_long))  # warm
        before = memory_mb(whole)
        load = Load(whole.port, document, paths, pause)
        load.run(how_long)
        words = "who look a second in between" if pause else "without a pause"
        print(f"{CLIENTS} clients {words}, {how_long:.0f} s: {load.said()}")
        print(f"  memory of the web processes {before:.0f} MB before, {memory_mb(whole):.0f} MB after")
    whole.stop()


if __name__ == "__main__":
    main()
