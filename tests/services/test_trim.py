"""Trim of a boat from its log: signs tapped on runs, steps taken, curves over the knobs, the next setting."""

import datetime as dt

import numpy as np
import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.drive.values import drive_values
from kunstflug.core.trim.signs import Behaviour, Step
from kunstflug.documents.run import TypedRun
from kunstflug.documents.setup import setup_of
from kunstflug.services import boats, learning, run, trim
from kunstflug.services.changes import Change, change_document
from kunstflug.services.match import forecast_of

AT_START = {
    "hull": {
        "hull_type": "mono",
        "length": q(620, "mm"),
        "strut_angle": q(2, "deg"),
        "shaft_depth": q(0, "mm"),
        "fin_angle": q(1, "deg"),
    },
    "placement": {"pack": q(200, "mm")},
}
PACK = "placement.pack"


@pytest.fixture
def boat(fresh_store):
    return fresh_store, boats.new_boat(fresh_store, "Trimmed", samples.document(**AT_START))


def changed(store, setup, path, value):
    document = change_document(setup.document, [Change(path=path, value=value)]).document
    return boats.adopt(store, setup.id, document, "", {})


def ran(store, setup, factor, day, seen=()):
    """Two peaks, one each way, as fast as forecast times a factor, on a day."""
    speed = forecast_of(setup.document).point.speed_mps.value * 3.6 * factor
    made = run.type_run(store, setup.id, dt.datetime(2026, 5, 1, 9) + dt.timedelta(days=3 * day, minutes=len(seen)))
    words = TypedRun.model_validate(
        {"there": q(round(speed * 1.01, 2), "km/h"), "back": q(round(speed / 1.01, 2), "km/h")}
    )
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    run.set_notes(store, made.id, usual, "", list(seen), [], made.tag, words)
    learning.forget(store)
    return made.id


def test_what_was_tapped_on_the_newest_run_is_answered(boat):
    store, setup = boat
    at = ran(store, setup, 1.0, 0, ["runs wet", "cool"])
    found = trim.trim(store, setup.id, None)
    assert found.seen == [Behaviour.WET]
    assert found.seen_run == at
    assert found.causes[0].words == "too much weight forward"
    first = found.answers[0]
    assert first.step is Step.PACK_AFT
    assert first.change is not None
    assert first.change.path == PACK
    assert (first.change.value.value, first.change.value.unit) == (195, "mm")
    draft = change_document(setup.document, [Change(path=PACK, value=first.change.value.model_dump(mode="json"))])
    assert draft.document.placement.pack.value == 195
    assert trim.trim(store, setup.id, []).answers == []


def test_a_knob_that_nobody_wrote_down_is_told_in_words(fresh_store):
    bare = boats.new_boat(fresh_store, "Bare", samples.document())
    found = trim.trim(fresh_store, bare.id, [Behaviour.WET])
    assert all(a.change is None and a.how for a in found.answers)
    assert {k.value for k in found.knobs} == {None}
    assert found.next is None


def test_a_step_that_did_not_help_is_not_said_again(boat):
    store, setup = boat
    ran(store, setup, 1.0, 0, ["runs wet"])
    aft = changed(store, setup, PACK, q(195, "mm"))
    ran(store, aft, 1.0, 1, ["runs wet"])
    found = trim.trim(store, aft.id, None)
    assert [(t.do, t.helped) for t in found.tried] == [("Move the pack aft", False)]
    assert Step.PACK_AFT not in [a.step for a in found.answers]
    ran(store, aft, 1.0, 2)
    assert trim.trim(store, aft.id, [Behaviour.WET]).tried[0].helped is False  # it came back once
    # Other signs were not what that step was against.
    assert trim.trim(store, aft.id, [Behaviour.PULLS]).tried == []


def test_nothing_that_lifts_the_bow_is_said_near_blowing_over(fresh_store):
    hull = {"hull_type": "catamaran", "length": q(900, "mm"), "mass_centre": q(200, "mm")}
    fast = samples.document(hull=hull, all_up_mass=q(1500, "g"))
    setup = boats.new_boat(fresh_store, "Light", fast)
    found = trim.trim(fresh_store, setup.id, [Behaviour.WET])
    margins = trim.margins_of(setup_of(fast))
    assert margins.blow_over > 0.8
    assert not {Step.PACK_AFT, Step.LESS_LIFT} & {a.step for a in found.answers}
    assert any(words.startswith("Move the pack aft: no, it runs at ") for words in found.held_back)


