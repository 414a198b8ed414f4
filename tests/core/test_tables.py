"""Throttle tables: what the duty reads is what the operating point computes."""

import dataclasses

import numpy as np
import pytest
from tests import samples

from kunstflug.core.drive.forecast import curve_of, forecast
from kunstflug.core.drive.operating_point import at_throttle, hull_resistance_n, operating_point, state_at_advance
from kunstflug.core.drive.parameters import drive_values
from kunstflug.core.drive.tables import DUTIES, SPEEDS, throttle_tables

SETUP = samples.setup()
NOMINAL = drive_values(SETUP).nominal()
CURVE = curve_of(SETUP)
TABLES = throttle_tables(NOMINAL, CURVE)
AXIS = np.linspace(0.0, TABLES.top_mps[0], SPEEDS)


def test_shapes():
    assert TABLES.thrust_n.shape == TABLES.current_a.shape == TABLES.shaft_rps.shape == (1, len(DUTIES), SPEEDS)
    assert TABLES.drag_n.shape == (1, SPEEDS)
    many = throttle_tables(drive_values(SETUP).sampled(3, seed=1), CURVE)
    assert many.thrust_n.shape[0] == 3


@pytest.mark.parametrize("duty", [0, 5, 11])
def test_the_table_is_the_state_at_that_throttle(duty):
    # a state in torque balance, read back out of the table at its own speed
    state = state_at_advance(at_throttle(NOMINAL, DUTIES[duty]), CURVE, 0.9)
    for name in ("thrust_n", "current_a", "shaft_rps"):
        table = getattr(TABLES, name)[0, duty]
        read = np.interp(float(state.speed_mps), AXIS, table)
        assert read == pytest.approx(float(getattr(state, name)), rel=0.01), name  # drawn straight between 120 points


def test_thrust_meets_drag_in_the_table_where_the_forecast_says():
    surplus = TABLES.thrust_n[0, -1] - TABLES.drag_n[0]
    crossing = np.interp(0.0, -surplus, AXIS)
    assert crossing == pytest.approx(float(forecast(SETUP, 0).point.speed_mps), rel=2e-3)


def test_drag_is_the_hulls():
    np.testing.assert_allclose(TABLES.drag_n[0], hull_resistance_n(NOMINAL, AXIS), rtol=1e-12)


def test_more_throttle_never_gives_less_thrust():
    assert np.all(np.diff(TABLES.thrust_n[0], axis=0) >= -0.6)  # the small brake of an overrun propeller


def test_nobody_draws_a_negative_current():
    assert np.all(TABLES.current_a >= 0)


def test_part_throttle_closes_its_energy_too():
    from kunstflug.core.drive.operating_point import first_crossing, point_at

    for throttle in (0.4, 0.7, 1.0):
        at = first_crossing(at_throttle(NOMINAL, throttle), CURVE)
        point = point_at(NOMINAL, CURVE, at, throttle)
        total = np.asarray(point.useful_power_w) + np.asarray(point.losses_w)
        np.testing.assert_allclose(total, point.chemical_power_w, rtol=1e-6)
        assert np.asarray(point.current_a) == pytest.approx(throttle * np.asarray(point.motor_current_a))


def test_less_throttle_is_slower():
    from kunstflug.core.drive.operating_point import first_crossing, point_at

    speeds = []
    for throttle in (0.3, 0.5, 0.8, 1.0):
        at = first_crossing(at_throttle(NOMINAL, throttle), CURVE)
        speeds.append(float(np.asarray(point_at(NOMINAL, CURVE, at, throttle).speed_mps)[0]))
    assert speeds == sorted(speeds)
    full = operating_point(dataclasses.replace(NOMINAL), CURVE)
    assert speeds[-1] == pytest.approx(float(full.speed_mps), rel=1e-9)
