"""What a server says of itself: a line of JSON for each request, with an id that is in the answer too; metrics."""

import logging
import os
import re
import sys
import time
import uuid
from typing import Any, Final

import structlog
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector
from sqlalchemy import event
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from kunstflug.store.database import Store
from kunstflug.web.who import WHO

SLOW_S: Final = 0.25
_ID: Final = re.compile(r"[A-Za-z0-9._-]{8,64}")
_EDGES: Final = (0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 5.0, 10.0)
METRICS: Final = "/metrics"

_log = structlog.get_logger("kunstflug.web")
_registry = CollectorRegistry()
_seconds = Histogram(
    "kunstflug_request_seconds", "How long requests took.", ["method", "route"], buckets=_EDGES, registry=_registry
)
_requests = Counter("kunstflug_requests", "Requests answered.", ["method", "route", "status"], registry=_registry)
_running = Gauge(
    "kunstflug_requests_running", "Requests being answered.", registry=_registry, multiprocess_mode="livesum"
)
_slow = Counter("kunstflug_slow_statements", "Statements that took over 0.25 s.", registry=_registry)


def log_quietly() -> None:
    """Tells only of what is wrong, in words; for a program at somebody's own bench."""
    structlog.configure(
        wrapper_class=structlog.make_filtering_bound_logger(logging.WARNING), cache_logger_on_first_use=False
    )


log_quietly()


def log_as_json(level: int = logging.INFO) -> None:
    """Logs as lines of JSON on standard error, our own and everybody else's."""
    shared: list[Any] = [
        structlog.contextvars.merge_contextvars,
        structlog.stdlib.add_logger_name,
        structlog.processors.add_log_level,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
        structlog.processors.format_exc_info,
    ]
    structlog.configure(
        processors=[*shared, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
        wrapper_class=structlog.make_filtering_bound_logger(level),
        cache_logger_on_first_use=False,
    )
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(
        structlog.stdlib.ProcessorFormatter(
            foreign_pre_chain=shared,
            processors=[
                structlog.stdlib.ProcessorFormatter.remove_processors_meta,
                structlog.processors.JSONRenderer(),
            ],
        )
    )
    root = logging.getLogger()
    root.handlers[:] = [handler]
    root.setLevel(level)


def watch_statements(store: Store) -> None:
    """Tells of statements that take long; never with their values."""

    def begins(connection: Any, *_: object) -> None:
        connection.info["begun"] = time.perf_counter()

    def ends(connection: Any, _cursor: object, statement: str, *_: object) -> None:
        took = time.perf_counter() - connection.info.get("begun", time.perf_counter())
        if took > SLOW_S:
            _slow.inc()
            _log.warning("slow statement", seconds=round(took, 3), statement=" ".join(statement.split())[:500])

    event.listen(store.engine, "before_cursor_execute", begins)
    event.listen(store.engine, "after_cursor_execute", ends)


class Observe:
    """Gives each request an id, counts it, and writes a line of it.

    Parameters
    ----------
    token : with which metrics are read; without one there are none.
    """

    def __init__(self, app: ASGIApp, token: str = "") -> None:
        self.app, self.token = app, token

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answers one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        if scope["path"] == METRICS and self.token:
            await self._metrics(headers, send)
            return
        given = headers.get("x-request-id", "")
        number = given if _ID.fullmatch(given) else uuid.uuid4().hex
        status = 0

        async def told(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                MutableHeaders(scope=message)["x-request-id"] = number
            await send(message)

        begun = time.perf_counter()
        _running.inc()
        with structlog.contextvars.bound_contextvars(request_id=number):
            try:
                await self.app(scope, receive, told)
            finally:
                _running.dec()
                self._write(scope, status, time.perf_counter() - begun)

    def _write(self, scope: Scope, status: int, seconds: float) -> None:
        route = getattr(scope.get("route"), "path", "") or ("page" if status < 400 else "none")
        method = scope["method"] if scope["method"] in _METHODS else "other"
        _requests.labels(method, route, status).inc()
        _seconds.labels(method, route).observe(seconds)
        who = scope.get(WHO)
        # Neither names nor what was asked for: a log is read by others than its racers.
        _log.info(
            "request", method=method, route=route, status=status, ms=round(1000 * seconds, 1),
            racer=who.racer if who else None,
        )  # fmt: skip

    async def _metrics(self, headers: Headers, send: Send) -> None:
        if headers.get("authorization", "") != f"Bearer {self.token}":
            await _plain(send, 401, b"metrics need their token\n")
            return
        registry = _registry
        if "PROMETHEUS_MULTIPROC_DIR" in os.environ:  # of all web processes of this machine
            registry = CollectorRegistry()
            MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
        await _plain(send, 200, generate_latest(registry), CONTENT_TYPE_LATEST)


_METHODS: Final = ("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS")


async def _plain(send: Send, status: int, body: bytes, kind: str = "text/plain; charset=utf-8") -> None:
    headers = [(b"content-type", kind.encode()), (b"content-length", str(len(body)).encode())]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})
