"""What runs teach: on the model's own data, in closed form, and where the things go."""

import dataclasses
import math
import time

import numpy as np
import pytest
from scipy import stats
from tests import samples
from tests.samples import q

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.family import features, parts_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.values import as_bought, drive_values, known_of
from kunstflug.core.drive.varied import varied
from kunstflug.core.evidence.instruments import DAY, REPEAT
from kunstflug.core.evidence.readings import Reading, What
from kunstflug.core.learning.cases import Memory, latents_of
from kunstflug.core.learning.causes import Cause, odd_run
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.learn import learn
from kunstflug.core.learning.measure_next import Measure, worth
from kunstflug.core.learning.predict import base_of, said, steady_many
from kunstflug.core.learning.run_evidence import DutyFrom, RunEvidence
from kunstflug.core.parts.propeller import Condition
from kunstflug.core.quantity.value import Source
from kunstflug.core.setup.knowledge import OWNER, Aboard, Owner, likeness
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.core.thermal.nodes import NAMES as HEAT_NAMES
from kunstflug.core.thermal.nodes import thermal_values
from kunstflug.pond.season import Day, run_of, things_of
from kunstflug.pond.world import Fault

DUTY = passes_duty(4, 6.0, 30.0)
SETUP = samples.setup()
PARTS = {o: f"{o}:1" for o in (Owner.MOTOR, Owner.CONTROLLER, Owner.PACK, Owner.PROPELLER)}


def run(k, *readings, setup=SETUP, boat="a", things=PARTS, outing=None, duty_from=DutyFrom.GUESSED):
    return RunEvidence(
        key=f"{boat}{k}", boat=boat, setup=setup, things=things, outing=outing or f"{boat} day {k}", duty=DUTY,
        readings=readings, duty_from=duty_from,
    )  # fmt: skip


def speed(value, spread=0.01):
    return Reading(what=What.SPEED, value=value, spread=spread)


def current(value, spread=0.02):
    return Reading(what=What.CURRENT, value=value, spread=spread)


def with_(learned, setup=SETUP, boat="a"):
    return dataclasses.replace(setup, knowledge=learned.knowledge(boat))


BOUGHT = forecast(SETUP)
SLOW = 0.94 * float(BOUGHT.point.speed_mps)


def test_every_number_that_is_unsure_belongs_to_a_thing():
    for name, value in (*as_bought(SETUP), *thermal_values(SETUP)):
        assert name in OWNER or not value.spread, name


def test_a_boat_that_is_slower_three_times_is_forecast_slower_and_the_band_narrows_each_time():
    widths = [float(BOUGHT.high.speed_mps - BOUGHT.low.speed_mps)]
    for n in (1, 3, 10):
        found = forecast(with_(learn([run(k, speed(SLOW), current(100.0)) for k in range(n)])))
        widths.append(float(found.high.speed_mps - found.low.speed_mps))
        assert found.low.speed_mps < SLOW < found.high.speed_mps
    assert found.point.speed_mps == pytest.approx(SLOW, rel=0.005)
    assert found.point.current_a == pytest.approx(100.0, rel=0.01)
    assert widths == sorted(widths, reverse=True)
    assert widths[1] < 0.5 * widths[0]
    assert found.values.wetted_factor.source is Source.LEARNT


def test_what_was_not_seen_stays_as_bought():
    found = drive_values(with_(learn([run(1, speed(SLOW))])))
    before = as_bought(SETUP)
    for name in ("water_at_rest", "rise_froude"):
        value, bought = getattr(found, name), getattr(before, name)
        assert value.value == pytest.approx(bought.value, rel=0.01)
        assert value.spread == pytest.approx(bought.spread, rel=0.02)


