"""The pond day: charging against exhaustive search and by hand, the order of runs, passes, checks, weather."""

import dataclasses
import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.day import charging as c
from kunstflug.core.day.checks import ASKED, Check, Failure, checks, skipped
from kunstflug.core.day.cooling import cool_again_s
from kunstflug.core.day.passes import pass_plan
from kunstflug.core.day.plan import RunOf, WaitsFor, day_plan
from kunstflug.core.day.weather import Waves, Word, water_word, waves_word, wind_word, worst_word
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.core.thermal.launch import launch_of
from kunstflug.core.thermal.nodes import NODES, Node
from kunstflug.core.thermal.run import run_duty


def a_pack(name="A", soc=0.3, **changes):
    return c.PackOf(**{"name": name, "cells": 6, "capacity_ah": 5.0, "cell_ohm": 2e-3, "soc": soc} | changes)


# charging


@pytest.mark.parametrize(
    ("charger", "amps"),
    [
        (c.ChargerOf(name="free"), 5.0),  # 1C of 5 Ah
        (c.ChargerOf(name="small", most_current_a=3.0), 3.0),
        (c.ChargerOf(name="weak", power_w=50.0), 50.0 / (6 * 4.2)),  # 50 W into 6 cells at 4.2 V
        (c.ChargerOf(name="four", most_cells=4), 0.0),
    ],
)
def test_current_by_hand(charger, amps):
    assert c.current_a(a_pack(), charger) == pytest.approx(amps)


def test_constant_current_takes_its_charge_over_its_current():
    """A pack without resistance takes the full current to the end: 70 % of 5 Ah at 5 A, 42 min, and balancing."""
    took = c.seconds(a_pack(cell_ohm=1e-9), c.ChargerOf(name="one"), balance_s=0.0)
    assert took == pytest.approx(0.7 * 3600, rel=2e-3)
    balanced = c.seconds(a_pack(cell_ohm=1e-9), c.ChargerOf(name="one"))
    assert balanced == pytest.approx(took + 600.0)  # ten minutes


def test_a_full_pack_takes_no_time_and_one_too_large_never_ends():
    assert c.seconds(a_pack(soc=1.0), c.ChargerOf(name="one")) == 0.0
    assert math.isinf(c.seconds(a_pack(), c.ChargerOf(name="four", most_cells=4)))
    assert c.schedule([], [c.ChargerOf(name="one")]) == ()
    assert c.schedule([c.Wanted(pack=a_pack(), release_s=0, tail_s=0)], []) == ()


@pytest.mark.parametrize("rate", [0.2, 0.5, 1.0])
def test_half_the_current_takes_nearly_twice_as_long(rate):
    slow, fast = (c.seconds(a_pack(), c.ChargerOf(name="x", most_current_a=5 * r), 0.0) for r in (rate / 2, rate))
    assert 1.4 < slow / fast <= 2.01


jobs = st.lists(
    st.tuples(st.floats(0.05, 0.9), st.integers(2, 8), st.floats(1.0, 8.0), st.floats(0, 7200)), min_size=1, max_size=5
)
benches = st.lists(st.tuples(st.floats(1.0, 10.0), st.floats(40.0, 400.0)), min_size=1, max_size=2)


@given(jobs, benches)
@settings(max_examples=25, deadline=None)
def test_no_way_of_charging_ends_the_day_earlier(drawn, chargers):
    """Against an exhaustive search over every order on every charger, written out anew."""
    packs = [
        c.Wanted(pack=a_pack(str(k), soc, cells=n, capacity_ah=ah), release_s=0.0, tail_s=tail)
        for k, (soc, n, ah, tail) in enumerate(drawn)
    ]
    bench = [c.ChargerOf(name=str(k), most_current_a=a, power_w=w) for k, (a, w) in enumerate(chargers)]
    tails = {job.pack.name: job.tail_s for job in packs}
    made = c.schedule(packs, bench)
    ours = max(one.end_s + tails[one.pack] for one in made)
    best = math.inf
    for order in itertools.permutations(packs):
        for way in itertools.product(range(len(bench)), repeat=len(packs)):
            free, last = [0.0] * len(bench), 0.0
            for job, k in zip(order, way, strict=True):
                free[k] += c.seconds(job.pack, bench[k])
                last = max(last, free[k] + job.tail_s)
            best = min(best, last)
    assert ours == pytest.approx(best, rel=1e-9)
    for one, two in itertools.combinations([m for m in made if m.end_s > m.start_s], 2):
        if one.charger == two.charger:
            assert one.end_s <= two.start_s + 1e-6 or two.end_s <= one.start_s + 1e-6


