"""Choosing: sweep against single forecasts, backward, steps, schools."""

import dataclasses
import functools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.choose.backward import (
    FreePart,
    OneFree,
    OutOfReach,
    TooShort,
    Wish,
    backward,
    controller_class_a,
    shaft_power_curve,
)
from kunstflug.core.choose.fronts import easy_front, pareto_front
from kunstflug.core.choose.sold import CONTROLLERS_A, next_class_a
from kunstflug.core.choose.steps import PLACES, Intent, Trial, effort, place, single_steps, steps_back, wanted_first
from kunstflug.core.choose.stock import Need, distance, ways
from kunstflug.core.choose.sweep import MOST_CASES, Positive, ranges_about, sweep
from kunstflug.core.drive.forecast import doubts_of_uses, forecast
from kunstflug.core.drive.limits import KEYS, LimitKey
from kunstflug.core.drive.schools import USUAL, ControllerSchool, PackSchool, RpmSchool, Schools
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.parts import motor
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost, Between
from kunstflug.core.setup.editor import edited, typed

SETUP = samples.setup()


@functools.cache
def reached(speed_mps):
    """What reaches a speed, nothing locked: many tests ask of the same answer."""
    return backward(SETUP, Wish(speed_mps=speed_mps))


def test_a_sweep_of_one_is_the_forecast():
    found, point = sweep(SETUP, ranges_about(SETUP)), forecast(SETUP, 0).point
    assert found.speed_mps[0] == pytest.approx(point.speed_mps, rel=1e-9)
    assert found.current_a[0] == pytest.approx(point.current_a, rel=1e-9)
    assert found.rpm[0] == pytest.approx(point.rpm, rel=1e-9)
    assert found.shaft_power_w[0] == pytest.approx(point.shaft_power_w, rel=1e-9)


@pytest.mark.parametrize(
    ("changes", "axis"),
    [
        ({"propeller__diameter": q(46, "mm")}, {"diameter": np.array([0.046])}),
        ({"propeller__pitch_ratio": q(1.6, "1")}, {"pitch_ratio": np.array([1.6])}),
        ({"motor__kv": q(1800, "rpm/V")}, {"kv": np.array([1800.0])}),
    ],
)
def test_each_axis_of_a_sweep_is_the_forecast_of_that_setup(changes, axis):
    found = sweep(SETUP, ranges_about(SETUP, **axis))
    point = forecast(samples.setup(**changes), 0).point
    assert found.speed_mps[0] == pytest.approx(point.speed_mps, rel=1e-6)
    assert found.current_a[0] == pytest.approx(point.current_a, rel=1e-6)


def test_margins_of_a_sweep_are_the_forecasts():
    kv = np.linspace(1500, 3200, 9)
    found = sweep(SETUP, ranges_about(SETUP, kv=kv))
    for k, value in enumerate(kv):
        f = forecast(samples.setup(motor__kv=q(float(value), "rpm/V")), 0)
        assert ORDER[found.verdict[k]] is f.verdict
        if f.runs:
            assert KEYS[found.tightest[k]] is f.tightest.key
            assert found.use[k] == pytest.approx(f.tightest.use, rel=1e-6)


