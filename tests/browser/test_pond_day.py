"""A day at the pond on the phone: taken along, checked, the network away in the middle, driven, read, sent."""

import json
import re
from datetime import UTC, datetime, timedelta

import pytest
from playwright.sync_api import expect
from tests.browser.conftest import listened, look_with_axe, open_page, settled
from tests.browser.pond import Line, a_boat_on_the_pond
from tests.browser.test_interface import forecast_text, fresh_boat

from kunstflug.pond.world import Fault
from kunstflug.services.run import run as runs
from kunstflug.services.shared.rows import racer_of
from kunstflug.store.tables import DayTick

pytestmark = pytest.mark.browser


@pytest.fixture
def line(site):
    made = Line(int(site.url.rsplit(":", 1)[1]))
    yield made
    made.close()


@pytest.fixture
def pond_phone(chromium, site, line, errors):
    """A phone of its own, with the page's worker, and a network that can be cut."""
    made = open_page(chromium, site, 390, 844, worker=True, url=f"http://127.0.0.1:{line.port}")
    with listened(made, errors):
        yield made
    made.context.close()
    # A browser writes to its console what found no network, and what was refused.
    assert [e for e in errors if not re.search(r"net::ERR_|status of 412", e)] == []


def taken_along(phone, setup):
    """Opens Launch until the phone has what it needs at the pond."""
    phone.goto(f"/setups/{setup}/launch")
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    phone.wait_for_function("navigator.serviceWorker.controller !== null")
    phone.reload()
    expect(phone.get_by_test_id("pack")).to_contain_text("On this device for the pond")


def ticks(site):
    with site.store.transaction() as session:
        rows = session.query(DayTick).filter(DayTick.owner_id == racer_of(session)).all()
        return {(row.boat_id, row.check) for row in rows if row.done}


@pytest.mark.long
def test_launch_run_trim_and_forecast_without_network_and_what_is_typed_goes_in_once(pond_phone, line, site):
    phone, setup = pond_phone, fresh_boat(site, "Afar")
    taken_along(phone, setup)
    phone.goto(f"/setups/{setup}/match")
    forecast = phone.get_by_test_id("speed")
    expect(forecast).to_have_text(forecast_text(site, setup))
    before = len(ticks(site))
    line.cut()
    phone.goto(f"/setups/{setup}/launch")
    expect(phone.get_by_test_id("link")).to_contain_text("No connection: shown as of")
    for name in ("Put the drain plug in", "Range"):
        box = phone.get_by_role("checkbox", name=name).first
        box.scroll_into_view_if_needed()
        box.tap()
        expect(box).to_be_checked()
    expect(phone.get_by_test_id("link")).to_contain_text("2 changes wait on this device")
    phone.reload()  # nothing that was tapped is lost
    expect(phone.get_by_role("checkbox", name="Put the drain plug in")).to_be_checked()
    look_with_axe(phone)

    phone.goto(f"/setups/{setup}/trim")
    expect(phone.get_by_role("button", name="porpoises")).to_be_visible()
    phone.get_by_role("button", name="porpoises").tap()
    expect(phone.get_by_role("button", name="porpoises")).to_have_attribute("aria-pressed", "true")
    phone.goto(f"/setups/{setup}/match")
    settled(phone)
    expect(forecast).to_have_text(forecast_text(site, setup))

    phone.goto(f"/setups/{setup}/run")
    phone.get_by_role("button", name="Type in a run").tap()
    phone.get_by_label("Peak", exact=False).first.fill("61.5")
    note = phone.get_by_label("Note", exact=True)
    note.fill("typed at the far shore")
    expect(phone.get_by_test_id("kept")).to_have_text("Kept on this device until the network is back")
    phone.reload()
    expect(phone.get_by_label("Note", exact=True)).to_have_value("typed at the far shore")
    phone.get_by_label("Note", exact=True).fill("typed at the far shore, twice")
    expect(phone.get_by_test_id("link")).to_contain_text("wait on this device")
    look_with_axe(phone)
    expect(phone.get_by_test_id("kept")).to_have_text("Kept on this device until the network is back")

    line.mend()
    expect(phone.get_by_test_id("link")).to_have_count(0)
    assert len(ticks(site)) == before + 2
    boat = json.loads(phone.evaluate(f"fetch('/api/setups/{setup}').then((a) => a.text())"))["boat_id"]
    made = runs.runs(site.store, boat).items
    assert len(made) == 1
    whole = runs.run(site.store, made[0].id)
    assert whole.note == "typed at the far shore, twice"
    assert whole.typed.peaks[0].speed.value == 61.5
    expect(phone.get_by_label("Note", exact=True)).to_have_value("typed at the far shore, twice")


