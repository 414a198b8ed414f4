"""The drive in depth: planing by Savitsky, charging, cold packs, wires in air, propeller details, dangers."""

import csv

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq
from tests import samples
from tests.samples import q, words

from kunstflug.core.drive import dangers as kinds
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.dangers import blow_over_mps, dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import states
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.laws import cell, electric, planing, resistance, wire
from kunstflug.core.parts.hull import deck_m2
from kunstflug.core.propeller import jet_curve
from kunstflug.core.propeller.jet import JET_SPEED
from kunstflug.core.thermal.duty import Duty, Kind, Mode, Phase, PhaseKind, lap_race_duty
from kunstflug.core.thermal.nodes import NODES
from kunstflug.core.thermal.run import run_duty

DATA = samples.DATA
CASES = list(csv.DictReader((DATA / "savitsky_cases.csv").read_text().splitlines()))


@pytest.mark.parametrize(
    ("trim", "wetted", "cv", "deadrise", "lift", "pressure"),
    [
        # Savitsky 1964, computed by an independent program
        (4, 2, 5, 0, 0.083694, 0.721390),
        (4, 2, 5, 15, 0.061684, 0.721390),
        (6, 3, 8, 20, 0.115698, 0.724644),
    ],
)
def test_lift_and_centre_of_pressure(trim, wetted, cv, deadrise, lift, pressure):
    flat = planing.flat_lift_coefficient(trim, wetted, cv)
    assert planing.deadrise_lift_coefficient(flat, deadrise) == pytest.approx(lift, abs=1e-6)
    assert planing.centre_of_pressure(wetted, cv) == pytest.approx(pressure, abs=1e-6)


@pytest.mark.parametrize("row", CASES, ids=[f"{r['V']} m/s {r['m']} kg" for r in CASES])
def test_equilibrium(row):
    case = {k: float(v) for k, v in row.items()}
    found = planing.equilibrium(
        case["V"], case["m"], case["b"], case["beta_deg"], case["lcg"], case["vcg"], 998.2, 1.0034e-6
    )
    # two codes; the 1964 paper uses the bottom's mean velocity for friction, as ours does
    assert found.trim_deg == pytest.approx(case["tau_own1964"], abs=0.05)
    assert found.drag_n == pytest.approx(case["D_own1964_N"], rel=0.02)
    assert found.trim_deg == pytest.approx(case["tau_openplaning"], abs=0.05)
    assert found.covered


def test_a_model_boat_at_speed_leaves_savitskys_range_and_says_so():
    found = planing.equilibrium(25.0, 2.1, 0.186, 18, 0.2, 0.05, 998.2, 1.0034e-6)
    assert not found.covered


def test_a_centre_of_mass_that_nothing_balances():
    assert planing.equilibrium(8.0, 5.0, 0.2, 15, 3.0, 0.05, 998.2, 1e-6) is None


@pytest.mark.parametrize(("root", "flat", "deep"), [(0.20, 3.82, 5.78), (0.25, 6.45, 8.04), (0.30, 9.31, 10.54)])
def test_porpoising_boundary(root, flat, deep):
    # Savitsky's chart as read by an independent program, at deadrise 0 and 20
    lift = 2 * root**2
    assert planing.porpoising_trim_deg(lift, 0.0) == pytest.approx(flat, abs=1e-9)
    assert planing.porpoising_trim_deg(lift, 20.0) == pytest.approx(deep, abs=1e-9)
    assert flat < planing.porpoising_trim_deg(lift, 10.0) < deep


def test_constant_current_then_constant_voltage():
    # 5 Ah, 3 mohm, from 0.1 at 1 C to 4.2 V, cut at C/20, the same cell: a battery library and scipy agree
    found = cell.charge(0.1, 5.0, 3e-3)
    assert found.constant_s == pytest.approx(3199.1, rel=0.005)
    assert found.total_s == pytest.approx(3320.7, rel=0.01)
    assert found.soc == pytest.approx(0.9994, abs=5e-4)


@pytest.mark.parametrize(("ohm", "rate"), [(3e-3, 1.0), (8e-3, 1.0), (3e-3, 3.0), (1.5e-3, 0.5)])
def test_the_end_of_a_charge_against_an_integrator(ohm, rate):
    """Constant voltage from where the cell reaches it to a twentieth of its capacity, by scipy's integrator."""

    def amps(soc):
        return min((cell.FULL_CELL_V - float(cell.cell_ocv_v(min(soc, 1.0)))) / ohm, 5.0 * rate)

    def ended(_, y):
        return amps(y[0]) - 0.25

    def full(_, y):
        return (cell.FULL_CELL_V - float(cell.cell_ocv_v(min(y[0], 1.0)))) / ohm - 5.0 * rate

    ended.terminal = True
    run = solve_ivp(
        lambda _, y: [amps(y[0]) / 5.0 / 3600.0], (0, 40000), [0.8], events=(ended, full), max_step=5.0, rtol=1e-9
    )
    found = cell.charge(0.8, 5.0, ohm, rate)
    tail = found.total_s - found.constant_s
    began = run.t_events[1][0]
    assert found.total_s == pytest.approx(run.t_events[0][0], rel=0.002)
    assert tail == pytest.approx(run.t_events[0][0] - began, rel=0.02)
    assert found.soc == pytest.approx(run.y_events[0][0][0], abs=2e-5)


