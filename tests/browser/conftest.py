"""The whole program for the browser: its own database, one web process, headless Chromium."""

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Browser, ConsoleMessage, Error, Page, expect, sync_playwright
from tests.amount import ALL
from tests.chromium import debians_chromium

from kunstflug.launch.mariadb import PrivateMariaDB, free_port
from kunstflug.services.data.demo import load_demo
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate
from kunstflug.web.app import DIST, create_app

expect.set_options(timeout=40_000)  # the machine may be busy: what counts is the answer, not its time


class Site:
    """A running program."""

    def __init__(self, url: str, server: PrivateMariaDB, store: Store) -> None:
        self.url = url
        self.server = server
        self.store = store


@contextmanager
def served(store: Store) -> Iterator[int]:
    """The program on a database, by a thread of the tests; its port."""
    port = free_port()
    web = uvicorn.Server(uvicorn.Config(create_app(store), host="127.0.0.1", port=port, log_level="error"))
    thread = threading.Thread(target=web.run, daemon=True)
    thread.start()
    for _ in range(200):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                break
        time.sleep(0.05)
    yield port
    web.should_exit = True
    thread.join(timeout=10)


@pytest.fixture(scope="session")
def site(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Site]:
    """The program with the demo loaded; a server of its own, so that a test may take the database away."""
    assert (DIST / "index.html").is_file(), "build the front end first: make test does"
    with PrivateMariaDB(tmp_path_factory.mktemp("browser-db"), lasting=False) as server:
        store = Store(server.url("kunstflug"))
        migrate(store.engine)
        load_demo(store)
        with served(store) as port:
            yield Site(f"http://127.0.0.1:{port}", server, store)
        store.close()


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        # Drawn without a simulated graphics card: what is tested is the page, and it takes a quarter less time. All
        # tests have the compilers that racers have; the usual ones go without those that optimise, a tenth less.
        quick = [] if ALL else ["--js-flags=--no-opt"]
        browser = playwright.chromium.launch(
            executable_path=debians_chromium(), args=["--disable-gpu", "--disable-software-rasterizer", *quick]
        )
        yield browser
        browser.close()


@pytest.fixture
def errors() -> list[str]:
    """What the pages of a test complained about; must be empty at its end unless the test takes it out."""
    return []


COUNTED = """
window.asked = 0;
const plain = window.fetch;
window.fetch = (...words) => {
  window.asked += 1;
  return plain(...words).finally(() => setTimeout(() => (window.asked -= 1), 0));
};
"""


def settled(page: Page) -> None:
    """Waits until the page shows something and has no request under way, at two looks in a row.

    A look every 50 ms: at every frame, the default, the page would have to draw frames for it.
    """
    page.wait_for_function(
        """() => {
            const quiet = window.asked === 0 && document.querySelector('main h1, main [role=alert], main section');
            window.quiet = quiet ? (window.quiet ?? 0) + 1 : 0;
            return window.quiet > 1;
        }""",
        polling=50,
    )


NO_FIRST_HOUR = """
if (!localStorage.getItem('kunstflug.welcome'))
  localStorage.setItem('kunstflug.welcome', JSON.stringify({ done: [], closed: true }));
"""

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


WHOLE = {"type": "tag", "values": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}
LOOKS = {"type": "rule", "values": ["color-contrast", "target-size", "link-in-text-block"]}


def look_with_axe(page: Page, looks: tuple[str, ...] = ("paper", "sun")) -> None:
    """No violation in these looks of what is on the page; only the first is looked at where not all is tested."""
    page.evaluate(AXE.read_text())
    for look in looks if ALL else looks[:1]:
        if page.evaluate("localStorage.getItem('kunstflug.look')") != look:
            page.get_by_role("button", name="bright sun" if look == "sun" else "paper", exact=True).first.click()
        page.evaluate("Promise.all(document.getAnimations().map((a) => a.finished.catch(() => 0)))")
        # Another look has other colours and targets; all else is the same page.
        only = WHOLE if look == looks[0] else LOOKS
        found = page.evaluate("(only) => axe.run(document, { runOnly: only, resultTypes: ['violations'] })", only)
        said = [(v["id"], v["nodes"][0]["html"][:160], v["nodes"][0]["failureSummary"]) for v in found["violations"]]
        assert said == [], look
        assert len(found["passes"]) >= (10 if only is WHOLE else 1)  # it did look