@pytest.mark.parametrize("limit", ["bus_limit", "phase_limit"])
def test_a_limit_set_in_the_controller_holds_in_a_sweep(limit):
    c = {"continuous_current": q(120, "A"), limit: q(55, "A")}
    setup = samples.setup(controller=c)
    kv = np.array([900.0, 2200.0, 2800.0])
    ratio = np.array([1.2, 1.4])
    found = sweep(setup, ranges_about(setup, kv=kv, pitch_ratio=ratio))
    for k, (value, p) in enumerate((v, r) for v in kv for r in ratio):
        held = samples.setup(controller=c, motor__kv=q(float(value), "rpm/V"), propeller__pitch_ratio=q(float(p), "1"))
        f = forecast(held, 0)
        assert found.speed_mps[k] == pytest.approx(f.point.speed_mps, rel=1e-6)
        assert found.current_a[k] == pytest.approx(f.point.current_a, rel=1e-6)
        assert found.use[k] == pytest.approx(max(m.use for m in f.margins), rel=1e-6)
    free = sweep(SETUP, ranges_about(SETUP, kv=kv, pitch_ratio=ratio))
    assert np.all(found.current_a <= 55 * (1 + 1e-6))
    assert found.current_a[0] == pytest.approx(free.current_a[0], rel=1e-9)  # below the limit nothing changes
    assert found.speed_mps[-1] < free.speed_mps[-1]
    # a controller that is still to be bought sets no limit
    unset = sweep(
        setup, ranges_about(setup, kv=kv, pitch_ratio=ratio), leave_out=frozenset({LimitKey.CONTROLLER_CURRENT})
    )
    assert unset.current_a == pytest.approx(free.current_a, rel=1e-9)


def test_a_sweep_too_large_is_refused_with_what_would_do():
    big = ranges_about(SETUP, kv=np.linspace(500, 4000, 2000), diameter=np.linspace(0.03, 0.06, 1100))
    with pytest.raises(InvalidValue) as refused:
        sweep(SETUP, big)
    assert refused.value.allowed == AtMost(most=MOST_CASES)
    with pytest.raises(InvalidValue) as refused:
        sweep(SETUP, ranges_about(SETUP, kv=np.array([-5.0, 1000.0])))
    assert refused.value.allowed == Positive()


def test_large_sweeps_are_the_same_in_pieces(monkeypatch):
    ranges = ranges_about(SETUP, kv=np.linspace(1200, 3000, 40), diameter=np.linspace(0.035, 0.05, 20))
    whole = sweep(SETUP, ranges)
    monkeypatch.setattr("kunstflug.core.choose.sweep.CHUNK", 77)
    np.testing.assert_allclose(sweep(SETUP, ranges).speed_mps, whole.speed_mps, rtol=1e-12)


@given(st.lists(st.tuples(st.floats(0, 100), st.floats(0, 100)), min_size=1, max_size=40))
def test_nobody_beats_the_front(pairs):
    gain, cost = (np.array(c) for c in zip(*pairs, strict=True))
    chosen = pareto_front(gain, cost)
    assert chosen.size
    for k in range(len(gain)):
        beaten_by = (gain[chosen] >= gain[k]) & (cost[chosen] <= cost[k])
        assert beaten_by.any()  # everybody is matched by somebody on the front
    for k in chosen:
        better = (gain >= gain[k]) & (cost <= cost[k]) & ((gain > gain[k]) | (cost < cost[k]))
        assert not better.any()


def test_front_of_a_sweep_runs_and_rises():
    found = sweep(SETUP, ranges_about(SETUP, kv=np.linspace(1200, 3000, 20), diameter=np.linspace(0.035, 0.05, 12)))
    best = easy_front(found.speed_mps, found.use, found.verdict)
    assert np.all(found.verdict[best] != 3)
    assert np.all(np.diff(found.speed_mps[best]) > 0)
    assert np.all(np.diff(found.use[best]) >= 0)


def test_backward_then_forward_reaches_the_wish():
    wanted = 22.0
    found = backward(SETUP, Wish(speed_mps=wanted, locked=frozenset({FreePart.PACK})))
    assert found.possible
    best = ways(SETUP, found, {}, USUAL)[0].answer
    assert best.speed_mps >= wanted
    again = samples.setup(
        motor__kv=q(best.kv_rpm_per_v, "rpm/V"),
        propeller={"diameter": q(best.diameter_m * 1e3, "mm"), "pitch_ratio": q(best.pitch_ratio, "1")},
        all_up_mass=q(best.boat_kg, "kg"),
    )
    assert forecast(again, 0).point.speed_mps == pytest.approx(best.speed_mps, rel=0.01)


