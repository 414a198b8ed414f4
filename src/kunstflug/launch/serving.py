"""The web processes: told the database's address, they serve on the socket that was handed down.

They are copies of the one that was started, see ``crew``; a copy ends when its standard input closes.
"""

import asyncio
import json
import os
import socket
import threading
from pathlib import Path
from typing import Any

import uvicorn
from starlette.types import ASGIApp

from kunstflug.launch.crew import Crew
from kunstflug.launch.folder import diagnosis
from kunstflug.launch.warm import compile_once, forecast_once
from kunstflug.store.database import Store
from kunstflug.web.app import Lan, create_app, create_lan_app
from kunstflug.web.observe import log_as_json, watch_statements
from kunstflug.wording.say import read_all

read_all()


def main() -> None:
    """Everything heavy is imported by now; the rest takes milliseconds."""
    compile_once()
    forecast_once()  # so that no copy loads the kernels at its first answer
    order = _ordered()
    if not order.strip():
        return  # told to end before it began
    told = json.loads(order)
    Crew(told["count"], lambda: _serve_as(told)).work()


def _ordered() -> str:
    """The line that says what to do, read without a buffer: a copy's standard input is another one."""
    line = b""
    while not line.endswith(b"\n"):
        one = os.read(0, 1)
        if not one:
            break
        line += one
    return line.decode()


def _serve_as(told: dict[str, Any]) -> None:
    folder = told["folder"]
    trouble = None
    if folder is not None:
        trouble = _trouble(Path(folder), Path(told["database_socket"]))
    room = int(os.environ.get("KUNSTFLUG_ROOM_MB", "2000")) * 1_000_000 if told["accounts"] else None
    store = Store(told["url"], trouble, accounts=told["accounts"], room=room)
    if os.environ.get("KUNSTFLUG_LOG") == "json":
        log_as_json()
    watch_statements(store)
    app = create_app(store, extra_hosts=frozenset(told["hosts"]))
    servers = [_server(app, int(os.environ["KUNSTFLUG_WORKER_SOCKET"]))]
    if told["lan"] is not None:
        lan = told["lan"]
        authority = Path(lan["authority"]).read_bytes()
        inner = create_lan_app(app.api, store, Lan(hosts=tuple(lan["hosts"]), port=lan["port"], authority=authority))
        shown = {"ssl_certfile": lan["server"], "ssl_keyfile": lan["key"], "lifespan": "off"}
        servers.append(_server(inner, int(os.environ["KUNSTFLUG_LAN_SOCKET"]), **shown))
    threading.Thread(target=_follow, args=(servers,), daemon=True).start()
    with asyncio.Runner(loop_factory=servers[0][0].config.get_loop_factory()) as runner:
        runner.run(_serve(servers))
    store.close()


Serving = tuple[uvicorn.Server, socket.socket]


def _server(app: ASGIApp, number: int, **more: Any) -> Serving:
    """A server on a socket that was handed down."""
    config = uvicorn.Config(app, log_level="warning", access_log=False, timeout_graceful_shutdown=5, **more)
    return uvicorn.Server(config), socket.socket(fileno=number)


async def _serve(servers: list[Serving]) -> None:
    together = asyncio.create_task(_together(servers))
    await asyncio.gather(*(server.serve(sockets=[listening]) for server, listening in servers))
    together.cancel()


async def _together(servers: list[Serving]) -> None:
    """A signal reaches one of them; all end."""
    while not any(server.should_exit for server, _ in servers):
        await asyncio.sleep(0.2)
    for server, _ in servers:
        server.should_exit = True


def _trouble(folder: Path, database_socket: Path):  # type: ignore[no-untyped-def]  # a sentence when asked
    return lambda: diagnosis(folder, database_socket)


def _follow(servers: list[Serving]) -> None:
    while os.read(0, 4096):
        pass  # until it closes
    for server, _ in servers:
        server.should_exit = True