def test_what_is_answered_without_network_is_what_the_server_said(pond_phone, line, site):
    """Forecast, heat of the chosen duty, launch and trim: the same numbers, to the last digit."""
    phone, setup = pond_phone, fresh_boat(site, "Equal")
    phone.add_init_script("""
        const plain = window.fetch;
        window.said = [];
        window.fetch = async (asked, ...more) => {
            const request = new Request(asked, ...more);
            const body = request.method === 'POST' ? await request.clone().text() : undefined;
            const answer = await plain(request);
            const path = new URL(request.url).pathname;
            if (/\\/api\\/(draft|heat|forecast|next)$|\\/(launch|trim)$/.test(path) && answer.ok)
                window.said.push([request.url, [...request.headers], body, await answer.clone().text()]);
            return answer;
        };
    """)
    taken_along(phone, setup)
    # every change takes a second to try: it is taken along when its answer is there
    for _ in range(400):
        if phone.evaluate("window.said.some(([url]) => url.includes('/api/next'))"):
            break
        phone.wait_for_timeout(100)
    asked = phone.evaluate("window.said.length")
    assert asked > 15
    line.cut()
    same = phone.evaluate("""async () => {
        const found = [];
        for (const [url, headers, body, said] of window.said.slice()) {
            const again = await fetch(url, { method: 'POST', headers, body });
            found.push([url, (await again.text()) === said, again.headers.get('x-kunstflug-kept') !== null]);
        }
        return found;
    }""")
    names = {url.rsplit("/", 1)[1].partition("?")[0] for url, _, _ in same}
    assert names == {"draft", "heat", "forecast", "next", "launch", "trim"}
    assert all(equal and kept for _, equal, kept in same), same


@pytest.mark.long
def test_somebody_else_changed_it_meanwhile_and_both_are_shown(pond_phone, line, site):
    phone, setup = pond_phone, fresh_boat(site, "Both")
    made = runs.type_run(site.store, setup)
    taken_along(phone, setup)
    line.cut()
    phone.goto(f"/setups/{setup}/run")
    phone.get_by_label("Note", exact=True).fill("mine")
    expect(phone.get_by_test_id("kept")).to_have_text("Kept on this device until the network is back")
    runs.set_notes(site.store, made.id, {}, "theirs", [], [], "*")
    line.mend()
    expect(phone.get_by_test_id("link")).to_contain_text("Not saved: the notes on the run of")
    phone.get_by_role("button", name="Compare", exact=True).tap()
    dialog = phone.get_by_role("dialog")
    expect(dialog).to_contain_text("mine")
    expect(dialog).to_contain_text("theirs")
    dialog.get_by_role("button", name="mine").tap()
    expect(phone.get_by_test_id("link")).to_have_count(0)
    assert runs.run(site.store, made.id).note == "mine"


