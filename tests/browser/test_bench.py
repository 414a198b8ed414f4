"""Shelf, Fit, Measure and the tub test in headless Chromium, as a racer uses them; paper at 1:1."""

import io
import re

import numpy as np
import pypdfium2
import pytest
from playwright.sync_api import Page, expect
from tests import samples
from tests.amount import rarely
from tests.browser.conftest import look_with_axe, settled
from tests.core.fit.test_fit import FITTED
from tests.samples import q
from tests.services.test_pack_life import printed_ah, typed_runs

from kunstflug.core.drive.schools import USUAL
from kunstflug.documents.schools import DutyIn
from kunstflug.services.boats import boats
from kunstflug.services.fit import fit, prove
from kunstflug.services.match import plan
from kunstflug.services.shelf import shelf

pytestmark = pytest.mark.browser


def fitted_boat(site, name: str, **changes) -> int:
    return boats.new_boat(site.store, name, samples.document(**{**FITTED, **changes})).id


def say(page: Page, dialog, label: str, text: str) -> None:
    with page.expect_response("**/api/fit*"):
        dialog.get_by_label(label, exact=True).fill(text)


# Fit


def test_the_section_is_drawn_to_scale(page, site):
    page.goto(f"/setups/{fitted_boat(site, 'Scale')}/fit")
    drawing = page.get_by_test_id("section")
    expect(drawing).to_be_visible()
    scale = float(drawing.get_attribute("data-scale"))
    can, shaft = page.locator("svg.screen rect.can"), page.locator("svg.screen rect.shaft").first
    # so many pixels for each millimetre: 74 x 36 mm of can, 5 mm of shaft; half a pixel of stroke each side
    box = can.bounding_box()
    assert box["width"] == pytest.approx(74 * scale, abs=0.8 * scale)
    assert box["height"] == pytest.approx(36 * scale, abs=0.8 * scale)
    assert shaft.bounding_box()["height"] == pytest.approx(5 * scale, abs=0.8 * scale)
    page.get_by_role("button", name="Larger").click()
    assert page.locator("svg.screen rect.can").bounding_box()["width"] == pytest.approx(box["width"] * 1.4, rel=0.02)


def ink_width(pdf: bytes, colour_below: int = 120) -> tuple[int, list[np.ndarray]]:
    document = pypdfium2.PdfDocument(io.BytesIO(pdf))
    pages = [p.render(scale=300 / 72, grayscale=True).to_numpy() < colour_below for p in document]
    document.close()
    return len(pages), pages


def test_paper_is_one_to_one(page, site):
    page.goto(f"/setups/{fitted_boat(site, 'Paper')}/fit")
    expect(page.get_by_test_id("section")).to_be_visible()
    pdf = page.pdf(
        format="A4", landscape=True, margin={"left": "10mm", "right": "10mm", "top": "10mm", "bottom": "10mm"}
    )
    count, pages = ink_width(pdf)
    assert count >= 2  # 450 mm of drive on sheets of 262 mm
    # the ruler that stands on each sheet is 50 mm long: the longest dark run of its row, at 300 dots an inch
    longest = 0
    for dark in pages:
        for row in dark:
            edges = np.flatnonzero(np.diff(np.concatenate([[0], row.astype(np.int8), [0]])))
            runs = edges[1::2] - edges[::2]
            for run in runs:
                if abs(run / 300 * 25.4 - 50) < 0.6:
                    longest = max(longest, int(run))
    assert longest / 300 * 25.4 == pytest.approx(50.0, abs=0.6)


