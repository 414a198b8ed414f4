"""Runs typed off a display: made, corrected, compared, refused where they cannot be."""

from datetime import datetime

import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.run import TypedRun
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.run import run

CONDITIONS = {"water": q(12, "degC", "measured")}


@pytest.fixture
def typed_run(store):
    setup = boats.new_boat(store, "Typed", samples.document())
    return run.type_run(store, setup.id, datetime(2026, 6, 6, 9, 0))


def write(store, view, **typed):
    document = TypedRun.model_validate(typed)
    return run.set_notes(store, view.id, CONDITIONS, "calm", [], [], view.tag, typed=document)


def test_a_peak_off_a_display_is_a_run(store, typed_run):
    assert typed_run.source == "typed in"
    assert typed_run.summary is None
    assert typed_run.held is None
    seen = write(store, typed_run, peaks=[{"speed": q(78, "km/h"), "instrument": "the small one"}], mah_back=2100)
    assert seen.held.speed_mps == pytest.approx(78 / 3.6 / 1.025, abs=1e-3)
    assert seen.typed.mah_back == 2100
    listed = run.runs(store, typed_run.boat_id).items[0]
    assert listed.best_mps == pytest.approx(seen.held.speed_mps, abs=1e-3)
    again = run.run(store, typed_run.id)
    assert again.typed == seen.typed
    assert again.tag == seen.tag != typed_run.tag


def test_it_is_compared_with_the_forecast_and_what_is_left_open_counts(store, typed_run):
    write(store, typed_run, there=q(84, "km/h"), back=q(78, "km/h"), current_a=104.0, voltage_v=13.1)
    rows = {m.label: m for m in compare.compared_runs(store, typed_run.setup_id).items[0].measured}
    speed = rows["Top speed, there and back less 2.5 %"]
    assert speed.measured == pytest.approx(81 / 3.6 / 1.025, abs=1e-3)
    assert speed.inside
    assert rows["Current"].measured == 104.0
    assert rows["Pack under load"].measured == 13.1
    # the band that is shown has in it what the display leaves open: one side of its end is inside, the other is not
    write(store, run.run(store, typed_run.id), peaks=[{"speed": q(80, "km/h")}])
    low = compare.compared_runs(store, typed_run.setup_id).items[0].measured[0].low
    for part, inside in ((1.002, True), (0.998, False)):
        peaks = [{"speed": q(low * 3.6 * 1.025 * part, "km/h")}]
        write(store, run.run(store, typed_run.id), peaks=peaks)
        (row,) = compare.compared_runs(store, typed_run.setup_id).items[0].measured
        assert row.inside is inside


def test_what_is_not_sent_stays(store, typed_run):
    seen = write(store, typed_run, peaks=[{"speed": q(70, "km/h")}])
    kept = run.set_notes(store, typed_run.id, {}, "only a note", [], [], seen.tag)
    assert kept.typed == seen.typed


@pytest.mark.parametrize("speed", [q(0, "km/h"), q(800, "km/h"), q(-5, "m/s")])
def test_speeds_that_no_boat_does_are_refused(store, typed_run, speed):
    with pytest.raises(InvalidValue):
        write(store, typed_run, second=speed)
    assert run.run(store, typed_run.id).held is None