# the runs


def a_run(name, pack="A", boat="one", **more):
    return RunOf(**{"name": name, "boat": boat, "pack": pack, "run_s": 180.0, "cool_s": 900.0, "used": 0.6} | more)


ONE = [c.ChargerOf(name="one", most_current_a=5.0)]


def test_a_day_by_hand():
    """Two full packs, one boat: run, hands for ten minutes, but the boat cools for fifteen."""
    found = day_plan([a_pack("A", 1.0), a_pack("B", 1.0)], ONE, [a_run("1", "A"), a_run("2", "B")], hands_s=600)
    assert [p.start_s for p in found.runs] == [0.0, 180.0 + 900.0]
    assert [p.waits_for for p in found.runs] == [WaitsFor.START, WaitsFor.COOLING]
    assert found.bottleneck is WaitsFor.COOLING
    assert found.waited_s == 300.0
    assert found.end_s == 180 + 900 + 180


def test_another_boat_does_not_wait_for_the_first_to_cool():
    packs = [a_pack("A", 1.0), a_pack("B", 1.0)]
    found = day_plan(packs, ONE, [a_run("1", "A"), a_run("2", "B", boat="two")], hands_s=600)
    assert found.runs[1].start_s == 780.0
    assert found.runs[1].waits_for is WaitsFor.HANDS
    assert found.bottleneck is None


def test_one_pack_that_runs_twice_is_charged_in_between():
    pack = a_pack("A", 1.0)
    found = day_plan([pack], ONE, [a_run("1"), a_run("2")], hands_s=600)
    (again,) = found.charges
    # it landed after 180 s, and cools for twenty minutes before it is charged (common practice, no source)
    assert again.start_s == pytest.approx(180 + 20 * 60)
    assert again.soc_from == pytest.approx(0.4)
    assert again.end_s - again.start_s == pytest.approx(c.seconds(dataclasses.replace(pack, soc=0.4), ONE[0]))
    assert found.runs[1].start_s == pytest.approx(again.end_s)
    assert found.bottleneck is WaitsFor.PACK
    # A second pack is what it lacks.
    more = day_plan([pack, a_pack("B", 1.0)], ONE, [a_run("1"), a_run("2", "B")], hands_s=600)
    assert more.end_s < found.end_s - 1800


def test_a_pack_nobody_can_charge_never_runs_and_the_rest_does():
    packs = [a_pack("A", 1.0), a_pack("B", 0.2, cells=8)]
    runs = [a_run("1", "B"), a_run("2", "A"), a_run("3", "B")]
    found = day_plan(packs, [c.ChargerOf(name="six", most_cells=6)], runs)
    assert [p.waits_for is WaitsFor.NEVER for p in found.runs] == [True, False, True]
    assert math.isinf(found.runs[0].start_s)
    assert found.runs[1].start_s == 0.0
    assert math.isfinite(found.end_s)


def test_what_takes_longer_and_what_is_set_later_moves_what_comes_after():
    packs = [a_pack("A", 1.0), a_pack("B", 1.0), a_pack("C", 1.0)]
    runs = [a_run("1", "A"), a_run("2", "B"), a_run("3", "C")]
    plain = day_plan(packs, ONE, runs)
    late = day_plan(packs, ONE, [dataclasses.replace(runs[0], late_s=600.0), *runs[1:]])
    assert [b.start_s - a.start_s for a, b in zip(plain.runs, late.runs, strict=True)] == [0.0, 600.0, 600.0]
    told = day_plan(packs, ONE, [runs[0], dataclasses.replace(runs[1], not_before_s=7200.0), runs[2]])
    assert told.runs[1].start_s == 7200.0
    assert told.runs[1].waits_for is WaitsFor.TOLD
    assert plain.left_full == ()
    assert day_plan(packs, ONE, runs[:1]).left_full == ("B", "C")