def test_the_40_mm_motor_is_swapped_clash_by_clash(page, site):
    """36 mm with a 5 mm shaft out, 40 mm with an 8 mm shaft in, in a 75 cm boat."""
    setup = fitted_boat(site, "Grebe", hull={"hull_type": "catamaran", "length": q(750, "mm")})
    big = shelf.add_part(
        site.store,
        "motor",
        {**FITTED["motor"], "kv": q(1500, "rpm/V"), "can_diameter": q(40, "mm"), "shaft": q(8, "mm"),
         "circle": q(30, "mm"), "name": "the big one"},
    )  # fmt: skip
    page.goto(f"/setups/{setup}/match")
    page.get_by_role("button", name="swap the motor").click()
    page.get_by_placeholder("Find by size or name").fill("the big one")
    with page.expect_response("**/api/draft*"):
        page.get_by_role("dialog").get_by_role("button", name="the big one").click()
    page.get_by_role("link", name="Fit").click()
    expect(page.get_by_test_id("fit-sum")).to_contain_text("clashes 3")
    for title, words in (("Bolt circle", "5 mm off"), ("Jacket on the can", "3.4 mm too thick"),
                         ("Motor shaft in the coupler", "3 mm too thick")):  # fmt: skip
        joint = page.get_by_role("listitem").filter(has=page.get_by_text(title, exact=True))
        expect(joint).to_contain_text("clashes")
        expect(joint).to_contain_text(words)
    assert page.locator("svg.screen rect.clash").count() >= 3
    # what the remedies say, done
    page.get_by_role("button", name="sizes of motor shaft in the coupler").click()
    say(page, page.get_by_role("dialog"), "Bore, motor side", "8")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="sizes of jacket on the can").click()
    for label, text in (("Bore", "40.6"), ("Outside diameter", "46"), ("O-ring inside diameter", "39")):
        say(page, page.get_by_role("dialog"), label, text)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="sizes of bolt circle").click()
    say(page, page.get_by_role("dialog"), "Bolt circle, largest", "32")
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("fit-sum")).not_to_contain_text("clashes")
    page.get_by_role("button", name="Save as new setup").click()
    page.wait_for_url(lambda url: f"/setups/{setup}/" not in url)
    page.get_by_role("button", name="build list").click()
    expect(page.get_by_text(re.compile("Take out what changes: .*motor, .*mount.* and .*jacket"))).to_be_visible()
    expect(page.get_by_text("Grind the flat")).to_be_visible()
    expect(page.get_by_text("Pack in its place")).not_to_be_visible()
    assert big.id


def test_a_size_that_is_measured_makes_a_joint_known(page, site):
    coupler = {k: v for k, v in FITTED["coupler"].items() if k != "motor_bore"}
    page.goto(f"/setups/{fitted_boat(site, 'Unmeasured', coupler=coupler)}/fit")
    joint = page.get_by_role("listitem").filter(has=page.get_by_text("Motor shaft in the coupler", exact=True))
    expect(joint).to_contain_text("unknown")
    for bore, words in (("5", "fits"), ("4.8", "too thick"), ("5.4", "no tube that is sold"), ("8", "8 x 1.5 mm")):
        joint.get_by_role("button", name="of motor shaft in the coupler").click()
        say(page, page.get_by_role("dialog"), "Bore, motor side", bore)
        page.keyboard.press("Escape")
        expect(joint).to_contain_text(words)


def test_the_build_list_goes_on_paper(page, site):
    page.goto(f"/setups/{fitted_boat(site, 'Printed')}/fit")
    page.get_by_role("button", name="build list").click()
    expect(page.get_by_role("checkbox").first).to_be_visible()
    titles = page.locator("ol li b").all_inner_texts()
    document = pypdfium2.PdfDocument(io.BytesIO(page.pdf(format="A4")))
    text = " ".join(p.get_textpage().get_text_range() for p in document)
    document.close()
    squeezed = "".join(text.split())
    assert "Printed" in text
    assert len(titles) > 10
    assert [t for t in titles if "".join(t.split()) not in squeezed] == []
    assert "Measure" not in text.splitlines()  # no navigation on paper


