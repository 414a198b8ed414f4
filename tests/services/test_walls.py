"""What a part's sheet forbids is never proposed, and what burns stands last: next change, searches, Aim, swap."""

import math

import numpy as np
import pytest
from tests import samples
from tests.core.drive.test_population import random_boat
from tests.samples import q

from kunstflug.core.choose.backward import FreePart, Wish, backward
from kunstflug.core.choose.shelf import Bounds
from kunstflug.core.choose.steps import trial
from kunstflug.core.choose.stock import Need, ways
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.parts import pack
from kunstflug.core.quantity.progress import unheard
from kunstflug.core.thermal.duty import Kind, passes_duty
from kunstflug.documents.schools import DutyIn
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.boats import boats
from kunstflug.services.match import next_change, search
from kunstflug.services.shelf import candidates, shelf

DUTY = passes_duty(3, 8, 40)


def walled(rng) -> SetupDocument:
    """A random boat whose controller is printed for just its cells."""
    raw = random_boat(rng)
    raw["controller"]["max_cells"] = raw["pack"]["cells"]
    return SetupDocument.model_validate(raw)


@pytest.fixture
def stocked(fresh_store):
    """A shelf with packs and controllers of all cells, and a boat at the end of its controller's."""
    made = boats.new_boat(fresh_store, "Walled", walled(np.random.default_rng(5)))
    for cells in (2, 4, 8, 12):
        shelf.add_part(fresh_store, "pack", {"cells": cells, "capacity": q(5000, "mAh"), "c_rating": q(70, "1")})
        part = {"continuous_current": q(300, "A"), "max_cells": cells}
        shelf.add_part(fresh_store, "controller", part)
    return fresh_store, made.document


@pytest.mark.parametrize("seed", range(12))
def test_a_search_over_ranges_never_holds_past_the_printed_cells(seed):
    """It called its first row *holds* in five boats of six."""
    document = walled(np.random.default_rng(seed))
    most = document.controller.max_cells
    wanted = search.RangesIn(fineness=8, cells=True)
    found = search.search_ranges(document, USUAL, wanted, None, unheard)
    for row in found.found:
        (cells,) = (change.value for change in row.changes if change.path == "pack.cells")
        assert cells <= most
        assert row.verdict is not Verdict.STOP or cells <= most


@pytest.mark.parametrize("seed", range(6))
def test_no_next_change_and_no_part_from_the_shelf_goes_past_them(stocked, seed):
    store, _ = stocked
    document = walled(np.random.default_rng(seed))
    most = document.controller.max_cells
    steps = next_change.next_steps(store, document, DUTY, USUAL, None).steps
    assert steps
    for step in steps:
        if step.path == "pack.cells":
            assert step.value <= most
        elif step.path == "pack":
            assert step.value["cells"] <= most
        elif step.path == "controller":
            assert step.value.get("max_cells") is None or step.value["max_cells"] >= document.pack.cells
    found = search.search_shelf(
        store, document, USUAL, search.KindsIn(motor=False, propeller=False), Bounds(), math.inf, None, unheard
    )
    for row in found.found:
        taken = {change.path: change.value for change in row.changes}
        cells = taken["pack"]["cells"] if "pack" in taken else document.pack.cells
        printed = taken["controller"].get("max_cells") if "controller" in taken else most
        assert printed is None or cells <= printed


def test_a_swap_says_what_may_not_be_connected(stocked):
    store, document = stocked
    most = document.controller.max_cells
    for kind in ("pack", "controller"):
        rows = candidates.swaps(store, document, kind)
        assert len(rows) >= 4
        for row in rows:
            given = row.part.document
            past = given["cells"] > most if kind == "pack" else (given.get("max_cells") or 99) < document.pack.cells
            assert bool(row.wall) is past
            if past:
                assert "do not connect it" in row.wall
    packs = [row.part for row in candidates.swaps(store, document, "pack")]
    over = next(part.id for part in packs if part.document["cells"] > most)
    (refused,) = candidates.compare(store, document, [over], DUTY, USUAL, None)
    assert "do not connect it" in refused.refusal


@pytest.mark.parametrize("seed", range(12))
def test_aim_keeps_no_pack_that_is_past_its_limit(seed):
    """Twenty answers of ninety-nine kept one at up to twice its limit, sixteen of them first."""
    setup = setup_of(walled(np.random.default_rng(seed)))
    trust, most = USUAL.pack_trust, pack.printed_current_a(setup.pack).value
    for factor in (1.0, 1.15, 1.3):
        speed = trial(setup, DUTY, USUAL, None).speed_mps
        found = backward(setup, Wish(speed_mps=min(speed * factor, 60.0)), USUAL)
        for way in ways(setup, found, {}, USUAL):
            (need,) = (piece.need for piece in way.pieces if piece.kind == "pack")
            assert need is not Need.KEPT or way.answer.current_a <= most * trust
        locked = frozenset({FreePart.PACK})
        found = backward(setup, Wish(speed_mps=min(speed * factor, 60.0), locked=locked), USUAL)
        for way in ways(setup, found, {}, USUAL, locked):
            assert way.answer.use > 1.0 or way.answer.current_a <= most * trust


def test_what_burns_stands_last_and_says_so(fresh_store):
    """Its case ends cooler, as it stops early: it ranked second."""
    burning = samples.document(pack__cells=6, propeller__diameter=q(54, "mm"), motor__kv=q(2600, "rpm/V"))
    mild = samples.document(pack__cells=5, propeller__diameter=q(46, "mm"))
    duty = DutyIn(kind=Kind.LAP_RACE, minutes=6).core()
    assert trial(setup_of(burning), duty, USUAL, None).burns
    boats.new_boat(fresh_store, "Burns", burning)
    steps = next_change.next_steps(fresh_store, mild, duty, USUAL, None).steps
    burnt = [step.burnt_s is not None for step in steps]
    assert any(burnt)
    assert burnt == sorted(burnt), "none that burns stands above one that does not"
    for step in steps:
        assert ("burns after" in step.sentence) is (step.burnt_s is not None)
