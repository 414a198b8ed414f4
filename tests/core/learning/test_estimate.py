"""The estimator against certified problems and closed forms.

Certified values of the nonlinear problems: NIST Statistical Reference Datasets, nonlinear regression (Misra1a, Rat42,
BoxBOD, DanWood), data and values from memory; a reference library's least squares is held beside them.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import least_squares

from kunstflug.core.learning.estimate import Kinds, likeliest, scatter_of, weights_of
from kunstflug.core.quantity.narrowed import NarrowedCovariance


def alone(count):
    """Readings of one kind, of which none is of another's setup: their scatter is taken as given."""
    return Kinds(of=np.zeros(count, dtype=np.int64), setup=np.arange(count))


MISRA_X = np.array([77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0])
MISRA_Y = np.array([10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78])
RAT_X = np.array([9.0, 14, 21, 28, 42, 57, 63, 70, 79])
RAT_Y = np.array([8.93, 10.80, 18.59, 22.33, 39.35, 56.11, 61.73, 64.62, 67.08])
BOX_X = np.array([1.0, 2, 3, 5, 7, 10])
BOX_Y = np.array([109.0, 149, 149, 191, 213, 224])
WOOD_X = np.array([1.309, 1.471, 1.490, 1.565, 1.611, 1.680])
WOOD_Y = np.array([2.138, 3.421, 3.597, 4.340, 4.882, 5.660])


def saturating(x):
    def model(b):
        e = np.exp(-b[1] * x)
        return b[0] * (1 - e), np.stack([1 - e, b[0] * x * e], axis=1)

    return model


def logistic(x):
    def model(b):
        e = np.exp(b[1] - b[2] * x)
        return b[0] / (1 + e), np.stack([1 / (1 + e), -b[0] * e / (1 + e) ** 2, b[0] * x * e / (1 + e) ** 2], axis=1)

    return model


def power(x):
    def model(b):
        return b[0] * x ** b[1], np.stack([x ** b[1], b[0] * x ** b[1] * np.log(x)], axis=1)

    return model


CERTIFIED = {
    "Misra1a": (saturating(MISRA_X), MISRA_Y, (500.0, 1e-4), (2.3894212918e2, 5.5015643181e-4),
                (2.7070075241, 7.2668688436e-6)),
    "Misra1a, nearer": (saturating(MISRA_X), MISRA_Y, (250.0, 5e-4), (2.3894212918e2, 5.5015643181e-4),
                        (2.7070075241, 7.2668688436e-6)),
    "Rat42": (logistic(RAT_X), RAT_Y, (75.0, 2.5, 0.07), (7.2462237576e1, 2.6180768402, 6.7359200066e-2),
              (1.7340283401, 8.8295217536e-2, 3.4465663377e-3)),
    "BoxBOD": (saturating(BOX_X), BOX_Y, (100.0, 0.75), (2.1380940889e2, 5.4723748542e-1),
               (1.2354515176e1, 1.0455993237e-1)),
    "DanWood": (power(WOOD_X), WOOD_Y, (0.7, 4.0), (7.6886226176e-1, 3.8604055871),
                (1.8281973860e-2, 5.1726610913e-2)),
}  # fmt: skip


WIDE = 1e4  # times the certified value: a prior that says next to nothing


@pytest.mark.parametrize("name", CERTIFIED)
def test_certified_nonlinear_problems(name):
    model, y, start, values, deviations = CERTIFIED[name]
    scale = WIDE * np.array(values)

    def scaled(at, sloped):
        value, slope = model(at * scale)
        return value, slope * scale

    begin, nothing = np.array(start) / scale, np.zeros((len(y), 0))
    spread = np.full(len(y), 30.0)  # so wide that no reading is far off
    found = likeliest(scaled, y, spread, nothing, begin, begin, alone(len(y)), done=1e-12)
    assert found.mean * scale == pytest.approx(values, rel=1e-5)
    misfit = math.sqrt(float(found.off @ found.off) / (len(y) - len(start)))
    spreads = np.sqrt(np.diag(found.covariance.of(np.eye(len(start))))) * scale * misfit / 30.0
    assert spreads == pytest.approx(deviations, rel=1e-3)
    beside = least_squares(lambda b: y - model(b)[0], values, jac=lambda b: -model(b)[1])
    assert found.mean * scale == pytest.approx(beside.x, rel=1e-5)


def linear(rng, n=12, p=4):
    a = rng.normal(size=(n, p))
    return a, a @ rng.normal(size=p) + rng.normal(size=n) * 0.3


