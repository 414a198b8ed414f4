"""Trim of a boat from its log: signs tapped on runs, steps taken, curves over the knobs, the next setting."""

import datetime as dt

import numpy as np
import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.values import drive_values
from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.trim.curve import REPEATS
from kunstflug.core.trim.margins import margins_of as core_margins
from kunstflug.core.trim.next_setting import Advice, Proposal
from kunstflug.core.trim.signs import Behaviour, Step
from kunstflug.documents.run import TypedRun
from kunstflug.documents.setup import setup_of
from kunstflug.services.boats import boats
from kunstflug.services.learning import learning
from kunstflug.services.match.match import forecast_of
from kunstflug.services.run import run
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.trim import rules as trim_rules
from kunstflug.services.trim import trim
from kunstflug.wording.trim import why

ZERO = np.zeros(1)

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
    speed = forecast_of(setup.document, None).point.speed_mps.value * 3.6 * factor
    made = run.type_run(store, setup.id, dt.datetime(2026, 5, 1, 9) + dt.timedelta(days=3 * day, minutes=len(seen)))
    words = TypedRun.model_validate(
        {"there": q(round(speed * 1.01, 2), "km/h"), "back": q(round(speed / 1.01, 2), "km/h")}
    )
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    run.set_notes(store, made.id, usual, "", list(seen), [], made.tag, words)
    learning.forget(store)
    return made.id


def margins_of(document):
    setup = setup_of(document)
    return core_margins(setup, forecast(setup, explained=False))


def speed_of(knob):
    return next(c for c in knob.curves if c.measure == "speed")


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


def test_a_step_that_did_not_help_twice_is_not_said_again(boat):
    store, setup = boat
    ran(store, setup, 1.0, 0, ["runs wet"])
    aft = changed(store, setup, PACK, q(195, "mm"))
    ran(store, aft, 1.0, 1, ["runs wet"])
    found = trim.trim(store, aft.id, None)
    assert [(t.do, t.helped) for t in found.tried] == [("Move the pack aft", False)]
    assert Step.PACK_AFT in [a.step for a in found.answers]  # a small step need not show at once
    further = changed(store, aft, PACK, q(190, "mm"))
    ran(store, further, 1.0, 2, ["runs wet"])
    found = trim.trim(store, further.id, None)
    assert [t.helped for t in found.tried] == [False, False]
    assert Step.PACK_AFT not in [a.step for a in found.answers]
    ran(store, aft, 1.0, 3)
    assert trim.trim(store, aft.id, [Behaviour.WET]).tried[0].helped is False  # it came back once
    # Other signs were not what that step was against.
    assert trim.trim(store, aft.id, [Behaviour.PULLS]).tried == []


def test_nothing_that_lifts_the_bow_is_said_near_blowing_over(fresh_store):
    hull = {"hull_type": "catamaran", "length": q(900, "mm"), "mass_centre": q(200, "mm")}
    fast = samples.document(hull=hull, all_up_mass=q(1500, "g"))
    setup = boats.new_boat(fresh_store, "Light", fast)
    found = trim.trim(fresh_store, setup.id, [Behaviour.WET])
    margins = margins_of(fast)
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
    curve = speed_of(knob)
    assert curve.settings == 4
    assert len(curve.points) == 8
    middle = {round(p.at * 1000): p for p in curve.line}
    low, high = min(middle), max(middle)
    assert low < 185 < 200 < high
    assert max(curve.line, key=lambda p: p.middle).at < 0.189
    assert all(p.low <= p.middle <= p.high for p in curve.line)
    inner = [p.high - p.low for p in curve.line if 0.185 <= p.at <= 0.2]
    outer = [p.high - p.low for p in curve.line if p.at < 0.175]
    assert np.mean(inner) < np.mean(outer)
    assert found.next.advice == "try"
    change = next(c for c in found.next.changes if c.path == PACK)
    assert change.value.value <= 185
    assert found.next.gain > 0
    assert found.next.past <= 0.03
    # Every setting that was run is known, fastest first, each at the mean of its points.
    assert [s.runs for s in found.settings] == [2, 2, 2, 2]
    assert [s.speed_mps for s in found.settings] == sorted((s.speed_mps for s in found.settings), reverse=True)
    assert found.settings[0].setup_id == setups[-3].id
    assert found.settings[0].changes[0].value.value == 185
    for one in found.settings:
        points = [p.read for p in curve.points if p.setup_id == one.setup_id]
        assert one.speed_mps == pytest.approx(np.exp(np.mean(np.log(points))), rel=1e-3)
    # Of knobs that were never turned there is nothing to draw.
    assert all(not k.curves for k in found.knobs if k.path != PACK)


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