def test_a_motor_takes_what_it_taught_into_another_boat_and_a_hull_does_not():
    hot = [speed(float(BOUGHT.point.speed_mps)), current(80.0), Reading(what=What.RPM, value=31000.0, spread=0.004)]
    learned = learn([run(k, *hot) for k in range(3)])
    fresh = dataclasses.replace(
        samples.setup(hull={"hull_type": "outrigger", "length": q(700, "mm")}), motor=SETUP.motor
    )
    there = drive_values(with_(learned, fresh, boat="b"))
    home = drive_values(with_(learned))
    other_motor = samples.setup(motor__kv=q(2100, "rpm/V"))
    elsewhere = drive_values(with_(learned, other_motor, boat="b"))
    bought, other = as_bought(fresh), as_bought(other_motor)
    for name in ("winding_resistance_ohm", "kv_rpm_per_v"):

        def shift(values, base, name=name):
            return np.log(getattr(values, name).value / getattr(base, name).value)

        assert shift(there, bought) == pytest.approx(shift(home, as_bought(SETUP)), abs=1e-9)
        # another motor has only what all motors of this racer have in common
        assert abs(shift(elsewhere, other)) < 0.65 * abs(shift(there, bought)) + 1e-6
    hull, own = there.wetted_factor, as_bought(fresh).wetted_factor
    assert abs(np.log(hull.value / own.value)) < 0.65 * abs(
        np.log(home.wetted_factor.value / as_bought(SETUP).wetted_factor.value)
    )


def test_a_sixth_boat_starts_wiser_than_the_first():
    """Five boats of one racer all run wetter than guessed: the sixth is forecast slower, and surer."""
    runs = [
        run(k, speed(0.92 * float(BOUGHT.point.speed_mps)), boat=b, things={o: f"{o}:{b}" for o in PARTS})
        for b in "abcde"
        for k in range(2)
    ]
    found = forecast(with_(learn(runs), boat="f"))
    assert found.point.speed_mps < 0.97 * BOUGHT.point.speed_mps
    assert found.high.speed_mps - found.low.speed_mps < 0.9 * (BOUGHT.high.speed_mps - BOUGHT.low.speed_mps)
    first = forecast(with_(learn(runs[:2]), boat="f"))
    assert found.point.speed_mps < first.point.speed_mps < BOUGHT.point.speed_mps


def test_ten_runs_of_one_setup_do_not_make_another_certain():
    learned = learn([run(k, speed(SLOW), current(100.0)) for k in range(10)])
    other = samples.setup(propeller__diameter=q(46, "mm"), motor__kv=q(1900, "rpm/V"), all_up_mass=q(2500, "g"))
    same, unlike = forecast(with_(learned)), forecast(with_(learned, other))

    def part(f):
        return float((f.high.speed_mps - f.low.speed_mps) / f.point.speed_mps)

    assert part(unlike) > 1.8 * part(same)
    assert part(unlike) < part(forecast(other))


def test_setups_that_are_alike_err_alike():
    a = np.zeros((1, 4))
    near, far = np.array([0.02, 0.0, 0.0, 0.0]), np.array([0.5, 0.5, 0.5, 0.5])
    assert likeness(np.zeros(4), a)[0] == pytest.approx(1.0)
    assert 0.95 < likeness(near, a)[0] < 1.0
    assert likeness(far, a)[0] < 0.02
    # Matern 3/2 at one length: (1 + sqrt 3) exp(-sqrt 3)
    assert likeness(np.array([0.25, 0, 0, 0]), a)[0] == pytest.approx((1 + 3**0.5) * np.exp(-(3**0.5)))


def test_temperatures_teach_the_heat():
    warm = [
        Reading(what=What.CASE, value=52.0, spread=2.0, minutes=1.5),
        Reading(what=What.CONTROLLER, value=48.0, spread=2.0, minutes=1.2),
    ]
    learned = learn([run(k, speed(float(BOUGHT.point.speed_mps)), *warm) for k in range(3)])
    before, after = heat_forecast(SETUP, DUTY), heat_forecast(with_(learned), DUTY)
    at = int(np.searchsorted(after.run.time_s, DUTY.landing_s + 90))
    assert abs(after.middle_c[at, 1] - 52.0) < 6.0 < abs(before.middle_c[at, 1] - 52.0)
    assert abs(after.middle_c[at, 2] - 48.0) < 7.0
    assert after.low_c[at, 1] < 52.0 < after.high_c[at, 1] + 1.0