@pytest.mark.long
def test_a_day_on_the_simulated_pond(pond_phone, line, site):
    """Check, launch, passes live with the link cut twice, come in when told, readings, all kept."""
    phone, setup = pond_phone, fresh_boat(site, "Day")
    taken_along(phone, setup)
    plug = phone.get_by_role("checkbox", name="Arming plug in, last of all")
    plug.scroll_into_view_if_needed()
    plug.tap()
    expect(plug).to_be_checked()
    phone.goto(f"/setups/{setup}/live")
    port = phone.get_by_role("textbox", name="port")
    port.fill("18431")
    port.press("Enter")
    with a_boat_on_the_pond(18431, faults=(Fault.CAP,), pace=20.0, passes=60) as call_in:
        phone.get_by_role("button", name="Start", exact=True).tap()
        expect(phone.get_by_test_id("live-speed")).to_be_visible()
        look_with_axe(phone)
        for _ in range(2):
            line.cut()
            expect(phone.get_by_role("alert").filter(has_text="does not answer this screen")).to_be_visible()
            line.mend()
            expect(phone.get_by_role("alert").filter(has_text="does not answer this screen")).to_have_count(0)
        expect(phone.get_by_role("status").filter(has_text="Come in now")).to_be_visible()
        call_in()
        # The way home takes a while, and the page comes back to it by itself where the machine is busy.
        expect(phone.get_by_text("The boat is out of the water")).to_be_visible(timeout=180_000)
    phone.get_by_role("link", name="Read the gun now").tap()
    pad = phone.locator("section", has_text="Temperatures, in gun order")
    expect(pad.get_by_text("should read").first).to_be_visible()
    for place, celsius in (("controller", "52"), ("motor front", "71"), ("pack", "38")):
        pad.get_by_label(f"{place}, °C").fill(celsius)
    expect(phone.get_by_test_id("next-step")).to_contain_text("Try it on Match")
    phone.get_by_role("button", name="water inside").tap()
    phone.get_by_label("Cells after, V").fill("3.80 3.79 3.81 3.80")
    expect(phone.get_by_test_id("kept")).to_have_text("Saved")
    settled(phone)
    look_with_axe(phone)
    boat = json.loads(phone.evaluate(f"fetch('/api/setups/{setup}').then((a) => a.text())"))["boat_id"]
    made = runs.run(site.store, runs.runs(site.store, boat).items[0].id)
    assert (made.source, made.observations) == ("live", ["water inside"])
    assert {r.place: r.celsius for r in made.readings} == {"controller": 52, "motor front": 71, "pack": 38}
    assert made.typed.rest_v == [3.8, 3.79, 3.81, 3.8]
    assert len(made.summary.passes) >= 3


@pytest.mark.long
def test_a_wrong_clock_a_page_that_is_closed_and_a_full_phone(pond_phone, line, site, errors):
    phone, setup = pond_phone, fresh_boat(site, "Wrong")
    phone.context.clock.set_fixed_time("2011-03-01T08:00:00Z")
    taken_along(phone, setup)
    line.cut()
    phone.goto(f"/setups/{setup}/run")
    phone.get_by_role("button", name="Type in a run").tap()
    expect(phone.get_by_test_id("link")).to_contain_text("waits on this device")
    context = phone.context
    phone.close()  # as a phone does that needs the room
    again = context.new_page()
    again.set_default_timeout(40000)
    with listened(again, errors):
        again.goto(f"/setups/{setup}/run")
        expect(again.get_by_test_id("link")).to_contain_text("waits on this device")
        again.add_init_script("""
            IDBObjectStore.prototype.put = function () { throw new DOMException('full', 'QuotaExceededError'); };
        """)
        again.goto(f"/setups/{setup}/launch")
        again.get_by_role("checkbox", name="Put the drain plug in").tap()
        expect(again.get_by_test_id("link")).to_contain_text("has no room left")
        expect(again.get_by_role("checkbox", name="Put the drain plug in")).not_to_be_checked()
    again.close()
    last = context.new_page()
    last.set_default_timeout(40000)
    line.mend()
    last.goto(f"/setups/{setup}/run")
    expect(last.get_by_test_id("link")).to_have_count(0)
    boat = json.loads(last.evaluate(f"fetch('/api/setups/{setup}').then((a) => a.text())"))["boat_id"]
    made = runs.runs(site.store, boat).items
    assert len(made) == 1
    # The server's clock came with the answers, and puts the phone's right.
    assert datetime.now(UTC) - made[0].started_at < timedelta(minutes=10)