def test_a_capsize_without_a_speed_counts(boat):
    store, setup = boat
    aft = changed(store, setup, PACK, q(185, "mm"))
    for day in range(3):
        ran(store, setup, 1.0, day)
    made = run.type_run(store, aft.id, dt.datetime(2026, 5, 30, 9))
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    run.set_notes(store, made.id, usual, "", ["blew over"], [], made.tag, TypedRun())
    learning.forget(store)
    assert trim.trim(store, aft.id, None).next.advice == "back"
    told = trim.trim(store, setup.id, None).next
    assert all(c.value.value > 185 for c in told.changes if c.path == PACK)
    assert trim.trim(store, setup.id, None).knobs[0].safe[0] > 0.185  # and the slider says so too


def test_from_one_run_on_the_next_setting_is_named(boat):
    store, setup = boat
    assert trim.trim(store, setup.id, None).next is None
    ran(store, setup, 1.0, 0)
    told = trim.trim(store, setup.id, None).next
    assert told.advice == "try"
    assert {c.path for c in told.changes} <= {PACK, "hull.strut_angle", "hull.shaft_depth"}


def test_more_knobs_are_turned_than_are_weighed(boat):
    store, setup = boat
    ran(store, setup, 1.0, 0)
    for day, (path, value) in enumerate(
        (
            (PACK, q(195, "mm")),
            ("hull.strut_angle", q(2.5, "deg")),
            ("hull.shaft_depth", q(1, "mm")),
            ("hull.fin_angle", q(1.3, "deg")),
            ("propeller.cup", q(0.4, "mm")),
        )
    ):
        here = setup
        if path == "propeller.cup":
            here = changed(store, setup, path, q(0.2, "mm"))
            ran(store, here, 1.0, day)
        ran(store, changed(store, here, path, value), 1.01, day)
    found = trim.trim(store, setup.id, None)
    assert sum(bool(k.curves) for k in found.knobs) in (3, 4)
    assert found.next is not None


@pytest.mark.parametrize("seed", range(4))
def test_what_is_proposed_lies_in_the_safe_range_of_its_slider(fresh_store, seed):
    """Two places, one law: random runs and signs on a boat with one knob."""
    rng = np.random.default_rng(seed)
    usual = samples.document(placement=AT_START["placement"])
    setup = boats.new_boat(fresh_store, "One knob", usual)
    there = [setup, changed(fresh_store, setup, PACK, q(195, "mm")), changed(fresh_store, setup, PACK, q(205, "mm"))]
    for day in range(6):
        seen = [["light bow"], ["porpoises"], [], [], []][int(rng.integers(5))]
        ran(fresh_store, there[int(rng.integers(3))], 1.0 + rng.normal(0, 0.02), day, seen)
    for one in there:
        found = trim.trim(fresh_store, one.id, None)
        knob = next(k for k in found.knobs if k.path == PACK)
        for change in found.next.changes if found.next.advice == "try" else ():
            metres = change.value.value / 1000
            if abs(metres - knob.value) <= 2.01 * knob.step:
                assert knob.safe[0] - 1e-9 <= metres <= knob.safe[1] + 1e-9


def test_how_well_the_racer_repeats_is_learnt(boat):
    store, setup = boat
    rng = np.random.default_rng(5)
    for day in range(12):
        ran(store, setup, 1.0 + rng.normal(0, 0.03), day)
    assert trim.trim(store, setup.id, None).next.repeats > 1.2 * REPEATS


def test_where_it_is_enough_the_next_knob_by_practice_is_named():
    still = Proposal(advice=Advice.ENOUGH, at=ZERO, gain=0.0, better=0.5, worse=0.0, past=0.0, top=ZERO)
    assert why(still, 20, 0.015, "Tab angle").endswith(
        "they scatter by 1.5 %. Next by practice: tab angle. Measure where it stands and write it down."
    )
    assert why(still, 20, 0.015, "").endswith("1.5 %.")


def test_runs_of_another_propeller_do_not_count_in_the_curve(boat):
    store, setup = boat
    ran(store, setup, 1.0, 0)
    other = changed(store, setup, "propeller.diameter", q(44, "mm"))
    aft = changed(store, other, PACK, q(195, "mm"))
    ran(store, other, 0.9, 1)
    ran(store, aft, 0.92, 1)
    found = trim.trim(store, aft.id, None)
    assert len(speed_of(next(k for k in found.knobs if k.path == PACK)).points) == 2
    assert next(k for k in trim.trim(store, setup.id, None).knobs if k.path == PACK).curves == []


def test_a_shaft_that_slopes_lifts_the_stern():
    """By geometry: lift is thrust times the tangent, and what is left goes ahead with the cosine."""
    level, sloped = (samples.setup(hull__strut_angle=q(a, "deg")) for a in (0, 6))
    assert drive_values(level).lift_ratio.value == 0
    assert drive_values(sloped).lift_ratio.value == pytest.approx(np.tan(np.radians(6)), rel=1e-12)
    assert drive_values(sloped).thrust_part.value == pytest.approx(np.cos(np.radians(6)), rel=1e-12)


