"""Large searches: fronts, bounds, progress."""

import numpy as np
import pytest
from tests import samples
from tests.samples import q
from tests.services.common import changed_of

from kunstflug.core.choose.shelf import Bounds
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.progress import unheard
from kunstflug.documents.setup import setup_of
from kunstflug.services.boats import boats
from kunstflug.services.match import match, search
from kunstflug.services.match.search import MOST_DRIVES, KindsIn, RangesIn
from kunstflug.services.shared.changes import Change
from kunstflug.services.shelf import shelf


@pytest.fixture(scope="module")
def stocked(store):
    boats.new_boat(store, "Heron", samples.document())
    for kv, grams in ((1800, 310), (2600, 260), (3100, 240)):
        shelf.add_part(store, "motor", {**samples.MONO["motor"], "kv": q(kv, "rpm/V"), "mass": q(grams, "g")})
    for mm in (36, 39, 45):
        shelf.add_part(store, "propeller", {"diameter": q(mm, "mm"), "pitch_ratio": q(1.4, "1")})
    shelf.add_part(store, "pack", {**samples.MONO["pack"], "cells": 3})
    return store


def shelf_search(store, kinds=None, most_kg=float("inf"), room_m=float("inf"), budget=float("inf"), document=None):
    bounds = Bounds(most_kg=most_kg, room_m=room_m)
    return search.search_shelf(
        store, document or samples.document(), USUAL, kinds or KindsIn(), bounds, budget, None, unheard
    )


def test_what_a_search_finds_is_what_a_draft_gives(stocked):
    found = shelf_search(stocked)
    assert found.tried == 4 * 1 * 4 * 2
    assert found.found
    for row in found.found[:5]:
        changed, _ = changed_of(samples.document(), [Change(**c.model_dump(mode="json")) for c in row.changes])
        assert match.forecast_of(changed, None).point.speed_mps.value == pytest.approx(row.speed_mps, abs=0.01)
        assert set(row.shelf) == {c.path for c in row.changes}


def test_on_the_margin_front_faster_costs_margin(stocked):
    front = sorted((r for r in shelf_search(stocked).found if r.on_margin_front), key=lambda r: r.speed_mps)
    assert len(front) > 1
    uses = [r.use for r in front]
    assert uses == sorted(uses)
    lasting = sorted((r for r in shelf_search(stocked).found if r.on_time_front), key=lambda r: r.speed_mps)
    times = [r.run_s for r in lasting]
    assert times == sorted(times, reverse=True)


def test_its_size_is_said_beforehand(stocked):
    kinds = KindsIn(pack=False)
    assert search.size_of_shelf(stocked, samples.document(), kinds).drives == shelf_search(stocked, kinds).tried
    ranges = RangesIn(fineness=4)
    said = search.size_of_ranges(samples.document(), ranges)
    assert said.drives == search.search_ranges(samples.document(), USUAL, ranges, None, unheard).tried
    assert 0 < said.seconds < 1
    assert said.problem == ""
    many = search.size_of_ranges(
        samples.document(), RangesIn(kv=True, diameter=True, pitch_ratio=True, cells=True, mass=True, fineness=200)
    )
    assert many.drives > MOST_DRIVES
    assert "a fineness of" in many.problem


def test_kinds_that_stay_are_not_searched(stocked):
    only = shelf_search(stocked, KindsIn(controller=False, propeller=False, pack=False))
    assert only.tried == 4
    assert all(set(r.shelf) <= {"motor"} for r in only.found)


def test_mass_and_budget_shut_out(stocked):
    light = shelf_search(stocked, most_kg=2.09)
    assert light.left_out > 0
    assert all(r.mass_kg is not None and r.mass_kg <= 2.09 for r in light.found)
    with stocked.transaction() as session:
        from kunstflug.store.tables import PartRow

        for row in session.query(PartRow).filter(PartRow.kind == "motor"):
            row.price = 80.0
    cheap = shelf_search(stocked, budget=50)
    assert all("motor" not in r.shelf for r in cheap.found)
    assert any("motor" in r.shelf and r.price == 80 for r in shelf_search(stocked, budget=100).found)


def test_a_motor_longer_than_its_room_stays_on_the_shelf(stocked):
    long = {**samples.MONO["motor"], "can_length": q(92, "mm"), "kv": q(1900, "rpm/V")}
    shelf.add_part(stocked, "motor", {**long, "name": "long one"})

    def motors(**bounds):
        return {str(c.value["name"]) for r in shelf_search(stocked, **bounds).found for c in r.changes
                if c.path == "motor"}  # fmt: skip

    free = shelf_search(stocked)
    # 92 mm of can and 12 mm for wires behind it: 104 mm
    assert shelf_search(stocked, room_m=0.1041).left_out == free.left_out
    tight = shelf_search(stocked, room_m=0.1039)
    assert tight.left_out > free.left_out
    assert "long one" not in motors(room_m=0.1039)
    # the room that the setup has measured binds as well
    measured = samples.document(placement={"room_length": q(100, "mm")})
    assert shelf_search(stocked, document=measured).left_out == tight.left_out


def test_dead_parts_are_not_put_in(stocked):
    before = shelf_search(stocked).tried
    with stocked.transaction() as session:
        from kunstflug.store.tables import PartRow

        row = session.query(PartRow).filter(PartRow.kind == "pack").order_by(PartRow.id.desc()).first()
        row.state = "dead"
    assert shelf_search(stocked).tried == before // 2


def test_ranges_give_numbers_that_can_be_typed():
    wanted = RangesIn(kv=True, diameter=True, pitch_ratio=True, cells=True, mass=True, fineness=6)
    found = search.search_ranges(samples.document(), USUAL, wanted, None, unheard)
    assert found.tried == 6 * 6 * 6 * 8 * 6
    best = found.found[0]
    paths = [c.path for c in best.changes]
    assert paths == ["motor.kv", "propeller.diameter", "propeller.pitch_ratio", "pack.cells", "all_up_mass"]
    changed, _ = changed_of(samples.document(), [Change(**c.model_dump(mode="json")) for c in best.changes])
    # rounded to what one can buy
    assert match.forecast_of(changed, None).point.speed_mps.value == pytest.approx(best.speed_mps, rel=0.02)


def test_a_range_too_large_names_the_fineness_that_fits():
    setup = setup_of(samples.document())
    wanted = RangesIn(kv=True, diameter=True, pitch_ratio=True, cells=True, mass=True, fineness=200)
    with pytest.raises(InvalidValue, match="a fineness of") as refused:
        search.ranges_for(setup, wanted)
    fits = int(str(refused.value).rsplit("of ", 1)[1].split()[0])
    smaller = wanted.model_copy(update={"fineness": fits})
    assert search.ranges_for(setup, smaller).count <= MOST_DRIVES


def test_what_does_not_vary_stays():
    ranges = search.ranges_for(setup_of(samples.document()), RangesIn(kv=False, diameter=False, fineness=10))
    assert ranges.count == 1
    assert np.isclose(ranges.kv_rpm_per_v[0], 2200)
