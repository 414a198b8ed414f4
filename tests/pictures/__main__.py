"""Makes the pictures in docs/screenshots from the demo: ``make pictures``; ``-m tests.pictures run fit`` makes some."""

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from kunstflug.pond.world import Fault
from tests.browser.conftest import NO_FIRST_HOUR
from tests.browser.pond import a_boat_on_the_pond
from tests.chromium import debians_chromium
from tests.launch.whole import Whole

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"


def drag(page: Page, name: str, value: float) -> None:
    """Pulls a knob to a value."""
    slider = page.get_by_role("slider", name=name, exact=True)
    slider.evaluate("(e, v) => { e.value = v; e.dispatchEvent(new Event('input', { bubbles: true })); }", str(value))


def aim(page: Page) -> None:
    page.goto("/setups/3/aim")


def match(page: Page) -> None:
    page.goto("/setups/3/match")
    page.get_by_role("slider", name="KV", exact=True).wait_for()
    drag(page, "KV", 2050)


def match_heat(page: Page) -> None:
    page.goto("/setups/3/match")
    page.get_by_role("button", name="Temperatures").click()


def match_map(page: Page) -> None:
    page.goto("/setups/3/match")
    page.get_by_role("button", name="KV and propeller map").click()


def fit(page: Page) -> None:
    page.goto("/setups/3/fit")


def fit_water(page: Page) -> None:
    page.goto("/setups/3/fit")
    page.get_by_role("button", name="cooling water").click()


def fit_tub(page: Page) -> None:
    page.goto("/setups/3/fit")
    page.get_by_role("button", name="tub test").click()


def run(page: Page) -> None:
    page.goto("/setups/3/run")


def run_typed(page: Page) -> None:
    page.goto("/setups/3/run")
    page.get_by_role("button", name="Type in a run").click()
    display = page.get_by_test_id("display")
    shown = {
        "Peak, km/h": "79,2",
        "Instrument": "the small one",
        "Second best": "78",
        "Passes": "5",
        "Seconds each": "6",
        "On the water, min": "4",
        "Put back, mAh": "1850",
        "Cells after, V": "3.82 3.81 3.82",
    }
    for label, value in shown.items():
        display.get_by_label(label, exact=True).fill(value)
    page.get_by_test_id("held").wait_for()
    page.evaluate("scrollTo(0, 170)")


def live(page: Page) -> None:
    """A boat that is driven with the cap left on, as it is told to come in."""
    page.goto("/setups/3/live")
    page.get_by_role("textbox", name="port").fill("18431")
    page.get_by_role("textbox", name="port").press("Enter")
    with a_boat_on_the_pond(18431, faults=(Fault.CAP,), pace=10.0):
        page.get_by_role("button", name="Start").click()
        page.get_by_role("status").filter(has_text="Come in now").wait_for(timeout=150_000)
        # What is on the sheet now stays, though the driver does not heed it.
        page.evaluate("document.documentElement.innerHTML = document.documentElement.innerHTML")


def landing(page: Page) -> None:
    """After landing: the gun in its order, with what each place should read; one reading is out of line."""
    for drive in page.request.get("/api/setups/3/drives").json():
        page.request.post(f"/api/drives/{drive['id']}/end")
    page.goto("/setups/3/live")
    page.get_by_role("textbox", name="port").fill("18432")
    page.get_by_role("textbox", name="port").press("Enter")
    with a_boat_on_the_pond(18432, pace=40.0):
        page.get_by_role("button", name="Start").click()
        page.get_by_role("link", name="Read the gun now").click(timeout=150_000)
    page.get_by_text("should read").first.wait_for()
    page.get_by_label("controller, °C").fill("58")
    page.get_by_text("Temperatures, in gun order").scroll_into_view_if_needed()
    page.evaluate("document.querySelector('[role=timer]').closest('section').scrollIntoView()")


