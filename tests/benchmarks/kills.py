"""Kills the program, its parts and its database at random moments; all that was acknowledged must be there afterwards.

Run with ``make torture``; ``python -m tests.benchmarks.kills 50`` sets how often.
"""

import os
import random
import signal
import sys
import tempfile
import threading
import time
import uuid
from collections import Counter
from contextlib import suppress
from pathlib import Path

from kunstflug.core.quantity.errors import RestoreProblem
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.store.backup import check_backup
from kunstflug.store.database import Store
from kunstflug.store.migrate import downgrade
from tests import samples
from tests.launch.whole import Whole, until

WRITERS = 4


class Racers:
    """Several clients that save boats and ticks, and remember what was acknowledged."""

    def __init__(self, whole: Whole) -> None:
        self.whole = whole
        self.boats: set[str] = set()
        self.ticks: dict[int, set[str]] = {}
        self._stop = threading.Event()
        self._lock = threading.Lock()
        self._threads: list[threading.Thread] = []

    def start(self) -> None:
        self._stop.clear()
        self._threads = [threading.Thread(target=self._save, daemon=True) for _ in range(WRITERS)]
        for thread in self._threads:
            thread.start()

    def stop(self) -> None:
        self._stop.set()
        for thread in self._threads:
            thread.join()

    def _save(self) -> None:
        while not self._stop.is_set():
            name = f"boat {uuid.uuid4().hex[:12]}"
            headers = {"Idempotency-Key": uuid.uuid4().hex}
            for _ in range(3):  # the same request again, as the front end does after a lost connection
                status, body = self.whole.ask(
                    "POST", "/api/boats", {"name": name, "document": samples.raw()}, timeout=8, **headers
                )
                if status == 201:
                    break
                time.sleep(0.1)
            else:
                continue
            with self._lock:
                self.boats.add(name)
            step = f"step {random.randrange(100)}"
            tick = {"key": step, "done": True}
            if self.whole.ask("PUT", f"/api/setups/{body['id']}/ticks", tick, timeout=8)[0] == 204:
                with self._lock:
                    self.ticks.setdefault(body["id"], set()).add(step)


def names_of(whole: Whole) -> Counter[str]:
    found: Counter[str] = Counter()
    after = 0
    while True:
        status, page = whole.ask("GET", f"/api/boats?after={after}")
        assert status == 200, page
        found.update(b["name"] for b in page["items"])
        if page["next"] is None:
            return found
        after = int(page["next"])


def check(whole: Whole, racers: Racers) -> None:
    """All that was acknowledged is there, once."""
    found = names_of(whole)
    missing = racers.boats - set(found)
    assert not missing, f"lost: {missing}"
    twice = [n for n in racers.boats if found[n] != 1]
    assert not twice, f"twice: {twice}"
    for setup_id in random.sample(sorted(racers.ticks), min(len(racers.ticks), 10)):
        status, _ = whole.ask("GET", f"/api/setups/{setup_id}/fit")
        assert status == 200


def victim(whole: Whole, rng: random.Random) -> str:
    """Kills one of them; which."""
    kind = rng.choice(["program", "web process", "database", "database", "all"])
    pids = {
        "program": lambda: [whole.process.pid],  # type: ignore[union-attr]
        "web process": lambda: rng.sample(whole.workers(), 1),
        "database": lambda: [whole.database],
        "all": lambda: [whole.process.pid, whole.database, *whole.workers()],  # type: ignore[union-attr]
    }[kind]
    with suppress(OSError, ValueError):
        for pid in pids():
            os.kill(pid, signal.SIGKILL)
    return kind


def alive_again(whole: Whole) -> None:
    """Starts the program again where it is gone; a part of it that is gone comes back by itself."""
    process = whole.process
    assert process is not None
    time.sleep(0.3)
    if process.poll() is not None:
        whole.start()
    until(lambda: whole.ask("GET", "/api/boats")[0] == 200, 90, "an answer")


