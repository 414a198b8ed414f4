"""The start command: database, migrations, demo, one web process; stopped in order."""

import fcntl
import gc
import os
import signal
import socket
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import uvicorn

from kunstflug.core.errors import StartupProblem
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.store.database import Store

PORT = 8417


def run_folder() -> Path:
    """Folder for everything that is not versioned: ``KUNSTFLUG_RUN`` or ``.run`` beside the sources."""
    return Path(os.environ.get("KUNSTFLUG_RUN", Path(__file__).parents[3] / ".run"))


def web_port() -> int:
    """Port of the web server.

    Raises
    ------
    StartupProblem : ``KUNSTFLUG_PORT`` is no port.
    """
    text = os.environ.get("KUNSTFLUG_PORT", str(PORT))
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise StartupProblem(f"KUNSTFLUG_PORT is '{text}'; allowed is 1 to 65535")
    return int(text)


def check_port(port: int) -> None:
    """Refuses a port somebody else listens on.

    Raises
    ------
    StartupProblem
    """
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            raise StartupProblem(
                f"port {port} is taken; stop what uses it, or set KUNSTFLUG_PORT to another"
            ) from error


@contextmanager
def only_one(folder: Path) -> Iterator[None]:
    """Holds the folder for this program while it runs.

    Raises
    ------
    StartupProblem : another one holds it, or it cannot be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock = (folder / "lock").open("w")
    except OSError as error:
        raise StartupProblem(f"the folder {folder.name} cannot be written: {error.strerror}") from error
    with lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise StartupProblem("Kunstflug is running already with this folder") from error
        yield


@contextmanager
def demo_store(folder: Path) -> Iterator[Store]:
    """The database to use: ``KUNSTFLUG_DATABASE_URL`` if set, else the private server in a folder."""
    url = os.environ.get("KUNSTFLUG_DATABASE_URL")
    if url:
        store = Store(url)
        if not store.answers():
            raise StartupProblem("the database of KUNSTFLUG_DATABASE_URL does not answer")
        yield store
        store.close()
        return
    with only_one(folder), PrivateMariaDB(folder) as server:
        store = Store(server.url("kunstflug"))
        try:
            yield store
        finally:
            store.close()


def serve(*, reload_front: bool = False) -> None:
    """Starts everything, prints the address, waits for Ctrl-C, stops everything."""
    from kunstflug.services.demo import load_demo
    from kunstflug.store.migrate import migrate
    from kunstflug.web.app import create_app

    port = web_port()
    check_port(port)
    # A plain TERM would end the process before the database is stopped.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    with demo_store(run_folder() / "demo") as store:
        migrate(store.engine)
        if load_demo(store):
            print("Demo loaded: three boats of an invented club.", flush=True)
        config = uvicorn.Config(create_app(store), host="127.0.0.1", port=port, log_level="warning", access_log=False)
        front = "http://127.0.0.1:5173" if reload_front else f"http://127.0.0.1:{port}"
        print(
            f"\n  Kunstflug is at  {front}\n\n"
            "  Look first at Dipper's drive line under Match: drag KV or the propeller and watch the crossing.\n"
            "  Then Run (the coloured track) and Compare (forecast beside measured). Ctrl-C stops everything.\n",
            flush=True,
        )
        # What was loaded at the start stays for good: the collector need not walk it while a slider is pulled.
        gc.collect()
        gc.freeze()
        with suppress(KeyboardInterrupt):
            uvicorn.Server(config).run()
    print("Stopped; nothing is left running.")
