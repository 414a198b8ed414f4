"""The coupled drive: energy, the crossing, properties that must hold, array against scalar."""

import math
from types import SimpleNamespace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.optimize.elementwise import find_root
from tests import samples
from tests.benchmarks.nested import nested_laws, nested_operating_point
from tests.samples import q

from kunstflug.core.drive.balance import HUMP_BEHIND, HUMP_WIDTH
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.point import NAMES, OperatingPoint, point, resistance_n, solve, states
from kunstflug.core.drive.rows import Rows
from kunstflug.core.drive.values import drive_values
from kunstflug.core.laws.resistance import PLANING_FROUDE
from kunstflug.core.propeller import open_water_curve

SETUP = samples.setup()
CURVE = curve_of(SETUP)
NOMINAL = drive_values(SETUP).rows()


def changed(base: Rows = NOMINAL, **fields: float) -> Rows:
    """One drive with some numbers of its own."""
    rows = base.copy()
    if "diameter_m" in fields:  # the shared curve is that of a pitch ratio of 1.4
        fields["pitch_m"] = 1.4 * fields["diameter_m"]
    for name, value in fields.items():
        rows[name] = value
    return rows


def hindered(p: Rows, found: OperatingPoint) -> bool:
    """Whether the hump may hold a boat; then its speed lies between those with so much more and less resistance."""
    if abs(found.thrust_n / found.resistance_n - 1) < 1e-6:
        return False
    more, less = (
        nested_operating_point(changed(p, discrepancy=value(p, "discrepancy") * f), CURVE)[0]
        for f in (1 + HUMP_WIDTH, 1 - HUMP_WIDTH)
    )
    assert more * (1 - 1e-3) <= found.speed_mps <= less * (1 + 1e-3)
    assert found.volume_froude < 2 * HUMP_BEHIND
    return True


def operating_point(rows: Rows) -> OperatingPoint:
    return point(rows, CURVE)


def value(rows: Rows, name: str) -> float:
    return float(rows[name][0])


# What a small boat can be: wide, but every drive in it has a crossing.
DRIVES = st.builds(
    changed,
    kv_rpm_per_v=st.floats(700, 4000),
    diameter_m=st.floats(0.028, 0.060),
    pack_ocv_v=st.floats(7, 44),
    pack_resistance_ohm=st.floats(0.002, 0.03),
    winding_resistance_ohm=st.floats(0.003, 0.05),
    no_load_current_a=st.floats(0.5, 6),
    mass_kg=st.floats(0.5, 6),
    headwind_mps=st.floats(0, 5),
    appendage_area_m2=st.floats(1e-5, 2e-4),
    wetted_factor=st.floats(2e-3, 1.6e-2),
    wetted_exponent=st.floats(0.5, 1.7),
    air_lift_area_m2=st.floats(0.0, 2e-2),
)


@given(DRIVES)
def test_energy_closes(p):
    found = operating_point(p)
    assert found.useful_power_w + found.losses_w == pytest.approx(found.chemical_power_w, rel=1e-6)
    for name in ("pack", "wiring", "controller", "copper", "no_load", "shaft", "propeller"):
        assert getattr(found, f"{name}_loss_w") >= 0, name


@given(DRIVES)
def test_thrust_meets_resistance_and_torque_meets_torque(p):
    found = operating_point(p)
    if not hindered(p, found):
        assert found.thrust_n == pytest.approx(found.resistance_n, rel=1e-6)
    state = states(p, CURVE, 1.0, np.array([[found.advance]]))
    assert state.thrust_n[0, 0] == pytest.approx(found.thrust_n, rel=1e-9)
    assert state.shaft_rps[0, 0] == pytest.approx(found.rpm / 60, rel=1e-9)
    # the propeller's torque from its own curve against the motor's through the shaft
    kt, kq = CURVE.coefficients(
        found.advance / value(p, "pitch_factor"),
        value(p, "blade_area"),
        found.immersed,
        value(p, "blade_friction"),
        value(p, "water_at_rest"),
    )
    useful = kt * value(p, "thrust_part") * found.advance / (2 * math.pi)
    lost = kq * value(p, "torque_part") - useful
    kq = useful + lost * (value(p, "propeller_losses") if lost > 0 else 1.0)
    load = kq * value(p, "water_kg_m3") * (found.rpm / 60) ** 2 * value(p, "diameter_m") ** 5
    assert found.torque_nm * value(p, "shaft_efficiency") == pytest.approx(load, rel=1e-9)