def test_a_charge_that_was_read_often_is_what_the_next_outing_takes():
    """More than the laws say by an eighth, at the current that they say: what is driven between passes."""
    read = 1.125 * heat_forecast(SETUP, DUTY).used_ah
    charge = Reading(what=What.CHARGE, value=read, spread=0.05)
    at_full = current(float(BOUGHT.point.current_a))
    runs = [run(k, speed(float(BOUGHT.point.speed_mps)), at_full, charge, duty_from=DutyFrom.TRACKED) for k in range(8)]
    known = with_(learn(runs))
    # of the eighth, a twelfth stays with the laws (2 % in all runs, 2 % in a setup's, beside the number's own 12 %)
    assert heat_forecast(known, DUTY).used_ah == pytest.approx(read, rel=0.025)
    assert forecast(known).point.current_a == pytest.approx(float(BOUGHT.point.current_a), rel=0.02)
    longer = passes_duty(6, 5.0, 20.0)
    assert heat_forecast(known, longer).used_ah > 1.08 * heat_forecast(SETUP, longer).used_ah


@pytest.mark.parametrize(("name", "axis"), [
    ("kv", {"kv_rpm_per_v": 2000.0}), ("cells", {"cells": 5.0}), ("propeller", {"diameter_m": 0.045}),
    ("mass", {"mass_factor": 1.1}), ("nothing", {}),
])  # fmt: skip
def test_a_sweep_and_a_changed_setup_know_the_same(name, axis):
    learned = learn([run(k, speed(SLOW), current(100.0)) for k in range(3)])
    changed = {
        "kv": {"motor__kv": q(2000, "rpm/V")},
        "cells": {"pack__cells": 5},
        "propeller": {"propeller__diameter": q(45, "mm")},
        "mass": {"all_up_mass": q(2310, "g")},
        "nothing": {},
    }[name]
    drafted = drive_values(with_(learned, samples.setup(**changed))).rows()
    swept = varied(with_(learned), **axis)
    curve = curve_of(samples.setup(**changed))
    if name == "cells":  # the editor also makes the pack heavier; the sweep does as it does
        drafted["mass_kg"] = swept["mass_kg"]
        drafted["discrepancy"] = swept["discrepancy"]
    one, other = solve(drafted, (curve,)), solve(swept, (curve,))
    if name != "kv":  # a winding that nobody measured is another one's guess
        assert other.speed_mps == pytest.approx(one.speed_mps, rel=1e-9)
    assert swept["wetted_factor"] == pytest.approx(drafted["wetted_factor"])
    assert swept["pitch_factor"] == pytest.approx(drafted["pitch_factor"])
    assert swept["kv_rpm_per_v"] == pytest.approx(drafted["kv_rpm_per_v"])


def test_what_is_exact_in_a_boat_stays_so_whatever_others_taught():
    """A surface drive teaches its immersion; a submerged propeller has all of its turn in the water."""
    learned = learn([run(k, speed(SLOW), current(100.0)) for k in range(3)])
    submerged = samples.setup(hull={"hull_type": "mono", "length": q(620, "mm"), "drive": "submerged"})
    other = with_(learned, submerged, boat="b")
    assert as_bought(submerged).immersion.spread == 0
    swept, drafted = varied(other)[0], drive_values(other).rows()[0]
    assert swept["immersion"] == drafted["immersion"] == 1.0
    for name in swept.dtype.names:
        assert swept[name] == pytest.approx(drafted[name], rel=1e-12), name
    both = learn([run(1, speed(SLOW)), run(2, speed(12.0), setup=submerged, boat="b", things={})])
    assert drive_values(with_(both, submerged, boat="b")).immersion.value == 1.0


def test_a_boat_may_be_called_as_a_run_is():
    """A database numbers both from 1: the search once took a boat's numbers for those of one run, and found no end."""
    named, numbered = (
        learn([dataclasses.replace(run(k, speed(SLOW + 0.2 * k), current(100.0)), key=key.format(k), boat=boat)
               for k in range(1, 6)])
        for key, boat in (("run {}", "a"), ("{}", "1"))
    )  # fmt: skip
    np.testing.assert_allclose(numbered.mean, named.mean, atol=1e-9)
    assert numbered.steps == named.steps < 12