def test_first_power_is_walked_step_by_step(page, site):
    setup = fitted_boat(site, "Powered")
    page.goto(f"/setups/{setup}/fit")
    page.get_by_role("button", name="first power").click()
    expect(page.get_by_text("Boat in a stand, propeller clear")).to_be_visible()
    for words in ("Silent:", "If it cogs", "Wrong direction: swap any two motor wires"):
        expect(page.get_by_text(words)).to_be_visible()
    for box in page.get_by_role("checkbox").all():
        with page.expect_response("**/ticks"):
            box.check()
    assert all(s.done for s in fit.fit(site.store, setup).first_power)


@pytest.mark.long
def test_another_circuit_is_drawn_from_its_case_and_cools_the_boat(page, site):
    setup = fitted_boat(site, "Two lines")
    page.goto(f"/setups/{setup}/fit")
    page.get_by_role("button", name="cooling water").click()
    row = page.get_by_role("row").filter(has_text="A line for each")
    expect(row).to_be_visible()
    with page.expect_response("**/api/circuit*"):
        row.get_by_role("button", name="Use this circuit").click()
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.get_by_role("button", name="Save circuit").click()
    boat = boats.setup(site.store, setup).boat_id
    assert len(fit.circuit(site.store, boat).lines) == 2
    # the heat of Match is asked for with these lines
    page.get_by_role("link", name="Match").click()
    with page.expect_response("**/api/heat*") as asked:
        page.get_by_role("button", name="Temperatures").click()
    plain = plan.heat(samples.document(**FITTED), DutyIn().core(), USUAL, None).nodes
    assert asked.value.json()["nodes"][1]["middle_c"] != plain[1].middle_c


@pytest.mark.long
def test_a_motor_that_dies_in_the_tub_lies_dead_on_the_shelf(page, site):
    motor = {**FITTED["motor"], "name": "the unlucky one"}
    page.goto(f"/setups/{fitted_boat(site, 'Smoke', motor=motor)}/fit")
    page.get_by_role("button", name="tub test").click()
    expect(page.get_by_role("img", name="Motor case against time")).to_be_visible()
    page.get_by_role("button", name="Start the clock").click()
    page.get_by_label("Reading in").fill("71,5")
    with page.expect_response("**/api/tub*"):
        page.get_by_role("button", name="Add reading", exact=True).click()
    expect(page.get_by_role("alert").filter(has_text="Stop now")).to_be_visible()
    page.get_by_placeholder("What you saw").fill("smoke from the bell")
    with page.expect_response("**/tub-tests"):
        page.get_by_role("button", name="the motor died").click()
    dead = shelf.shelf(site.store, "motor", "the unlucky one")[0]
    assert dead.state == "dead"
    assert "71.5 °C on the case" in dead.events[-1].words
    assert "smoke from the bell" in dead.events[-1].words


def test_a_ticked_step_stays_ticked(page, site):
    setup = fitted_boat(site, "Ticked")
    page.goto(f"/setups/{setup}/fit")
    page.get_by_role("button", name="build list").click()
    with page.expect_response("**/ticks"):
        page.get_by_role("checkbox").first.check()
    page.reload()
    page.get_by_role("button", name="build list").click()
    expect(page.get_by_role("checkbox").first).to_be_checked()
    assert sum(s.done for s in fit.fit(site.store, setup).build) == 1


def test_water_is_moved_by_keyboard_and_kept(page, site):
    setup = fitted_boat(site, "Watered")
    page.goto(f"/setups/{setup}/fit")
    page.get_by_role("button", name="cooling water").click()
    expect(page.get_by_role("cell", name="cap left on")).to_be_visible()
    expect(page.get_by_text("no stream: come in")).to_be_visible()
    motor = page.get_by_role("button", name="motor ")
    motor.click()
    with page.expect_response("**/api/circuit*"):
        motor.press("ArrowRight")
    names = page.locator(".piece .name").all_text_contents()
    assert names.index("motor") == 3
    with page.expect_response("**/api/circuit*"):
        page.get_by_role("button", name="split with a Y").click()
    expect(page.get_by_role("group", name="Water circuit").get_by_text("Y-piece", exact=True)).to_be_visible()
    with page.expect_response("**/api/circuit*"):
        page.get_by_role("button", name="Undo", exact=True).click()
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.get_by_role("button", name="Save circuit").click()
    boat = boats.setup(site.store, setup).boat_id
    assert [p.kind for p in fit.circuit(site.store, boat).lines[0]][3] == "motor"