@given(DRIVES, st.floats(1.01, 1.6))
def test_more_mass_never_raises_speed(p, factor):
    heavier = changed(p, mass_kg=value(p, "mass_kg") * factor)
    assert operating_point(heavier).speed_mps <= operating_point(p).speed_mps * (1 + 1e-9)


@given(DRIVES, st.floats(1.01, 1.6))
def test_more_kv_never_lowers_free_rpm(p, factor):
    faster = changed(p, kv_rpm_per_v=value(p, "kv_rpm_per_v") * factor)
    assert operating_point(faster).free_rpm > operating_point(p).free_rpm


@given(DRIVES, st.floats(1.02, 2.0))
def test_a_stiffer_pack_never_slows_the_boat(p, factor):
    stiffer = changed(p, pack_resistance_ohm=value(p, "pack_resistance_ohm") / factor)
    assert operating_point(stiffer).speed_mps >= operating_point(p).speed_mps * (1 - 1e-9)


@given(DRIVES)
def test_slip_and_efficiencies_are_possible(p):
    found = operating_point(p)
    assert 0 < found.slip < 1
    assert 0 < found.motor_efficiency < 1
    assert 0 < found.propeller_efficiency < 1 - found.slip + 1e-9  # friction only takes away from 1 - slip
    assert found.rpm < found.free_rpm


@settings(max_examples=20)
@given(st.lists(DRIVES, min_size=2, max_size=6))
def test_many_at_once_equal_each_alone(drives):
    together = solve(np.concatenate(drives), (CURVE,))
    for k, drive in enumerate(drives):
        alone = operating_point(drive)
        for name in NAMES:
            assert getattr(together, name)[k] == getattr(alone, name), name


def test_two_threads_give_what_one_gives():
    drawn = drive_values(SETUP).rows(5000, seed=3)  # so many are shared out
    together = solve(drawn, (CURVE,))
    few = solve(drawn[::100], (CURVE,))
    for name in NAMES:
        assert np.array_equal(getattr(together, name)[::100], getattr(few, name)), name


@settings(max_examples=15)
@given(DRIVES)
def test_same_point_as_a_nested_root_finder(p):
    # an independent way: speed outside, shaft speed inside, scipy's brentq both times
    speed, rpm = nested_operating_point(p, CURVE)
    found = operating_point(p)
    if hindered(p, found):
        return
    if abs(found.speed_mps / speed - 1) > 1e-6:
        # Thrust that all but touches the drag on the way: a dip between two places of the grid, which no boat notices.
        laws = nested_laws(p, CURVE)
        first, last = sorted((speed, float(found.speed_mps)))
        assert min(laws.surplus_n(v) for v in np.linspace(first, last, 200)) > -0.01 * float(found.thrust_n)
        return
    assert found.speed_mps == pytest.approx(speed, rel=1e-6)
    assert found.rpm == pytest.approx(rpm, rel=1e-6)


def test_own_bracketing_gives_what_scipys_vectorised_finder_gives():
    drawn = drive_values(SETUP).rows(50, seed=3)
    advance = solve(drawn, (CURVE,)).advance
    for k in range(0, 51, 7):
        one = drawn[k : k + 1]

        def surplus(x, one=one):
            state = states(one, CURVE, 1.0, np.atleast_2d(x))
            return (state.thrust_n - resistance_n(one, state.speed_mps))[0]

        found = find_root(surplus, (np.array([0.9 * advance[k]]), np.array([1.1 * advance[k]])))
        assert advance[k] == pytest.approx(float(found.x[0]), rel=1e-8)


def test_free_and_loaded_rpm_of_a_well_matched_drive():
    # under load a well-matched motor keeps 80 to 90 % of its free speed: common practice, no source
    found = operating_point(NOMINAL)
    assert 0.80 < found.rpm / found.free_rpm < 0.90
    # slip 0.14 to 0.23, propeller efficiency 0.67 to 0.69: typical answers of a trial, no source
    assert 0.14 < found.slip < 0.26
    assert 0.66 < found.propeller_efficiency < 0.70


