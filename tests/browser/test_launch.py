"""Launch and Live in the browser: checks ticked with a thumb, go or wait, the day re-planned; a boat that is driven."""

import pytest
from playwright.sync_api import expect
from tests.browser.conftest import look_with_axe, settled
from tests.browser.pond import a_boat_on_the_pond
from tests.browser.test_interface import fresh_boat

from kunstflug.pond.world import Fault

pytestmark = pytest.mark.browser


def test_checks_are_ticked_with_a_thumb_and_stay(phone, site):
    setup = fresh_boat(site, "Ready")
    phone.goto(f"/setups/{setup}/launch")
    drain = phone.get_by_role("checkbox", name="Put the drain plug in")
    drain.scroll_into_view_if_needed()
    with phone.expect_response("**/ticks"):
        drain.tap()
    expect(drain).to_be_checked()
    phone.reload()
    expect(phone.get_by_role("checkbox", name="Put the drain plug in")).to_be_checked()
    box = phone.get_by_role("listitem").filter(has=phone.get_by_role("checkbox")).first.bounding_box()
    assert box["height"] >= 47.5
    settled(phone)
    look_with_axe(phone)


def test_wind_and_waves_turn_go_into_wait_and_no(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Windy')}/launch")
    expect(page.get_by_role("heading", name="Go", exact=True)).to_be_visible()
    page.get_by_role("button", name="chop").click()
    expect(page.get_by_role("heading", name="Wait", exact=True)).to_be_visible()
    page.get_by_role("button", name="waves", exact=True).click()
    expect(page.get_by_role("heading", name="No", exact=True)).to_be_visible()
    page.get_by_role("button", name="flat").click()
    wind = page.get_by_role("textbox", name="wind m/s")
    wind.fill("28")
    wind.press("Enter")
    expect(page.get_by_role("heading", name="Go", exact=True)).to_have_count(0)
    expect(page.get_by_text("into a gust of")).to_be_visible()
    look_with_axe(page)


@pytest.mark.long
def test_a_short_pond_says_so_on_the_pass(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Short')}/launch")
    expect(page.get_by_role("img", name="The straight")).to_be_visible()
    water = page.get_by_label("straight water")
    water.fill("50")
    water.press("Enter")
    expect(page.get_by_text("too short for that")).to_be_visible()
    expect(page.get_by_role("img", name="of 50 m")).to_be_visible()
    page.get_by_role("button", name="standing start").click()
    expect(page.get_by_text("From a standing start it takes")).to_be_visible()


def test_the_pond_is_drawn_and_its_longest_straight_goes_to_the_pass(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Drawn')}/launch")
    page.get_by_role("button", name="Draw the pond").click()
    paper = page.get_by_role("group", name="The pond from above")
    box = paper.bounding_box()
    for x, y in ((0.1, 0.2), (0.8, 0.2), (0.8, 0.8), (0.1, 0.8)):
        paper.click(position={"x": x * box["width"], "y": y * box["height"]})
    expect(page.get_by_text("Longest straight")).to_be_visible()
    corner = page.get_by_role("button", name="Corner 1:")
    said = page.get_by_text("Longest straight").inner_text()
    corner.press("ArrowRight")
    expect(page.get_by_text(said)).to_have_count(0)
    expect(page.get_by_text("Longest straight")).to_be_visible()
    page.get_by_label("keep as").fill("the quarry")
    page.get_by_label("keep as").press("Enter")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("button", name="the quarry,")).to_be_visible()
    look_with_axe(page)
    expect(page.get_by_test_id("pond-water")).to_contain_text("80 % between")
    page.get_by_test_id("pond-water").get_by_role("button").click()
    expect(page.get_by_role("textbox", name="water °C")).not_to_have_value("")
    page.get_by_role("button", name="Use it for the pass").click()
    expect(page.get_by_role("img", name="The straight").and_(page.get_by_role("img", name=" of "))).to_be_visible()
    page.get_by_role("button", name="Forget the quarry").click()
    expect(page.get_by_role("button", name="the quarry,")).to_have_count(0)


@pytest.mark.long
def test_a_ponds_water_is_read_and_its_year_follows(page, site):
    page.goto("/ponds")
    pond = page.get_by_role("region", name="Long meadow")
    expect(pond.get_by_text("14 Mar 2026")).to_be_visible()
    year = pond.get_by_role("img", name="Water of Long meadow through the year")
    before = year.get_attribute("aria-label")
    pond.get_by_label("water on").fill("2026-01-20")
    pond.get_by_label("Water, °C").fill("0,5")
    pond.get_by_role("button", name="Add the reading").click()
    expect(pond.get_by_text("20 Jan 2026")).to_be_visible()
    expect(year).not_to_have_attribute("aria-label", before)
    look_with_axe(page)
    pond.get_by_role("button", name="Delete the reading of 20 Jan 2026").click()
    expect(year).to_have_attribute("aria-label", before)
    pond.get_by_role("button", name="Delete the pond").click()
    expect(pond).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(year).to_have_attribute("aria-label", before)


def test_a_day_is_planned_pulled_and_kept(page, site):
    setup = fresh_boat(site, "Planned")
    page.goto(f"/setups/{setup}/launch")
    line = page.get_by_role("group", name="The day:")
    expect(line).to_be_visible()
    runs = page.get_by_role("button", name="Add a run of this boat")
    before = page.get_by_role("slider", name="starts").count()
    runs.click()
    expect(page.get_by_role("slider", name="starts")).to_have_count(before + 1)
    last = page.get_by_role("slider", name=f"Run {before + 1},")
    start = int(last.get_attribute("aria-valuenow"))
    last.press("ArrowRight")
    expect(last).not_to_have_attribute("aria-valuenow", str(start))
    expect(page.get_by_role("button", name=f"Run {before + 1} at any hour")).to_be_visible()
    moved = last.get_attribute("aria-valuenow")
    page.get_by_role("button", name="Save the day").click()
    expect(page.get_by_text("The day is saved.")).to_be_visible()
    page.reload()
    expect(page.get_by_role("slider", name=f"Run {before + 1},")).to_have_attribute("aria-valuenow", moved)


@pytest.mark.long
def test_four_leads_there_and_the_sheet_prints(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Four')}/match")
    settled(page)
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="At the pond, before the start")).to_be_visible()
    page.evaluate("window.print = () => (window.printed = true)")
    page.get_by_role("button", name="Print the sheet").click()
    assert page.evaluate("window.printed") is True


@pytest.mark.long
def test_live_says_come_in_now_on_the_phone_and_the_gun_is_read_after_landing(phone, site):
    setup = fresh_boat(site, "Driven")
    phone.goto(f"/setups/{setup}/live")
    phone.get_by_role("textbox", name="port").fill("18421")
    phone.get_by_role("textbox", name="port").press("Enter")
    with a_boat_on_the_pond(18421, faults=(Fault.CAP,)):
        phone.get_by_role("button", name="Start").tap()
        expect(phone.get_by_test_id("live-speed")).to_be_visible()
        phone.reload()  # it is followed all the same
        expect(phone.get_by_role("status").filter(has_text="Come in now")).to_be_visible()
        expect(phone.get_by_text("motor case", exact=True)).to_be_visible()
        expect(phone.get_by_text("The boat is out of the water")).to_be_visible()
    look_with_axe(phone)
    phone.get_by_role("link", name="Read the gun now").tap()
    pad = phone.locator("section", has_text="Temperatures, in gun order")
    expect(pad.get_by_role("timer")).to_be_visible()
    expect(pad.get_by_text("should read").first).to_be_visible()
    pad.get_by_label("controller, °C").fill("180")
    expect(pad.get_by_text("Read it again. If it stays: did water come out")).to_be_visible()
    expect(phone.get_by_test_id("kept")).to_have_text("Saved")


@pytest.mark.long
def test_nobody_at_the_port_is_said(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Nobody')}/live")
    page.get_by_role("textbox", name="port").fill("18498")
    page.get_by_role("textbox", name="port").press("Enter")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("Waiting for the first word from 127.0.0.1, port 18498")).to_be_visible()
    page.get_by_role("button", name="Stop waiting").click()
    expect(page.get_by_text("there is no run")).to_be_visible()
    expect(page.get_by_role("button", name="Start again")).to_be_visible()
