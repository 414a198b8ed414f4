"""The coupled drive: energy, the crossing, properties that must hold, array against scalar."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.optimize.elementwise import find_root
from tests import samples
from tests.benchmarks.nested import nested_operating_point

from kunstflug.core.drive.forecast import curve_of
from kunstflug.core.drive.operating_point import (
    first_crossing,
    operating_point,
    state_at_advance,
)
from kunstflug.core.drive.parameters import DriveParameters, DriveValues, drive_values
from kunstflug.core.propeller import open_water_curve

SETUP = samples.setup()
CURVE = curve_of(SETUP)
NOMINAL = drive_values(SETUP).nominal()


def changed(**fields):
    if "diameter_m" in fields:  # the shared curve is that of a pitch ratio of 1.4
        fields["pitch_m"] = 1.4 * fields["diameter_m"]
    return dataclasses.replace(NOMINAL, **fields)


def test_both_bundles_name_the_same_parameters():
    assert [f.name for f in dataclasses.fields(DriveParameters)] == [f.name for f in dataclasses.fields(DriveValues)]


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
    appendage_area_m2=st.floats(2e-5, 4e-4),
)


@given(DRIVES)
def test_energy_closes(p):
    point = operating_point(p, CURVE)
    assert point.useful_power_w + point.losses_w == pytest.approx(point.chemical_power_w, rel=1e-6)
    for name in ("pack", "wiring", "controller", "copper", "no_load", "shaft", "propeller"):
        assert getattr(point, f"{name}_loss_w") >= 0, name


@given(DRIVES)
def test_thrust_meets_resistance_and_torque_meets_torque(p):
    j = first_crossing(p, CURVE)
    state = state_at_advance(p, CURVE, float(j[0]))
    assert state.thrust_n == pytest.approx(state.resistance_n, rel=1e-6)
    assert state.motor_torque_nm * p.shaft_efficiency == pytest.approx(state.propeller_torque_nm, rel=1e-9)


@given(DRIVES, st.floats(1.01, 1.6))
def test_more_mass_never_raises_speed(p, factor):
    heavier = dataclasses.replace(p, mass_kg=p.mass_kg * factor)
    assert operating_point(heavier, CURVE).speed_mps <= operating_point(p, CURVE).speed_mps * (1 + 1e-9)


@given(DRIVES, st.floats(1.01, 1.6))
def test_more_kv_never_lowers_free_rpm(p, factor):
    faster = dataclasses.replace(p, kv_rpm_per_v=p.kv_rpm_per_v * factor)
    assert operating_point(faster, CURVE).free_rpm > operating_point(p, CURVE).free_rpm


@given(DRIVES, st.floats(1.02, 2.0))
def test_a_stiffer_pack_never_slows_the_boat(p, factor):
    stiffer = dataclasses.replace(p, pack_resistance_ohm=p.pack_resistance_ohm / factor)
    assert operating_point(stiffer, CURVE).speed_mps >= operating_point(p, CURVE).speed_mps * (1 - 1e-9)


@given(DRIVES)
def test_slip_and_efficiencies_are_possible(p):
    point = operating_point(p, CURVE)
    assert 0 < point.slip < 1
    assert 0 < point.motor_efficiency < 1
    assert 0 < point.propeller_efficiency < 1 - point.slip + 1e-9  # friction only takes away from 1 - slip
    assert point.rpm < point.free_rpm


@settings(max_examples=20)
@given(st.lists(DRIVES, min_size=2, max_size=6))
def test_array_equals_scalar(drives):
    names = [f.name for f in dataclasses.fields(DriveParameters)]
    stacked = DriveParameters(**{n: np.array([getattr(d, n) for d in drives]) for n in names})
    together = operating_point(stacked, CURVE)
    for k, drive in enumerate(drives):
        alone = operating_point(drive, CURVE)
        for field in dataclasses.fields(alone):
            assert np.asarray(getattr(together, field.name))[k] == pytest.approx(
                getattr(alone, field.name), rel=1e-9
            ), field.name


@settings(max_examples=15)
@given(DRIVES)
def test_same_point_as_a_nested_root_finder(p):
    # an independent way: speed outside, shaft speed inside, scipy's brentq both times
    speed, rpm = nested_operating_point(p, CURVE)
    point = operating_point(p, CURVE)
    assert point.speed_mps == pytest.approx(speed, rel=1e-6)
    assert point.rpm == pytest.approx(rpm, rel=1e-6)


def test_own_bracketing_gives_what_scipys_vectorised_finder_gives():
    drawn = drive_values(SETUP).sampled(50, seed=3)
    j = first_crossing(drawn, CURVE)
    for k in range(0, 50, 7):
        one = DriveParameters(
            **{
                f.name: float(np.broadcast_to(np.asarray(getattr(drawn, f.name)).reshape(-1), (50,))[k])
                for f in dataclasses.fields(DriveParameters)
            }
        )

        def surplus(x, p=one):
            state = state_at_advance(p, CURVE, x)
            return np.asarray(state.thrust_n) - np.asarray(state.resistance_n)

        found = find_root(surplus, (np.array([0.9 * j[k]]), np.array([1.1 * j[k]])))
        assert j[k] == pytest.approx(float(found.x[0]), rel=1e-8)


def test_free_and_loaded_rpm_of_a_well_matched_drive():
    # under load a well-matched motor keeps 80 to 90 % of its free speed: common practice, no source
    point = operating_point(NOMINAL, CURVE)
    assert 0.80 < point.rpm / point.free_rpm < 0.90
    # slip 0.14 to 0.23, propeller efficiency 0.67 to 0.69: typical answers of a trial, no source
    assert 0.14 < point.slip < 0.23
    assert 0.66 < point.propeller_efficiency < 0.70


def test_the_first_crossing_from_rest_is_taken_not_a_later_one():
    # a hump so high that thrust cannot carry the boat over it: it stays below planing
    stuck = operating_point(changed(hump_drag_ratio=4.5), CURVE)
    free = operating_point(NOMINAL, CURVE)
    assert stuck.volume_froude < 3 < free.volume_froude
    assert stuck.planes == 0
    assert free.planes == 1


def test_at_rest_the_torque_balance_is_that_of_a_held_propeller():
    state = state_at_advance(NOMINAL, CURVE, 0.0)
    assert state.speed_mps == 0
    # the balance solved by bisection instead of by the quadratic
    kt, kq = CURVE.coefficients(
        0.0, NOMINAL.blade_area, 1.0, NOMINAL.blade_friction
    )  # at rest all of it is in the water
    line = (
        NOMINAL.pack_resistance_ohm
        + NOMINAL.wiring_resistance_ohm
        + NOMINAL.controller_resistance_ohm
        + NOMINAL.winding_resistance_ohm * (235 + NOMINAL.winding_c) / 255
    )
    kv = NOMINAL.kv_rpm_per_v * NOMINAL.kv_factor
    torque_constant = 60 / (2 * np.pi * kv)

    def balance(n):
        current = (NOMINAL.pack_ocv_v - 60 * n / kv) / line
        idle = NOMINAL.no_load_current_a * (0.5 + 0.5 * 60 * n / NOMINAL.no_load_rpm)
        load = kq * NOMINAL.water_kg_m3 * n**2 * NOMINAL.diameter_m**5
        return NOMINAL.shaft_efficiency * torque_constant * (current - idle) - load

    assert state.shaft_rps == pytest.approx(brentq(balance, 1, 1000), rel=1e-9)
    assert state.thrust_n == pytest.approx(kt * NOMINAL.water_kg_m3 * state.shaft_rps**2 * NOMINAL.diameter_m**4)


def test_a_boat_blown_backwards_has_no_crossing():
    blown = operating_point(changed(headwind_mps=400.0), CURVE)
    assert np.isnan(blown.speed_mps)


def test_submerged_drive_uses_the_wetted_curve():
    submerged = samples.setup(
        hull={"hull_type": "mono", "drive": "submerged", "length": samples.q(620, "mm")},
        propeller={"diameter": samples.q(30, "mm"), "pitch_ratio": samples.q(1.2, "1"), "blades": 3},
    )
    curve = curve_of(submerged)
    assert not curve.ventilated
    assert curve.coefficients(0.5, 1.0, 1.0, 0.0) == open_water_curve(1.2, 3, 0.55, ventilated=False).coefficients(
        0.5, 1.0, 1.0, 0.0
    )
    point = operating_point(drive_values(submerged).nominal(), curve)
    assert point.useful_power_w + point.losses_w == pytest.approx(point.chemical_power_w, rel=1e-6)
