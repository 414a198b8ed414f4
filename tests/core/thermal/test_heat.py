"""Heat: the network against outside values, water, wires; the duty's books and its limits."""

from types import SimpleNamespace

import ht
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.linalg import expm
from tests import samples
from tests.samples import q

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import states
from kunstflug.core.drive.schools import Schools, TemperatureSchool
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.laws import heat
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.thermal.duty import Duty, Kind, Mode, Phase, PhaseKind, lap_race_duty, passes_duty, tub_duty
from kunstflug.core.thermal.heat_forecast import ceilings, heat_forecast
from kunstflug.core.thermal.network import capacities_j_k, flows_w
from kunstflug.core.thermal.nodes import HEAT_NODES, NODES, thermal_values
from kunstflug.core.thermal.run import run_duty

# the network of the outside values: winding, case and what they give to a sink at 25 degC
OUTSIDE = SimpleNamespace(
    winding_j_k=60.0, case_j_k=250.0, controller_j_k=80.0, pack_j_k=900.0, connector_j_k=20.0, winding_case_w_k=4.0,
    case_air_w_k=0.0, controller_air_w_k=0.0, pack_air_w_k=0.8, connector_air_w_k=0.1, water_c=25.0, air_c=25.0,
    inside_j_k=30.0, inside_w_k=2.0,
)  # fmt: skip
POWER = np.array([180.0, 30.0, 60.0, 70.0, 2.0, 0.0])
STRAIGHT = np.zeros(2)


def rise(celsius, power, case_water, behind=STRAIGHT):
    capacity, leaving = np.zeros(6), np.zeros(6)
    capacities_j_k(OUTSIDE, capacity)
    flows_w(OUTSIDE, celsius, case_water, 5.0, behind, leaving)
    return (power - leaving) / capacity


def after(start, times, power=POWER, case_water=6.0, behind=STRAIGHT):
    found = solve_ivp(lambda _, t: rise(t, power, case_water, behind), (0, times[-1]), start, t_eval=times, rtol=1e-10)
    return found.y.T


@pytest.mark.parametrize(
    ("seconds", "winding", "case"), [(30.0, 69.7404, 35.9253), (120.0, 98.3613, 55.1599), (5000.0, 105.0, 60.0)]
)
def test_winding_and_case_in_time(seconds, winding, case):
    # matrix exponential, an eighth-order integrator and, at the end, a linear solve agree on these
    found = after(np.full(6, 25.0), [seconds])[-1]
    assert found[:2] == pytest.approx([winding, case], abs=1e-3)


def test_the_case_goes_on_rising_after_the_stop():
    stopped = after(np.full(6, 25.0), [120.0])[-1]
    times = np.arange(0.1, 60, 0.1)
    soak = after(stopped, times, np.zeros(6), 0.4)[:, 1]
    # eigen solution: peak 61.367 degC at 32.3 s
    assert soak.max() == pytest.approx(61.367, abs=1e-3)
    assert times[np.argmax(soak)] == pytest.approx(32.3, abs=0.15)


def test_blocks_in_one_line_warm_each_other_as_a_matrix_says():
    """A live reference of its own: the matrix written out by hand, with the controller behind the motor.

    Pack and connector give to the air inside, and that to deck and bottom.
    """
    capacity = np.array([60.0, 250.0, 80.0, 900.0, 20.0, 30.0])
    leaving = np.array([
        [4.0, -4.0, 0.0, 0.0, 0.0, 0.0], [-4.0, 10.0, 0.0, 0.0, 0.0, 0.0], [0.0, -5.0 * 6.0 * 0.03, 5.0, 0.0, 0.0, 0.0],
        [0.0, 0.0, 0.0, 0.8, 0.0, -0.8], [0.0, 0.0, 0.0, 0.0, 0.1, -0.1], [0.0, 0.0, 0.0, -0.8, -0.1, 2.9],
    ])  # fmt: skip
    rates = -leaving / capacity[:, None]
    steady = np.linalg.solve(leaving, POWER)
    expected = 25.0 + steady - expm(rates * 90.0) @ steady
    assert after(np.full(6, 25.0), [90.0], behind=np.array([0.03, 0.0]))[-1] == pytest.approx(expected, abs=1e-4)