def test_the_fewest_other_parts_come_first():
    now = forecast(SETUP, 0).point.speed_mps
    found = backward(SETUP, Wish(speed_mps=1.02 * now))
    assert found.possible
    ranked = [way for way in ways(SETUP, found, {}, USUAL) if way.answer.use <= 1.0]
    to_buy = [way.count(Need.BUY) for way in ranked]
    assert to_buy == sorted(to_buy)
    holding = [way.answer for way in ranked]
    # A fiftieth more takes no whole new drive, and what the other locks say is the same drive.
    first = holding[0]
    assert len(first.changed) < 3
    alone = backward(SETUP, Wish(speed_mps=1.02 * now, locked=frozenset(FreePart) - first.changed))
    assert (first.kv_rpm_per_v, first.diameter_m, first.cells) in {
        (a.kv_rpm_per_v, a.diameter_m, a.cells) for a in alone.answers
    }


def test_drives_that_come_down_to_the_same_parts_are_one():
    found = reached(25.0)
    first = found.answers[0]
    harder = dataclasses.replace(first, shaft_power_w=first.shaft_power_w + 1)
    assert len(ways(SETUP, dataclasses.replace(found, answers=(first, harder)), {}, USUAL)) == 1
    faster = dataclasses.replace(first, kv_rpm_per_v=first.kv_rpm_per_v + 90, changed=frozenset(FreePart))
    assert len(ways(SETUP, dataclasses.replace(found, answers=(harder, faster)), {}, USUAL)) == 2


def test_where_nothing_reaches_the_wish_the_fastest_comes_first():
    found = backward(SETUP, Wish(speed_mps=90.0))
    assert not found.possible
    ranked = [way.answer for way in ways(SETUP, found, {}, USUAL)]
    speeds = [a.speed_mps for a in ranked if a.use <= 1.0]
    assert speeds == sorted(speeds, reverse=True)
    assert max(a.speed_mps for a in ranked) < 90.0


def test_what_is_named_as_changed_is_what_differs():
    ratio, kv, wheel = 1.4, 2200, 0.042
    for answer in reached(25.0).answers:
        assert (FreePart.MOTOR in answer.changed) == (abs(answer.kv_rpm_per_v / kv - 1) >= 0.02)
        same = answer.diameter_m == pytest.approx(wheel, rel=5e-3) and answer.pitch_ratio == pytest.approx(ratio)
        assert (FreePart.PROPELLER in answer.changed) == (not same)
        assert (FreePart.PACK in answer.changed) == (answer.cells != 4)
        # 120 A, no number of cells printed
        assert answer.controller_holds == (answer.controller_class_a <= 120)


@pytest.mark.parametrize(
    ("kind", "change", "serves"),
    [
        ("motor", {"kv": 1.05}, True),
        ("motor", {"kv": 1.07}, False),
        ("motor", {"mass": 0.84}, False),
        ("propeller", {"diameter": 1.02}, True),
        ("propeller", {"diameter": 1.03}, False),
        ("pack", {}, True),
        ("pack", {"c": 0.5}, False),
        ("controller", {}, True),
        ("controller", {"rating": 0.6}, False),
    ],
)
def test_a_part_on_the_shelf_serves_within_what_one_would_take(kind, change, serves):
    answer = reached(25.0).answers[-1]
    document = {
        "motor": {
            **samples.MONO["motor"],
            "kv": q(answer.kv_rpm_per_v * change.get("kv", 1), "rpm/V"),
            "mass": q(answer.motor_kg * 1e3 * change.get("mass", 1), "g"),
        },
        "propeller": {
            "diameter": q(answer.diameter_m * 1e3 * change.get("diameter", 1), "mm"),
            "pitch_ratio": q(answer.pitch_ratio, "1"),
        },
        "pack": {
            **samples.MONO["pack"],
            "cells": answer.cells,
            "c_rating": q(1.01 * answer.current_a / 5.0 / 0.6 * change.get("c", 1), "1"),
        },
        "controller": {"continuous_current": q(answer.controller_class_a * change.get("rating", 1), "A")},
    }
    part = getattr(samples.setup(**{kind: document[kind]}), kind)
    assert (distance(part, answer, USUAL) < np.inf) == serves