@given(st.floats(0.05, 0.9), st.floats(0.5, 3.0))
def test_charging_faster_is_never_slower_in_all(soc, rate):
    slow, fast = (cell.charge(soc, 5.0, 3e-3, r).total_s for r in (rate, rate * 1.3))
    assert fast <= slow * (1 + 1e-9)


def test_energy_of_a_pack():
    # by hand: a mean of 3.83 V x 5 Ah x 4 cells; the mean of the table's voltages over the charge
    assert cell.energy_wh(0.0, 1.0, 5.0, 4) == pytest.approx(3.83 * 20, rel=0.02)


def test_a_cold_pack_is_stiff():
    assert electric.cold_factor(25.0) == pytest.approx(1.0)
    assert electric.cold_factor(5.0) == pytest.approx(2.0)  # doubles in 20 K: common practice, no source
    conditions = {
        "water": q(8, "degC"), "air": q(8, "degC"), "headwind": q(0, "m/s"), "state_of_charge": q(75, "%"),
        "winding": q(80, "degC"),
    }  # fmt: skip
    cold = forecast(samples.setup(conditions={**conditions, "pack": q(5, "degC")}), 0).point
    warm = forecast(samples.setup(conditions={**conditions, "pack": q(25, "degC")}), 0).point
    assert cold.speed_mps < warm.speed_mps
    assert cold.pack_loss_w / cold.current_a**2 == pytest.approx(2 * warm.pack_loss_w / warm.current_a**2, rel=1e-9)


@pytest.mark.parametrize(
    ("gauge", "outside", "amps", "celsius"), [(10, 5.5e-3, 50, 61.8), (10, 5.5e-3, 100, 178.8), (8, 6.6e-3, 100, 106.3)]
)
def test_wires_in_still_air(gauge, outside, amps, celsius):
    # Churchill-Chu by an open heat-transfer library with real air at 25 degC; 10 % of the rise in temperature
    found = brentq(lambda c: wire.wire_current_a(c, gauge, outside) - amps, 26, 600)
    assert found - 25 == pytest.approx(celsius - 25, rel=0.10)


@given(st.floats(60, 300), st.integers(8, 16))
def test_hotter_wires_and_more_copper_carry_more(celsius, gauge):
    here = wire.wire_current_a(celsius, gauge, electric.silicone_outside_m(gauge))
    assert wire.wire_current_a(celsius + 10, gauge, electric.silicone_outside_m(gauge)) > here
    assert wire.wire_current_a(celsius, gauge + 2, electric.silicone_outside_m(gauge + 2)) < here


def propeller(**more):
    return samples.setup(propeller={"diameter": q(42, "mm"), "pitch_ratio": q(1.4, "1"), **more})


def test_edges_cost_speed_in_their_order():
    speeds = [
        forecast(propeller(condition=c), 0).point.propeller_efficiency
        for c in ("prepared", "as_cast", "dull", "nicked")
    ]
    assert speeds == sorted(speeds, reverse=True)


def test_a_cup_works_like_pitch():
    plain, cupped = forecast(propeller(), 0).point, forecast(propeller(cup=q(1, "mm")), 0).point
    assert cupped.speed_mps > plain.speed_mps
    assert cupped.current_a > plain.current_a


def test_rake_takes_weight_off_a_hull_that_keeps_its_trim():
    kept = {"hull": {**samples.MONO["hull"], "trim": q(4, "deg")}}
    wheels = [{**samples.MONO["propeller"], "rake": q(r, "deg")} for r in (0, 12)]
    plain, raked = (forecast(samples.setup(**kept, propeller=wheel), 0).point for wheel in wheels)
    assert raked.speed_mps > plain.speed_mps
    assert raked.useful_power_w + raked.losses_w == pytest.approx(raked.chemical_power_w, rel=1e-6)


def test_the_hull_always_carries_some_of_its_weight():
    assert resistance.carried_n(2.0, 1e9) == pytest.approx(0.3 * 2.0 * 9.80665)
    assert resistance.carried_n(2.0, 0.0) == pytest.approx(2.0 * 9.80665)
    assert resistance.carried_n(2.0, 5.0) == pytest.approx(2.0 * 9.80665 - 5.0, rel=0.01)  # the floor is rounded
    lifts = np.linspace(0.0, 40.0, 400)
    assert np.all(np.diff(resistance.carried_n(2.0, lifts)) < 0.0)  # and more lift is always felt