def test_flow_of_a_usual_line():
    # the loop of 4 and 3 mm hoses solved on an open library: 8 / 12 / 18 m/s give .85841 / 1.33744 / 2.07447 L/min
    for speed, litres in ((8, 0.85841), (12, 1.33744), (18, 2.07447)):
        assert heat.water_flow_kg_s(speed, 4e-3) * 60 == pytest.approx(litres, rel=0.06)


@given(st.floats(1e-4, 0.2), st.floats(0.2, 8))
def test_a_jacket_is_an_exchanger_with_one_side_at_one_temperature(flow, wall):
    # live reference: effectiveness-NTU of the ht library with a capacity ratio of 0
    area = wall * np.sqrt(flow / 0.02)
    effectiveness = ht.effectiveness_from_NTU(area / (flow * heat.WATER_J_KGK), 0.0, subtype="counterflow")
    assert heat.jacket_conductance_w_k(flow, wall) == pytest.approx(effectiveness * flow * heat.WATER_J_KGK, rel=1e-9)


SETUP = samples.setup()


@pytest.mark.parametrize("duty", [passes_duty(4, 6, 25), lap_race_duty(2), tub_duty(0.5)], ids=lambda d: d.kind.value)
def test_the_books_of_a_duty_close(duty):
    run = run_duty(SETUP, duty, samples=6)
    np.testing.assert_allclose(run.heat_in_j, run.heat_out_j + run.heat_kept_j, rtol=1e-9)
    assert np.all(np.isfinite(run.temperature_c))


def test_full_throttle_held_is_the_operating_point():
    held = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=20.0),))
    run = run_duty(SETUP, held)
    point = forecast(SETUP, 0).point
    at = int(np.searchsorted(run.time_s, 10.0))
    # a little charge is gone by then, the pack has relaxed downwards, and tables are read between their points
    assert run.speed_mps[0, at] == pytest.approx(point.speed_mps, rel=0.02)
    assert run.bus_current_a[0, at] == pytest.approx(point.current_a, rel=0.03)
    # ten seconds take five percent of the charge, 0.05 V a cell
    assert run.pack_voltage_v[0, at] == pytest.approx(point.pack_voltage_v, rel=0.02)


def test_a_smaller_step_changes_next_to_nothing():
    duty = passes_duty(3, 6, 20)
    coarse = run_duty(SETUP, duty, step_s=0.1, stride=10)
    fine = run_duty(SETUP, duty, step_s=0.02, stride=50)
    assert coarse.temperature_c[0].max(axis=0) == pytest.approx(fine.temperature_c[0].max(axis=0), abs=0.6)


def test_charge_used_is_the_current_added_up():
    run = run_duty(SETUP, passes_duty(2, 5, 10), step_s=0.05, stride=1)
    assert run.used_ah[0, -1] == pytest.approx(np.sum(run.bus_current_a[0]) * 0.05 / 3600, rel=1e-6)
    assert np.all(np.diff(run.used_ah[0]) >= 0)


def test_longer_passes_never_cool():
    peaks = [run_duty(SETUP, passes_duty(3, s, 20)).temperature_c[0].max(axis=0) for s in (3, 6, 12)]
    assert np.all(np.diff(np.array(peaks), axis=0) >= -1e-6)


def test_longer_cool_downs_never_heat_the_motor():
    peaks = [run_duty(SETUP, passes_duty(6, 8, s)).temperature_c[0, :, 1].max() for s in (10, 30, 90)]
    assert peaks == sorted(peaks, reverse=True)


def test_the_case_rises_after_landing_from_a_hard_pass():
    hard = Duty(
        kind=Kind.PASSES,
        phases=(
            Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=25.0),
            Phase(kind=PhaseKind.SOAK, mode=Mode.REST, seconds=120.0),
        ),
    )
    run = run_duty(SETUP, hard)
    at = int(np.searchsorted(run.time_s, 27.0))
    assert run.temperature_c[0, at:, 1].max() > run.temperature_c[0, at, 1]


def test_the_tub_is_harsher_than_the_pond():
    tub, pond = (run_duty(SETUP, d).temperature_c[0, :, 1].max() for d in (tub_duty(1), passes_duty(1, 60, 0)))
    assert tub > pond
    assert run_duty(SETUP, tub_duty(0.3)).speed_mps.max() == 0


def test_a_winding_that_burns_drives_no_more():
    big = {**samples.MONO["pack"], "capacity": q(20000, "mAh")}  # it would go on for minutes
    run = run_duty(samples.setup(propeller__diameter=q(50, "mm"), pack=big), tub_duty(5))
    hottest = int(np.argmax(run.temperature_c[0, :, 0]))
    assert 240 < run.temperature_c[0, hottest, 0] < 252
    assert run.bus_current_a[0, hottest - 5] > 100
    assert run.bus_current_a[0, hottest + 20 :].max() < 1.0  # only the receiver