def test_an_instrument_may_be_called_as_a_run_is():
    """Its name is whatever a racer typed."""

    def read_by(instrument):
        speeds = [dataclasses.replace(speed(SLOW + 0.2 * k), instrument=instrument) for k in range(1, 6)]
        return learn([run(k, one, current(100.0)) for k, one in enumerate(speeds, 1)])

    key = run(3, speed(SLOW)).key
    np.testing.assert_allclose(read_by(key).mean, read_by("the small one").mean, atol=1e-9)


def test_however_many_runs_of_one_instrument_leave_half_a_percent_between_instruments():
    """In closed form: what the instrument is off by adds its variance to that of twelve days; 80 % is 2 x 1.2816."""

    def width(instrument):
        speeds = [dataclasses.replace(speed(SLOW * (1 + 0.003 * (k % 4))), instrument=instrument) for k in range(12)]
        found = forecast(with_(learn([run(k, one, current(100.0)) for k, one in enumerate(speeds)])))
        return math.log(found.high.speed_mps / found.low.speed_mps)

    assert width("the small one") == pytest.approx(math.hypot(width(""), 2 * 1.2816 * 0.005), rel=0.1)


@pytest.mark.parametrize(("count", "spreads"), [(6, 0.02), (13, 0.06)])  # of many, one more has one more go only
def test_one_run_more_is_the_same_as_all_at_once(count, spreads):
    runs = [run(k, speed(SLOW * (1 + 0.004 * (k % 6))), current(100.0 + k % 6)) for k in range(count)]
    memory = Memory()
    learn(runs[:-1], memory)
    more, whole = learn(runs, memory), learn(runs)
    assert more.mean == pytest.approx(whole.mean, abs=spreads)
    assert forecast(with_(more)).point.speed_mps == pytest.approx(forecast(with_(whole)).point.speed_mps, rel=0.001)


def test_leaving_a_run_out_in_closed_form_is_learning_without_it():
    rng = np.random.default_rng(8)
    runs = [run(k, speed(SLOW * rng.lognormal(0, 0.01)), current(100 * rng.lognormal(0, 0.02))) for k in range(6)]
    held = judged(learn(runs))[-1]
    others = judged(learn([*runs[:-1], run(9, speed(SLOW), current(100.0))]))[-1]
    for closed, real in zip(held.readings, others.readings, strict=True):
        assert closed.without.value == pytest.approx(real.then.value, rel=0.004)
        assert closed.without.spread == pytest.approx(real.then.spread, rel=0.1)
        assert closed.then.value == pytest.approx(closed.without.value, rel=0.002)  # nothing came after the last run


def test_what_was_said_before_any_run_is_the_forecast_as_bought():
    first = judged(learn([run(1, speed(SLOW), current(100.0))]))[0].readings[0]
    assert first.bought.value == pytest.approx(BOUGHT.point.speed_mps, rel=1e-6)
    half = 1.2816 * first.bought.spread
    assert half == pytest.approx(np.log(BOUGHT.high.speed_mps / BOUGHT.low.speed_mps) / 2, rel=0.25)


def truths(count, seed):
    """Boats of the model's own prior, with a run of each."""
    rng = np.random.default_rng(seed)
    empty = run(0, speed(1.0), current(1.0))
    base = base_of(empty)
    latents = latents_of([empty], [base])
    mixed = latents.rows(Aboard(boat="a", things=PARTS, features=base.features))
    for _ in range(count):
        z = rng.standard_normal(len(latents.columns))
        (logs,) = steady_many([base], [mixed.names], [mixed.at(z)[np.newaxis]])
        runs = []
        for k in range(3):
            seen = np.exp(logs[0, :2] + rng.normal(0, (math.hypot(0.01, math.hypot(DAY, REPEAT)), 0.0283)))
            runs.append(dataclasses.replace(run(k, speed(seen[0]), current(seen[1])), charge_known=True))
        yield z, learn(runs)


