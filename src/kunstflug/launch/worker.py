"""One web process: waits to be told the database's address, serves on the socket it was handed.

It ends when the program that started it does: then its standard input closes.
"""

import gc
import json
import os
import socket
import sys
import threading
from pathlib import Path

import uvicorn

from kunstflug.launch.folder import diagnosis
from kunstflug.store.database import Store
from kunstflug.web.app import create_app
from kunstflug.wording.say import read_all

read_all()


def main() -> None:
    """Everything heavy is imported by now; the rest takes milliseconds."""
    order = sys.stdin.readline()
    if not order.strip():
        return  # told to end before it began
    told = json.loads(order)
    folder = told["folder"]
    trouble = None
    if folder is not None:
        trouble = _trouble(Path(folder), Path(told["database_socket"]))
    store = Store(told["url"], trouble)
    server = uvicorn.Server(
        uvicorn.Config(create_app(store), log_level="warning", access_log=False, timeout_graceful_shutdown=5)
    )
    threading.Thread(target=_follow, args=(server,), daemon=True).start()
    # What was loaded at the start stays for good: the collector need not walk it while a slider is pulled.
    gc.collect()
    gc.freeze()
    listening = socket.socket(fileno=int(os.environ["KUNSTFLUG_WORKER_SOCKET"]))
    server.run(sockets=[listening])
    store.close()


def _trouble(folder: Path, database_socket: Path):  # type: ignore[no-untyped-def]  # a sentence when asked
    return lambda: diagnosis(folder, database_socket)


def _follow(server: uvicorn.Server) -> None:
    sys.stdin.read()  # until it closes
    server.should_exit = True


if __name__ == "__main__":
    main()