def test_every_knob_says_how_it_is_measured_and_how_far_it_is_safe(boat):
    store, setup = boat
    found = trim.trim(store, setup.id, [])
    assert all(k.measured_by for k in found.knobs)
    assert next(k for k in found.knobs if k.path == "propeller.rake").bound_to
    pack = next(k for k in found.knobs if k.path == PACK)
    assert pack.safe[0] <= pack.value <= pack.safe[1]
    assert pack.safe[1] - pack.value == pytest.approx(2 * pack.step)
    # What the model knows nothing of has no safe range, and one that nobody wrote down neither.
    assert next(k for k in found.knobs if k.path == "hull.fin_angle").safe is None
    assert next(k for k in found.knobs if k.path == "propeller.rake").safe is None


def test_a_step_past_a_margin_is_not_in_the_safe_range(fresh_store):
    hull = {"hull_type": "catamaran", "length": q(900, "mm"), "mass_centre": q(200, "mm"), "strut_angle": q(2, "deg")}
    fast = samples.document(hull=hull, all_up_mass=q(1500, "g"), propeller__rake=q(10, "deg"))
    setup = boats.new_boat(fresh_store, "Fast", fast)
    strut = next(k for k in trim.trim(fresh_store, setup.id, []).knobs if k.path == "hull.strut_angle")
    for value in (strut.safe[0], strut.safe[1]):
        there = change_document(fast, [Change(path="hull.strut_angle", value=q(round(value, 4), "deg"))]).document
        before, after = (margins_of(d) for d in (fast, there))
        assert after.blow_over <= max(before.blow_over, 0.8) + 1e-6


def test_strakes_that_are_on_are_taken_off_by_a_tap(fresh_store):
    on = samples.document(hull={**samples.MONO["hull"], "strakes": "on"})
    setup = boats.new_boat(fresh_store, "Strakes", on)
    found = trim.trim(fresh_store, setup.id, [Behaviour.WASHES_OUT, Behaviour.BOUNCES])
    strakes = next(a for a in found.answers if a.step is Step.STRAKES_OFF)
    assert (strakes.change.path, strakes.change.value, strakes.change.words) == ("hull.strakes", "off", "off")
    assert change_document(on, [Change(path="hull.strakes", value="off")]).document.hull.strakes == "off"
    assert {s.path: s.value for s in found.switches}["hull.strakes"] == "on"


def test_what_fin_and_rudder_hold(fresh_store):
    """m V^2 / r = rho V^2 A c / 2 (mechanics): by hand for one fin and no rudder."""
    hull = {**samples.MONO["hull"], "fin_depth": q(40, "mm"), "fin_chord": q(25, "mm")}
    setup = boats.new_boat(fresh_store, "Fin", samples.document(hull=hull))
    turn = trim.trim(fresh_store, setup.id, []).turn
    mass, density = setup_of(setup.document).all_up_mass_kg.value, 999.0
    assert turn.radius_m == pytest.approx(2 * mass / (density * 0.040 * 0.025 * 0.45), rel=2e-3)
    assert turn.low_m < turn.radius_m < turn.high_m
    bare = boats.new_boat(fresh_store, "Bare", samples.document())
    assert trim.trim(fresh_store, bare.id, []).turn is None


def test_a_racers_own_rule_holds_until_it_is_put_back(boat):
    store, setup = boat
    before = trim.trim(store, setup.id, [Behaviour.WET]).causes[0]
    key = "sign.mass_forward.wet"
    assert next(r for r in trim_rules.rules(store).rules if r.key == key).usual == 0.8
    own = trim_rules.set_rules(store, {key: 0.02})
    assert own.own == 1
    after = {c.reason: c.chance for c in trim.trim(store, setup.id, [Behaviour.WET]).causes}
    assert after.get(before.reason, 0.0) < 0.5 * before.chance
    assert trim_rules.set_rules(store, {key: None}).own == 0
    assert trim.trim(store, setup.id, [Behaviour.WET]).causes[0] == before
    with pytest.raises(NotFound):
        trim_rules.set_rules(store, {"sign.nothing.wet": 0.5})


def test_margins_by_practice_are_wide_and_follow_fin_rudder_and_torque(fresh_store):
    sizes = {"fin_depth": q(45, "mm"), "fin_chord": q(28, "mm"), "rudder_depth": q(45, "mm"), "steering": q(25, "deg")}

    def told(**hull):
        made = boats.new_boat(fresh_store, "P", samples.document(hull={**samples.MONO["hull"], **sizes, **hull}))
        return {one.key: one for one in trim.trim(fresh_store, made.id, []).by_practice}

    usual, big, none = told(), told(fin_depth=q(70, "mm")), told(fin_depth=q(0, "mm"))
    assert set(usual) == {"chine_walk", "hook", "washout"}
    assert big["hook"].part > usual["hook"].part
    assert big["washout"].part < usual["washout"].part < none["washout"].part
    assert "hook" not in none
    assert told(deadrise=q(24, "deg"))["chine_walk"].part > usual["chine_walk"].part
    for one in usual.values():
        assert one.high == pytest.approx(4 * one.low, rel=0.02)
        assert "%" in one.words