@given(
    st.lists(
        st.tuples(st.sampled_from("ABC"), st.sampled_from(["one", "two"]), st.floats(0, 900)), min_size=1, max_size=6
    ),
    st.lists(st.floats(0.1, 1.0), min_size=3, max_size=3),
    st.integers(1, 3),
)
@settings(max_examples=40, deadline=None)
def test_no_run_starts_before_its_pack_its_boat_or_hands_are_ready(drawn, charges, chargers):
    packs = [a_pack(name, soc) for name, soc in zip("ABC", charges, strict=True)]
    runs = [a_run(str(k), pack, boat, late_s=late) for k, (pack, boat, late) in enumerate(drawn)]
    bench = [c.ChargerOf(name=f"c{k}") for k in range(chargers)]
    found = day_plan(packs, bench, runs, hands_s=300, water_s=600)
    for before, after in itertools.pairwise(found.runs):
        assert after.start_s >= before.end_s + 300 - 1e-6
    for k, one in enumerate(found.runs):
        assert one.start_s >= max(one.ready_s, 600) - 1e-6
        for earlier in found.runs[:k]:
            if earlier.run.boat == one.run.boat:
                assert one.start_s >= earlier.end_s + earlier.run.cool_s - 1e-6
    for name in {ch.charger for ch in found.charges}:
        own = [ch for ch in found.charges if ch.charger == name]
        assert all(a.end_s <= b.start_s + 1e-6 for a, b in itertools.pairwise(own))
    for charge in found.charges:  # nothing is charged while it is on the water
        for one in (p for p in found.runs if p.run.pack == charge.pack):
            assert charge.end_s <= one.start_s + 1e-6 or charge.start_s >= one.end_s - 1e-6


# a pass


def planned(pond_m=None, *, standing=False, count=4, full_s=6.0):
    setup, duty = samples.setup(), passes_duty(count, full_s, 25)
    heat = heat_forecast(setup, duty, USUAL, samples=0)
    return pass_plan(
        setup, duty, heat, launch_of(setup, duty.full_s, pond_m, samples=0), pond_m, standing=standing
    ), heat


def stopping():
    """What the sample boat takes to be turned away [m]."""
    return launch_of(samples.setup(), 6.0, samples=0).stopping_m.middle


def test_the_pass_by_hand():
    found, heat = planned(400.0)
    top = float(heat.run.speed_mps[0].max())
    assert found.held_m == pytest.approx((6.0 - found.run_up_s) * top)
    assert found.lift_m == pytest.approx(found.run_up_m + found.held_m)
    assert found.short_m == 0.0
    assert found.longest_s == pytest.approx(found.run_up_s + (400 - stopping() - found.run_up_m) / top)
    assert found.come_in_s == pytest.approx(15 + 4 * (6 + 25))  # warm-up, then passes and laps
    # 80 % of a pack's charge may be used, and a tenth of that stays for the way home (common practice, no source)
    each = heat.used_ah / 5.0 / 4
    assert found.by_charge == math.floor(0.8 * 0.75 * 0.9 / each)
    assert found.by_charge >= found.passes


def test_a_boat_may_run_again_when_motor_and_controller_are_15_k_above_the_air():
    setup, duty = samples.setup(), passes_duty(4, 6.0, 25)
    seconds, _ = cool_again_s(setup, duty)
    assert 0 < seconds < 2400
    longer = dataclasses.replace(duty, phases=(*duty.phases[:-1], dataclasses.replace(duty.phases[-1], seconds=2400.0)))
    run = run_duty(setup, longer)
    places = [NODES.index(node) for node in (Node.CASE, Node.CONTROLLER)]
    hottest = run.temperature_c[0][:, places].max(axis=1)
    at = float(np.interp(longer.landing_s + seconds, run.time_s, hottest))
    assert at == pytest.approx(setup.conditions.air_c.value + 15.0, abs=0.5)  # (common practice, no source)


