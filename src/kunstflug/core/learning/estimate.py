"""Maximum a posteriori by Gauss-Newton with a robust loss, and the posterior at its end (Laplace)."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.learning.arrow import Dense, Normal
from kunstflug.core.quantity.narrowed import Narrowed
from kunstflug.core.quantity.value import Array

FREEDOM: Final = 4.0
"""Degrees of freedom of the loss: with 4, a reading five spreads off counts a fifth (K. L. Lange, R. J. A. Little,
J. M. G. Taylor, J. Am. Stat. Assoc. 84 (1989) 881-896)."""
MOST_STEPS: Final = 400
DONE: Final = 1e-9
ENOUGH: Final = 1e-7  # see ``enough``
FIRST_DAMPING: Final = 1e-6
ROUNDED: Final = 1e-10  # added to each variance against rounding, in units of the variance before any run

Model = Callable[[Array], tuple[Array, Array]]
"""Of parameters of shape (p,): what would be read, shape (n,), and its Jacobian, shape (n, p)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ended:
    """The end of a search.

    Parameters
    ----------
    mean : shape (p,).
    residuals : read less said, in spreads, shape (n,).
    weights : what the robust loss leaves of each reading, 0 to 1, shape (n,).
    jacobian : in spreads, shape (n, p).
    """

    mean: Array
    residuals: Array
    weights: Array
    jacobian: Array
    steps: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Estimate(Ended):
    """The end of a search and what is known there.

    Parameters
    ----------
    covariance : of the Laplace approximation, for p parameters.
    """

    covariance: Narrowed


def weights_of(residuals: Array, freedom: float) -> Array:
    """Weight of each reading under Student's t with some degrees of freedom, at most 1; all 1 for infinitely many."""
    if not np.isfinite(freedom):
        return np.ones_like(residuals)
    found: Array = np.minimum((freedom + 1.0) / (freedom + residuals**2), 1.0)
    return found


def loss(residuals: Array, freedom: float) -> float:
    """What readings cost, in spreads; the flat middle of the capped weights is Gaussian."""
    if not np.isfinite(freedom):
        return 0.5 * float(residuals @ residuals)
    inside = residuals**2 <= 1.0
    tail = 0.5 + 0.5 * (freedom + 1.0) * np.log((freedom + residuals**2) / (freedom + 1.0))
    return float(np.sum(np.where(inside, 0.5 * residuals**2, tail)))


def with_posterior(ended: Ended) -> Estimate:
    """The posterior at the end of a search (Laplace), about a prior of spread 1 each."""
    return Estimate(
        mean=ended.mean,
        residuals=ended.residuals,
        weights=ended.weights,
        jacobian=ended.jacobian,
        steps=ended.steps,
        covariance=Narrowed.by(ended.jacobian * np.sqrt(ended.weights)[:, np.newaxis]),
    )


def root_of(covariance: Array) -> Array:
    """A square root A of a covariance, A A^T, shape (n, n), also where rounding has made an eigenvalue negative."""
    even = 0.5 * (covariance + covariance.T)
    try:
        return np.asarray(np.linalg.cholesky(even + ROUNDED * np.eye(len(even))), dtype=np.float64)
    except np.linalg.LinAlgError:
        values, vectors = np.linalg.eigh(even)
        return np.asarray(vectors * np.sqrt(np.maximum(values, 0.0)), dtype=np.float64)


def _prior(precision: Array) -> Array:
    return np.diag(precision) if precision.ndim == 1 else precision


def _times(precision: Array, at: Array) -> Array:
    found: Array = precision * at if precision.ndim == 1 else precision @ at
    return found


def likeliest(
    model: Model,
    read: Array,
    spread: Array,
    start: Array,
    precision: Array,
    *,
    prior_mean: Array | None = None,
    freedom: float = FREEDOM,
    enough: float = ENOUGH,
    normal: Callable[[Array], Normal] | None = None,
) -> Ended:
    """Parameters that are likeliest given readings and a Gaussian prior.

    Levenberg-Marquardt (J. Nocedal, S. J. Wright, Numerical Optimization (2006), ch. 10) on iteratively reweighted
    least squares.

    Parameters
    ----------
    read, spread : readings and one standard deviation of each, shape (n,).
    precision : of the prior, shape (p,) (diagonal) or (p, p); zeros for none.
    prior_mean : shape (p,); zeros if None.
    freedom : of Student's t; infinite for least squares.
    normal : of a Jacobian in spreads, what solves for a step; dense if None.
    enough : part of what is minimised, below which a step gains nothing and the search ends, where there is a prior.
    """
    at = np.array(start, dtype=np.float64)
    centre = np.zeros_like(at) if prior_mean is None else prior_mean
    said, slope = model(at)
    residuals, jacobian = (read - said) / spread, slope / spread[:, np.newaxis]
    made = normal or (lambda table: Dense(table, _prior(precision)))
    solver, last = made(jacobian), slope
    damping, steps = FIRST_DAMPING, 0
    held = bool(precision.any())
    cost = loss(residuals, freedom) + 0.5 * float((at - centre) @ _times(precision, at - centre))
    while steps < MOST_STEPS:
        steps += 1
        weights = weights_of(residuals, freedom)
        gradient = jacobian.T @ (weights * residuals) - _times(precision, at - centre)
        step = solver.step(weights, gradient, damping)
        tried = at + step
        said, slope = model(tried)
        new = (read - said) / spread
        new_cost = loss(new, freedom) + 0.5 * float((tried - centre) @ _times(precision, tried - centre))
        if not np.isfinite(new_cost) or new_cost > cost * (1 + 1e-12) + 1e-300:
            damping *= 10.0
            if damping > 1e12:
                break
            continue
        damping = max(damping / 10.0, 1e-15)
        gained, at, residuals, cost = cost - new_cost, tried, new, new_cost
        if slope is not last:  # a straight model hands out the same slopes
            jacobian, last = slope / spread[:, np.newaxis], slope
            solver = made(jacobian)
        scale = np.maximum(np.abs(at), 1e-12) if not held else 1.0
        if np.max(np.abs(step) / scale, initial=0.0) < DONE or (held and gained < enough * max(cost, 1e-3)):
            break
    return Ended(mean=at, residuals=residuals, weights=weights_of(residuals, freedom), jacobian=jacobian, steps=steps)