def open_page(
    chromium: Browser,
    site: Site,
    width: int,
    height: int,
    look: str = "paper",
    *,
    worker: bool = False,
    url: str = "",
    first_hour: bool = False,
    still: bool = True,
) -> Page:
    """A page in a context of its own: a browser that was never here.

    Parameters
    ----------
    worker : with the page's worker, which answers without network; a test that plays network itself goes without.
    url : of the program, where it is not reached straight.
    first_hour : the demo greets; else it was told that it need not.
    still : nothing moves on its way, as for a user who asks for less motion, which takes a sixth less time.
    """
    context = chromium.new_context(
        viewport={"width": width, "height": height},
        base_url=url or site.url,
        has_touch=width < 500,
        accept_downloads=True,
        service_workers="allow" if worker else "block",
        reduced_motion="reduce" if still else "no-preference",
    )
    context.add_init_script(
        f"if (!localStorage.getItem('kunstflug.look')) localStorage.setItem('kunstflug.look', '{look}')"
    )
    if not first_hour:
        context.add_init_script(NO_FIRST_HOUR)
    context.add_init_script(COUNTED)
    page = context.new_page()
    page.set_default_timeout(40000)
    return page


@contextmanager
def listened(page: Page, errors: list[str]) -> Iterator[Page]:
    """Writes down what the page complains about meanwhile."""

    def heard(message: ConsoleMessage) -> None:
        if message.type == "error":
            errors.append(f"console: {message.text}")

    def fell(error: Error) -> None:
        errors.append(f"error: {error}")

    page.on("console", heard)
    page.on("pageerror", fell)
    yield page
    page.remove_listener("console", heard)
    page.remove_listener("pageerror", fell)


@contextmanager
def wiped(page: Page, width: int, height: int) -> Iterator[Page]:
    """The same window again, after which nothing of its user is left: a window of its own costs two seconds."""
    page.bring_to_front()  # a window behind another draws no frames
    page.set_viewport_size({"width": width, "height": height})
    yield page
    page.unroute_all(behavior="ignoreErrors")
    page.evaluate("localStorage.clear(); sessionStorage.clear()")
    page.goto("about:blank")
    page.context.clear_cookies()


@pytest.fixture(scope="session")
def bench_window(chromium: Browser, site: Site) -> Page:
    """The window at the bench."""
    return open_page(chromium, site, 1280, 800)


@pytest.fixture(scope="session")
def pond_window(chromium: Browser, site: Site) -> Page:
    """The window at the pond, the narrowest screen."""
    return open_page(chromium, site, 360, 780, "sun")


@pytest.fixture
def page(bench_window: Page, errors: list[str]) -> Iterator[Page]:
    """A page at the bench."""
    with wiped(bench_window, 1280, 800), listened(bench_window, errors):
        yield bench_window
    assert errors == []


@pytest.fixture
def phone(pond_window: Page, errors: list[str]) -> Iterator[Page]:
    """A page at the pond."""
    with wiped(pond_window, 360, 780), listened(pond_window, errors):
        yield pond_window
    assert errors == []


@pytest.fixture
def own_page(chromium: Browser, site: Site, errors: list[str]) -> Iterator[Page]:
    """A page at the bench in a window of its own, for a test that leaves something behind, such as another clock."""
    made = open_page(chromium, site, 1280, 800, still=False)
    with listened(made, errors):
        yield made
    made.context.close()
    assert errors == []
