"""Who may talk to the program: its own host names, its own origin, requests of a bearable size.

The outermost layer: whatever happens within, an answer goes out with the security headers, and a fault of our own is
a problem of its own kind, never dressed up as something the racer did.
"""

import json
from contextlib import suppress
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from kunstflug.files.reading import MOST_BYTES

MOST_REQUEST_BYTES = MOST_BYTES + 1024 * 1024
_OWN = {"127.0.0.1", "localhost", "[::1]"}
_SAFE_METHODS = ("GET", "HEAD")
_HEADERS = {
    "content-security-policy": (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
        "frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
    ),
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-resource-policy": "same-origin",
}

TOLD = "kunstflug.told"
"""Stands in the scope of a request whose fault was logged and answered."""


def _host_name(host: str) -> str:
    return host.rsplit(":", 1)[0] if host.rpartition(":")[2].isdigit() else host


class TooLarge(Exception):
    """The request's body grew past what is accepted."""


class Guard:
    """Refuses other hosts, other origins and huge bodies; sets the security headers; answers for what breaks.

    A page elsewhere in the same browser cannot talk to the program: its requests carry its own Origin, or are marked
    cross-site by the browser. A name that somebody points at this machine fails at the Host header.

    Parameters
    ----------
    extra_hosts : further names to answer to; own : in place of those of loopback.
    """

    def __init__(
        self, app: ASGIApp, extra_hosts: frozenset[str] = frozenset(), own: frozenset[str] = frozenset(_OWN)
    ) -> None:
        self.app = app
        self.hosts = own | extra_hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answers one request, or passes it on."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refused = self._refusal(headers, scope["method"])
        if refused:
            await _problem(send, 403, "not from here", refused)
            return
        length = headers.get("content-length", "0")
        if not length.isascii() or not length.isdigit():
            await _problem(send, 400, "bad request", "the content length is not a number")
            return
        if int(length[:20]) > MOST_REQUEST_BYTES:
            await _too_large(send)
            return
        await self._pass_on(scope, receive, send)

    def _refusal(self, headers: Headers, method: str) -> str:
        host = headers.get("host", "")
        if _host_name(host) not in self.hosts:
            return f"this program answers to its own names only, not to '{host[:80]}'"
        origin = headers.get("origin")
        if origin is not None and _netloc(origin) != host:
            return "requests from other pages are refused"
        # Following a link from elsewhere to a page of ours is fine; anything else from elsewhere is not.
        link = headers.get("sec-fetch-mode") == "navigate" and method in _SAFE_METHODS
        if headers.get("sec-fetch-site") in ("cross-site", "same-site") and not link:
            return "requests from other pages are refused"
        return ""

    async def _pass_on(self, scope: Scope, receive: Receive, send: Send) -> None:  # noqa: C901 - two callbacks share its state
        taken, started, over = 0, False, False

        async def counted() -> Message:
            nonlocal taken, over
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > MOST_REQUEST_BYTES:
                over = True
                raise TooLarge
            return message

        async def with_headers(message: Message) -> None:
            nonlocal started
            if over and not started:
                return  # what the framework makes of the broken-off body; ours follows
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers[name] = value
            await send(message)

        try:
            with suppress(TooLarge):
                await self.app(scope, counted, with_headers)
        except Exception:
            if over:
                pass  # some layers wrap what broke off the body
            elif TOLD in scope:
                return  # answered for already, see problems.py
            else:
                raise  # too late for an answer: the connection breaks off, which says it all
        if over and not started:
            await _too_large(send)


def _netloc(origin: str) -> str | None:
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None


async def _too_large(send: Send) -> None:
    await _problem(send, 413, "too large", f"at most {MOST_BYTES // 1048576} MiB are accepted")


async def _problem(send: Send, status: int, title: str, detail: str) -> None:
    body = json.dumps({"type": "about:blank", "title": title, "status": status, "detail": detail}).encode()
    headers = {"content-type": "application/problem+json", "content-length": str(len(body)), **_HEADERS}
    await send(
        {
            "type": "http.response.start",
            "status": status,
            "headers": [(name.encode(), value.encode()) for name, value in headers.items()],
        }
    )
    await send({"type": "http.response.body", "body": body})