def test_the_first_crossing_from_rest_is_taken_not_a_later_one():
    # a hump so high that thrust cannot carry the boat over it: it stays below planing
    stuck = operating_point(changed(hump_drag_ratio=4.5))
    free = operating_point(NOMINAL)
    assert stuck.volume_froude < PLANING_FROUDE < free.volume_froude


def test_at_rest_the_torque_balance_is_that_of_a_held_propeller():
    state = states(NOMINAL, CURVE, 1.0, np.zeros((1, 1)))
    assert state.speed_mps[0, 0] == 0
    p = SimpleNamespace(**{name: value(NOMINAL, name) for name in NOMINAL.dtype.names})
    # the balance solved by bisection instead of by the quadratic; at rest all of the propeller is in the water
    kt, kq = CURVE.coefficients(0.0, p.blade_area, 1.0, p.blade_friction, p.water_at_rest)
    copper = p.winding_resistance_ohm * (235 + p.winding_c) / 255
    line = p.pack_resistance_ohm + p.wiring_resistance_ohm + p.controller_resistance_ohm + copper
    kv = p.kv_rpm_per_v * p.kv_factor
    torque_constant = 60 / (2 * np.pi * kv)

    def balance(n):
        current = (p.pack_ocv_v - 60 * n / kv) / line
        idle = p.no_load_current_a * (0.5 + 0.5 * 60 * n / p.no_load_rpm)
        load = kq * p.water_kg_m3 * n**2 * p.diameter_m**5
        return p.shaft_efficiency * torque_constant * (current - idle) - load

    turns = state.shaft_rps[0, 0]
    assert turns == pytest.approx(brentq(balance, 1, 1000), rel=1e-9)
    assert state.thrust_n[0, 0] == pytest.approx(kt * p.water_kg_m3 * turns**2 * p.diameter_m**4)


def test_a_boat_blown_backwards_has_no_crossing():
    blown = operating_point(changed(headwind_mps=400.0))
    assert np.isnan(blown.speed_mps)


def test_submerged_drive_uses_the_wetted_curve():
    submerged = samples.setup(
        hull={"hull_type": "mono", "drive": "submerged", "length": q(620, "mm")},
        propeller={"diameter": q(30, "mm"), "pitch_ratio": q(1.2, "1"), "blades": 3},
    )
    curve = curve_of(submerged)
    assert not curve.ventilated
    assert curve.coefficients(0.5, 1.0, 1.0, 0.0) == open_water_curve(1.2, 3, 0.55, ventilated=False).coefficients(
        0.5, 1.0, 1.0, 0.0
    )
    found = point(drive_values(submerged).rows(), curve)
    assert found.useful_power_w + found.losses_w == pytest.approx(found.chemical_power_w, rel=1e-6)


@settings(max_examples=60)
@given(
    st.floats(0.85, 1.0), st.floats(60, 900), st.floats(16, 58), st.floats(0.6, 2.1), st.floats(300, 6000),
    st.sampled_from([2, 3, 4]), st.booleans(),
)  # fmt: skip
def test_a_light_boat_with_a_deep_propeller_has_a_point(immersion, grams, mm, ratio, kv, blades, submerged):
    """Once the curve ended before the wetted law's zero thrust: NaN, refused as "pushed backwards"."""
    wheel = {"diameter": q(mm, "mm"), "pitch_ratio": q(ratio, "1"), "blades": blades}
    setup = samples.setup(
        hull={"hull_type": "mono", "length": q(620, "mm"), "drive": "submerged" if submerged else "surface"},
        propeller=wheel if submerged else {**wheel, "immersion": q(immersion, "1")},
        motor={**samples.MONO["motor"], "kv": q(kv, "rpm/V"), "mass": q(20, "g")},
        controller={"continuous_current": q(120, "A"), "mass": q(10, "g")},
        pack={**samples.MONO["pack"], "mass": q(20, "g")},
        all_up_mass=q(grams, "g"),
    )
    found = point(drive_values(setup).rows(), curve_of(setup))
    assert np.isfinite(found.speed_mps)
    assert found.thrust_n == pytest.approx(found.resistance_n, rel=0.02)