@pytest.mark.no_cover
@pytest.mark.long
def test_the_models_own_data_give_the_numbers_back_within_their_posteriors():
    """Simulation-based calibration (S. Talts et al., arXiv:1804.06788): ranks of the truth are uniform."""
    names = ("wetted_factor", "pitch_factor", "winding_resistance_ohm", "kv_rpm_per_v", "discrepancy")
    ranks = {name: [] for name in names}
    for z, learned in truths(200, 77):
        for name in names:
            thing = {Owner.HULL: "a", Owner.MODEL: "a"}.get(OWNER[name], PARTS.get(OWNER[name]))
            column = learned.latents.columns[thing, name]
            drawn = learned.knowledge("a").drawn[:, column] + learned.mean[column]
            ranks[name].append(float(np.mean(drawn < z[column])))
    for name, found in ranks.items():
        p = stats.kstest(found, "uniform").pvalue
        assert p > 0.002, (name, p)
        assert 0.71 <= np.mean((np.array(found) > 0.1) & (np.array(found) < 0.9)) <= 0.90, name


def test_draws_agree_with_what_was_read():
    learned = learn([run(k, speed(SLOW), current(100.0)) for k in range(5)])
    setup = with_(learned)
    points = solve(drive_values(setup).rows(128, 201, known_of(setup)), (curve_of(setup),))
    speeds = np.log(points.speed_mps[1:] / SLOW)
    assert abs(np.median(speeds)) < 0.006
    assert np.ptp(np.percentile(speeds, (10, 90))) < 0.03