def test_held_back_test_asks_draws_and_says_stop(own_page, site):
    page = own_page  # its clock is set
    mild = {"diameter": q(32, "mm"), "pitch_ratio": q(1.4, "1"), "bore": q(4.76, "mm")}
    setup = fitted_boat(site, "Tubbed", propeller=mild)
    page.clock.install(time=1_800_000_000)
    page.goto(f"/setups/{setup}/fit")
    page.get_by_role("button", name="tub test").click()
    expect(page.get_by_role("img", name="Motor case against time")).to_be_visible()
    page.clock.pause_at(1_800_001_000)  # from here time passes only as it is told: a slow machine reads no later
    page.get_by_role("button", name="Start the clock").click()
    stop, asks = page.get_by_role("alert").filter(has_text="Stop now"), page.get_by_text("Read the motor case now")
    celsius = 30
    for step in range(1, 8):
        page.clock.run_for(30_000)
        expect(stop.or_(asks)).to_be_visible()
        if stop.count():
            break
        page.get_by_label("Measured at").select_option("case")
        page.get_by_label("Reading in").fill(str(celsius))
        with page.expect_response("**/api/tub*"):
            page.get_by_role("button", name="Add reading", exact=True).click()
        expect(page.get_by_test_id("answered")).to_have_attribute("data-readings", str(step))
        celsius += 9
        assert step < 7
    expect(page.get_by_role("alert").filter(has_text="Stop now")).to_be_visible()
    assert celsius - 9 < 65  # said before the ceiling
    expect(page.get_by_text("What the readings show")).to_be_visible()
    with page.expect_response("**/api/draft*"):
        page.get_by_role("button", name="Use in this setup").click()
    page.clock.run_for(500)  # the hand rests
    expect(page.get_by_role("region", name="Draft")).to_contain_text("Water fraction at the propeller, boat held")
    page.get_by_placeholder("What you saw").fill("calm, no smell")
    with page.expect_response("**/tub-tests"):
        page.get_by_role("button", name="stopped at the ceiling").click()
    assert prove.tests(site.store, setup)[0].note == "calm, no smell"


# Shelf


def test_found_compared_and_buried(page, site):
    fitted_boat(site, "Shelved")
    for kv in (1700, 2500):
        shelf.add_part(site.store, "motor", {**FITTED["motor"], "kv": q(kv, "rpm/V"), "name": f"bench {kv}"})
    page.goto("/shelf")
    page.get_by_label("Find by size or words").fill("bench")
    for name in ("compare bench 1700", "compare bench 2500"):
        page.get_by_role("checkbox", name=name).check()
    page.get_by_label("Boat", exact=True).select_option(label="Shelved")
    page.get_by_role("button", name="Compare", exact=True).click()
    expect(page.get_by_role("heading", name="In Shelved")).to_be_visible()
    expect(page.get_by_role("row").filter(has_text="motor case, peak")).to_be_visible()
    page.get_by_role("button", name="Motor bench 2500").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Price").fill("12.5")
    dialog.get_by_label("What happened").select_option("died")
    dialog.get_by_label("In words").fill("smoke in the second pass")
    dialog.get_by_role("button", name="Add entry").click()
    expect(dialog.get_by_text("Failed: smoke in the second pass")).to_be_visible()
    expect(dialog.get_by_label("Price")).to_have_value("12.5")  # what is typed stays while something is noted
    dead = shelf.shelf(site.store, "motor", "bench 2500")[0]
    assert dead.state == "dead"


