"""The real interface in headless Chromium, as a racer uses it."""

import json
import re
import statistics
import time
from datetime import datetime

import pytest
from playwright.sync_api import Page, expect
from tests import samples
from tests.amount import rarely
from tests.browser.conftest import listened, look_with_axe, open_page, settled

from kunstflug.documents.run import TypedRun
from kunstflug.files.gpx import write_gpx
from kunstflug.pond import run_outing
from kunstflug.services.boats import boats
from kunstflug.services.compare.knowledge import boat_knowledge
from kunstflug.services.learning import learning
from kunstflug.services.match import match
from kunstflug.services.run import run

pytestmark = pytest.mark.browser


def speed(page: Page) -> float:
    return float(page.get_by_test_id("speed").inner_text())


def pull(page: Page, name: str, value: float) -> None:
    """Moves a knob as a hand does, and waits for the forecast that belongs to it."""
    with page.expect_response("**/api/draft*"):
        page.get_by_role("slider", name=name, exact=True).evaluate(
            "(knob, value) => { knob.value = value; knob.dispatchEvent(new Event('input', { bubbles: true })); }", value
        )


def fresh_boat(site, name: str, **changes) -> int:
    return boats.new_boat(site.store, name, samples.document(**changes)).id


def forecast_text(site, setup: int, factor: float = 3.6) -> str:
    """The speed that the core forecasts for a setup, as it is shown; in km/h unless told otherwise."""
    saved = boats.setup(site.store, setup)
    learning.forget(site.store)
    known = learning.knowledge_of(site.store, saved.boat_id)
    value = match.forecast_of(saved.document, known).point.speed_mps.value
    assert value is not None
    return f"{value * factor:.0f}"


DIPPER = 3  # its newest setup in the demo


def test_first_look_shows_the_drive_line(page, site):
    page.goto("/")
    expect(page.get_by_role("heading", name="Dipper")).to_be_visible()
    expect(page.get_by_test_id("speed")).to_have_text(forecast_text(site, DIPPER))
    for station in ("Pack", "Controller", "Motor", "Propeller", "Hull"):
        expect(page.get_by_role("heading", name=station)).to_be_visible()
    expect(page.get_by_role("img", name="Thrust meets resistance")).to_be_visible()
    expect(page.get_by_role("link", name="Shrike")).to_be_visible()


