"""The application: routes, problems, guard, built front end."""

import asyncio
import os
import re
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import anyio.to_thread
from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Receive, Scope, Send

from kunstflug import __version__
from kunstflug.services.live.listening import Ear
from kunstflug.store.database import POOL, Store
from kunstflug.web import problems
from kunstflug.web.api import ROUTES
from kunstflug.web.door import AccountsDoor
from kunstflug.web.guard import Guard
from kunstflug.web.lan import LanDoor
from kunstflug.web.observe import Observe
from kunstflug.web.streams import Line

HANDBOOK = Path(__file__).parent / "handbook"
DIST = Path(__file__).parent / "page"  # the built front end, beside the program wherever that is installed
_FRESH = ("sw.js", "manifest.webmanifest", "index.html")
_PAGE = re.compile(r"[A-Za-z0-9/_-]{0,200}")
"""Addresses that the front end's router may know: no dots, nothing escaped, not endless."""


def create_api(store: Store, dist: Path = DIST, handbook: Path = HANDBOOK) -> FastAPI:
    """The API and, where it is built, the front end; without the guard around it."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        # As many threads as connections: a request that runs never waits for one.
        anyio.to_thread.current_default_thread_limiter().total_tokens = POOL
        waking = asyncio.create_task(app.state.ear.wake())
        yield
        waking.cancel()
        await app.state.ear.close()
        app.state.line.close()

    app = FastAPI(
        title="Kunstflug",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=lifespan,
        separate_input_output_schemas=False,
    )
    app.state.store = store
    app.state.line = Line()
    app.state.ear = Ear(store)
    app.state.lan = ()
    problems.install(app)
    app.router.routes.extend(ROUTES)
    _describe(app)
    if handbook.is_dir():
        app.mount("/handbook", StaticFiles(directory=handbook, html=True), name="handbook")
    if dist.is_dir():
        _serve_front_end(app, dist)
    return app


def _describe(app: FastAPI) -> None:
    """The description of the API says what problems look like."""
    described = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            problems.describe(described())
        return described()

    app.openapi = openapi  # type: ignore[method-assign]  # the way FastAPI documents for changing it


def _serve_front_end(app: FastAPI, dist: Path) -> None:
    app.mount("/assets", StaticFiles(directory=dist / "assets"), name="assets")
    files = {str(f.relative_to(dist)): f for f in dist.rglob("*") if f.is_file()}

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        """The page of the front end for any address that is not a file."""
        if path in files:
            # The page's worker is asked for anew each time: it says what else is new.
            return FileResponse(files[path], headers={"cache-control": "no-cache"} if path in _FRESH else None)
        if not _PAGE.fullmatch(path) or path.split("/")[0] == "api":
            raise HTTPException(404)
        return FileResponse(dist / "index.html", headers={"cache-control": "no-cache"})


class App:
    """The guarded application; what the web server runs."""

    def __init__(self, api: FastAPI, extra_hosts: frozenset[str]) -> None:
        self.api = api
        guarded = Guard(AccountsDoor(api, api.state.store), extra_hosts)
        self._guarded: ASGIApp = Observe(guarded, os.environ.get("KUNSTFLUG_METRICS_TOKEN", ""))

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answers one request."""
        await self._guarded(scope, receive, send)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lan:
    """How the program is reached from the local network.

    Parameters
    ----------
    hosts : Host names it answers to there; port : where.
    authority : the certificate that phones are to trust, PEM.
    """

    hosts: tuple[str, ...]
    port: int
    authority: bytes


def create_lan_app(api: FastAPI, store: Store, lan: Lan) -> ASGIApp:
    """The same API for paired devices of the local network, behind the guard and the door."""
    api.state.lan = tuple(f"https://{host}:{lan.port}" for host in lan.hosts)
    return Guard(LanDoor(api, store, lan.authority), own=frozenset(lan.hosts))


def create_app(
    store: Store, dist: Path = DIST, extra_hosts: frozenset[str] = frozenset(), handbook: Path = HANDBOOK
) -> App:
    """The API and, where it is built, the front end, behind the guard.

    Parameters
    ----------
    dist : folder of the built front end.
    extra_hosts : further Host names to answer to (the tests' client).
    handbook : folder of the built handbook.
    """
    return App(create_api(store, dist, handbook), extra_hosts)