def while_saving(whole: Whole, racers: Racers, rng: random.Random) -> str:
    racers.start()
    time.sleep(rng.uniform(0.1, 2.5))
    killed = victim(whole, rng)
    time.sleep(rng.uniform(0.0, 0.5))
    racers.stop()
    alive_again(whole)
    return killed


def while_migrating(whole: Whole, racers: Racers, rng: random.Random) -> str:
    whole.stop()
    with PrivateMariaDB(whole.folder / "demo") as server:
        store = Store(server.url("kunstflug"))
        downgrade(store.engine, rng.choice(["0002", "0003"]))
        store.close()
    whole.begin()
    time.sleep(rng.uniform(0.8, 3.0))
    killed = victim(whole, rng)
    time.sleep(0.3)
    if whole.process and whole.process.poll() is None:
        whole.kill()
    whole.start()
    return killed


def while_backing_up(whole: Whole, racers: Racers, rng: random.Random) -> str:
    path = whole.folder / f"{uuid.uuid4().hex}.zip"
    done = threading.Thread(target=lambda: whole.command("backup", str(path)))
    done.start()
    time.sleep(rng.uniform(0.5, 2.0))
    killed = victim(whole, rng)
    done.join()
    if path.exists():
        check_backup(path)
        path.unlink()
    alive_again(whole)
    return killed


def while_restoring(whole: Whole, racers: Racers, rng: random.Random) -> str:
    path = whole.folder / "whole.zip"
    assert whole.command("backup", str(path)).returncode == 0
    whole.stop()
    import subprocess

    from tests.launch.whole import COMMAND

    process = subprocess.Popen(
        [*COMMAND, "restore", str(path)], env=whole.env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    time.sleep(rng.uniform(1.0, 3.5))
    process.kill()
    process.wait()
    whole.start()
    path.unlink()
    return "restore"


def while_loading_the_demo(whole: Whole, racers: Racers, rng: random.Random) -> str:
    other = Whole(Path(tempfile.mkdtemp(prefix="kunstflug-demo-")))
    other.begin()
    time.sleep(rng.uniform(1.0, 8.0))
    killed = victim(other, rng)
    time.sleep(0.3)
    if other.process and other.process.poll() is None:
        other.kill()
    other.start()
    assert sorted(names_of(other)) == ["Dipper", "Lapwing", "Shrike"]
    boats = other.ask("GET", "/api/boats")[1]["items"]
    assert sum(b["runs"] for b in boats) == 9, boats
    assert sum(b["setups"] for b in boats) == 8, boats
    other.stop()
    return killed


def main() -> None:
    """Prints what was killed, and that nothing was lost."""
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 50
    rng = random.Random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    acts = (
        [while_saving] * 5 + [while_migrating] * 2 + [while_backing_up] * 2 + [while_restoring, while_loading_the_demo]
    )
    whole = Whole(Path(tempfile.mkdtemp(prefix="kunstflug-kills-"))).start()
    racers = Racers(whole)
    done: Counter[tuple[str, str]] = Counter()
    try:
        for k in range(times):
            act = rng.choice(acts)
            killed = act(whole, racers, rng)
            check(whole, racers)
            done[act.__name__.replace("_", " "), killed] += 1
            what = act.__name__.replace("_", " ")
            print(f"{k + 1}/{times} {what}: {killed} killed; {len(racers.boats)} boats kept", flush=True)
    except RestoreProblem as problem:
        raise AssertionError(f"a backup that was there is damaged: {problem}") from problem
    finally:
        whole.stop()
        assert whole.left() == []
    ticks = sum(map(len, racers.ticks.values()))
    print(f"\n{times} kills; {len(racers.boats)} acknowledged boats and {ticks} ticks all there, once each")
    for (act_name, killed), count in sorted(done.items()):
        print(f"  {act_name}, {killed}: {count}")


if __name__ == "__main__":
    main()
