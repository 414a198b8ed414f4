"""Throttle tables: what the duty reads is what the operating point computes."""

import numpy as np
import pytest
from tests import samples

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import resistance_n, states
from kunstflug.core.drive.values import drive_values
from kunstflug.core.thermal.tables import DUTIES, FULL, SPEEDS, throttle_tables

SETUP = samples.setup()
NOMINAL = drive_values(SETUP).rows()
CURVE = curve_of(SETUP)
TABLES = throttle_tables(NOMINAL, CURVE)
AXIS = np.linspace(0.0, TABLES.top_mps[0], SPEEDS)


def test_shapes():
    assert TABLES.thrust_n.shape == TABLES.current_a.shape == TABLES.shaft_rps.shape == (1, len(DUTIES), SPEEDS)
    assert TABLES.drag_n.shape == (1, SPEEDS)
    many = throttle_tables(drive_values(SETUP).rows(2, seed=1), CURVE)
    assert many.thrust_n.shape[0] == 3


@pytest.mark.parametrize("duty", [0, 5, FULL])
def test_the_table_is_the_state_at_that_throttle(duty):
    # a state in torque balance, read back out of the table at its own speed
    state = states(NOMINAL, CURVE, DUTIES[duty], np.array([[0.9]]))
    for name in ("thrust_n", "current_a", "shaft_rps"):
        table = getattr(TABLES, name)[0, duty]
        read = np.interp(state.speed_mps[0, 0], AXIS, table)
        assert read == pytest.approx(getattr(state, name)[0, 0], rel=0.01), name  # drawn straight between 120 points


def test_thrust_meets_drag_in_the_table_where_the_forecast_says():
    surplus = TABLES.thrust_n[0, FULL] - TABLES.drag_n[0]
    crossing = np.interp(0.0, -surplus, AXIS)
    assert crossing == pytest.approx(float(forecast(SETUP, 0).point.speed_mps), rel=2e-3)


def test_drag_is_the_hulls():
    np.testing.assert_allclose(TABLES.drag_n[0], resistance_n(NOMINAL, AXIS)[0], rtol=1e-12)


def test_more_throttle_never_gives_less_thrust():
    assert np.all(np.diff(TABLES.thrust_n[0], axis=0) >= -0.6)  # the small brake of an overrun propeller


def test_nobody_draws_a_negative_current():
    assert np.all(TABLES.current_a >= 0)
