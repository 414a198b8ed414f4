"""The seam between wetted and ventilated: its ends, its smoothness, and what it does to a boat at rest."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import states
from kunstflug.core.drive.values import drive_values
from kunstflug.core.propeller import open_water_curve, seam
from kunstflug.core.propeller.b_series import b_series_coefficients

CURVE = open_water_curve(1.2, 3, 0.55, ventilated=True)


def test_at_rest_all_of_it_is_in_the_water_and_on_the_plane_the_running_part():
    assert seam.immersed_part(0.0, 0.5, 1.6) == pytest.approx(1.0)
    assert seam.immersed_part(6.0, 0.5, 1.6) == pytest.approx(0.5, abs=1e-3)


@given(st.floats(0.0, 8.0), st.floats(0.0, 8.0), st.floats(0.2, 1.0))
def test_a_rising_hull_lifts_its_propeller(a, b, running):
    slow, fast = sorted((a, b))
    assert seam.immersed_part(slow, running, 1.6) >= seam.immersed_part(fast, running, 1.6) >= running


def test_lightly_loaded_and_all_in_the_water_it_is_the_b_series():
    for j in (0.9, 1.0):  # slip of 25 % and less
        kt, kq = CURVE.coefficients(j, 0.55, 1.0, 0.01)
        kt_b, kq_b = b_series_coefficients(j, 1.2, 0.55, 3)
        assert kt == pytest.approx(float(kt_b), abs=5e-6)
        assert kq == pytest.approx(float(kq_b), abs=5e-6)


def test_heavily_loaded_it_draws_air_even_all_in_the_water():
    # a cavity on the back takes thrust away, never adds; trials tell of losses of half and more (from memory)
    for blades, area, ratio in ((2, 0.45, 1.4), (3, 0.55, 1.2), (3, 0.5, 1.0)):
        curve = open_water_curve(ratio, blades, area, ventilated=True)
        kt, _ = curve.coefficients(0.0, area, 1.0, 0.0)
        kt_b, _ = b_series_coefficients(0.0, ratio, area, blades)
        assert 0.4 < float(kt) / float(kt_b) < 0.9


@given(st.floats(0.0, 1.2), st.floats(0.3, 1.0))
def test_no_edge_anywhere(j, immersed):
    # twice the change for twice the step: no jump hides between two near points
    for step in (1e-4,):
        near = np.array(CURVE.coefficients(j, 0.55, immersed, 0.01))
        along = np.array(CURVE.coefficients(j + step, 0.55, immersed, 0.01))
        deeper = np.array(CURVE.coefficients(j, 0.55, min(immersed + step, 1.0), 0.01))
        assert np.all(np.abs(along - near) < 5 * step)
        assert np.all(np.abs(deeper - near) < 5 * step)


def test_side_force_vanishes_all_in_the_water_and_is_two_over_pi_half_in():
    # mean of cos over the lower half turn, by hand
    assert seam.side_factor(0.5) == pytest.approx(2 / math.pi)
    assert seam.side_factor(1.0) == pytest.approx(0.0, abs=1e-9)
    half = np.arccos(1 - 2 * 0.3)
    angles = np.linspace(-half, half, 20001)
    assert seam.side_factor(0.3) == pytest.approx(float(np.mean(np.cos(angles))), rel=1e-4)


def test_a_boat_at_rest_has_its_propeller_deep():
    setup = samples.setup()
    still = states(drive_values(setup).rows(), curve_of(setup), 1.0, np.zeros((1, 1)))
    running = forecast(setup, 0).point
    assert running.immersed == pytest.approx(0.5, abs=0.01)
    assert still.current_a[0, 0] > 1.4 * running.current_a
    # the pull to the side is the torque over the blades' lever, of which 2 / pi is left
    assert running.side_force_n == pytest.approx(
        running.torque_nm * 0.97 / (0.35 * 0.042) * seam.side_factor(running.immersed), rel=1e-3
    )


def test_a_low_strut_runs_towards_the_wetted_law():
    wheel = {"diameter": q(36, "mm"), "pitch_ratio": q(1.2, "1"), "blades": 3}
    part = [forecast(samples.setup(propeller={**wheel, "immersion": q(i, "1")}), 0).point for i in (0.5, 0.75, 0.95)]
    assert part[0].current_a < part[1].current_a < part[2].current_a
    for p in part:
        assert p.useful_power_w + p.losses_w == pytest.approx(p.chemical_power_w, rel=1e-6)
