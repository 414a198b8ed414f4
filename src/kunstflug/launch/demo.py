"""The start commands: database, migrations, demo, web processes; watched, and stopped in order."""

import dataclasses
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Final

from sqlalchemy import text

from kunstflug.core.quantity.errors import StartupProblem, StoreUnavailable
from kunstflug.launch.again import Again
from kunstflug.launch.external import DATABASE, elsewhere, external_store
from kunstflug.launch.folder import ROOM_BYTES, free_bytes, only_one, run_folder
from kunstflug.launch.mariadb import PrivateMariaDB, with_parent
from kunstflug.launch.network import Network, open_network
from kunstflug.launch.ports import listen, say_reached, web_port, workers
from kunstflug.store.database import Store

_LOOK_EVERY_S: Final = 0.2
_PATIENCE_S: Final = 8.0
_ASK_EVERY_S: Final = 2.0
_SILENT_S: Final = 20.0
"""A database that is silent for so long while there is room on the disk is started again."""


def say(words: str) -> None:
    """Tells whoever looks; nobody has to."""
    with suppress(OSError, ValueError):
        print(words, flush=True)


class Stop:
    """Whether somebody wants an end; a bare flag, because a signal may set it at any instant.

    Whoever starts it with ``nohup`` wants it to go on when the terminal is closed.
    """

    def __init__(self) -> None:
        self.wanted = False
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
            if number != signal.SIGHUP or signal.getsignal(number) is not signal.SIG_IGN:
                signal.signal(number, self._told)

    def _told(self, *_: object) -> None:
        self.wanted = True


class Web:
    """The web processes: the one that copies itself, started again when it dies; it looks after its copies."""

    def __init__(self, listening: socket.socket, lan: socket.socket | None = None, counts: Path | None = None) -> None:
        self._listening, self._lan, self._counts = listening, lan, counts
        self._order = ""
        self._again = Again()
        self._process = self._start()

    def _start(self) -> "subprocess.Popen[str]":
        # Few arenas: with one for each of twenty-four threads, a process keeps what each of them once needed.
        env = {"KUNSTFLUG_LEARNT": str(run_folder() / "learnt"), "MALLOC_ARENA_MAX": "2", **os.environ}
        env["KUNSTFLUG_WORKER_SOCKET"] = str(self._listening.fileno())
        if self._counts is not None:
            env["PROMETHEUS_MULTIPROC_DIR"] = str(self._counts)
        handed = [self._listening.fileno()]
        if self._lan is not None:
            env["KUNSTFLUG_LAN_SOCKET"] = str(self._lan.fileno())
            handed.append(self._lan.fileno())
        return subprocess.Popen(
            [*with_parent("KILL"), sys.executable, "-m", "kunstflug.launch.worker"],
            stdin=subprocess.PIPE,
            text=True,
            env=env,
            pass_fds=handed,
            start_new_session=True,  # Ctrl-C reaches us, and we stop it in order
        )

    def go(self, order: str) -> None:
        """Tells it the database's address."""
        self._order = order
        assert self._process.stdin is not None
        with suppress(OSError):
            self._process.stdin.write(order + "\n")
            self._process.stdin.flush()

    def look(self) -> None:
        """Starts it again where it died."""
        if self._process.poll() is None:
            return
        if self._again.died():
            say(f"The web processes ended ({self._process.returncode}); starting them again.")
        if self._again.due():
            self._again.started()
            self._close()
            self._process = self._start()
            self.go(self._order)

    def _close(self) -> None:
        if self._process.stdin is not None:
            with suppress(OSError):
                self._process.stdin.close()

    def stop(self) -> None:
        """Ends them, and waits; kills them where that does not come. One that is still importing needs no ceremony."""
        if not self._order:
            self._process.terminate()
        self._close()
        try:
            self._process.wait(timeout=_PATIENCE_S)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()


class Watch:
    """Looks after the private database: started again where it died, or is silent though there is room."""

    def __init__(self, server: PrivateMariaDB) -> None:
        self.server = server
        self._again = Again()
        self._asked_at = 0.0
        self._heard_at = time.monotonic()
        self._full = False

    def look(self) -> None:
        """Called all the time."""
        now = time.monotonic()
        if not self.server.runs():
            self._revive()
        elif now - self._asked_at >= _ASK_EVERY_S:
            self._asked_at = now
            self._ask(now)

    def _ask(self, now: float) -> None:
        full = free_bytes(self.server.folder) < ROOM_BYTES // 4
        if full and not self._full:
            say("The disk is full: nothing can be saved until there is room. It goes on by itself then.")
        self._full = full
        if self.server.answers():
            self._heard_at, self._again.deaths = now, 0
        elif now - self._heard_at > _SILENT_S and not full:
            say("The database does not answer; starting it again.")
            self.server.stop(patience_s=5.0)

    def _revive(self) -> None:
        self._again.died()
        if not self._again.due() or free_bytes(self.server.folder) < ROOM_BYTES:
            return
        say("The database stopped; starting it again.")
        self._again.started()
        try:
            self.server.start(port=self.server.port)
            self._heard_at = time.monotonic()
            say("The database answers again.")
        except StartupProblem as problem:
            say(f"That did not work: {problem}")