def test_a_short_pond_says_by_how_much_and_what_fits():
    long, short = planned(400.0)[0], planned(60.0)[0]
    assert short.short_m == pytest.approx(short.lift_m + stopping() - 60.0)
    assert short.longest_s < 6.0 < long.longest_s
    assert math.isinf(planned(None)[0].longest_s)


def test_a_standing_start_takes_more_water_than_a_flying_one():
    assert planned(400.0, standing=True)[0].run_up_m > planned(400.0)[0].run_up_m


def test_more_passes_than_the_charge_gives_come_in_earlier():
    many, _ = planned(None, count=30, full_s=20.0)
    assert many.by_charge < 30
    assert many.come_in_s < 15 + 30 * 45
    assert many.used <= 0.8


# checks and weather


def test_checks_are_those_of_this_boat():
    plain = {item.check for item in checks(samples.setup(), service_due=False)}
    assert Check.SERVICE not in plain
    assert Check.FLEX in plain
    assert Check.HATCH in plain
    jet = samples.setup(
        hull={"drive": "jet", "length": q(620, "mm")}, propeller={**samples.MONO["propeller"], "blades": 3}
    )
    assert {Check.IMPELLER} <= {i.check for i in checks(jet, service_due=True)} >= {Check.SERVICE}
    cold = samples.setup(conditions=samples.at(air=4.0))
    assert Check.HATCH_COLD in {i.check for i in checks(cold, service_due=False)}
    untaped = samples.setup(hull={**samples.MONO["hull"], "hatch_tape": "off"})
    assert not {Check.HATCH, Check.HATCH_COLD} & {i.check for i in checks(untaped, service_due=False)}
    nicked = samples.setup(propeller={**samples.MONO["propeller"], "condition": "nicked"})
    assert Check.PROPELLER_MEND in {i.check for i in checks(nicked, service_due=False)}
    items = checks(samples.setup(), service_due=False)
    assert [i.check for i in items].index(Check.ARM_LAST) > [i.check for i in items].index(Check.RANGE)
    assert len({i.check for i in items}) == len(items)


def test_what_was_skipped_is_asked_for():
    items = checks(samples.setup(), service_due=False)
    asked = skipped([Failure.WATER_INSIDE], items, frozenset({"hatch", "bellows"}))
    assert asked == (Check.TUB_LEAK, Check.DRAIN)
    assert skipped([], items, frozenset()) == ()
    assert skipped([Failure.WATER_INSIDE], items, frozenset(i.check.value for i in items)) == ()
    assert set(ASKED) == set(Failure)


def test_wind_waits_before_it_turns_the_boat_over():
    setup = samples.setup()
    speed = float(forecast(setup, 0).point.speed_mps)
    said = [wind_word(setup, speed, wind) for wind in (0.0, 2.0, 5.0, 10.0, 20.0, 40.0)]
    parts = [one.why.part for one in said]
    assert parts == sorted(parts)
    assert said[0].word is Word.GO
    assert said[-1].word is Word.NO
    for one in said:
        edge = one.why.part
        assert one.word is (Word.GO if edge < 0.8 else Word.WAIT if edge < 1.0 else Word.NO)
    # A gust is half as much again as the wind (common practice), so by hand:
    assert said[1].why.gust_mps == pytest.approx(3.0)


def test_water_and_waves():
    assert water_word(16.0, Verdict.HOLDS, -1, 4).word is Word.GO
    assert water_word(28.0, Verdict.SHORT, 2, 4).word is Word.WAIT
    assert water_word(30.0, Verdict.SHORT, 0, 4).word is Word.NO
    assert water_word(30.0, Verdict.STOP, 3, 4).word is Word.NO
    assert [waves_word(w).word for w in Waves] == [Word.GO, Word.GO, Word.WAIT, Word.NO]
    assert worst_word([Word.GO, Word.WAIT]) is Word.WAIT
    assert worst_word([]) is Word.GO
