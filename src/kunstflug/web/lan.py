"""The door to the local network: nothing is answered to a device that is not paired, but the way to pair it."""

import html
from collections.abc import Awaitable, Callable
from typing import Final
from urllib.parse import parse_qs

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.requests import Request
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from kunstflug.core.quantity.errors import NotSignedIn, StoreUnavailable, TooOften
from kunstflug.services.account import devices
from kunstflug.store.database import Store
from kunstflug.web.who import STILL

DEVICE: Final = "kunstflug.device"
"""Stands in the scope of a request of a paired device."""
COOKIE: Final = "__Host-kunstflug"
YEAR_S: Final = 365 * 86400
MOST_FORM: Final = 2000
AUTHORITY: Final = "/pair/kunstflug-authority.crt"
_PAGE: Final = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="referrer" content="same-origin">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Pair this phone</title><style>
body{{font:1.15rem/1.45 sans-serif;margin:0 auto;padding:1.5rem;max-width:30rem;background:#f6f1e6;color:#1d1b16}}
input,button{{font:inherit;width:100%;box-sizing:border-box;min-height:3.2rem;margin:.3rem 0 1rem;padding:.4rem .7rem;
border:1px solid #1d1b16;background:#fff;border-radius:0}}
button{{background:#1d1b16;color:#f6f1e6;font-weight:600}} input.code{{font-size:1.6rem;letter-spacing:.15em}}
p.bad{{border-left:.5rem double #b3261e;padding-left:.8rem}}
</style></head><body><h1>Pair this phone</h1>{said}
<form method="post" action="/pair"><label>Code on the laptop's screen
<input class="code" name="code" value="{code}" autocomplete="one-time-code" autocapitalize="characters" maxlength="12"
required></label>
<label>What to call this phone<input name="name" value="{name}" maxlength="60"></label>
<button>Pair</button></form>
<p>So that it also works without network, let this phone trust the machine first:
<a href="{authority}">its certificate</a>. The guide says how.</p></body></html>"""


class LanDoor:
    """Passes the requests of paired devices on.

    Parameters
    ----------
    app : what answers them.
    authority : the certificate that a phone is to trust, PEM.
    """

    def __init__(self, app: ASGIApp, store: Store, authority: bytes) -> None:
        self.app, self.store, self.authority = app, store, authority

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answers one request."""
        if scope["type"] != "http":
            return
        request = Request(scope, receive)
        token = request.cookies.get(COOKIE, "")
        try:
            device = await run_in_threadpool(devices.device_of, self.store, token) if token else None
            answer = await self._pairing(request) if device is None or scope["path"].startswith("/pair") else None
        except StoreUnavailable:
            device, answer = None, PlainTextResponse("The database is being started again.", 503)
        if answer is not None:
            await answer(scope, receive, send)
            return
        scope[DEVICE] = device
        scope[STILL] = lambda: self._still(token)
        await self.app(scope, receive, send)

    def _still(self, token: str) -> None:
        if devices.device_of(self.store, token) is None:
            raise NotSignedIn

    async def _pairing(self, request: Request) -> Response:
        path, method = request.url.path, request.method
        ways: dict[tuple[str, str], Callable[[Request], Awaitable[Response]]] = {
            ("GET", "/pair"): self._ask,
            ("POST", "/pair"): self._pair,
            ("GET", AUTHORITY): self._certificate,
        }
        way = ways.get((method, path))
        if way is not None:
            return await way(request)
        if path == "/" and method == "GET":
            return RedirectResponse("/pair", 303)
        return PlainTextResponse("This device is not paired.", 401)

    async def _ask(self, request: Request) -> Response:
        return _page(request.query_params.get("code", "")[:12], _phone(request.headers))

    async def _certificate(self, _: Request) -> Response:
        return Response(self.authority, media_type="application/x-x509-ca-cert")

    async def _pair(self, request: Request) -> Response:
        body = b""
        async for chunk in request.stream():
            body += chunk
            if len(body) > MOST_FORM:
                return PlainTextResponse("Too large.", 413)
        form = parse_qs(body.decode("utf-8", "replace"))
        code, name = form.get("code", [""])[0], form.get("name", [""])[0]
        address = request.client.host if request.client else ""
        try:
            token = await run_in_threadpool(devices.pair, self.store, code, name, address)
        except TooOften:
            return _page("", name, "Too many wrong codes from this device. Wait a quarter of an hour.", 429)
        if token is None:
            return _page("", name, "That code does not hold. Ask the laptop for a new one.", 403)
        answer = RedirectResponse("/", 303)
        answer.set_cookie(COOKIE, token, max_age=YEAR_S, path="/", secure=True, httponly=True, samesite="strict")
        return answer


def _page(code: str, name: str, said: str = "", status: int = 200) -> Response:
    told = f'<p class="bad" role="alert">{html.escape(said)}</p>' if said else ""
    page = _PAGE.format(said=told, code=html.escape(code), name=html.escape(name), authority=AUTHORITY)
    return Response(page, status, media_type="text/html", headers={"cache-control": "no-store"})


def _phone(headers: Headers) -> str:
    """What to call a device that said nothing of itself but this."""
    return "phone" if "mobile" in headers.get("user-agent", "").lower() else "computer"