def launch(page: Page) -> None:
    """Checks, go or wait, the pass and the day; some ticked."""
    page.goto("/setups/8/launch")
    for words in ("Measure every cell", "Look at and feel", "Charge the transmitter", "Try every screw"):
        page.get_by_role("checkbox", name=words).check()
    water = page.get_by_label("straight water")
    water.fill("180")
    water.press("Enter")
    page.get_by_role("button", name="Draw the pond").click()
    page.get_by_role("button", name="Round the last track").click()
    page.get_by_text("Longest straight").wait_for()
    page.get_by_role("button", name="Add a run of this boat").click()
    page.get_by_role("slider", name="Run 4,").wait_for()
    page.evaluate("scrollTo(0, 0)")


def logbook(page: Page) -> None:
    page.goto("/logbook")
    page.get_by_text("Best of each boat").wait_for()


def compare(page: Page) -> None:
    page.goto("/setups/3/compare")
    page.get_by_role("heading", name="What the runs taught").wait_for()
    page.get_by_role("heading", name="Passes").wait_for()


def trim(page: Page) -> None:
    page.goto("/setups/8/trim")
    page.get_by_role("button", name="runs wet").click()
    page.get_by_role("heading", name="One small step").wait_for()
    page.get_by_role("img", name="Speed over pack position").wait_for()


def shelf(page: Page) -> None:
    page.goto("/shelf")


def ponds(page: Page) -> None:
    """Shore, longest straight, water through the year."""
    page.goto("/ponds")
    page.get_by_role("img", name="Water of").wait_for()


def measure(page: Page) -> None:
    page.goto("/measure")


def first_hour(page: Page) -> None:
    """The demo greets; the speed is asked where it comes from."""
    page.add_init_script("localStorage.removeItem('kunstflug.welcome')")
    page.goto("/setups/3/match")
    page.get_by_test_id("speed").click()
    page.get_by_text("Percentages are parts").wait_for()


DESK = (1280, 800, "paper")
TALL = (1280, 1120, "paper")
PHONE = (390, 844, "sun")
PICTURES: dict[str, tuple[Callable[[Page], None], tuple[int, int, str]]] = {
    "aim": (aim, TALL),
    "match": (match, DESK),
    "match-heat": (match_heat, TALL),
    "match-map": (match_map, TALL),
    "fit": (fit, DESK),
    "fit-water": (fit_water, DESK),
    "fit-tub": (fit_tub, DESK),
    "run": (run, DESK),
    "compare": (compare, (1280, 1640, "paper")),
    "launch": (launch, (1280, 1000, "paper")),
    "trim": (trim, (1280, 1060, "paper")),
    "shelf": (shelf, DESK),
    "measure": (measure, DESK),
    "ponds": (ponds, DESK),
    "first-hour": (first_hour, (1280, 900, "paper")),
    "logbook": (logbook, DESK),
    "run-typed": (run_typed, (390, 844, "paper")),
    # these leave runs behind
    "live": (live, PHONE),
    "landing": (landing, PHONE),
}


def main() -> None:
    """Makes all of them, or those that are named."""
    wanted = sys.argv[1:] or list(PICTURES)
    with tempfile.TemporaryDirectory(prefix="kunstflug-pictures-") as folder, Whole(Path(folder), workers=1) as whole:
        whole.start()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=debians_chromium())
            for name in wanted:
                _take(browser, whole.port, name)
            browser.close()


def _take(browser: Browser, port: int, name: str) -> None:
    act, (width, height, look) = PICTURES[name]
    context = browser.new_context(viewport={"width": width, "height": height}, base_url=f"http://127.0.0.1:{port}")
    context.add_init_script(f"localStorage.setItem('kunstflug.look', '{look}')")
    context.add_init_script(NO_FIRST_HOUR)
    page = context.new_page()
    act(page)
    page.wait_for_load_state("networkidle", timeout=120_000)  # the machine may be busy
    page.wait_for_timeout(400)  # what fades in has faded in
    page.screenshot(path=FOLDER / f"{name}.png")
    print(name)
    context.close()


if __name__ == "__main__":
    main()
