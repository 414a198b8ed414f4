"""Trim in the browser: tapped, answered, tried, saved; pulled on the drawing and by keys; the curve of the demo."""

import pytest
from playwright.sync_api import expect
from tests import samples
from tests.browser.conftest import look_with_axe, settled
from tests.browser.test_interface import fresh_boat
from tests.samples import q

from kunstflug.services.boats import boats

pytestmark = pytest.mark.browser

WRITTEN = {"placement": {"pack": q(200, "mm")}}


def test_sign_answer_step_done_in_three_taps(phone, site):
    setup = fresh_boat(site, "Wet", **WRITTEN)
    phone.goto(f"/setups/{setup}/trim")
    phone.get_by_role("button", name="runs wet").tap()
    phone.get_by_role("button", name="Try 195 mm").tap()
    expect(phone.get_by_role("region", name="Draft")).to_contain_text("Pack position")
    phone.get_by_role("button", name="Save as new setup").tap()
    phone.wait_for_url(lambda url: f"/setups/{setup}/" not in url)
    boat = boats.setup(site.store, setup).boat_id
    newest = boats.setup(site.store, max(item.id for item in boats.setups(site.store, boat).items))
    assert newest.document.placement.pack.value == 195
    assert newest.parent_id == setup


@pytest.mark.long
def test_causes_follow_the_signs(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Signs', **WRITTEN)}/trim")
    expect(page.get_by_text("Tap what you saw")).to_be_visible()
    page.get_by_role("button", name="water inside").click()
    expect(page.get_by_text("a leak", exact=True)).to_be_visible()
    expect(page.get_by_role("button", name="Find the leak and seal it")).to_be_visible()
    page.get_by_role("button", name="water inside").click()
    expect(page.get_by_text("Tap what you saw")).to_be_visible()


def test_the_pack_is_pulled_on_the_drawing_and_by_keys(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Pulled', **WRITTEN)}/trim")
    knob = page.get_by_role("slider", name="Pack position")
    expect(knob).to_have_value("200")
    knob.press("ArrowLeft")
    expect(knob).to_have_value("197.5")
    page.get_by_role("button", name="Undo").click()
    expect(knob).to_have_value("200")
    grip = page.locator("svg path.pack")
    box = grip.bounding_box()
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.move(box["x"] + 6, middle[1] + 2)
    page.mouse.down()
    page.mouse.move(box["x"] - 24, middle[1] + 2, steps=4)
    page.mouse.up()
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Pack position")
    expect(knob).not_to_have_value("200")
    assert float(knob.input_value()) < 200


@pytest.mark.long
def test_a_knob_that_nobody_wrote_down_is_begun(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Bare')}/trim")
    page.get_by_role("button", name="turn fin angle").click()
    expect(page.get_by_role("slider", name="Turn fin angle")).to_have_value("0")
    page.get_by_role("slider", name="Turn fin angle").press("ArrowRight")
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Turn fin angle")


def test_the_demos_curve_names_the_next_setting(page):
    page.goto("/setups/8/trim")
    expect(page.get_by_role("img", name="Speed over pack position: 4 runs at 3 settings")).to_be_visible()
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Pack position")


def test_seven_leads_there(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Seven')}/match")
    settled(page)
    page.keyboard.press("7")
    expect(page.get_by_role("heading", name="What did it do?")).to_be_visible()


def test_undone_before_the_answer_came_the_slider_goes_back(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Late', **WRITTEN)}/trim")
    knob = page.get_by_role("slider", name="Pack position")
    expect(knob).to_have_value("200")
    held = []
    page.route("**/api/draft*", lambda route: held.append(route))  # the answer does not come
    knob.press("ArrowLeft")
    expect(knob).to_have_value("197.5")
    page.get_by_role("button", name="Undo").click()
    expect(knob).to_have_value("200")


@pytest.mark.long
def test_a_rule_of_thumb_is_changed_and_put_back(page, site):
    page.goto(f"/setups/{fresh_boat(site, 'Rules', **WRITTEN)}/trim")
    page.get_by_role("button", name="runs wet").click()
    expect(page.get_by_role("heading", name="Likely causes")).to_be_visible()
    page.get_by_role("button", name="Look at the rules").click()
    rule = page.get_by_role("spinbutton", name="too much weight forward, runs wet, percent")
    expect(rule).to_have_value("80")
    page.evaluate("localStorage.setItem('kunstflug.look', 'paper')")  # what lies over the sheet covers the switch
    look_with_axe(page, ("paper",))
    rule.fill("2")
    rule.press("Enter")
    expect(page.get_by_text("1 of your own.")).to_be_visible()
    page.get_by_role("button", name="Put the usual ones back").click()
    expect(rule).to_have_value("80")
    expect(page.get_by_text("of your own.")).to_have_count(0)


def test_switches_and_the_plan_follow_the_draft(page, site):
    written = {"hull": {**samples.MONO["hull"], "rudder_offset": q(20, "mm"), "fin_depth": q(40, "mm")}}
    page.goto(f"/setups/{fresh_boat(site, 'Above', **written)}/trim")
    expect(page.get_by_role("img", name="The boat from above")).to_be_visible()
    expect(page.get_by_text("Fin and rudder hold a turn of about")).to_be_visible()
    page.get_by_label("Strakes").select_option("on")
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Strakes")
    page.get_by_role("slider", name="Rudder offset").press("ArrowRight")
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Rudder offset")


@pytest.mark.long
def test_the_demos_runs_say_more_than_speed(page):
    page.goto("/setups/8/trim")
    page.get_by_role("button", name="motor temperature").click()
    expect(page.get_by_role("img", name="motor temperature over pack position: 4 runs")).to_be_visible()