def test_what_is_locked_stays():
    for answer in backward(SETUP, Wish(speed_mps=24.0, locked=frozenset({FreePart.MOTOR, FreePart.PACK}))).answers:
        assert answer.kv_rpm_per_v == 2200
        assert answer.cells == 4
    for answer in backward(SETUP, Wish(speed_mps=24.0, locked=frozenset({FreePart.PROPELLER}))).answers:
        assert answer.diameter_m == pytest.approx(0.042)
        assert answer.pitch_ratio == pytest.approx(1.4)


def test_the_classes_carry_the_current_and_what_is_not_known_of_it():
    unsure = float(doubts_of_uses(SETUP, USUAL)[KEYS.index(LimitKey.CONTROLLER_CURRENT), 0])
    assert unsure > 1.1
    for answer in reached(25.0).answers:
        assert answer.controller_class_a in CONTROLLERS_A
        assert answer.controller_class_a * 0.9 >= unsure * answer.current_a
        assert answer.pack_c * 5.0 * 0.6 >= unsure * answer.current_a  # 5 Ah, believed to 60 %


@pytest.mark.parametrize(("amperes", "size"), [(573.0, 800.0), (1.0, 30.0), (2000.0, 2300.0)])
def test_a_class_is_never_less_than_the_current_takes(amperes, size):
    """They ended at 400 A: whoever needed 573 was told to buy 400."""
    assert controller_class_a(amperes, USUAL) == size
    assert next_class_a(size) > size


def test_the_motor_it_takes_has_its_length():
    answer = reached(25.0).answers[0]
    # 3.9 g a cm3 in a 36 mm can, 12 mm for wires: both common practice, no source
    volume_cm3 = answer.motor_kg * 1e3 / 3.9
    assert answer.motor_room_m == pytest.approx(volume_cm3 * 1e-6 / (np.pi / 4 * 0.036**2) + 0.012)
    now = motor.can_length_for_m(motor.motor_mass(SETUP.motor).value, SETUP.motor.can_diameter_m.value)
    assert now == pytest.approx(SETUP.motor.can_length_m.value)


def test_an_impossible_wish_says_why_and_shows_the_nearest():
    found = backward(SETUP, Wish(speed_mps=100.0, locked=frozenset({FreePart.MOTOR, FreePart.PACK})))
    assert not found.possible
    assert isinstance(found.reason, OutOfReach)
    assert 100 > found.reason.fastest_mps >= max(a.speed_mps for a in found.answers) > 20
    long = backward(SETUP, Wish(speed_mps=20.0, locked=frozenset({FreePart.PACK}), least_s=2200))
    assert not long.possible
    assert isinstance(long.reason, OutOfReach)  # what lasts so long is slower
    assert long.reason.least_s == 2200
    endless = backward(SETUP, Wish(speed_mps=20.0, locked=frozenset({FreePart.PACK}), least_s=86400))
    assert isinstance(endless.reason, TooShort)
    assert endless.reason.wanted_s == 86400 > endless.reason.longest_s


def test_a_wish_outside_sense_is_refused():
    with pytest.raises(InvalidValue) as refused:
        backward(SETUP, Wish(speed_mps=0.0))
    assert isinstance(refused.value.allowed, Between)
    with pytest.raises(InvalidValue) as refused:
        backward(SETUP, Wish(speed_mps=20.0, locked=frozenset(FreePart)))
    assert refused.value.allowed == OneFree()


def test_the_power_curve_meets_todays_setup():
    point = forecast(SETUP, 0).point
    speed, power = shaft_power_curve(SETUP, 30.0, float(point.propeller_efficiency))
    assert np.interp(point.speed_mps, speed, power) == pytest.approx(point.shaft_power_w, rel=0.01)
    assert np.all(np.diff(power) >= 0)


