"""Curves over knobs: the closed form, a reference library, and what must fall out."""

import math

import numpy as np
import pytest
from sklearn.gaussian_process import GaussianProcessRegressor
from sklearn.gaussian_process.kernels import ConstantKernel, Matern

from kunstflug.core.trim import curve as c
from kunstflug.core.trim.curve import DAY, LEVEL, Points, curve_of, kernel, matern52


def points(at, read, spread=0.006, day=None, repeats=1e-9):
    at = np.array(at, dtype=float).reshape(len(read), -1)
    days = np.array(range(len(read)) if day is None else day)
    return Points(at=at, read=np.array(read), spread=np.full(len(read), spread), day=days, repeats=repeats)


def test_materns_kernel_is_the_reference_librarys():
    rng = np.random.default_rng(1)
    a, b, reach = rng.normal(size=(5, 2)), rng.normal(size=(7, 2)), np.array([0.7, 2.0])
    assert matern52(a / reach, b / reach) == pytest.approx(Matern(length_scale=reach, nu=2.5)(a, b), rel=1e-10)


@pytest.mark.parametrize(("apart", "value"), [(0.0, 1.0), (1.0, 0.5239941088318203), (2.0, 0.13866021913850426)])
def test_materns_kernel_by_hand(apart, value):
    """(1 + sqrt5 r + 5 r^2 / 3) exp(-sqrt5 r): Rasmussen, Williams (2006), eq. 4.17."""
    by_hand = (1 + math.sqrt(5) * apart + 5 * apart**2 / 3) * math.exp(-math.sqrt(5) * apart)
    assert value == pytest.approx(by_hand, rel=1e-12)
    assert float(matern52(np.zeros((1, 1)), np.array([[apart]]))[0, 0]) == pytest.approx(value, rel=1e-12)


def test_the_posterior_is_the_reference_librarys(monkeypatch):
    """With neither bowl nor level nor day it is a plain Gaussian process; settings stand as steps from the first."""
    monkeypatch.setattr(c, "LEVEL", 0.0)
    monkeypatch.setattr(c, "DAY", 0.0)
    monkeypatch.setattr(c, "CURVED", 0.0)
    monkeypatch.setattr(c, "kernel", lambda a, b, reach, size: size**2 * matern52(a / reach, b / reach))
    rng = np.random.default_rng(2)
    at, read = rng.uniform(-5, 5, (9, 2)), rng.normal(0, 0.03, 9)
    found = curve_of(points(at, read))
    library = GaussianProcessRegressor(
        ConstantKernel(found.size**2, "fixed") * Matern(found.reach, "fixed", nu=2.5), alpha=0.006**2, optimizer=None
    ).fit(at, read)
    where = rng.uniform(-6, 6, (12, 2))
    mean, covariance = found.at(where)
    expected, expected_covariance = library.predict(where, return_cov=True)
    assert mean == pytest.approx(expected, rel=1e-7, abs=1e-10)
    assert covariance == pytest.approx(expected_covariance, rel=1e-6, abs=1e-9)


def test_one_point_in_closed_form():
    """Mean k/(k + noise) times what was read; variance k - k^2/(k + noise)."""
    found = curve_of(points([0.0], [0.04]))
    k = LEVEL**2 + (c.BESIDE * found.size) ** 2
    noise = 0.006**2 + DAY**2
    mean, covariance = found.at(np.zeros((1, 1)))
    assert mean[0] == pytest.approx(0.04 * k / (k + noise), rel=1e-9)
    assert covariance[0, 0] == pytest.approx(k - k**2 / (k + noise), rel=1e-6)


def test_two_points_in_closed_form():
    found = curve_of(points([-2.0, 3.0], [0.01, 0.05]))
    at = np.array([[0.0], [5.0]])  # from the first
    own = kernel(at, at, found.reach, found.size) + (0.006**2 + DAY**2) * np.eye(2)
    (a, b), (_, d) = own
    bowl = [-c.CURVED * found.size * (x / c.BOWL) ** 2 for x in (0.0, 5.0, 3.0)]
    one, two = 0.01 - bowl[0], 0.05 - bowl[1]
    weights = np.array([d * one - b * two, a * two - b * one]) / (a * d - b * b)  # inverse of two by two
    expected = bowl[2] + kernel(np.array([[3.0]]), at, found.reach, found.size) @ weights
    assert found.at(np.array([[1.0]]))[0] == pytest.approx(expected)


