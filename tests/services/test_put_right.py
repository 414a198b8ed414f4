"""A season of typed runs with slips in it: they are named, left out of what is learnt, and put right with one tap."""

from datetime import datetime, timedelta

import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.learning.attribution import Ruling
from kunstflug.core.learning.causes import Cause
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.run import TypedRun
from kunstflug.documents.schools import DutyIn, SchoolsIn, judging
from kunstflug.services.boats import boats
from kunstflug.services.compare.knowledge import boat_knowledge
from kunstflug.services.compare.put_right import put_right
from kunstflug.services.match import match
from kunstflug.services.run import run
from kunstflug.services.shared.changes import Change

DAY = datetime(2026, 5, 3, 10, 0)


def typed(store, setup_id, k, speed, readings=()):
    """A run off a display, its peak as it stands there."""
    made = run.type_run(store, setup_id, DAY + timedelta(days=k // 4, minutes=20 * (k % 4)))
    words = TypedRun.model_validate({"peaks": [{"speed": speed}]})
    run.set_notes(
        store, made.id, {"water": q(16, "degC"), "air": q(18, "degC")}, "", [], list(readings), made.tag, words
    )
    return made.id


@pytest.fixture
def boat(fresh_store):
    made = boats.new_boat(fresh_store, "Season", samples.document())
    change = Change(path="propeller.diameter", value=q(38, "mm"))
    smaller = match.draft(made.document, [change], None, judging(SchoolsIn(), DutyIn())).document
    return made, boats.adopt(fresh_store, made.id, smaller, "38 mm", {})


def guns(motor, pack, unit, typed_as=""):
    """A gun on motor and pack, and the unit that was typed with what it showed."""
    return [(place, q(value, typed_as or unit), 2.0) for place, value in (("motor front", motor), ("pack", pack))]


def odd_ones(store, boat_id):
    return {one.run_id: one for one in boat_knowledge(store, boat_id).judged if one.off is not None}


def test_another_unit_is_named_left_out_and_put_right(fresh_store, boat):
    made, _ = boat
    for k in range(5):
        typed(fresh_store, made.id, k, q(80.0 + 0.4 * (k % 3), "km/h"))
    slipped = typed(fresh_store, made.id, 9, q(129.5, "km/h"))  # 80.5 mph
    odd = odd_ones(fresh_store, made.boat_id)
    assert set(odd) == {slipped}
    first = odd[slipped].causes[0]
    assert first.cause is Cause.UNIT
    assert first.fits == pytest.approx(80.5 / 3.6 / 1.025, rel=0.01)  # a display's peak lies above what was held
    view = put_right(fresh_store, slipped, Cause.UNIT)
    assert view.typed.peaks[0].speed.value == pytest.approx(80.47, abs=0.02)
    assert view.typed.peaks[0].speed.unit == "km/h"
    assert not odd_ones(fresh_store, made.boat_id)
    with pytest.raises(InvalidValue, match="SlipOfThisRun"):
        put_right(fresh_store, slipped, Cause.UNIT)


def test_a_run_on_the_wrong_setup_moves_to_the_right_one(fresh_store, boat):
    made, smaller = boat
    for k in range(4):
        typed(fresh_store, made.id, k, q(82.0 + 0.3 * (k % 3), "km/h"))
        typed(fresh_store, smaller.id, 10 + k, q(68.0 + 0.3 * (k % 3), "km/h"))
    wrong = typed(fresh_store, made.id, 20, q(68.2, "km/h"))
    first = odd_ones(fresh_store, made.boat_id)[wrong].causes[0]
    assert (first.cause, first.setup_id) == (Cause.OTHER_SETUP, smaller.id)
    assert put_right(fresh_store, wrong, Cause.OTHER_SETUP).setup_id == smaller.id
    assert not odd_ones(fresh_store, made.boat_id)


def test_a_temperature_in_another_unit_is_read_in_it(fresh_store, boat):
    made, _ = boat
    for k in range(5):
        typed(fresh_store, made.id, k, q(80.0, "km/h"), guns(44.0 + k % 2, 31.0, "degC"))
    slipped = typed(fresh_store, made.id, 9, q(80.0, "km/h"), guns(112, 88, "degF", "degC"))
    first = odd_ones(fresh_store, made.boat_id)[slipped].causes[0]
    assert first.cause is Cause.UNIT
    assert first.fits == pytest.approx((112 - 32) / 1.8, abs=0.01)
    readings = put_right(fresh_store, slipped, Cause.UNIT).readings
    assert [reading.typed["unit"] for reading in readings] == ["degF", "degF"]
    assert not odd_ones(fresh_store, made.boat_id)


def test_what_a_change_brought_is_a_chance_and_a_swapped_part_one_decision(fresh_store):
    """Cells and mass of one swapped pack were *too many things changed*."""
    made = boats.new_boat(fresh_store, "Swap", samples.document())
    changes = [
        Change(path="pack.cells", value=5),
        Change(path="pack.capacity", value=q(5800, "mAh")),
        Change(path="all_up_mass", value=q(2260, "g")),
    ]
    bigger = match.draft(made.document, changes, None, judging(SchoolsIn(), DutyIn())).document
    after = boats.adopt(fresh_store, made.id, bigger, "5 cells", {})
    for k in range(3):
        typed(fresh_store, made.id, k, q(80.0 + 0.5 * k, "km/h"))
        typed(fresh_store, after.id, 10 + k, q(97.0 + 0.5 * k, "km/h"))
    (change,) = boat_knowledge(fresh_store, made.boat_id).changes
    assert change.things == 1
    assert change.ruling is Ruling.REAL
    assert change.words == "99 in 100 that it is faster"
    assert change.measured.low > 0.15
    assert change.believed.low > 0.10
    assert change.believed.high - change.believed.low < change.measured.high - change.measured.low
