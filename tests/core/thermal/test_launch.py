"""The way to speed: against the equation of motion by hand, and what it warns of."""

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp, trapezoid
from tests import samples
from tests.core.drive.test_plausible import BOATS, boat
from tests.core.live.days import BOATS as DAYS_BOATS
from tests.samples import q

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.dangers import AtTheHump, dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import resistance_n, states
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.thermal.duty import tub_duty
from kunstflug.core.thermal.launch import MayNotPlane, PondTooShort, ShortOfFullSpeed, launch_of
from kunstflug.documents.setup import setup_of

SETUP = samples.setup()
PLANING = [row for row in BOATS if row[0] != "scale launch"]


def test_seconds_and_metres_are_those_of_the_equation_of_motion():
    """By hand: m dV/dt = thrust - drag, integrated over the speed, behind a throttle that is there at once."""
    quick = samples.setup(controller={"continuous_current": q(120, "A"), "ramp": q(0.05, "s")})
    rows, curve = drive_values(quick).rows(), curve_of(quick)
    state = states(rows, curve, 1.0, np.linspace(0, 1, 400)[np.newaxis] * curve.j_end)
    top = forecast(quick, 0).point.speed_mps

    def pull(v):
        return np.interp(v, state.speed_mps[0], state.thrust_n[0]) - resistance_n(rows, np.array([[v]]))[0, 0]

    mass = 1.1 * rows["mass_kg"][0]
    v = np.linspace(0.01, 0.9 * top, 2000)
    each = mass / np.array([pull(one) for one in v])
    seconds, metres = trapezoid(each, v), trapezoid(v * each, v)
    found = launch_of(quick, 6.0, samples=0)
    assert found.standing.seconds.middle == pytest.approx(seconds, rel=0.12, abs=0.1)  # cold copper, sagging pack
    assert found.standing.metres.middle == pytest.approx(metres, rel=0.2)


@pytest.mark.parametrize("row", PLANING, ids=[b[0] for b in PLANING])
def test_launches_are_as_racers_see_them(row):
    """Held thrust of a few weights, one to five seconds to speed (common practice, no source)."""
    setup = setup_of(boat(row))
    f = forecast(setup)
    weight = 9.80665 * setup.all_up_mass_kg.value
    assert 1.0 < f.curves.thrust_n[0] / weight < 5.0
    found = launch_of(setup, 8.0)
    assert 0.2 < found.plane_s.middle < 2.0
    assert 1.2 < found.standing.seconds.middle < 6.0
    assert found.flying.seconds.middle < found.standing.seconds.middle
    assert found.standing.seconds.low <= found.standing.seconds.middle <= found.standing.seconds.high
    assert found.stuck < 0.1


@pytest.mark.parametrize(("mass_g", "verdict"), [(2100, Verdict.HOLDS), (3900, Verdict.SHORT), (5500, Verdict.STOP)])
def test_the_hump_warns_as_a_boat_gets_too_heavy_for_its_drive(mass_g, verdict):
    """Reserve of 1.3 over the resistance for waves and weed: common practice, no source."""
    setup = samples.setup(all_up_mass=q(mass_g, "g"), pack={"cells": 2, "capacity": q(5000, "mAh")})
    f = forecast(setup, 0)
    hump = next(d for d in dangers_of(setup, f.point, f.curves) if isinstance(d.finding, AtTheHump))
    assert hump.verdict is verdict


def test_a_boat_that_hangs_below_its_speed_is_told_so():
    found = launch_of(samples.setup(all_up_mass=q(4300, "g"), pack={"cells": 2, "capacity": q(5000, "mAh")},
                                    propeller__pitch_ratio=q(1.9, "1")), 6.0)  # fmt: skip
    assert found.stuck > 0.3
    assert any(isinstance(w, MayNotPlane) for w in found.warnings)


def test_a_long_transition_that_never_is_at_full_speed():
    """What racers tell of: the pass was over before the boat was up to speed."""
    slow = samples.setup(all_up_mass=q(3400, "g"), propeller__pitch_ratio=q(1.7, "1"))
    found = launch_of(slow, 1.0)
    warned = next(w for w in found.warnings if isinstance(w, ShortOfFullSpeed))
    assert warned.full_s == 1.0 < warned.needed_s == found.flying.seconds.middle
    assert 0.4 < warned.part < 0.9
    assert not any(isinstance(w, ShortOfFullSpeed) for w in launch_of(slow, 15.0).warnings)


def test_a_pond_that_is_too_short():
    long = launch_of(SETUP, 6.0, 500.0)
    assert not any(isinstance(w, PondTooShort) for w in long.warnings)
    short = next(w for w in launch_of(SETUP, 6.0, 60.0).warnings if isinstance(w, PondTooShort))
    assert short.pond_m == 60.0
    top = forecast(SETUP, 0).point.speed_mps
    assert 0.6 * 6.0 * top < short.needed_m - 15.0 < 6.0 * top  # six seconds, some of them below full speed


def test_a_tub_has_no_pass_to_be_short():
    assert tub_duty(2).full_s == math.inf
    assert launch_of(SETUP, tub_duty(2).full_s, 60.0).warnings == ()


@pytest.mark.parametrize("changes", DAYS_BOATS)
def test_stopping_takes_what_the_drag_takes(changes):
    """By an integration of our own: no thrust but the overrun propeller's, drag of the forecast, 1.1 of the mass; the
    throttle takes a tenth of a second to fall, which is left out here.

    Every boat took 15 m; one at 116 km/h still did 92 there.
    """
    setup = samples.setup(**changes)
    found = launch_of(setup, 6.0, samples=0).stopping_m.middle
    rows, speed = drive_values(setup).rows(), float(forecast(setup, 0).point.speed_mps)
    grid = np.linspace(0.0, 1.05 * speed, 400)
    drag, mass = resistance_n(rows, grid)[0], 1.1 * setup.all_up_mass_kg.value

    def slower(_, y):
        return [y[1], -(np.interp(y[1], grid, drag) + 0.5) / mass]

    half = lambda _, y: y[1] - 0.5 * speed  # noqa: E731
    half.terminal = True
    there = solve_ivp(slower, (0.0, 30.0), [0.0, speed], events=half, max_step=0.02)
    assert found == pytest.approx(float(there.y_events[0][0][0]), rel=0.13)


def test_a_heavier_boat_runs_on_farther():
    light, heavy = (launch_of(samples.setup(all_up_mass=q(g, "g")), 6.0, samples=0) for g in (1900, 2500))
    assert heavy.stopping_m.middle > 1.02 * light.stopping_m.middle
