"""How a boat sits and turns: against Savitsky's own equations, by hand, and by mechanics."""

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.drive import dangers as kinds
from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.values import drive_values
from kunstflug.core.laws import attitude, planing, turning
from kunstflug.core.parts import hull
from kunstflug.core.parts.controller import Controller
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.setup import centre_of_mass, centre_with, placed_parts
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.run import run_duty
from kunstflug.core.trim.knobs import KNOBS


@pytest.mark.parametrize(("first", "second"), [(0.35, 0.45), (0.30, 0.40), (0.40, 0.60)])
def test_trim_follows_the_centre_of_mass_as_savitsky_has_it_at_high_speed(first, second):
    """The method's full equilibrium, lift and moments, at a speed coefficient of 40 where its buoyancy is gone."""
    beam, mass, density = 0.2, 3.0, 1000.0
    speed = 40.0 * math.sqrt(9.80665 * beam)
    # without friction the moments are those of lift and weight alone: viscosity next to nothing
    found = [planing.equilibrium(speed, mass, beam, 0.0, x, 0.0, density, 1e-30) for x in (first * beam, second * beam)]
    ratio = found[1].trim_deg / found[0].trim_deg
    assert ratio == pytest.approx(float(attitude.trim_by_centre(second / first)), rel=0.02)


@given(st.floats(0.05, 0.35))
def test_trim_follows_a_lift_at_the_stern_as_savitsky_has_it(lifted):
    """What the stern lifts, the bottom does not carry, and its weight acts further forward: the same equilibrium."""
    beam, mass, centre = 0.2, 3.0, 0.09
    speed = 40.0 * math.sqrt(9.80665 * beam)
    free = planing.equilibrium(speed, mass, beam, 0.0, centre, 0.0, 1000.0, 1e-30)
    held = planing.equilibrium(speed, mass * (1 - lifted), beam, 0.0, centre / (1 - lifted), 0.0, 1000.0, 1e-30)
    left = float(attitude.left_to_bottom(lifted))
    assert held.trim_deg / free.trim_deg == pytest.approx(left**attitude.UNLOADED_POWER, rel=0.02)


@given(st.floats(0.5, 1.2), st.floats(0.2, 0.9))
def test_both_ways_of_writing_the_trims_drag_agree(carried, share):
    """The compiled law for lift at the stern is that for a trim, small angles."""
    ratio = carried**attitude.UNLOADED_POWER
    pressed, rubbed = attitude.planing_part(ratio, share, 1 - share, 1e-6)
    assert float(attitude.running_by_stern(carried, share)) == pytest.approx(float(pressed + rubbed), rel=1e-6)
    assert float(attitude.wetted_by_stern(carried)) == pytest.approx(float(attitude.wetted_by_trim(ratio)), rel=1e-9)


def test_a_pack_moved_aft_lifts_the_bow_and_the_speed_in_the_forecast():
    places = {"shell": q(180, "mm"), "shell_mass": q(900, "g")}
    aft, forward = (samples.setup(placement={**places, "pack": q(p, "mm")}) for p in (160, 280))
    trims = [hull.running_trim(s.hull, centre_of_mass(s)).value for s in (aft, forward)]
    assert trims[0] > trims[1]
    assert forecast(aft, 0).point.speed_mps > forecast(forward, 0).point.speed_mps


def test_a_boat_whose_trim_was_measured_keeps_it():
    told = samples.setup(hull={**samples.MONO["hull"], "trim": q(5, "deg"), "mass_centre": q(120, "mm")})
    assert hull.running_trim(told.hull, centre_of_mass(told)).value == 5.0
    other = samples.setup(hull={**samples.MONO["hull"], "trim": q(5, "deg"), "mass_centre": q(200, "mm")})
    assert forecast(told, 0).point.speed_mps == pytest.approx(forecast(other, 0).point.speed_mps, rel=1e-12)


def test_a_strut_that_lifts_the_stern_has_a_best_angle():
    """Lift carries weight and turns the bow down: neither much of it nor much against it is fastest."""
    speeds = [
        forecast(samples.setup(hull={**samples.MONO["hull"], "strut_angle": q(a, "deg")}), 0).point.speed_mps
        for a in (-6, -3, -1, 1, 3, 6, 10, 15)
    ]
    best = int(np.argmax(speeds))
    assert 0 < best < len(speeds) - 1


@given(st.floats(0.6, 1.4), st.floats(-0.2, 0.4))
def test_the_centre_with_more_pack_is_moments_over_mass(factor, more):
    places = {"shell": q(180, "mm"), "pack": q(260, "mm"), "motor": q(220, "mm"), "shell_mass": q(800, "g")}
    setup = samples.setup(placement=places)
    total = setup.all_up_mass_kg.value * factor
    parts = {p.name: p for p in placed_parts(setup)}
    masses = {name: p.mass_kg + (more if name == "pack" else 0.0) for name, p in parts.items()}
    by_hand = sum(masses[n] * parts[n].place_m for n in parts) / sum(masses.values())
    assert float(centre_with(setup, total, more)) == pytest.approx(by_hand, rel=1e-12)


# turning


@pytest.mark.parametrize(
    ("aspect", "slope"),
    [(6.0, 4.53), (2.0, 2.60), (1.0, 1.48), (0.5, 0.773)],  # Helmbold's formula, worked by hand
)
def test_side_slope_of_a_short_foil(aspect, slope):
    assert turning.side_slope_per_rad(aspect) == pytest.approx(slope, rel=0.01)


