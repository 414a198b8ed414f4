"""Who asks: where it stands in a request, once the door has found it out."""

from typing import Final

from starlette.requests import Request

from kunstflug.services.account.accounts import Client

COOKIE: Final = "__Host-kunstflug-racer"
KNOWN: Final = "__Host-kunstflug-known"
"""Of a browser that signed in before: no stranger's guesses slow it down. It signs nobody in."""
SHARE: Final = "share"
"""Header that names a share: the request sees what is shared, and nothing else."""
THROUGH: Final = "/through/"
"""Before the path of what carries no header (a picture, a download, a stream of lines): the share, then the path."""
LOOK: Final = "__Secure-kunstflug-look"
LINK: Final = "link"
"""In place of a link's secret, which no address carries: the cookie that whoever came by a link was given."""
WHO: Final = "kunstflug.who"
SEES: Final = "kunstflug.sees"
STILL: Final = "kunstflug.still"
"""What an answer that goes on for long asks now and then: it raises where whoever asked may see it no more."""


def client_of(request: Request) -> Client:
    """From where a request comes."""
    browser = request.headers.get("user-agent", "")
    address = request.client.host if request.client else ""
    return Client(address=address, browser=_browser(browser), known=request.cookies.get(KNOWN, "")[:200])


def _browser(told: str) -> str:
    """A browser in two words; what it says of itself is long and means little."""
    engine = next((name for name in ("Gecko/", "Chrom", "WebKit") if name in told), "").rstrip("/")
    kind = {"Gecko": "Gecko", "Chrom": "Chromium", "WebKit": "WebKit"}.get(engine, "a browser")
    return f"{kind} on a {'phone' if 'Mobile' in told else 'computer'}"