def test_a_pack_shows_its_health_by_run(page, site):
    made = boats.new_boat(site.store, "Fading", samples.document())
    typed_runs(
        site.store, made, lambda k: printed_ah(made) * (1.0 - 0.02 * k), count=16, current_a=100.0, voltage_v=13.2
    )
    pack = next(part for part in shelf.shelf(site.store, "pack") if "Fading" in part.boats)
    page.goto("/shelf")
    page.get_by_label("Find by size or words").fill("fading pack")
    page.get_by_role("button", name=f"Pack {pack.name}").first.click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text("of its printed capacity")).to_be_visible()
    expect(dialog.get_by_role("img", name="Usable capacity by run")).to_be_visible()
    expect(dialog.get_by_role("img", name="Resistance a cell by run")).to_be_visible()


def test_a_new_part_asks_for_what_is_needed_and_csv_goes_round(page, site, tmp_path):
    page.goto("/shelf")
    page.get_by_label("Put on the shelf").select_option("hose")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Bore", exact=True).fill("55")
    expect(dialog.get_by_text("1 to 12 mm")).to_be_visible()
    dialog.get_by_label("Bore", exact=True).fill("5")
    dialog.get_by_role("button", name="Save").click()
    expect(page.get_by_role("button", name="Hose 5 mm")).to_be_visible()
    csv = tmp_path / "more.csv"
    csv.write_text("kind,name,hose.bore [mm]\nhose,from a file,3\n")
    page.set_input_files("input[type=file]", str(csv))
    expect(page.get_by_role("button", name="Hose from a file")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export CSV").click()
    assert "from a file" in download.value.path().read_text()


def test_keys_lead_to_shelf_and_bench(page, site):
    page.goto(f"/setups/{fitted_boat(site, 'Keys')}/match")
    expect(page.get_by_test_id("speed")).to_be_visible()
    page.keyboard.press("/")
    expect(page.get_by_label("Find by size or words")).to_be_focused()
    page.keyboard.type("3m")  # letters belong to the field, not to the course
    expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("heading", name="Shelf").click()
    page.keyboard.press("m")
    expect(page.get_by_role("heading", name="Measure")).to_be_visible()


# Measure


def test_an_instrument_reads_and_writes_to_a_part(page, site):
    motor = shelf.add_part(site.store, "motor", {**FITTED["motor"], "name": "on the drill"})
    page.goto("/measure")
    expect(page.get_by_test_id("result")).to_be_visible()
    with page.expect_response("**/api/instruments/kv"):
        page.get_by_label("AC between two leads").fill("0.5")
    # 1500 rpm over 0.5 V r.m.s. x sqrt 2, by hand
    expect(page.get_by_test_id("result")).to_contain_text("2121")
    with page.expect_response("**/measured"):
        page.get_by_label("Save to").select_option(label="motor on the drill")
    kv = next(p for p in shelf.shelf(site.store, "motor") if p.id == motor.id).document["kv"]
    assert kv["source"] == "measured"
    assert kv["value"] == pytest.approx(2121.3, abs=0.5)


def test_finders_and_conversions(page):
    page.goto("/measure")
    page.get_by_role("button", name="Shim between bore and shaft").click()
    expect(page.get_by_text("3/16 in x 0.014 in wall")).to_be_visible()
    page.get_by_role("button", name="Power, heat, length").click()
    page.get_by_label("Amount").fill("10")
    page.get_by_label("Unit").select_option("hp")
    expect(page.get_by_text("7.457", exact=True)).to_be_visible()


@pytest.mark.parametrize("path", rarely(("/shelf", "/measure", "fit"), but={"fit"}))
def test_no_sideways_scroll_on_a_phone(phone, site, path):
    phone.goto(path if path != "fit" else f"/setups/{fitted_boat(site, 'Narrow')}/fit")
    settled(phone)
    assert phone.evaluate("document.documentElement.scrollWidth") <= 361


@pytest.mark.parametrize("tab", rarely(("cooling water", "build list", "first power", "tub test"), but={"tub test"}))
def test_no_axe_violations_on_the_sheets_of_fit(page, tab):
    page.goto("/setups/3/fit")
    page.get_by_role("button", name=tab).click()
    settled(page)
    look_with_axe(page)