def dangers(setup):
    f = forecast(setup)
    return {type(d.finding): d for d in dangers_of(setup, f.point, f.curves)}


def test_dangers_carry_their_number():
    found = dangers(samples.setup())
    assert {kinds.AtTheHump, kinds.BlowOver, kinds.TorqueRoll} <= set(found)
    for danger in found.values():
        assert any(c.isdigit() for c in words(danger.finding)), danger


def test_a_headwind_and_a_light_bow_bring_the_blow_over_nearer():
    calm = dangers(samples.setup())[kinds.BlowOver]
    aft = samples.setup(hull={"hull_type": "mono", "length": q(620, "mm"), "mass_centre": q(60, "mm")})
    assert resistance.blow_over_speed_mps(2.1, 0.06, 0.62, 0.0865, 0.0, 1.2) < resistance.blow_over_speed_mps(
        2.1, 0.186, 0.62, 0.0865, 0.0, 1.2
    )
    assert dangers(aft)[kinds.BlowOver].verdict is not Verdict.HOLDS
    assert calm.finding.critical_mps > dangers(aft)[kinds.BlowOver].finding.critical_mps
    # the wind counts in full
    still, windy = (resistance.blow_over_speed_mps(2.1, 0.18, 0.62, 0.0865, w, 1.2) for w in (0.0, 5.0))
    assert still - windy == pytest.approx(5.0)


def test_an_outrigger_is_turned_over_by_its_tub_and_sponsons():
    """Its full beam counted as deck: the fastest of the plausible ones, at 160 km/h, stood at 1.3 of its margin."""
    length, beam, fast_mps = 1.15, 0.5175, 160 / 3.6
    hull = {"hull_type": "outrigger", "length": q(1e3 * length, "mm"), "beam": q(1e3 * beam, "mm")}
    setup = samples.setup(hull=hull, all_up_mass=q(6200, "g"))
    assert blow_over_mps(setup, 0.0) > fast_mps
    # by hand: tub 0.3 x beam on 0.75 x length, two sponsons of beam / 6 on a third of the length
    by_hand = 0.3 * beam * 0.75 * length + 2 * beam / 6 * length / 3
    assert deck_m2(setup.hull) == pytest.approx(by_hand, rel=0.05)
    mono = samples.setup(hull=hull | {"hull_type": "mono"}, all_up_mass=q(6200, "g"))
    assert blow_over_mps(setup, 0.0) == pytest.approx((0.75 / 0.34) ** 0.5 * blow_over_mps(mono, 0.0), rel=1e-9)


def test_a_narrow_boat_leans_under_its_torque():
    narrow = samples.setup(
        hull={"hull_type": "mono", "length": q(620, "mm"), "beam": q(70, "mm")}, all_up_mass=q(900, "g")
    )
    assert dangers(narrow)[kinds.TorqueRoll].verdict is not Verdict.HOLDS


def test_only_a_submerged_propeller_cavitates():
    assert kinds.Cavitation not in dangers(samples.setup())
    submerged = samples.setup(
        hull={"drive": "submerged", "length": q(620, "mm")},
        propeller={"diameter": q(26, "mm"), "pitch_ratio": q(1.2, "1"), "blades": 3},
    )
    found = dangers(submerged)[kinds.Cavitation]
    # tau = 0.494 sigma^0.88, Blount & Fox 1978 (from memory)
    density, p = 998.9, forecast(submerged, 0).point
    head = 0.5 * density * (p.speed_mps**2 + (0.7 * np.pi * p.rpm / 60 * 0.026) ** 2)
    assert found.finding.limit == pytest.approx(0.494 * (99525 / head) ** 0.88, rel=1e-3)
    assert np.isfinite(forecast(submerged).point.speed_mps)


def limited(amps=None, degrees=None):
    controller = {"continuous_current": q(120, "A")}
    if amps:
        controller["bus_limit"] = q(amps, "A")
    if degrees:
        controller["temperature_limit"] = q(degrees, "degC")
    return samples.setup(controller=controller)


def test_a_controller_holds_its_bus_limit():
    free, held = forecast(limited(), 0).point, forecast(limited(60), 0).point
    assert held.current_a == pytest.approx(60.0, rel=1e-4)
    assert held.throttle < 1
    assert held.motor_current_a == pytest.approx(held.current_a / held.throttle, rel=1e-9)  # bus = duty x motor current
    assert held.speed_mps < free.speed_mps
    assert held.useful_power_w + held.losses_w == pytest.approx(held.chemical_power_w, rel=1e-6)