def test_a_linear_problem_is_its_closed_form_and_so_is_leaving_one_out():
    rng = np.random.default_rng(1)
    a, y = linear(rng)
    beside = rng.normal(size=(12, 2)) * 0.2
    centre = np.array([0.1, -0.2, 0.3, 0.0])
    noise = 0.6**2 * np.eye(12) + beside @ beside.T
    found = likeliest(lambda b, _: (a @ b, a), y, np.full(12, 0.6), beside, centre, np.zeros(4), alone(12))
    hessian = np.eye(4) + a.T @ np.linalg.solve(noise, a)
    closed = np.linalg.solve(hessian, centre + a.T @ np.linalg.solve(noise, y))
    assert found.mean == pytest.approx(closed, abs=1e-6)
    assert found.covariance.first(4).of(np.eye(4)) == pytest.approx(np.linalg.inv(hessian), abs=1e-9)
    rest = np.delete(np.arange(12), 5)
    part, quiet = a[rest], noise[np.ix_(rest, rest)]
    less = np.eye(4) + part.T @ np.linalg.solve(quiet, part)
    mean = np.linalg.solve(less, centre + part.T @ np.linalg.solve(quiet, y[rest]))
    across = noise[5, rest] @ np.linalg.inv(quiet)
    told = a[5] @ mean + across @ (y[rest] - part @ mean)
    assert found.left[5] == pytest.approx(y[5] - told, abs=1e-6)


@given(st.lists(st.floats(-6, 6), min_size=2, max_size=8), st.integers(0, 7), st.floats(0.01, 5))
def test_what_is_read_moves_what_is_learnt_one_way_and_never_back(values, which, more):
    """A loss that forgets what is far off let a faster reading teach a slower boat."""

    def middle(read):
        n = len(read)
        return likeliest(
            lambda b, _: (np.repeat(b, n), np.ones((n, 1))), np.array(read), np.full(n, 0.5), np.zeros((n, 0)),
            np.zeros(1), np.zeros(1), alone(n),
        ).mean[0]  # fmt: skip

    moved = list(values)
    moved[which % len(values)] += more
    assert middle(moved) >= middle(values) - 1e-4


@given(st.lists(st.floats(-3, 3), min_size=2, max_size=10))
def test_readings_that_contradict_each_other_count_as_less_sure(values):
    kinds = Kinds(of=np.zeros(len(values), dtype=np.int64), setup=np.zeros(len(values), dtype=np.int64))
    off, use = np.array(values), np.ones(len(values), dtype=bool)
    once, twice = scatter_of(off, kinds, use), scatter_of(3.0 * off, kinds, use)
    assert np.all(once >= 1.0)
    assert np.all(twice >= once)


def test_two_readings_that_contradict_each_other_widen_what_is_known():
    def width(read):
        kinds = Kinds(of=np.zeros(2, dtype=np.int64), setup=np.zeros(2, dtype=np.int64))
        found = likeliest(
            lambda b, _: (np.repeat(b, 2), np.ones((2, 1))), np.array(read), np.full(2, 0.1), np.zeros((2, 0)),
            np.zeros(1), np.zeros(1), kinds,
        )  # fmt: skip
        return math.sqrt(found.covariance.of(np.eye(1))[0, 0])

    assert width([1.0, -1.0]) > 3.0 * width([0.0, 0.0])


def test_the_weight_of_a_reading_that_is_far_off():
    assert weights_of(np.array([0.0, 2.0, -4.0])) == pytest.approx([1.0, 1.0, 0.5])


def test_what_readings_take_away_is_the_inverse_of_what_they_add():
    rng = np.random.default_rng(11)
    for _ in range(30):
        n, p = int(rng.integers(0, 20)), int(rng.integers(1, 30))
        table = rng.normal(size=(n, p)) * rng.choice([0.1, 1.0, 50.0])
        whole = np.linalg.inv(np.eye(p) + table.T @ table)
        found = NarrowedCovariance(np.linalg.solve(np.linalg.cholesky(np.eye(n) + table @ table.T), table))
        rows, columns = rng.normal(size=(4, p)), np.arange(p)
        assert found.of(rows) == pytest.approx(rows @ whole @ rows.T, rel=1e-6, abs=1e-8)
        assert found.variance(rows, columns) == pytest.approx(np.diag(rows @ whole @ rows.T), rel=1e-6, abs=1e-8)
        assert found.among(columns[: p // 2], columns) == pytest.approx(whole[: p // 2], rel=1e-6, abs=1e-8)
        assert found.first(1).of(np.ones((1, 1))) == pytest.approx(whole[:1, :1], rel=1e-6, abs=1e-8)
        wide = found.widened(2).of(np.eye(p + 2))
        assert wide[p:, p:] == pytest.approx(np.eye(2))
        assert wide[:p, p:] == pytest.approx(np.zeros((p, 2)))
