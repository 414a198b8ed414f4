"""The door of a club's server: who is it, and for whom do they act; nothing is answered to nobody but the way in.

Set once for a request, in front of all routes: what follows sees one racer's rows (``store/acting.py``). Where there
are no accounts it stands open, and the racer is the one of this machine.
"""

from typing import Final
from urllib.parse import quote

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import MutableHeaders
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from kunstflug.core.quantity.errors import KunstflugError, NotFound, NotSignedIn
from kunstflug.services.account import accounts
from kunstflug.services.account.accounts import Who
from kunstflug.services.club import sharing
from kunstflug.services.shared.rows import CLUB
from kunstflug.store.acting import Acting, acting
from kunstflug.store.database import Store
from kunstflug.web.problems import problem
from kunstflug.web.who import COOKIE, LINK, LOOK, SEES, SHARE, STILL, THROUGH, WHO

_WAY_IN: Final = frozenset(
    f"/api/{path}"
    for path in (
        "account", "account/sign-in", "account/join", "account/recover", "account/passkey", "account/passkey/answer",
        "health", "live", "ready",
    )
)  # fmt: skip
"""Answered to whoever asks: whether there are accounts, and the ways to sign in."""
_OWN_ONLY: Final = tuple(
    f"/api/{path}"
    for path in ("account/", "club", "shares", "bin", "export", "import", "network", "pairing", "devices")
)
"""What is one's own affair: never through a share. Taking over is one's own affair through one."""
_THROUGH: Final = "/api/account/takeover/"


def _through(scope: Scope) -> str:
    """Take a share from the front of a request's path, in place, so that logs name the route; only for reading."""
    path: str = scope["path"]
    if not path.startswith(THROUGH) or scope["method"] not in ("GET", "HEAD"):
        return ""
    share, _, rest = path.removeprefix(THROUGH).partition("/")
    if share == LINK:
        share = Request(scope).cookies.get(LOOK, "") or "-"  # nobody's
    scope["path"] = f"/{rest}"
    scope["raw_path"] = scope["path"].encode()
    return share


def _look(token: str) -> str:
    """A cookie for pictures and downloads of what a link shows, until the browser is closed; for nothing else."""
    return f"{LOOK}={quote(token, safe='')}; Path={THROUGH}{LINK}; Secure; HttpOnly; SameSite=Strict"


class AccountsDoor:
    """Finds out who asks, and lets in who may.

    Parameters
    ----------
    app : what answers.
    """

    def __init__(self, app: ASGIApp, store: Store) -> None:
        self.app, self.store = app, store

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answers one request."""
        if scope["type"] != "http" or not self.store.accounts:
            await self.app(scope, receive, send)
            return
        share = _through(scope)
        path: str = scope["path"]
        if not path.startswith("/api/"):
            await self.app(scope, receive, send)
            return
        request = Request(scope, receive)
        asked = share or request.headers.get(SHARE, "")
        try:
            who, act = await run_in_threadpool(self._let_in, request, path, asked)
        except KunstflugError as error:
            await problem(error)(scope, receive, send)
            return
        scope[WHO] = who
        scope[STILL] = lambda: self._let_in(request, path, asked)
        by_link = SEES in scope and not share and not asked.isdigit() and asked != CLUB

        async def unkept(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["cache-control"] = "no-store"  # nothing on the way keeps it
                if by_link and request.cookies.get(LOOK) != asked:
                    headers.append("set-cookie", _look(asked))
            await send(message)

        with acting(act):
            await self.app(scope, receive, unkept)

    def _let_in(self, request: Request, path: str, asked: str) -> tuple[Who | None, Acting | None]:
        token = request.cookies.get(COOKIE, "")
        who = accounts.who_is(self.store, token) if token else None
        if asked and (not path.startswith(_OWN_ONLY) or path.startswith(_THROUGH)):
            found = sharing.seen_through(self.store, asked, who)
            if found is None:
                raise NotFound("share", "of that name")
            request.scope[SEES] = found
            return who, found[0]
        if who is None:
            if path not in _WAY_IN:
                raise NotSignedIn
            return None, None
        may = who.role != "guest" or path.startswith("/api/account/")
        return who, Acting(racer=who.racer, login=who.racer, writes=may)