def test_a_limit_that_is_not_reached_changes_nothing():
    free, wide = forecast(limited(), 0).point, forecast(limited(400), 0).point
    assert wide.throttle == 1
    assert wide.speed_mps == pytest.approx(free.speed_mps, rel=1e-9)


def test_the_band_knows_the_limit_too():
    f = forecast(limited(95))
    assert f.high.current_a <= 95.0 * (1 + 1e-4)


def test_half_bridge_at_half_duty():
    # circuit simulation of a synchronous half bridge: 22.2 V, duty 0.5, 12 + 1 mohm, EMF 9 V: motor 161.5 A, bus 80.8 A
    rows = drive_values(samples.setup()).rows()
    rows["pack_ocv_v"], rows["pack_resistance_ohm"], rows["wiring_resistance_ohm"] = 22.2, 0.0, 0.0
    rows["controller_resistance_ohm"], rows["winding_resistance_ohm"], rows["winding_c"] = 1e-3, 12e-3, 20.0
    rows["kv_factor"] = 1.0
    # the KV at which this propeller, held, turns the motor to an EMF of 9 V
    low, high = 100.0, 20000.0
    for _ in range(60):
        rows["kv_rpm_per_v"] = (low + high) / 2
        found = states(rows, curve_of(samples.setup()), 0.5, np.zeros((1, 1)))
        emf = 60 * found.shaft_rps[0, 0] / rows["kv_rpm_per_v"][0]
        low, high = ((low + high) / 2, high) if emf > 9.0 else (low, (low + high) / 2)
    assert emf == pytest.approx(9.0, abs=1e-6)
    assert found.current_a[0, 0] == pytest.approx(161.5, abs=0.1)
    # what lies before the controller counts by its duty: 2 mohm there and bus = duty x motor current
    rows["pack_resistance_ohm"] = 2e-3
    sagging = states(rows, curve_of(samples.setup()), 0.5, np.zeros((1, 1)))
    amps, back = sagging.current_a[0, 0], 60 * sagging.shaft_rps[0, 0] / rows["kv_rpm_per_v"][0]
    bus = 0.5 * amps
    assert 0.5 * (22.2 - bus * 2e-3) - back == pytest.approx(amps * 0.013, rel=1e-9)


def test_limits_hold_in_time():
    held = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=15.0),))
    run = run_duty(limited(60), held)
    late = run.time_s > 4
    assert np.max(run.bus_current_a[0, late]) < 68  # a regulator's ripple, and the receiver
    assert np.mean(run.bus_current_a[0, late]) == pytest.approx(60, rel=0.06)
    hot = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=120.0),))
    cut = run_duty(limited(degrees=50), hot)
    assert cut.temperature_c[0, :, 2].max() < 52


def test_bundled_plugs_cook_each_other():
    k = NODES.index("connector")
    spaced, bundled = (
        run_duty(samples.setup(wiring={"plugs": p}), lap_race_duty(2)).temperature_c[0, :, k].max()
        for p in ("spaced", "bundled")
    )
    assert bundled > spaced + 5


def jet(**more):
    return samples.setup(
        hull={"hull_type": "mono", "drive": "jet", "length": q(620, "mm")},
        propeller={"diameter": q(30, "mm"), "pitch_ratio": q(1.2, "1"), "blades": 3},
        **more,
    )


def test_a_water_jet_is_a_drive_like_any_other():
    f = forecast(jet())
    assert f.runs, f.refusal
    assert any("Water-jet" in words(c) for c in f.caveats)
    assert f.point.useful_power_w + f.point.losses_w == pytest.approx(f.point.chemical_power_w, rel=1e-6)
    assert 0.2 < f.point.propeller_efficiency < 0.6  # small jets are poor: common practice, no source


@given(st.floats(0.6, 1.8), st.floats(0.05, 0.95))
def test_no_jet_beats_its_momentum(ratio, part):
    k = JET_SPEED * ratio
    j = part * k
    kt, kq = jet_curve(ratio).coefficients(j, 1.0, 1.0, 0.0)
    # Froude: 2 / (1 + Vj / V) is the most that momentum allows, even with an inlet that recovers part of the energy
    assert j * kt / (2 * np.pi * kq) < 2 / (1 + k / j)


def test_a_pack_relaxes_after_a_pass():
    duty = Duty(
        kind=Kind.PASSES,
        phases=(
            Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=20.0),
            Phase(kind=PhaseKind.SOAK, mode=Mode.REST, seconds=120.0),
        ),
    )
    run = run_duty(samples.setup(), duty, step_s=0.05, stride=4)
    resting = run.pack_voltage_v[0, run.time_s > 22]
    assert resting[-1] > resting[0] + 0.05  # it comes back slowly
    assert np.all(np.diff(resting) > -1e-9)