def test_the_level_falls_out_of_what_a_knob_changes():
    low, high = (curve_of(points([0, 1, 2, 3], [x, x + 0.01, x + 0.03, x + 0.02])) for x in (0.0, 0.08))
    where = np.array([[1.5], [4.0]])
    a, b = (f.beside(where, np.zeros(1)) for f in (low, high))
    assert a[0] == pytest.approx(b[0], abs=2e-3)
    assert a[1] == pytest.approx(b[1], rel=0.1)


def test_a_fast_day_is_not_a_fast_setting():
    at, day = [0, 0, 0, 3, 3, 3], [0, 0, 0, 1, 1, 1]
    one_day = curve_of(points(at, [0, 0, 0, 0.012, 0.012, 0.012], day=[0] * 6))
    two_days = curve_of(points(at, [0, 0, 0, 0.012, 0.012, 0.012], day=day))
    sure = [f.beside(np.array([[3.0]]), np.zeros(1)) for f in (one_day, two_days)]
    assert sure[1][0][0] < sure[0][0][0]
    assert sure[1][1][0] > 1.5 * sure[0][1][0]


def test_bands_hold_curves_of_another_form():
    """Eighty per cent bands of a difference on bowls with a flat middle and a steep side, of no form the core knows."""
    rng = np.random.default_rng(6)
    held = []
    for _ in range(60):
        best, steep = rng.uniform(-4, 4), rng.uniform(0.004, 0.012)

        def truth(x, best=best, steep=steep):
            return -steep * np.maximum(np.abs(x - best) - 1.0, 0.0) ** 1.4

        at, day = rng.choice(np.arange(-5, 6), 10), np.arange(10) // 4
        found = curve_of(
            points(at, truth(at) + rng.normal(0, 0.006, 10) + rng.normal(0, 0.006, 3)[day], day=day, repeats=0.003)
        )
        where = rng.uniform(-5, 5, 8)
        mean, spread = found.beside(where[:, np.newaxis], np.array([float(at[0])]))
        held += list(np.abs(truth(where) - truth(float(at[0])) - mean) < 1.2816 * spread)
    assert 0.74 <= np.mean(held) <= 0.90


@pytest.mark.parametrize("seed", range(4))
def test_slopes_of_what_a_curve_costs_are_those_of_the_difference_quotient(seed):
    rng = np.random.default_rng(seed)
    tried = Points(
        at=rng.uniform(-4, 4, (8, 2)),
        read=rng.normal(0, 0.03, 8),
        spread=np.full(8, 0.01),
        day=np.array([0, 0, 1, 1, 2, 2, 2, 3]),
    )
    at = np.log([4.0, 7.0, 0.06, 0.012]) + rng.normal(0, 0.3, 4)
    _, slopes = c.cost(tried, at)
    for k, one in enumerate(np.eye(4) * 1e-6):
        quotient = (c.cost(tried, at + one)[0] - c.cost(tried, at - one)[0]) / 2e-6
        assert slopes[k] == pytest.approx(quotient, rel=1e-4, abs=1e-6)


def test_how_well_runs_repeat_is_learnt_from_them():
    """Thirty runs at three settings of no slope: the scatter is met within a quarter, whatever was usual."""
    rng = np.random.default_rng(8)
    for scatter in (0.015, 0.03):
        read = rng.normal(0, scatter, 30)
        found = curve_of(points([-1, 0, 1] * 10, read, spread=1e-4, repeats=c.REPEATS))
        assert found.repeats == pytest.approx(np.sqrt(max(np.std(read) ** 2 - c.DAY**2, 1e-8)), rel=0.35)


def test_where_the_first_run_stood_is_where_steps_are_counted_from():
    """The same runs with the knob written from another edge say the same."""
    read = [0.0, 0.01, 0.03, 0.02]
    here, there = (curve_of(points(np.arange(4.0) + shift, read)) for shift in (0.0, 40.0))
    assert here.at(np.array([[2.5]]))[0] == pytest.approx(there.at(np.array([[42.5]]))[0], rel=1e-9)