@contextmanager
def demo_store(folder: Path, stop: Stop) -> Iterator[tuple[Store, PrivateMariaDB | None]]:
    """The database to use: ``KUNSTFLUG_DATABASE_URL`` if set, else the private server in a folder."""
    external = external_store()
    if external:
        with external as store:
            yield store, None
        return
    with only_one(folder):
        server = PrivateMariaDB(folder, lambda: stop.wanted)
        try:
            server.start()
            store = Store(server.url(DATABASE), server.trouble)
            try:
                yield store, server
            finally:
                store.close()
        finally:
            server.stop()


def prepare(store: Store, folder: Path | None = None, *, demo: bool = True) -> bool:
    """Newest tables, and the demo's data where there are none; whether it was loaded now.

    Parameters
    ----------
    folder : of the private database, where a restore may have been broken off.
    demo : whether the demo's data is wanted at all.
    """
    from kunstflug.launch.keeping import go_on
    from kunstflug.store.migrate import migrate

    if folder is not None and go_on(store, folder):
        say("A restore that was broken off is complete now.")
    migrate(store.engine)
    if not demo:
        return False
    with store.transaction() as session:
        if session.scalar(text("SELECT demo FROM racers WHERE name = 'local'")) == "loaded":
            return False
    from kunstflug.services.data.demo import load_demo  # with all that computes: a second

    return load_demo(store)


@dataclasses.dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """How the program is started.

    Parameters
    ----------
    demo : with the demo's boats, where there are none yet.
    lan : open to the local network.
    accounts : each racer signs in.
    hosts : names that a proxy in front passes on.
    reload_front : the front end comes from its own server, for whoever works on it.
    """

    demo: bool = True
    lan: bool = False
    accounts: bool = False
    hosts: tuple[str, ...] = ()
    reload_front: bool = False


def serve(wanted: Wanted) -> None:
    """Starts everything, prints the address, watches over it until it is told to stop, stops everything.

    Raises
    ------
    StartupProblem
    """
    stop = Stop()
    port, count = web_port(), workers(club=wanted.accounts)
    listening = listen(port, at_once=not wanted.accounts)
    web: Web | None = None
    network: Network | None = None
    try:
        folder = run_folder() / "demo"
        network = open_network(folder) if wanted.lan else None
        if elsewhere() is None:
            PrivateMariaDB(folder).check_room()  # before anything takes long
        # They import what they need while the database starts.
        web = Web(listening, network.listening if network else None, _counts(folder))
        with demo_store(folder, stop) as (store, server):
            _run(store, server, web, count, stop, wanted, network)
            web.stop()
    except StoreUnavailable as error:
        raise StartupProblem(str(error)) from error
    except StartupProblem:
        if not stop.wanted:
            raise  # else it is what the stop broke off
    finally:
        if web:
            web.stop()
        listening.close()
        if network:
            network.listening.close()
    say("Stopped; nothing is left running.")


def _counts(folder: Path) -> Path | None:
    """Where the web processes count together, begun anew; nowhere where nobody may read it."""
    if not os.environ.get("KUNSTFLUG_METRICS_TOKEN"):
        return None
    counts = folder / "metrics"
    shutil.rmtree(counts, ignore_errors=True)
    counts.mkdir(parents=True)
    return counts


def _run(
    store: Store, server: PrivateMariaDB | None, web: Web, count: int, stop: Stop, wanted: Wanted,
    network: Network | None,
) -> None:  # fmt: skip
    if prepare(store, server.folder if server else None, demo=wanted.demo):
        say("Demo loaded: three boats of an invented club.")
    order = json.dumps(
        {
            "url": store.address,
            "folder": str(server.folder) if server else None,
            "database_socket": str(server.socket) if server else None,
            "lan": network.order if network else None,
            "accounts": wanted.accounts,
            "hosts": wanted.hosts,
            "count": count,
        }
    )
    web.go(order)
    if server:
        say_reached(server.folder, web_port())
    say(_greeting(web_port(), wanted, network))
    watch = Watch(server) if server else None
    while not stop.wanted:
        time.sleep(_LOOK_EVERY_S)
        if watch:
            watch.look()
        web.look()


def _greeting(port: int, wanted: Wanted, network: Network | None) -> str:
    address = "http://127.0.0.1:5173" if wanted.reload_front else f"http://127.0.0.1:{port}"
    words = f"\n  Kunstflug is at  {address}\n\n"
    if wanted.demo:
        words += (
            "  Look first at Dipper's drive line under Match: drag KV or the propeller and watch the crossing.\n"
            "  Then Run (the coloured track) and Compare (forecast beside measured).\n"
        )
    if network:
        hosts = ", ".join(f"https://{host}:{network.order['port']}" for host in network.order["hosts"])  # type: ignore[attr-defined]
        words += f"  Open to the local network at {hosts}: pair a phone under Settings.\n"
    return words + "  Ctrl-C stops everything.\n"
