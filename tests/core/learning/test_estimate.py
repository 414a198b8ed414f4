"""The estimator against certified problems and closed forms.

Certified values of the nonlinear problems: NIST Statistical Reference Datasets, nonlinear regression (Misra1a, Rat42,
BoxBOD, DanWood), data and values from memory; a reference library's least squares is held beside them.
"""

import numpy as np
import pytest
from scipy.optimize import least_squares

from kunstflug.core.learning.arrow import Dense, Dual
from kunstflug.core.learning.estimate import FREEDOM, likeliest, weights_of
from kunstflug.core.quantity.narrowed import Narrowed


def left(found, precision):
    """Covariance at the end of a search (Laplace)."""
    return np.linalg.inv(precision + found.jacobian.T @ (found.weights[:, np.newaxis] * found.jacobian))


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


@pytest.mark.parametrize("name", CERTIFIED)
def test_certified_nonlinear_problems(name):
    model, y, start, values, deviations = CERTIFIED[name]
    found = likeliest(model, y, np.ones(len(y)), np.array(start), np.zeros(len(start)), freedom=np.inf)
    assert found.mean == pytest.approx(values, rel=1e-6)
    misfit = float(found.residuals @ found.residuals) / (len(y) - len(start))
    assert np.sqrt(np.diag(left(found, np.zeros((len(start), len(start))))) * misfit) == pytest.approx(
        deviations, rel=1e-5
    )
    beside = least_squares(lambda b: y - model(b)[0], values, jac=lambda b: -model(b)[1])
    assert found.mean == pytest.approx(beside.x, rel=1e-6)


def linear(rng, n=12, p=4):
    a = rng.normal(size=(n, p))
    return a, a @ rng.normal(size=p) + rng.normal(size=n) * 0.3


def test_a_linear_problem_with_a_prior_is_its_closed_form():
    rng = np.random.default_rng(1)
    a, y = linear(rng)
    prior = np.diag([1.0, 2.0, 0.5, 4.0])
    prior[0, 1] = prior[1, 0] = 0.3
    centre = np.array([0.1, -0.2, 0.3, 0.0])
    found = likeliest(lambda b: (a @ b, a), y, np.full(12, 0.3), np.zeros(4), prior, prior_mean=centre, freedom=np.inf)
    hessian = prior + a.T @ a / 0.09
    assert left(found, prior) == pytest.approx(np.linalg.inv(hessian), rel=1e-9)
    assert found.mean == pytest.approx(np.linalg.solve(hessian, prior @ centre + a.T @ y / 0.09), rel=1e-6)


def test_the_robust_end_is_the_minimum_of_its_own_loss():
    rng = np.random.default_rng(2)
    a, y = linear(rng)
    y[3] += 6.0
    found = likeliest(lambda b: (a @ b, a), y, np.full(12, 0.3), np.zeros(4), np.ones(4))

    def loss(b):
        r = (y - a @ b) / 0.3
        tail = 0.5 + 0.5 * (FREEDOM + 1) * np.log((FREEDOM + r**2) / (FREEDOM + 1))
        return np.sum(np.where(r**2 <= 1, 0.5 * r**2, tail)) + 0.5 * b @ b

    for k in range(4):
        for step in (-1e-3, 1e-3):
            moved = found.mean.copy()
            moved[k] += step
            assert loss(moved) > loss(found.mean)
    assert found.weights[3] < 0.1
    plain = likeliest(lambda b: (a @ b, a), y, np.full(12, 0.3), np.zeros(4), np.ones(4), freedom=np.inf)
    assert abs(found.residuals[3]) > abs(plain.residuals[3])


def test_weights_of_students_t():
    assert weights_of(np.array([0.0, 1.0, 2.0, -5.0]), 4.0) == pytest.approx([1.0, 1.0, 5 / 8, 5 / 29])
    assert weights_of(np.array([9.0]), np.inf) == pytest.approx([1.0])


def test_a_row_for_each_reading_gives_the_same_step_and_the_same_covariance():
    rng = np.random.default_rng(11)
    for _ in range(30):
        n, p = int(rng.integers(0, 20)), int(rng.integers(1, 30))
        table, prior = rng.normal(size=(n, p)) * rng.choice([0.1, 1.0, 50.0]), rng.uniform(0.5, 2, p)
        weights, gradient, damping = rng.uniform(0.1, 1, n), rng.normal(size=p), float(rng.choice([0.0, 1e-6, 0.3]))
        whole = Dense(table, np.diag(prior)).step(weights, gradient, damping)
        assert Dual(table, prior).step(weights, gradient, damping) == pytest.approx(whole, rel=1e-7, abs=1e-9)
        whole = np.linalg.inv(np.eye(p) + table.T @ table)
        found = Narrowed.by(table)
        rows, columns = rng.normal(size=(4, p)), np.arange(p)
        assert found.of(rows) == pytest.approx(rows @ whole @ rows.T, rel=1e-6, abs=1e-8)
        assert found.variance(rows, columns) == pytest.approx(np.diag(rows @ whole @ rows.T), rel=1e-6, abs=1e-8)
        assert found.first(1).of(np.ones((1, 1))) == pytest.approx(whole[:1, :1], rel=1e-6, abs=1e-8)
        root = found.drawn(np.eye(p))
        assert root @ root.T == pytest.approx(whole, rel=1e-6, abs=1e-8)
        wide = found.widened(2).of(np.eye(p + 2))
        assert wide[p:, p:] == pytest.approx(np.eye(2))
        assert wide[:p, p:] == pytest.approx(np.zeros((p, 2)))


def test_a_number_of_which_nothing_was_read_keeps_its_draws():
    slopes = np.array([[3.0, 0.0, 1.0]])
    z = np.random.default_rng(3).normal(size=(3, 8))
    assert Narrowed.by(slopes).drawn(z)[1] == pytest.approx(z[1])
