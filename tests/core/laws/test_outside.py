"""Model C against the outside: closed forms, standards and handbook values; each source stands beside its check."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from tests import samples
from tests.core.drive.test_plausible import BOATS, boat
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import resistance_n
from kunstflug.core.drive.values import drive_values
from kunstflug.core.laws import blade, electric, mechanics, planing, resistance, wire
from kunstflug.core.parts import controller, hull
from kunstflug.core.propeller import open_water_curve
from kunstflug.core.quantity.value import Value
from kunstflug.core.thermal.duty import Duty, Kind, Mode, Phase, PhaseKind
from kunstflug.core.thermal.run import run_duty
from kunstflug.documents.setup import setup_of


@pytest.mark.parametrize(("reynolds", "plate"), [(1e6, 0.0044708), (1e7, 0.0030037)])
def test_skin_friction_is_a_turbulent_plates_within_some_percent(reynolds, plate):
    # Prandtl and Schlichting, 0.455 / (log Re)^2.58; the line for ships is 5 % higher at 1e6 and the same at 1e7
    assert resistance.skin_friction_ittc57(reynolds) == pytest.approx(plate, rel=0.06)


def test_skin_friction_of_disturbed_water_is_well_over_a_laminar_plates():
    # Blasius at a Reynolds number of 1e5: 0.0041995
    assert resistance.skin_friction_ittc57(1e5) > 1.5 * 0.0041995


def test_a_rudders_friction_is_a_plates_at_its_reynolds_number():
    # 25 mm at 18 m/s in water of 1.0e-6 m2/s: 4.5e5, Prandtl and Schlichting 0.0051
    assert pytest.approx(0.455 / math.log10(4.5e5) ** 2.58, rel=0.05) == resistance.FOIL_FRICTION


@pytest.mark.parametrize(
    ("density", "radius_m", "rpm", "stress"), [(7500, 0.012, 40_000, 18.950e6), (7850, 0.018, 30_000, 25.102e6)]
)
def test_hoop_stress_of_a_thin_ring(density, radius_m, rpm, stress):
    # mechanics: rho v^2
    assert mechanics.ring_rpm(stress, density, 2 * radius_m) == pytest.approx(rpm, rel=1e-4)


def test_ripple_in_the_capacitors_is_that_of_a_stage_near_full_throttle():
    # closed form and circuit simulation: ripple over phase current is sqrt(d (1 - d)); commutation leaves d near 0.85
    assert pytest.approx(math.sqrt(0.85 * 0.15), rel=0.03) == controller.RIPPLE


def test_commutation_is_the_energy_in_an_inductance_run_down_through_a_diode():
    # by hand: from I through L to zero against U takes L I / U seconds and burns 0.8 V x I / 2 of it, six times a turn
    # of each pair; compared as power with I^2 R
    inductance, pairs, kv, amps, volts = 10e-6, 2, 2000.0, 80.0, 14.0
    turns = 0.85 * kv * volts / 60
    once = 0.8 * amps / 2 * (inductance * amps / volts)
    watts = 6 * pairs * turns * once
    assert electric.commutation_ohm(inductance, pairs, kv, 0.85) * amps**2 == pytest.approx(watts, rel=1e-9)


def test_a_winding_heats_itself_to_where_a_closed_form_says_and_runs_away_below():
    # 100 A through 6 mohm of copper, 1.2 W/K to 25 degC: 88.4505 degC; below 0.2358 W/K there is no such point
    # (with 0.00393 a kelvin; the standard's 235 + T moves them by 0.04 K and by 0.0005 W/K)
    def settles(conductance):
        def slope(_, t):
            heat = 1e4 * float(electric.copper_resistance_ohm(0.006, t[0]))
            return [(heat - conductance * (t[0] - 25.0)) / 60.0]

        return solve_ivp(slope, (0, 20_000), [25.0], rtol=1e-9).y[0, -1]

    assert settles(1.2) == pytest.approx(88.4505, abs=0.05)
    assert settles(0.230) > 5000.0
    assert settles(0.240) > settles(1.2)


def test_a_wire_warms_as_one_body_of_its_heat_capacity():
    # IEC 60949: 115 A sqrt(s) / mm2 take copper from 70 to 160 degC without loss; the silicone round it slows that
    gauge, amps = 10, 400.0
    inside = float(electric.awg_diameter_m(gauge))
    section = math.pi / 4 * inside**2 * 1e6
    copper_only = (115 * section / amps) ** 2
    tau = wire.wire_time_constant_s(wire.wire_current_a(180.0, gauge, 5.5e-3), 180.0, gauge, 5.5e-3)
    held = wire.wire_current_a(180.0, gauge, 5.5e-3)
    # by the one body: seconds from 70 to 160 degC at 400 A, over 25 degC of air
    rise = (amps / held) ** 2 * 155.0
    seconds = -tau * math.log((rise - 135.0) / (rise - 45.0))
    assert copper_only < seconds < 4 * copper_only


@pytest.mark.parametrize("row", BOATS, ids=[b[0] for b in BOATS])
def test_no_propeller_beats_the_ideal_one(row):
    # momentum theory: 2 / (1 + sqrt(1 + CT)) on the disc that is in the water
    setup = setup_of(boat(row))
    p = forecast(setup, 0).point
    disc = math.pi / 4 * setup.propeller.diameter_m.value**2 * p.immersed
    loading = p.thrust_n / (0.5 * 999.0 * p.speed_mps**2 * disc)
    assert p.propeller_efficiency < 2 / (1 + math.sqrt(1 + loading))


@settings(max_examples=30)
@given(st.floats(2, 12), st.floats(1, 4), st.floats(0, 25))
def test_water_under_a_v_bottom_is_slowed_less_than_under_a_flat_one(trim, wetted, deadrise):
    # Savitsky 1964: the mean velocity goes with the dynamic lift of the V, which is less than the flat plate's
    flat, deep = (float(planing.bottom_velocity_ratio(trim, wetted, b)) for b in (0.0, deadrise))
    assert flat <= deep <= 1.0
    dynamic = 0.0120 * wetted**0.5 * trim**1.1
    expected = math.sqrt(max(1 - dynamic / (wetted * math.cos(math.radians(trim))), 0.04))
    assert flat == pytest.approx(expected, rel=1e-12)


def test_half_immersed_the_propeller_has_what_trials_of_its_kind_have():
    # pitch ratio 1.4, J = 1.0, half immersed: KT near 0.07, KQ near 0.017 (trends of published series, from memory)
    curve = open_water_curve(1.4, 2, 0.45, ventilated=True)
    drag = float(blade.blade_friction(0.25, 2, 0.45, 20.0, 1.0e-6, 0.0))
    kt, kq = (float(v) for v in curve.coefficients(1.0, 0.45, 0.5, drag))
    assert 0.045 < kt < 0.085
    assert 0.011 < kq < 0.020
    assert 0.55 < kt / (2 * math.pi * kq) < 0.80


def test_spray_and_friction_of_a_rudder_over_what_it_carries():
    # Hoerner 1965, from memory: spray 0.24 t^2; both sides of 40 x 25 mm make 1e-3 m2 x 2 x Cf
    area = resistance.foil_drag_area_m2(0.040, 0.025)
    assert area - 0.24 * 0.0025**2 == pytest.approx(2 * 1e-3 * 0.005 * 1.2)


def test_energy_of_a_launch_is_in_the_books():
    """Kinetic energy of boat and water with it, and what drag took, over what the pack gave.

    0.9 for motor and 0.97 for shaft times 0.55 to 0.70 for the propeller are 0.48 to 0.61; a launch slips more.
    """
    setup = samples.setup()
    run = run_duty(
        setup,
        Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=6.0),)),
        step_s=0.01,
        stride=1,
    )
    rows = drive_values(setup).rows()
    v = run.speed_mps[0]
    drag = resistance_n(rows, v)[0]
    gained = 0.5 * 1.1 * rows["mass_kg"][0] * v[-1] ** 2
    took = float(np.sum(drag * v) * 0.01)
    electric_j = float(np.sum(run.bus_current_a[0] * run.pack_voltage_v[0]) * 0.01)
    assert 0.42 < (gained + took) / electric_j < 0.61


@pytest.mark.parametrize(
    ("changes", "low", "high"),
    [
        # common practice, no source: one cell up of three 20 to 30 %, KV down by a sixth costs 10 to 15 %, a stiff big
        # pack in place of a soft small one up to a quarter
        ({"pack__cells": 4}, 0.15, 0.36),
        ({"motor__kv": q(2200 * 5 / 6, "rpm/V")}, -0.16, -0.04),
        ({"pack": {"cells": 3, "capacity": q(5000, "mAh"), "c_rating": q(90, "1")}}, 0.0, 0.25),
    ],
)
def test_differences_are_those_that_racers_report(changes, low, high):
    base = {"pack": {"cells": 3, "capacity": q(3300, "mAh"), "c_rating": q(25, "1")}}
    before = forecast(samples.setup(**base), 0).point.speed_mps
    after = forecast(samples.setup(**({**base, **changes} if "pack" in changes else base | changes)), 0).point.speed_mps
    assert low < after / before - 1 < high


@pytest.mark.parametrize("trim", [1.5, 3.0, 6.0, 9.0])
def test_trim_trades_what_the_bottom_carries_with_against_what_it_wets(trim):
    """By hand: a plate's pressure drag is tan(trim) of what it carries; its lift goes with trim^1.1 [savitsky1964]."""
    usual = hull.Hull(length_m=Value(value=0.62))
    given = hull.Hull(length_m=Value(value=0.62), trim_deg=Value(value=trim))
    ratio = (math.tan(math.radians(trim)) + (0.12 - math.tan(math.radians(4.0))) * (4.0 / trim) ** 1.1) / 0.12
    assert hull.planing_drag(given).value / hull.planing_drag(usual).value == pytest.approx(ratio)
    assert (hull.wetted_factor(given).value > hull.wetted_factor(usual).value) == (trim < 4.0)
    assert hull.wetted_factor(given).spread > hull.wetted_factor(usual).spread


def test_a_boat_that_runs_flat_is_slower_than_one_at_its_usual_trim():
    speeds = [
        forecast(samples.setup(hull={**samples.MONO["hull"], "trim": q(t, "deg")}), 0).point.speed_mps
        for t in (1.0, 2.5, 4.0)
    ]
    assert speeds == sorted(speeds)
    assert speeds[-1] == pytest.approx(forecast(samples.setup(), 0).point.speed_mps, rel=1e-9)
