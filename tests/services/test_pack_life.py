"""A pack over its runs: read from what was typed, judged, told to Live."""

from datetime import datetime, timedelta

import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.bench.pack_life import Health
from kunstflug.core.laws.cell import cell_ocv_v
from kunstflug.core.live.watch import Sample
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.run import TypedRun
from kunstflug.services.boats import boats
from kunstflug.services.live import drives
from kunstflug.services.run import run
from kunstflug.services.shelf import pack_life, shelf
from kunstflug.wording import METRIC

CONDITIONS = {"water": q(14, "degC", "measured")}
RUNS = 40


def typed_runs(store, setup, capacity_ah, count=RUNS, **more):
    """Runs with half of the charge used from a pack that holds so much by number."""
    rest = [round(float(cell_ocv_v(0.4)), 3)] * setup.document.pack.cells
    charge = setup.document.conditions.state_of_charge.value / 100.0
    for k in range(count):
        made = run.type_run(store, setup.id, datetime(2026, 5, 1, 9, 0) + timedelta(days=2 * k))
        typed = {"mah_back": 1000.0 * (charge - 0.4) * capacity_ah(k), "rest_v": rest, **more}
        run.set_notes(store, made.id, CONDITIONS, "", [], [], made.tag, typed=TypedRun.model_validate(typed))


def printed_ah(setup):
    return setup.document.pack.capacity.value / 1000.0


def test_a_pack_without_readings_says_what_to_note(fresh_store):
    boats.new_boat(fresh_store, "Unread", samples.document())
    found = pack_life.life_of(fresh_store, shelf.shelf(fresh_store, "pack")[0].id, METRIC)
    assert found.health is Health.UNKNOWN
    assert found.capacity_ah is None
    assert "charge put back" in found.words[0]


def test_a_pack_that_loses_capacity_is_retired_and_live_knows(fresh_store):
    setup = boats.new_boat(fresh_store, "Fading", samples.document())
    key = shelf.shelf(fresh_store, "pack")[0].id
    typed_runs(fresh_store, setup, lambda k: printed_ah(setup) * (1.0 - 0.008 * k))
    found = pack_life.life_of(fresh_store, key, METRIC)
    assert found.health is Health.RETIRE
    assert found.words[0].startswith("Retire it: holds 7")
    assert found.capacity_ah.value[-1] == pytest.approx(0.70 * printed_ah(setup), rel=0.06)
    assert len(found.runs) == RUNS
    watch = drives.begin(fresh_store, setup.id).watch
    watch.feed(Sample(time_s=0.0, voltage_v=setup.document.pack.cells * 4.19, bus_a=0.0))
    assert watch._capacity == pytest.approx(found.capacity_ah.value[-1], rel=1e-4)


def test_typed_volts_and_amperes_read_the_resistance(fresh_store):
    setup = boats.new_boat(fresh_store, "Sagging", samples.document())
    key = shelf.shelf(fresh_store, "pack")[0].id
    typed_runs(fresh_store, setup, lambda k: printed_ah(setup), count=6, current_a=100.0, voltage_v=13.2)
    found = pack_life.life_of(fresh_store, key, METRIC)
    assert found.health is Health.GOOD
    assert found.resistance_ohm is not None
    assert found.resistance_ohm.limit == pytest.approx(2.0 * found.resistance_ohm.value[0], rel=1e-3)
    assert all(one.resistance_ohm.low < one.resistance_ohm.value < one.resistance_ohm.high for one in found.runs)


def test_a_run_that_is_set_aside_says_nothing(fresh_store):
    setup = boats.new_boat(fresh_store, "Aside", samples.document())
    key = shelf.shelf(fresh_store, "pack")[0].id
    typed_runs(fresh_store, setup, lambda k: 0.4 * printed_ah(setup), count=5, set_aside=True)
    assert pack_life.life_of(fresh_store, key, METRIC).health is Health.UNKNOWN


def test_a_motor_has_no_charge(fresh_store):
    boats.new_boat(fresh_store, "Motor", samples.document())
    with pytest.raises(InvalidValue):
        pack_life.life_of(fresh_store, shelf.shelf(fresh_store, "motor")[0].id, METRIC)