def test_limits_follow_the_school():
    race = lap_race_duty(4)
    heavy = samples.setup(propeller__diameter=q(47, "mm"))
    cautious = heat_forecast(heavy, race)
    hot = heat_forecast(heavy, race, Schools(temperature=TemperatureSchool.HOT))
    case = NODES.index("case")
    assert cautious.limits[case].ceiling_c == 65  # common practice, no source
    assert hot.limits[case].ceiling_c > 80
    assert cautious.limits[case].peak_c == hot.limits[case].peak_c
    assert ORDER.index(hot.verdict) <= ORDER.index(cautious.verdict)


def test_crossing_passes_and_cool_down_agree():
    heavy = samples.setup(propeller__diameter=q(50, "mm"))
    found = heat_forecast(heavy, passes_duty(8, 15, 10))
    crossings = [limit.crossing_s for limit in found.limits if np.isfinite(limit.crossing_s)]
    assert crossings
    assert 0 <= found.passes_until_limit < 8
    # after so many passes of 15 + 10 s behind a warm-up of 15 s comes the crossing
    assert 15 + 25 * found.passes_until_limit <= min(crossings) + 0.4
    assert min(crossings) <= 15 + 25 * (found.passes_until_limit + 1)


def test_the_band_of_a_peak_holds_its_middle():
    found = heat_forecast(SETUP, passes_duty(4, 6, 25))
    for limit in found.limits:
        assert limit.peak_low_c <= limit.peak_c * 1.02
        assert limit.peak_high_c >= limit.peak_c * 0.98
        assert limit.peak_low_c < limit.peak_high_c


def test_gun_readings_fall_after_the_soak():
    found = heat_forecast(SETUP, passes_duty(4, 6, 25))
    assert [g.minutes for g in found.gun] == [0.5, 1.0, 2.0]
    assert found.gun[1].celsius > found.gun[2].celsius - 1


@pytest.mark.parametrize(
    "make",
    [lambda: passes_duty(0, 6, 25), lambda: passes_duty(4, 600, 25), lambda: lap_race_duty(99), lambda: tub_duty(0)],
)
def test_impossible_duties_are_refused(make):
    with pytest.raises(InvalidValue):
        make()


def test_an_hour_is_the_most():
    long = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=4000.0),))
    with pytest.raises(InvalidValue):
        run_duty(SETUP, long)


def test_bigger_thermal_mass_warms_more_slowly():
    light = {**samples.MONO["motor"], "mass": q(200, "g")}
    heavy = {**samples.MONO["motor"], "mass": q(400, "g")}
    peaks = [
        run_duty(samples.setup(motor=m), passes_duty(1, 10, 0)).temperature_c[0, :, 1].max() for m in (light, heavy)
    ]
    assert peaks[0] > peaks[1]


def test_a_held_propeller_is_the_drive_at_rest_in_a_mixture():
    """Heat by hand: a motor with next to no copper, so that nothing hangs on its temperature."""
    motor = {**samples.MONO["motor"], "resistance": q(0.5, "mohm"), "no_load_current": q(20, "A")}
    pack = {**samples.MONO["pack"], "cell_resistance": q(0.3, "mohm")}
    setup = samples.setup(
        motor=motor, pack=pack, controller={"continuous_current": q(300, "A"), "supply": "separate"},
        propeller__diameter=q(24, "mm"),
    )  # fmt: skip
    seconds = 20.0
    run = run_duty(setup, tub_duty(seconds / 60), step_s=0.02)
    rows = drive_values(setup).rows()
    assert rows["water_at_rest"][0] == 0.35  # common practice, no source
    held = states(rows, curve_of(setup), 1.0, np.zeros((1, 1)))
    kv = rows["kv_rpm_per_v"][0] * rows["kv_factor"][0]
    rpm, amps = 60 * held.shaft_rps[0, 0], held.current_a[0, 0]
    idle = rows["no_load_current_a"][0] * (0.5 + 0.5 * rpm / rows["no_load_rpm"][0])
    ohm = (
        sum(rows[f"{n}_resistance_ohm"][0] for n in ("winding", "controller", "pack"))
        + 0.5 * rows["wiring_resistance_ohm"][0]
    )
    # of twenty seconds about one goes into the ramp and the last of the charge lowers the voltage a little
    assert run.heat_in_j[0] == pytest.approx(seconds * (rpm / kv * idle + amps**2 * ohm), rel=0.07)