def test_side_slope_has_the_known_ends():
    """A slender foil has pi A / 2 [jones1946], a long one 2 pi (thin section)."""
    assert turning.side_slope_per_rad(1e-3) == pytest.approx(math.pi * 1e-3 / 2, rel=1e-3)
    assert turning.side_slope_per_rad(1e4) == pytest.approx(2 * math.pi, rel=1e-3)


@given(st.floats(0.5, 6.0), st.floats(5, 30), st.floats(1e-4, 3e-3))
def test_the_tightest_turn_balances_side_force_and_centripetal_force(mass, speed, area):
    """m V^2 / r = rho V^2 A / 2 (mechanics), at any speed."""
    radius = turning.tightest_radius_m(mass, area, 1000.0)
    assert mass * speed**2 / radius == pytest.approx(0.5 * 1000.0 * speed**2 * area, rel=1e-9)
    assert turning.lateral_g(speed, radius) * 9.80665 * radius == pytest.approx(speed**2, rel=1e-9)


def test_lateral_acceleration_by_hand():
    """20 m/s on 10 m: 40 m/s2, 4.08 g."""
    assert turning.lateral_g(20.0, 10.0) == pytest.approx(4.079, abs=1e-3)


def test_a_rudder_grips_by_its_angle_until_it_draws_air():
    little, more, most = (turning.grip_m2(0.04, 0.02, a) for a in (2, 4, 60))
    assert more == pytest.approx(2 * little)
    assert most == pytest.approx(0.04 * 0.02 * turning.VENTILATES)
    assert turning.grip_m2(0.04, 0.02) == most


# dangers


def dangers(**changes):
    setup = samples.setup(**changes)
    found = forecast(setup)
    return {type(d.finding): d for d in dangers_of(setup, found.point, found.curves)}


def test_hop_by_moments():
    """Bow on its contact, weight at its centre: the stern rests with 1 - x / x_front of it (statics)."""
    changes = {
        "hull": {
            **samples.MONO["hull"],
            "strut_angle": q(5, "deg"),
            "mass_centre": q(186, "mm"),
            "length": q(620, "mm"),
        }
    }
    setup = samples.setup(**changes)
    thrust = float(forecast(setup, 0).point.thrust_n)
    lifts = drive_values(setup).lift_ratio.value * thrust
    rests = setup.all_up_mass_kg.value * 9.80665 * (1 - 186 / (0.6 * 620))
    hop = dangers(**changes)[kinds.Hop].finding
    assert hop.lift_n == pytest.approx(lifts, rel=1e-6)
    assert hop.part == pytest.approx(lifts / rests, rel=1e-6)
    assert kinds.Hop not in dangers()


def test_more_cells_bring_a_raked_boat_nearer_to_a_hop():
    raked = {"propeller": {**samples.MONO["propeller"], "rake": q(14, "deg")}}
    few, many = (dangers(**raked, pack__cells=c)[kinds.Hop].finding.part for c in (2, 4))
    assert many > 1.3 * few


def test_a_catamaran_is_judged_as_two_hulls_and_an_outrigger_not_at_all():
    twin = {"hull": {"hull_type": "catamaran", "length": q(750, "mm"), "mass_centre": q(180, "mm")}, "pack__cells": 6,
            "motor__kv": q(1650, "rpm/V"), "all_up_mass": q(3120, "g")}  # fmt: skip
    found = dangers(**twin)
    assert found[kinds.Porpoising].finding.hulls == 2
    further_aft = dangers(**{**twin, "hull": {**twin["hull"], "mass_centre": q(120, "mm")}})
    parts = [d[kinds.Porpoising].finding for d in (found, further_aft)]
    assert parts[1].trim_deg / parts[1].boundary_deg > parts[0].trim_deg / parts[0].boundary_deg
    out = {**twin, "hull": {**twin["hull"], "hull_type": "outrigger"}}
    assert kinds.Porpoising not in dangers(**out)


# full stick


def test_an_end_point_takes_voltage_like_fewer_cells():
    """Free rpm goes with throttle, the motor sees that part of the volts, the pack that part of the current."""
    full, less = (
        samples.setup(),
        samples.setup(controller={"continuous_current": q(120, "A"), "full_throttle": q(80, "%")}),
    )
    a, b = forecast(full, 0).point, forecast(less, 0).point
    assert float(b.throttle) == pytest.approx(0.8)
    assert float(b.free_rpm / a.free_rpm) == pytest.approx(0.8)
    assert float(b.current_a) == pytest.approx(0.8 * float(b.motor_current_a))
    assert b.speed_mps < 0.9 * a.speed_mps


def test_the_duty_holds_full_stick_where_the_forecast_has_it():
    less = samples.setup(controller={"continuous_current": q(120, "A"), "full_throttle": q(75, "%")})
    run = run_duty(less, passes_duty(1, 8, 10), step_s=0.02, stride=1)
    assert float(np.max(run.throttle[0])) == pytest.approx(0.75, abs=1e-6)
    # what the charge leaves and the copper's heat take a little
    assert float(np.max(run.speed_mps[0])) == pytest.approx(float(forecast(less, 0).point.speed_mps), rel=0.03)


def test_what_was_not_given_changes_nothing():
    given = dataclasses.replace(samples.setup().controller, full_throttle=Value(value=1.0))
    assert isinstance(given, Controller)
    whole = dataclasses.replace(samples.setup(), controller=given)
    assert forecast(whole, 0).point.speed_mps == forecast(samples.setup(), 0).point.speed_mps
    assert len({k.path for k in KNOBS}) == len(KNOBS)