def test_every_single_step_is_one_change_and_possible_in_principle():
    steps = single_steps(SETUP)
    assert len(steps) > 15
    assert len({(s.path, s.value) for s in steps}) == len(steps)
    assert {"motor.kv", "propeller.diameter", "pack.cells", "all_up_mass"} <= {s.path for s in steps}


@pytest.mark.parametrize(
    ("schools", "key"),
    [
        (Schools(controller=ControllerSchool.BURST), LimitKey.CONTROLLER_CURRENT),
        (Schools(rpm=RpmSchool.HIGH), LimitKey.LOADED_RPM),
        (Schools(pack=PackSchool.BELIEVING), LimitKey.PACK_CURRENT),
    ],
)
def test_the_other_school_moves_its_own_limit_only(schools, key):
    usual = {m.key: m for m in forecast(SETUP, 0).margins}
    other = {m.key: m for m in forecast(SETUP, 0, schools).margins}
    assert other[key].limit.holds > usual[key].limit.holds
    for name in usual:
        assert other[name].load == usual[name].load
        if name != key:
            assert other[name].limit == usual[name].limit


def test_a_printed_motor_current_stops_a_sweep_as_it_stops_the_forecast():
    """Once the forecast said stop, use 1.85, and the sweep said holds, 0.87."""
    printed = samples.setup(motor={**samples.MONO["motor"], "max_current": q(30, "A")})
    found, f = sweep(printed, ranges_about(printed)), forecast(printed, 0)
    assert ORDER[found.verdict[0]] is f.verdict is Verdict.STOP
    assert KEYS[found.tightest[0]] is LimitKey.MOTOR_CURRENT
    assert found.use[0] == pytest.approx(f.point.motor_current_a / 30, rel=1e-9)


def test_half_the_kv_is_as_slow_in_a_sweep_as_in_the_forecast_of_that_winding():
    """Once half the KV gave 8.73 m/s in one place and 8.91 in the other: KV^-2 here, KV^-1 there."""
    half = edited(SETUP, typed("motor.kv", 1100.0, SETUP))
    swept = sweep(SETUP, ranges_about(SETUP, kv=np.array([1100.0])))
    assert swept.speed_mps[0] == pytest.approx(forecast(half, 0).point.speed_mps, rel=1e-9)
    # nobody measured this winding: half the KV in the same can has twice the guessed resistance
    measured = samples.setup(motor__resistance=q(8, "mohm", "measured"))
    wound = edited(measured, typed("motor.kv", 1100.0, measured))
    # measured: twice the turns of half the section, R x 4
    assert wound.motor.resistance_ohm.value == pytest.approx(0.032)
    swept = sweep(measured, ranges_about(measured, kv=np.array([1100.0])))
    assert swept.speed_mps[0] == pytest.approx(forecast(wound, 0).point.speed_mps, rel=1e-9)


def tried(speed: float, verdict: Verdict, *, over: float = 0.9, burnt_s: float = math.nan, run_s: float = 60) -> Trial:
    """A trial whose controller is used so far past its limit, at risk."""
    at_risk = [over if key is LimitKey.CONTROLLER_CURRENT else 0.5 for key in PLACES]
    chance = {Verdict.HOLDS: 0.02, Verdict.SHORT: 0.3}.get(verdict, 1.0)
    return Trial(
        speed_mps=speed, current_a=100.0, run_s=run_s, case_c=60.0, use=over, at_risk=tuple(at_risk),
        heat_doubts=(1.3,) * 7, chance=chance, verdict=verdict, sound_w=0.0, walled=False, burnt_s=burnt_s,
    )  # fmt: skip


HELD, SHORT, STOP = Verdict.HOLDS, Verdict.SHORT, Verdict.STOP