def test_runs_over_one_knob_make_a_curve_with_a_next_setting(boat):
    store, setup = boat
    rng = np.random.default_rng(3)
    setups, now = {0: setup}, setup
    for k, mm in enumerate((195, 190, 185)):
        now = changed(store, now, PACK, q(mm, "mm"))
        setups[-(k + 1)] = now
    for day in range(2):
        for steps, one in setups.items():  # the hidden best one stands five steps aft
            ran(store, one, 1.0 - 0.002 * (steps + 5) ** 2 + rng.normal(0, 0.003), day)
    found = trim.trim(store, setups[-2].id, None)
    knob = next(k for k in found.knobs if k.path == PACK)
    assert knob.settings == 4
    assert len(knob.points) == 8
    middle = {round(p.value * 1000): p for p in knob.line}
    low, high = min(middle), max(middle)
    assert low < 185 < 200 < high
    assert max(knob.line, key=lambda p: p.speed_mps).value < 0.189
    assert all(p.low_mps <= p.speed_mps <= p.high_mps for p in knob.line)
    inner = [p.high_mps - p.low_mps for p in knob.line if 0.185 <= p.value <= 0.2]
    outer = [p.high_mps - p.low_mps for p in knob.line if p.value < 0.175]
    assert np.mean(inner) < np.mean(outer)
    assert found.next.advice == "try"
    (change,) = found.next.changes
    assert change.path == PACK
    assert change.value.value < 185
    assert found.next.gain > 0
    # Every setting that was run is known, fastest first, each at the mean of its points.
    assert [s.runs for s in found.settings] == [2, 2, 2, 2]
    assert [s.speed_mps for s in found.settings] == sorted((s.speed_mps for s in found.settings), reverse=True)
    assert found.settings[0].setup_id == setups[-3].id
    assert found.settings[0].changes[0].value.value == 185
    for one in found.settings:
        points = [p.speed_mps for p in knob.points if p.setup_id == one.setup_id]
        assert one.speed_mps == pytest.approx(np.exp(np.mean(np.log(points))), rel=1e-3)
    # Of knobs that were never turned there is nothing to draw.
    assert all(not k.line for k in found.knobs if k.path != PACK)


def test_a_frightening_setting_is_not_gone_to_again(boat):
    store, setup = boat
    aft = changed(store, setup, PACK, q(190, "mm"))
    for day in range(3):
        ran(store, setup, 1.0, day)
    ran(store, aft, 1.06, 4, ["blew over"])
    found = trim.trim(store, aft.id, None)
    assert found.next.advice == "back"
    assert [s.seen for s in found.settings] == [[], ["blew over"]]
    assert found.next.changes[0].value.value == 200


def test_runs_of_another_propeller_do_not_count_in_the_curve(boat):
    store, setup = boat
    ran(store, setup, 1.0, 0)
    other = changed(store, setup, "propeller.diameter", q(44, "mm"))
    aft = changed(store, other, PACK, q(195, "mm"))
    ran(store, other, 0.9, 1)
    ran(store, aft, 0.92, 1)
    found = trim.trim(store, aft.id, None)
    assert len(next(k for k in found.knobs if k.path == PACK).points) == 2
    assert next(k for k in trim.trim(store, setup.id, None).knobs if k.path == PACK).points == []


def test_a_shaft_that_slopes_lifts_the_stern():
    """By geometry: lift is thrust times the tangent, and what is left goes ahead with the cosine."""
    level, sloped = (samples.setup(hull__strut_angle=q(a, "deg")) for a in (0, 6))
    assert drive_values(level).lift_ratio.value == 0
    assert drive_values(sloped).lift_ratio.value == pytest.approx(np.tan(np.radians(6)), rel=1e-12)
    assert drive_values(sloped).thrust_part.value == pytest.approx(np.cos(np.radians(6)), rel=1e-12)