def test_a_hot_boat_fades_by_the_copper_it_heats():
    held = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=12.0),))
    run = run_duty(SETUP, held, step_s=0.02, stride=1)
    hot = samples.setup(conditions=samples.at(winding=140))
    # whatever winding the tables were made with, the same copper is in the motor: but for its magnets (0.3 of 60 K,
    # 0.12 % a kelvin) the same run comes out
    other = run_duty(hot, held, step_s=0.02, stride=1)
    assert other.speed_mps[0, -1] == pytest.approx(run.speed_mps[0, -1] * (1 + 0.3 * 60 * 0.0012 * 0.65), rel=0.004)
    # by hand: the operating point with winding, pack and charge as they are at the end
    end = samples.at(
        winding=run.temperature_c[0, -1, 0],
        pack=run.temperature_c[0, -1, 3],
        state_of_charge=100 * (0.75 - run.used_ah[0, -1] / drive_values(SETUP).pack_ah.value),
    )
    assert run.speed_mps[0, -1] == pytest.approx(forecast(samples.setup(conditions=end), 0).point.speed_mps, rel=0.02)
    assert run.temperature_c[0, -1, 0] > 30.0


def test_a_plug_that_is_too_thin_comes_off_its_wire():
    thin = samples.setup(wiring={"gauge_awg": 14, "length": q(400, "mm"), "connector_diameter": q(1.6, "mm")})
    held = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=120.0),))
    found = heat_forecast(thin, held, samples=0)
    plug = found.limits[NODES.index("connector")]
    assert np.isfinite(plug.fails_s)
    assert plug.peak_c < 215.0  # nothing drives any more, so nothing gets to 400 degC
    after = found.run.time_s > plug.fails_s + 1.0
    assert found.run.bus_current_a[0, after].max() < 1.0


def test_the_inside_of_a_controller_is_hotter_than_a_gun_reads():
    found = heat_forecast(SETUP, passes_duty(4, 6, 25), samples=0)
    case, inside = (found.middle_c[:, HEAT_NODES.index(n)] for n in ("controller", "junction"))
    ohm, amps = drive_values(SETUP).rows()["controller_resistance_ohm"][0], found.run.bus_current_a[0]
    k = int(np.argmax(amps))
    assert inside[k] - case[k] == pytest.approx(amps[k] ** 2 * ohm / found.run.junction_w_k[0], rel=0.25)


def test_ceilings_stop_a_fifth_of_the_rise_above_where_they_hold():
    case = ceilings(Schools(), SETUP)[NODES.index("case")]
    assert (case.holds_c, case.stop_c) == (65.0, pytest.approx(18 + 1.2 * 47))  # the rise over air of 18 degC
    found = [case.verdict(c) for c in (64.0, 66.0, 74.0, 75.0)]
    assert found == [Verdict.HOLDS, Verdict.SHORT, Verdict.SHORT, Verdict.STOP]


def test_a_printed_mount_softens_before_the_motor_is_hot():
    plain, printed = (
        ceilings(Schools(), samples.setup(mount={"material": m}))[NODES.index("case")] for m in ("metal", "pla")
    )
    assert (plain.holds_c, plain.by_mount) == (65.0, False)
    assert (printed.holds_c, printed.stop_c, printed.by_mount) == (45.0, 55.0, True)  # glass transition, from memory


def test_the_air_of_a_closed_hull_warms_what_is_in_it():
    """By hand: what the parts give to the air goes through deck and bottom, area x 4 W/m2K."""
    run = run_duty(SETUP, passes_duty(8, 20, 10))
    values = thermal_values(SETUP)
    area = 2.2 * 0.620 * 0.30 * 0.620  # length x 30 % of it
    assert values.inside_w_k.value == pytest.approx(4.0 * area)
    roomy = samples.setup(hull={"hull_type": "mono", "length": q(620, "mm"), "beam": q(600, "mm")})
    hot, cool = (run_duty(s, passes_duty(8, 20, 10)).temperature_c[0, -1, 3] for s in (SETUP, roomy))
    assert run.temperature_c[0, -1, 3] == hot > cool  # the pack of the larger hull sits in cooler air