def ranked(now: Trial, order: list[Trial], intent: Intent) -> bool:
    places = [place(now, then, intent, 0.0) for then in order]
    return places == sorted(places)


def test_faster_is_first_what_gains_within_limits_and_last_what_burns():
    now = tried(20.0, HELD)
    assert ranked(now, [
        tried(21.0, HELD), tried(20.2, HELD), tried(21.4, SHORT, over=1.1), tried(21.4, SHORT, over=1.5),
        tried(19.0, HELD), tried(23.0, STOP, over=1.8), tried(40.0, STOP, burnt_s=26.0),
    ], Intent.FASTER)  # fmt: skip
    # much gained a little past a limit is weighed against little gained a little less past it
    assert ranked(now, [tried(23.0, SHORT, over=1.06), tried(20.4, SHORT, over=1.02)], Intent.FASTER)


def test_back_within_limits_is_first_what_loses_least_and_holds_then_what_leads_furthest_back():
    now = tried(20.0, SHORT, over=1.3)
    assert ranked(now, [
        tried(19.8, HELD), tried(19.0, HELD, over=0.7), tried(19.5, SHORT, over=1.1), tried(19.5, SHORT, over=1.2),
        tried(21.0, SHORT, over=1.4), tried(21.0, STOP, over=2.0), tried(19.0, SHORT, over=0.9, burnt_s=26.0),
    ], Intent.WITHIN)  # fmt: skip


def test_where_all_holds_cooler_is_what_takes_most_off_for_the_least_speed():
    now = tried(20.0, HELD, over=0.95)
    assert ranked(now, [tried(19.8, HELD, over=0.7), tried(19.8, HELD), tried(20.5, HELD, over=0.99)], Intent.WITHIN)


def test_longer_is_what_lasts_for_the_least_speed_within_limits():
    now = tried(20.0, HELD, run_s=60)
    assert ranked(now, [
        tried(19.8, HELD, run_s=80), tried(18.0, HELD, run_s=80), tried(21.0, SHORT, over=1.2, run_s=90),
        tried(21.0, HELD, run_s=50),
    ], Intent.LONGER) or place(now, tried(21.0, SHORT, over=1.2, run_s=90), Intent.LONGER, 0.0)[0] == 5  # fmt: skip


@pytest.mark.parametrize("now", [tried(20.0, HELD), tried(20.0, SHORT, over=1.3)])
def test_what_comes_first_unasked(now):
    assert wanted_first(now) is (Intent.FASTER if now.holds else Intent.WITHIN)
    assert wanted_first(now, was_hot=True) is Intent.WITHIN


def test_what_is_harder_to_make_stands_behind_what_is_as_good():
    now, then = tried(20.0, HELD), tried(20.5, HELD)
    paths = ["propeller.diameter", "pack.cells", "motor.kv", "all_up_mass"]
    places = [place(now, then, Intent.FASTER, effort(path)) for path in paths]
    assert places == sorted(places)
    assert len(set(places)) == 4
    assert effort("propeller.rake") == effort("propeller")


def test_sizes_back_hold_by_the_drives_limits_and_are_sold():
    setup = samples.setup(propeller__diameter=q(50, "mm"))
    chains = list(steps_back(setup, USUAL))
    assert chains
    for chain in chains:
        if chain and chain[0].path == "propeller.diameter":
            sizes = [e.value.value * 1e3 for e in chain]
            assert sizes == pytest.approx([round(mm) for mm in sizes])
            assert max(sizes) < 50
            # the chance of all limits together may want one or two sizes less than each alone
            assert any(forecast(edited(setup, e)).verdict is HELD for e in chain[:3])
            assert all(forecast(edited(setup, e)).tightest.at_risk <= 1.02 for e in chain[:3])
    kvs = [e.value.value for chain in chains for e in chain if e.path == "motor.kv"]
    assert kvs == sorted(kvs, reverse=True)
    assert all(kv % 50 == 0 for kv in kvs)