def days(count, **last):
    return [Day(setup=SETUP, outing=k // 2, logged=True, **(last if k == count - 1 else {})) for k in range(count)]


@pytest.mark.no_cover
@pytest.mark.parametrize(("fault", "cause"), [(Fault.WEED, Cause.WEED), (Fault.CAP, Cause.CAP)])
@pytest.mark.long
def test_a_run_that_does_not_fit_is_flagged_with_its_likeliest_cause(fault, cause):
    named, flagged, worse = 0, 0, 0
    for seed in range(8):
        good = [run_of(d, seed, k) for k, d in enumerate(days(6))]
        bad = [*good[:-1], run_of(days(6, faults=(fault,))[-1], seed, 5)]
        odd = odd_run(judged(learn(bad))[-1])
        flagged += odd is not None
        named += odd is not None and cause in [s.cause for s in odd.suspicions[:2]]
        worse += odd_run(judged(learn(good))[-1]) is not None
    assert flagged >= 5
    assert named >= 0.6 * flagged
    assert worse <= 1


def test_a_run_that_does_not_fit_counts_little():
    good = [run(k, speed(SLOW)) for k in range(5)]
    bad = run(9, speed(1.25 * SLOW))
    before, after = (forecast(with_(learn(r))).point.speed_mps for r in (good, [*good, bad]))
    assert after == pytest.approx(before, rel=0.015)


def test_what_is_worth_measuring_is_what_the_number_hangs_on():
    learned = learn([run(1, speed(SLOW))])
    known = learned.knowledge("a").at(learned.knowledge("a").aboard({}, known_features()))
    places = {name: k for k, name in enumerate(known.names)}
    cov = known.covariance
    for_speed = worth(run(2, speed(1.0)), places, cov, What.SPEED)
    assert all(0 <= w.narrows <= 1 for w in for_speed)
    assert [w.narrows for w in for_speed] == sorted((w.narrows for w in for_speed), reverse=True)
    for_case = {w.measure: w.narrows for w in worth(run(2, speed(1.0)), places, cov, What.CASE)}
    assert for_case[Measure.GUN_CASE] == max(for_case.values())
    weigh = next(w for w in for_speed if w.measure is Measure.WEIGH)
    assert weigh.narrows < 0.02  # it was weighed


def known_features():
    return features(SETUP)


def test_parts_are_the_same_thing_wherever_they_are():
    assert things_of(SETUP, 3) == things_of(samples.setup(), 3)
    assert things_of(SETUP, 3)[Owner.MOTOR] != things_of(samples.setup(motor__kv=q(2100, "rpm/V")), 3)[Owner.MOTOR]
    assert set(HEAT_NAMES) <= set(OWNER)


def test_a_forecast_with_what_was_learnt_is_as_fast():
    learned = with_(learn([run(k, speed(SLOW), current(100.0)) for k in range(10)]))

    taken = {True: np.inf, False: np.inf}
    for _ in range(30):
        for known in taken:
            begin = time.process_time()  # not what the machine does besides
            forecast(learned if known else SETUP)
            taken[known] = min(taken[known], time.process_time() - begin)
    assert taken[True] < 1.7 * taken[False]


@pytest.mark.no_cover
def test_many_runs_that_the_laws_cannot_all_meet_do_not_bend_the_boat():
    """A boat of another world, forty logged runs: it once was forecast at a fifth of the speed that it always ran."""
    other = samples.setup(propeller__diameter=q(44, "mm"))
    runs = [
        run_of(Day(setup=SETUP if k % 3 else other, outing=k // 4, logged=True), 5, k) for k in range(40)
    ]  # fmt: skip
    learned, memory = learn(runs), Memory()
    read = [r.value for s in runs for r in s.readings if r.what is What.SPEED and s.setup.propeller == SETUP.propeller]
    found = forecast(with_(learned, boat=runs[0].boat)).point.speed_mps
    assert found == pytest.approx(np.mean(read), rel=0.03)
    learn(runs[:-1], memory)
    again = forecast(with_(learn(runs, memory), boat=runs[0].boat)).point.speed_mps
    assert again == pytest.approx(found, rel=0.01)


OTHER = samples.setup(propeller__diameter={"value": 44, "unit": "mm"})


def test_what_the_laws_get_wrong_of_one_propeller_bends_no_boat_however_often_it_is_read():
    """A current that is an eighth off with one propeller and right with the other: no number of the boat does that."""
    usual = float(forecast(OTHER).point.current_a) * 112.0 / float(BOUGHT.point.current_a)
    runs = []
    for k in range(20):
        runs.append(run(2 * k, speed(SLOW), current(112.0)))
        propeller = {**PARTS, Owner.PROPELLER: "other"}
        runs.append(run(2 * k + 1, speed(1.02 * SLOW), current(1.12 * usual), setup=OTHER, things=propeller))
    few, many = learn(runs[:4]).mean, learn(runs).mean
    # Squared spreads in all: 3.7 after four runs, 5.2 after 40; 10.4 where each run's error was fresh luck.
    assert many @ many < 1.6 * (few @ few) < 7.0


@pytest.mark.parametrize(("seed", "most"), [(2, 0.2), (7, 0.4)])
@pytest.mark.no_cover
@pytest.mark.long
def test_what_was_learnt_is_what_the_laws_say_there(seed, most):
    """A search that follows slopes from far away once ended where the laws said something else."""
    mine = [Day(setup=SETUP if k % 3 else OTHER, outing=k // 4, logged=True) for k in range(40)]
    evidence = learn([run_of(day, seed, k) for k, day in enumerate(mine)]).evidence
    z, offs = evidence.found, []
    for case in evidence.cases:
        line, slope = case.line(evidence.m)
        there = said(case.run, case.base, case.mixed.names, case.at(z))
        laws = there.value + slope @ z - case.said.slope @ case.at(z)
        offs.append((laws - line - slope @ z) / evidence.spread[case.rows])
    # Measured, in spreads of the readings: 0.10 for seed 2 and 0.30 for seed 7, most of it in the charge. An earlier
    # search did not ask the laws again at the end and gave 0.26 and 0.54.
    assert np.sqrt(np.nanmean(np.square(np.concatenate(offs)))) < most


def test_what_parts_are_called_changes_nothing():
    plain = samples.setup()
    named = dataclasses.replace(
        plain,
        **{kind: dataclasses.replace(getattr(plain, kind), name=f"my {kind}")
           for kind in ("motor", "controller", "pack", "propeller")},
    )  # fmt: skip
    assert parts_of(named) == parts_of(plain)
    condition = dataclasses.replace(plain.propeller, condition=Condition.NICKED)
    assert parts_of(dataclasses.replace(plain, propeller=condition)) == parts_of(plain), "worn, it is the same one"
