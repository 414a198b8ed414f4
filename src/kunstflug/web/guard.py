"""Who may talk to the program: its own host names, its own origin, requests of a bearable size."""

import json
from contextlib import suppress
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from kunstflug.formats.reading import MOST_BYTES

MOST_REQUEST_BYTES = MOST_BYTES + 1024 * 1024
_OWN = {"127.0.0.1", "localhost", "[::1]"}
_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)


def _host_name(host: str) -> str:
    return host.rsplit(":", 1)[0] if host.rpartition(":")[2].isdigit() else host


class TooLarge(Exception):
    """The request's body grew past what is accepted."""


class Guard:
    """Refuses other hosts, other origins and huge bodies; sets the security headers.

    A page elsewhere in the same browser cannot talk to the program: its requests carry its own Origin, or are marked
    cross-site by the browser. A name that somebody points at this machine fails at the Host header.
    """

    def __init__(self, app: ASGIApp, extra_hosts: frozenset[str] = frozenset()) -> None:
        self.app = app
        self.hosts = _OWN | extra_hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refused = self._refusal(headers)
        if refused:
            await _problem(send, 403, "not from here", refused)
            return
        if int(headers.get("content-length") or 0) > MOST_REQUEST_BYTES:
            await _problem(send, 413, "too large", f"at most {MOST_BYTES // 1048576} MiB are accepted")
            return
        await self._pass_on(scope, receive, send)

    def _refusal(self, headers: Headers) -> str:
        host = headers.get("host", "")
        if _host_name(host) not in self.hosts:
            return f"this program answers to its own names only, not to '{host[:80]}'"
        origin = headers.get("origin")
        if origin is not None and urlsplit(origin).netloc != host:
            return "requests from other pages are refused"
        if headers.get("sec-fetch-site") in ("cross-site", "same-site") and headers.get("sec-fetch-mode") != "navigate":
            return "requests from other pages are refused"
        return ""

    async def _pass_on(self, scope: Scope, receive: Receive, send: Send) -> None:
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
                headers["content-security-policy"] = _POLICY
                headers["x-content-type-options"] = "nosniff"
                headers["referrer-policy"] = "no-referrer"
                headers["cross-origin-resource-policy"] = "same-origin"
            await send(message)

        with suppress(TooLarge):
            await self.app(scope, counted, with_headers)
        if over and not started:
            await _problem(send, 413, "too large", f"at most {MOST_BYTES // 1048576} MiB are accepted")


async def _problem(send: Send, status: int, title: str, detail: str) -> None:
    body = json.dumps({"type": "about:blank", "title": title, "status": status, "detail": detail}).encode()
    await send(
        {
            "type": "http.response.start",
            "status": status,
            "headers": [(b"content-type", b"application/problem+json"), (b"content-length", str(len(body)).encode())],
        }
    )
    await send({"type": "http.response.body", "body": body})