def test_a_knob_moves_everything_and_leaves_a_ghost(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Knob')}/match")
    before = speed(page)
    crossing = page.get_by_test_id("crossing").get_attribute("cx")
    pull(page, "Diameter", 46)
    expect(page.get_by_test_id("speed")).not_to_have_text(f"{before:.0f}")
    assert speed(page) > before
    assert page.get_by_test_id("crossing").get_attribute("cx") != crossing
    expect(page.get_by_text(f"saved: {before:.0f} km/h")).to_be_visible()
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Diameter")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("speed")).to_have_text(f"{before:.0f}")


@pytest.mark.long
def test_slider_to_redraw(page, site, record_property):
    page.goto(f"/setups/{fresh_boat(site, 'Fast')}/match")
    expect(page.get_by_test_id("speed")).to_be_visible()
    # From the input event until the frame that holds the new crossing is drawn: a message posted in that frame's
    # callback comes after its painting. Beside it, what the bare answer and one frame take on this machine now.
    with page.expect_request("**/api/draft*") as sent:
        pull(page, "KV", 2250)
    times, bare = page.evaluate(
        """async (body) => {
            const headers = { 'content-type': 'application/json' };
            const knob = document.querySelector('input[type=range][aria-label="KV"]');
            const dot = () => document.querySelector('[data-testid=crossing]').getAttribute('cx');
            const drawn = () => new Promise((done) => {
                const channel = new MessageChannel();
                channel.port1.onmessage = () => done();
                channel.port2.postMessage(0);
            });
            const times = [], bare = [];
            for (let k = 0; k < 48; k++) {
                const before = dot();
                let start = performance.now();
                knob.value = 2200 + (k % 2 ? 1 : -1) * (100 + 10 * (k % 40));
                knob.dispatchEvent(new Event('input', { bubbles: true }));
                do { await new Promise(requestAnimationFrame); } while (dot() === before);
                await drawn();
                times.push(performance.now() - start);
                if (k % 4) continue;
                start = performance.now();
                await (await fetch('/api/draft', { method: 'POST', headers, body })).json();
                await new Promise(requestAnimationFrame);
                await drawn();
                bare.push(performance.now() - start);
            }
            return [times, bare];
        }""",
        sent.value.post_data,
    )
    middle, least = statistics.median(times), statistics.median(bare)
    record_property("slider_to_redraw_ms", middle)
    print(f"slider to redraw: median {middle:.0f} ms, worst {max(times):.0f} ms of {len(times)}; bare {least:.0f} ms")
    assert middle < 5 * least  # what is aimed at is 40 ms, on a machine that does nothing else


def test_adopt_by_enter_makes_a_setup_and_the_old_one_stays(page, site):
    setup = fresh_boat(site, "Adopt")
    page.goto(f"/setups/{setup}/match")
    pull(page, "KV", 2000)
    page.get_by_role("slider", name="KV", exact=True).press("Enter")
    page.wait_for_url(lambda url: f"/setups/{setup}/" not in url)
    expect(page.get_by_role("combobox", name="setup")).to_contain_text("2 · KV (newest)")
    page.goto(f"/setups/{setup}/match")
    expect(page.get_by_role("slider", name="KV", exact=True)).to_have_value("2200")


def test_swap_from_the_shelf(page, site):
    page.goto("/")
    page.get_by_role("button", name="swap the propeller").click()
    page.get_by_label("Find by size or name").fill("48")
    page.get_by_role("dialog").get_by_role("button", name="48 x 1.4").click()
    expect(page.get_by_role("region", name="Draft")).to_contain_text("42 x 1.4 → 48 x 1.4")
    page.get_by_role("button", name="Discard changes").click()
    expect(page.get_by_test_id("speed")).to_have_text(forecast_text(site, DIPPER))


def test_a_draft_survives_a_reload(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Reload')}/match")
    pull(page, "All-up mass", 2500)
    page.reload()
    expect(page.get_by_role("slider", name="All-up mass")).to_have_value("2500")
    expect(page.get_by_role("region", name="Draft")).to_contain_text("2500")


def test_a_typed_number_outside_its_range_is_refused_and_kept(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Typed')}/match")
    page.get_by_role("button", name="type KV").click()
    field = page.get_by_label("KV in rpm/V")
    field.fill("0")
    field.press("Enter")
    expect(page.get_by_text("allowed: 50 to 20")).to_be_visible()
    expect(field).to_have_value("0")
    field.fill("1800")
    with page.expect_response("**/api/draft*"):
        field.press("Enter")
    expect(page.get_by_role("slider", name="KV", exact=True)).to_have_value("1800")


def test_no_operating_point_is_said_with_what_would_work(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Weak', hull={'hull_type': 'mono', 'length': samples.q(1000, 'mm')})}/match")
    page.get_by_role("button", name="type Diameter").click()
    page.get_by_label("Diameter in mm").fill("110")
    with page.expect_response("**/api/draft*"):
        page.get_by_label("Diameter in mm").press("Enter")
    alert = page.get_by_test_id("headline").get_by_role("alert")
    expect(alert).to_contain_text("Propeller too big")
    expect(alert).to_contain_text("would run")


def test_new_boat_from_nothing_to_its_first_forecast(page):
    page.goto("/new")
    typed = {
        "Boat name": "Wigeon", "All-up mass": "2050", "Length": "640", "Cells in series": "4",
        "Capacity": "4500", "Max. continuous current": "120", "KV": "0", "Can diameter": "36", "Can length": "74",
        "Diameter": "41", "Pitch ratio": "1,4",
    }  # fmt: skip
    for label, text in typed.items():
        page.get_by_label(label, exact=True).fill(text)
    expect(page.get_by_text("allowed: 50 to").first).to_be_visible()  # KV 0 is impossible
    page.reload()
    expect(page.get_by_label("All-up mass")).to_have_value("2050")  # nothing typed is lost
    page.get_by_label("KV", exact=True).fill("2100")
    expect(page.get_by_text("80 % between")).to_be_visible()
    page.get_by_role("button", name="Save boat").click()
    expect(page.get_by_role("heading", name="Wigeon")).to_be_visible()
    expect(page.get_by_test_id("speed")).to_be_visible()
    page.get_by_role("button", name="guesses").click()
    expect(page.get_by_text("What widens the band")).to_be_visible()


def test_new_boat_says_what_is_missing(page):
    page.goto("/new")
    page.get_by_role("button", name="Save boat").click()
    expect(page.get_by_text("numbers are still missing")).to_be_visible()
    expect(page.get_by_text("at least one letter")).to_be_visible()


def test_units_switch_everywhere_at_once(page, site):
    page.goto("/")
    expect(page.get_by_test_id("speed")).to_have_text(forecast_text(site, DIPPER))
    page.keyboard.press("u")
    expect(page.get_by_test_id("speed")).to_have_text(forecast_text(site, DIPPER, 3.6 / 1.609344))
    expect(page.get_by_role("link", name="Dipper")).to_contain_text("mph")
    page.keyboard.press("u")
    expect(page.get_by_test_id("speed")).to_have_text(forecast_text(site, DIPPER))


def test_keyboard_goes_round_the_course(page):
    page.goto("/")
    expect(page.get_by_test_id("speed")).to_be_visible()
    page.keyboard.press("5")
    expect(page.get_by_text("Temperatures, in gun order")).to_be_visible()
    page.keyboard.press("6")
    expect(page.get_by_text("Forecast and result")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Save the draft as a new setup")
    page.keyboard.press("Escape")
    page.keyboard.press("2")
    expect(page.get_by_test_id("speed")).to_be_visible()


def gpx_file(seed: int, cut: float = 1.0) -> dict[str, object]:
    whole = write_gpx(run_outing(samples.setup(), seed=seed, start_unix_s=1_780_000_000.0).track, "x")
    return {"name": "sunday.gpx", "mimeType": "application/gpx+xml", "buffer": whole[: int(len(whole) * cut)]}


@pytest.mark.long
def test_a_run_from_a_file_with_temperatures_and_notes(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Filed')}/run")
    expect(page.get_by_text("No run yet.")).to_be_visible()
    page.get_by_label("Import a log").set_input_files(gpx_file(1))
    expect(page.get_by_test_id("both-ways")).to_contain_text("km/h")
    expect(page.get_by_role("img", name="Track with 4 passes")).to_be_visible()
    expect(page.get_by_text("is not speed")).to_be_visible()  # the spike
    page.get_by_role("button", name="Landed now").click()
    page.get_by_label("motor front, °C").fill("51,5")
    expect(page.get_by_label("motor front, minutes after landing")).to_have_value("0.0")
    page.get_by_role("button", name="planes cleanly").click()
    page.reload()
    expect(page.get_by_label("motor front, °C")).to_have_value(re.compile(r"51[.,]5"))  # saved or not, not lost
    expect(page.get_by_test_id("kept")).to_have_text(re.compile(r"^(Saved)?$"))
    page.get_by_label("Note").fill("calm")
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    page.reload()
    expect(page.get_by_label("motor front, °C")).to_have_value("51.5")
    expect(page.get_by_role("button", name="planes cleanly")).to_have_attribute("aria-pressed", "true")


def test_a_run_is_typed_in_from_a_display(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Display')}/run")
    page.get_by_role("button", name="Type in a run").click()
    display = page.get_by_test_id("display")
    display.get_by_label("Peak, km/h").fill("78,4")
    display.get_by_label("Second best").fill("77")
    display.get_by_label("Passes").fill("5")
    display.get_by_label("On the water, min").fill("4,5")
    display.get_by_label("Put back, mAh").fill("2100")
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    expect(page.get_by_test_id("held")).to_contain_text("76")  # 2.5 % below what the display showed
    page.reload()
    expect(display.get_by_label("Peak, km/h")).to_have_value("78.4")
    expect(display.get_by_label("On the water, min")).to_have_value("4.5")
    page.get_by_role("link", name="Compare").first.click()
    page.get_by_role("button", name="As bought").click()  # the table that says how each speed was read
    expect(page.get_by_text("display's peak less 2.5 %")).to_be_visible()


@pytest.mark.long
def test_a_damaged_file_is_offered_and_taken_on_request(page, site, errors):
    page.goto(f"/setups/{fresh_boat(site, 'Damaged')}/run")
    page.get_by_label("Import a log").set_input_files(gpx_file(2, cut=0.6))
    expect(page.get_by_role("alert")).to_contain_text(re.compile(r"has (a fault|\d+ faults)\. Line \d+: "))
    page.get_by_role("button", name="Import the readable part").click()
    expect(page.get_by_test_id("both-ways")).to_be_visible()
    expect(page.get_by_text("Read in part: broken at line")).to_be_visible()
    page.get_by_label("Import a log").set_input_files(
        {"name": "photo.gpx", "mimeType": "image/png", "buffer": b"\x89PNG\r\n"}
    )
    expect(page.get_by_role("alert")).to_contain_text("not GPX, NMEA")
    errors[:] = [e for e in errors if "422" not in e]  # the browser logs the refusals themselves


def test_the_simulated_pond_and_the_comparison(page, site):
    setup = fresh_boat(site, "Ponded")
    page.goto(f"/setups/{setup}/run")
    page.get_by_role("button", name="Simulated pond").click()
    page.get_by_label("Wind, m/s").fill("0")
    page.get_by_role("button", name="Drive").click()
    expect(page.get_by_test_id("both-ways")).to_be_visible()
    expect(page.get_by_label("motor front, °C")).not_to_have_value("")
    page.get_by_role("link", name="Compare").click()
    table = page.get_by_role("table", name="Forecast and result")
    for what in ("Top speed", "Current", "Loaded rpm", "Pack under load", "Motor, 1.8 min", "Controller, 1.5 min"):
        expect(table).to_contain_text(what)
    expect(table.get_by_text("held").or_(table.get_by_text("missed")).first).to_be_visible()
    page.get_by_role("button", name="As bought").click()
    expect(table).to_contain_text("Top speed, average of both directions")


def test_runs_teach_the_boat_and_as_bought_is_one_switch_away(page, site):
    """The demo's season: what was learnt narrows the band on Match, and Compare says what taught it."""
    page.goto(f"/setups/{DIPPER}/match")
    expect(page.get_by_role("button", name=re.compile("learnt from .* runs"))).to_be_visible()

    def band() -> float:
        found = re.search(r"between (\d+) and (\d+)", page.get_by_test_id("headline").inner_text().replace("\n", " "))
        assert found
        return float(found[2]) - float(found[1])

    learnt = band()
    with page.expect_response("**/api/draft*"):
        page.get_by_role("button", name="as bought").click()
    expect(page.get_by_role("button", name="as bought")).to_have_attribute("aria-pressed", "true")
    settled(page)
    assert band() > 2 * learnt
    with page.expect_response("**/api/draft*"):
        page.get_by_role("button", name=re.compile("learnt from .* runs")).click()
    page.get_by_role("button", name="Play the season").click()
    known = page.get_by_test_id("runs-known")
    expect(known).to_have_text("before the first run")
    wait_for(lambda: band() > 2 * learnt)
    expect(known).to_contain_text("after")  # it goes on by itself
    slider = page.get_by_role("slider", name="Runs known")
    slider.press("End")
    expect(known).to_have_text(re.compile(r"after (\d+) of \1$"))
    wait_for(lambda: band() < 1.1 * learnt)
    page.get_by_role("button", name="All runs again").click()
    page.get_by_role("link", name="what they taught").click()
    expect(page.get_by_role("heading", name="What the runs taught")).to_be_visible()
    expect(page.get_by_role("list", name="Numbers of the boat")).to_contain_text("Wetted hull")
    expect(page.get_by_role("list", name="Next changes").get_by_role("listitem")).to_have_count(4)
    expect(page.get_by_test_id("brought").first).to_contain_text("measured")
    expect(page.get_by_role("img", name=re.compile("Speed of 5 runs"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^All .* numbers$")).click()
    expect(page.get_by_role("list", name="Numbers of the boat")).to_contain_text("Bore of the water line")


def test_a_slip_of_the_pen_is_put_right_with_one_tap(page, site):
    saved = fresh_boat(site, "Slips")
    for k, kmh in enumerate((80.0, 80.6, 79.8, 129.2)):
        made = run.type_run(site.store, saved, datetime(2026, 6, 1 + k, 10))
        peak = {"speed": {"value": kmh, "unit": "km/h"}}
        run.set_notes(site.store, made.id, {}, "", [], [], made.tag, TypedRun.model_validate({"peaks": [peak]}))
    learning.forget(site.store)
    page.goto(f"/setups/{saved}/compare")
    odd = page.get_by_test_id("odd-run")
    expect(odd).to_contain_text("It may be another unit: 78.3 km/h")
    settled(page)
    odd.get_by_role("button", name="Put it right: 78.3 km/h").click()
    expect(page.get_by_text("Put right: it counts again")).to_be_visible()
    expect(odd).to_have_count(0)


@pytest.mark.long
def test_what_a_boat_taught_is_forgotten_and_comes_back(page, site):
    saved = fresh_boat(site, "Forgetful")
    boat_id = boats.setup(site.store, saved).boat_id
    runs = []
    for day in (1, 3):
        made = run.type_run(site.store, saved, datetime(2026, 5, day, 9))
        typed = TypedRun.model_validate({"peaks": [{"speed": {"value": 70, "unit": "km/h"}}]})
        run.set_notes(site.store, made.id, {}, "", [], [], made.tag, typed)
        runs.append(made.id)
    learning.forget(site.store)
    page.goto(f"/setups/{saved}/compare")
    page.get_by_role("button", name="Set 2 runs aside").click()
    expect(page.get_by_test_id("set-aside")).to_contain_text("2 runs are set aside")
    # Nothing that takes long stands before the way back: it is offered for some seconds only.
    assert all(run.run(site.store, one).typed.set_aside for one in runs)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Set 2 runs aside")).to_be_visible()
    assert learned_from(site, boat_id) == 2


def learned_from(site, boat_id):
    return boat_knowledge(site.store, boat_id).runs_of_boat


def wait_for(true):
    for _ in range(150):
        if true():
            return
        time.sleep(0.1)
    raise AssertionError("it never came true")


def test_database_gone_during_a_save_keeps_the_form(page, site, errors):
    page.goto(f"/setups/{fresh_boat(site, 'Gone')}/match")
    before = speed(page)
    with page.expect_response(lambda r: "/api/draft" in r.url and r.request.post_data_json["explained"]):
        pull(page, "KV", 2050)
    expect(page.get_by_test_id("speed")).not_to_have_text(f"{before:.0f}")
    port = site.server.port
    site.server.stop()
    try:
        # The save's own answer: other requests of the page are refused in the same words, and sooner.
        with page.expect_response("**/adopt") as answered:
            page.get_by_role("button", name="Save as new setup").click()
        assert answered.value.status == 503
        expect(page.get_by_text("nothing was saved, your input is kept").first).to_be_visible()
        expect(page.get_by_role("slider", name="KV", exact=True)).to_have_value("2050")
    finally:
        site.server.start(port=port)
        wait_for(site.store.answers)
    page.get_by_role("button", name="Save as new setup").click()
    expect(page.get_by_role("combobox", name="setup")).to_contain_text("2 · KV (newest)")
    errors[:] = [e for e in errors if "503" not in e]


@pytest.mark.long
def test_taken_out_renamed_and_undone(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Named wrong')}/match")
    manage = page.get_by_role("button", name="Manage…")
    manage.click()
    dialog = page.get_by_role("dialog", name="Manage boat, setup and run")
    dialog.get_by_label("Name").first.fill("Named right")
    dialog.get_by_role("button", name="Rename boat").click()
    expect(page.get_by_role("status")).to_contain_text("Boat renamed: Named right")
    expect(page.get_by_role("navigation", name="Boathouse")).to_contain_text("Named right")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("navigation", name="Boathouse")).to_contain_text("Named wrong")
    manage.click()
    dialog.get_by_role("button", name="Move boat to bin").click()
    expect(page.get_by_role("navigation", name="Boathouse")).not_to_contain_text("Named wrong")
    page.get_by_role("link", name="Bin and archive").click()
    row = page.get_by_role("row", name="Named wrong")
    expect(row).to_contain_text("1 setup, 0 runs")
    row.get_by_role("button", name="Restore").click()
    expect(page.get_by_role("navigation", name="Boathouse")).to_contain_text("Named wrong")
    expect(row).to_have_count(0)
    page.get_by_role("link", name="Named wrong").click()
    manage.click()
    dialog.get_by_role("button", name="Archive boat").click()
    expect(page.get_by_role("navigation", name="Boathouse")).not_to_contain_text("Named wrong")
    page.goto("/bin")
    page.get_by_role("row", name="Named wrong").get_by_role("button", name="Move back to the boats").click()
    expect(page.get_by_role("navigation", name="Boathouse")).to_contain_text("Named wrong")


@pytest.mark.long
def test_two_tabs_on_one_run_choose_what_stays(page, site, chromium, errors):
    address = f"/setups/{fresh_boat(site, 'Two tabs')}/run"
    page.goto(address)
    page.get_by_label("Import a log").set_input_files(gpx_file(31))
    expect(page.get_by_test_id("both-ways")).to_contain_text("km/h")
    other = open_page(chromium, site, 1280, 800)
    with listened(other, errors):
        other.goto(address)
        other.get_by_label("Note").fill("from the other tab")
        expect(other.get_by_test_id("kept")).to_have_text("Saved")
    other.context.close()
    page.get_by_label("Note").fill("from this tab")
    dialog = page.get_by_role("dialog", name="Changed in two places")
    expect(dialog.get_by_role("row", name="note")).to_contain_text("from the other tab")
    dialog.get_by_role("button", name="Save mine").click()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    page.reload()
    expect(page.get_by_label("Note")).to_have_value("from this tab")
    errors[:] = [e for e in errors if "412" not in e]


@pytest.mark.long
def test_the_document_goes_out_as_a_file(page, site, tmp_path):
    page.goto(f"/setups/{fresh_boat(site, 'Export')}/match")
    with page.expect_download() as download:
        page.get_by_role("link", name="Download").click()
    download.value.save_as(tmp_path / "x.json")
    assert json.loads((tmp_path / "x.json").read_text())["format"] == "kunstflug-setup"


@pytest.mark.long
def test_nothing_comes_from_outside(page, site):
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    for path in ("/", "/new", "/setups/3/run", "/setups/3/compare"):
        page.goto(path)
        settled(page)
    assert asked
    assert [url for url in asked if not url.startswith((site.url, "data:"))] == []


def test_back_leads_out_of_the_first_page(page):
    """It leads on to the first boat; Back once led to it, and so on again, and nobody came out."""
    page.goto("/settings")
    settled(page)
    page.goto("/")
    expect(page).to_have_url(re.compile("/match$"))
    settled(page)
    page.go_back()
    expect(page).to_have_url(re.compile("/settings$"))


def test_an_address_that_leads_nowhere(page):
    page.goto("/nowhere")
    expect(page.get_by_role("heading", name="Page not found")).to_be_visible()


def test_walking_the_single_changes_and_adopting_one(page, site):
    setup = fresh_boat(site, "Walked")
    page.goto(f"/setups/{setup}/match")
    expect(page.get_by_role("table", name="Changes").get_by_role("row").nth(1)).to_be_visible()
    before = speed(page)
    with page.expect_response("**/api/draft*"):
        page.keyboard.press("]")
    expect(page.get_by_role("region", name="Draft")).to_be_visible()
    expect(page.get_by_test_id("speed")).not_to_have_text(f"{before:.0f}")
    with page.expect_response("**/api/draft*"):
        page.keyboard.press("]")
    with page.expect_response("**/api/draft*"):
        page.keyboard.press("[")
    page.keyboard.press("Enter")
    page.wait_for_url(lambda url: f"/setups/{setup}/" not in url)
    expect(page.get_by_role("combobox", name="setup")).to_contain_text("(newest)")


def test_heat_follows_the_duty_and_the_school(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Hot')}/match")
    page.get_by_role("button", name="Temperatures").click()
    expect(page.get_by_role("img", name="winding reaches")).to_be_visible()
    expect(page.get_by_text("of 65 °C")).to_be_visible()
    page.get_by_role("button", name="88 °C (hot)").click()
    expect(page.get_by_text("of 88 °C")).to_be_visible()
    page.get_by_role("button", name="Lap race").click()
    expect(page.get_by_role("textbox", name="minutes")).to_have_value("4")
    page.reload()
    page.get_by_role("button", name="Temperatures").click()
    expect(page.get_by_text("of 88 °C")).to_be_visible()  # kept with the boat


@pytest.mark.long
def test_a_place_on_the_map_is_tried(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Mapped')}/match")
    page.get_by_role("button", name="KV and propeller map").click()
    chart = page.get_by_role("application", name="Map of KV")
    expect(chart).to_be_visible()
    with page.expect_response("**/api/draft*"):
        chart.click(position={"x": 150, "y": 120})
    draft = page.get_by_role("region", name="Draft")
    expect(draft).to_contain_text("KV")
    expect(draft).to_contain_text("Several changes")
    chart.press("ArrowRight")
    expect(page.get_by_text("% of").first).to_be_visible()


def test_a_guess_replaced_by_a_measurement_narrows_the_band(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Measured')}/match")
    with page.expect_response("**/api/draft*"):
        page.get_by_role("button", name="as bought").click()  # what other boats taught is no guess any more
    page.get_by_role("button", name="guesses").click()
    band = page.get_by_text("80 % between").inner_text()
    page.get_by_role("button", name=re.compile(r"^All \d+")).click()
    page.get_by_role("button", name="Measured? Drag area").click()
    page.get_by_label("wetted area x drag coefficient").fill("1,1")
    with page.expect_response("**/api/draft*"):
        page.get_by_role("button", name="Use measured value").click()
    expect(page.get_by_text("80 % between")).not_to_have_text(band)
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Hardware drag area")


def test_aim_backward_and_on_to_match(page, site):
    setup = fresh_boat(site, "Aimed")
    page.goto(f"/setups/{setup}/aim")
    with page.expect_response("**/api/backward*"):
        page.get_by_label("Target speed").fill("88")
    expect(page.get_by_role("img", name="target of 88")).to_be_visible()
    with page.expect_response("**/api/backward*"):
        page.get_by_role("button", name="Packs").click()
    drives = page.get_by_role("table", name="Drives")
    expect(drives.get_by_role("cell", name="4S", exact=True).first).to_be_visible()
    expect(page.get_by_text("It takes a controller")).to_be_visible()
    settled(page)  # a later answer would put other buttons in the table
    page.get_by_role("button", name="Try in Match").click()
    expect(page.get_by_role("region", name="Draft")).to_contain_text("→")
    page.wait_for_function("() => Number(document.querySelector('[data-testid=speed]')?.innerText) >= 86")
    page.goto(f"/setups/{setup}/aim")
    expect(page.get_by_label("Target speed")).to_have_value("88")  # kept with the boat


def test_what_went_wrong_leads_to_what_helps(page, site):
    setup = fresh_boat(site, "Troubled")
    page.goto(f"/setups/{setup}/match")
    expect(page.get_by_role("button", name="Faster")).to_be_visible()
    page.keyboard.press("Control+k")
    page.get_by_placeholder("What do you want to do?").fill("hot motor")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Cooler, within limits", pressed=True)).to_be_visible()
    page.goto(f"/setups/{setup}/run")
    page.get_by_role("button", name="Type in a run").click()
    page.get_by_role("link", name="Short", exact=True).click()
    expect(page.get_by_role("button", name="Longer", pressed=True)).to_be_visible()


@pytest.mark.long
def test_an_impossible_wish_says_why(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Wished')}/aim")
    with page.expect_response("**/api/backward*"):
        page.get_by_label("Target speed").fill("300")
    expect(page.get_by_role("alert")).to_contain_text("Not possible")


SCREENS = (
    "/setups/3/aim",
    "/setups/3/match",
    "/setups/3/run",
    "/setups/3/compare",
    "/setups/8/trim",
    "/new",
    "/setups/3/fit",
    "/shelf",
    "/measure",
    "/logbook",
    "/settings",
)


@pytest.mark.parametrize("path", rarely(SCREENS, but={"/setups/3/match", "/setups/3/fit", "/shelf"}))
def test_no_axe_violations(page, path):
    page.goto(path)
    settled(page)
    if path == "/setups/3/match":
        pull(page, "KV", 2400)
        expect(page.get_by_role("region", name="Draft")).to_be_visible()
        settled(page)
    look_with_axe(page)


@pytest.mark.parametrize("path", rarely(SCREENS, but={"/setups/3/match"}))
def test_works_on_the_narrowest_phone(phone, path):
    phone.goto(path)
    settled(phone)
    wide = phone.evaluate("document.documentElement.scrollWidth")
    assert wide <= 360, f"{path} scrolls sideways: {wide} px"
    # one thumb: in bright sun every button is at least 48 px high, but for links inside a sentence
    boxes = phone.evaluate(
        """[...document.querySelectorAll('main button')].filter((b) => {
            const style = getComputedStyle(b);
            return b.offsetHeight && (style.borderLeftWidth !== '0px' || style.backgroundColor !== 'rgba(0, 0, 0, 0)');
        }).map((b) => [b.innerText, b.offsetHeight])"""
    )
    assert [text for text, high in boxes if high < 43] == []  # the tabs are nine tenths of the target
    look_with_axe(phone, ("sun",))  # the look for the pond


@pytest.mark.long
def test_a_search_over_the_shelf_is_watched_and_its_drive_tried(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Searched')}/match")
    page.get_by_role("button", name="Search", exact=True).click()
    page.get_by_role("button", name="Search these").click()
    expect(page.get_by_text("drives tried")).to_be_visible(timeout=240_000)  # some 5000 drives, on a busy machine
    rows = page.get_by_role("row").filter(has_text="holds")
    assert rows.count() >= 1
    promised = rows.first.get_by_role("cell").nth(1).inner_text()
    with page.expect_response("**/api/draft*"):
        rows.first.get_by_role("button").click()
    expect(page.get_by_role("region", name="Draft")).to_be_visible()
    expect(page.get_by_test_id("speed")).to_have_text(promised)  # what the row says, the drive then does


@pytest.mark.long
def test_a_search_too_large_says_the_size_that_would_do(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Too many')}/match")
    page.get_by_role("button", name="Search", exact=True).click()
    page.get_by_role("button", name="Ranges").click()
    page.get_by_role("spinbutton", name="values per range").fill("180")
    page.get_by_role("checkbox", name="mass", exact=True).check()
    expect(page.get_by_text("a fineness of")).to_be_visible()
    expect(page.get_by_role("button", name="Search these")).to_be_disabled()


@pytest.mark.long
def test_a_doubted_number_is_questioned_beside_its_field(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Doubted')}/match")
    page.get_by_role("button", name="Details of the motor").click()
    dialog = page.get_by_role("dialog")
    with page.expect_response("**/api/draft*"):
        dialog.get_by_label("Max. current").fill("540")
    expect(dialog.get_by_text("540 A is printed on")).to_be_visible()
    dialog.get_by_label("Poles").fill("2.5")
    expect(dialog.get_by_text("a whole number from 2 to 42")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("region", name="Motor").get_by_text("540 A is printed on")).to_be_visible()
