"""One step of the search: normal equations, dense, or in the space of the readings.

A racer's hundred runs have some five numbers of their own each, and a hundred boats some fifty each: thousands, about
which there are a few hundred readings. Solved with one row a reading (M. A. Woodbury, Inverting modified matrices,
Princeton (1950)), a step takes a hundredth. The steps are the same ones.
"""

from typing import Final, Protocol

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.value import Array

LEAST: Final = 1e-30

Indices = npt.NDArray[np.int64]


class Normal(Protocol):
    """Solves (P + J^T W J + damping diag) step = gradient for one J and a prior P."""

    def step(self, weights: Array, gradient: Array, damping: float) -> Array:
        """The step, shape (p,)."""


def square(jacobian: Array, weights: Array) -> Array:
    """J^T W J; as the product of an array with itself it takes half the time."""
    rooted = jacobian * np.sqrt(weights)[:, np.newaxis]
    found: Array = rooted.T @ rooted
    return found


class Dense:
    """Solves the whole table in one step.

    Parameters
    ----------
    jacobian : shape (n, p).
    prior : its precision, shape (p, p).
    """

    def __init__(self, jacobian: Array, prior: Array) -> None:
        self.jacobian, self.prior = jacobian, prior

    def step(self, weights: Array, gradient: Array, damping: float) -> Array:
        """The step, shape (p,)."""
        hessian = self.prior + square(self.jacobian, weights)
        damped = hessian + damping * np.diag(np.maximum(np.diag(hessian), LEAST))
        return np.asarray(np.linalg.solve(damped, gradient), dtype=np.float64)


class Dual:
    """Solves it with a row for each reading.

    Parameters
    ----------
    jacobian : shape (n, p).
    prior : the diagonal of its precision, shape (p,); none of it 0.
    """

    def __init__(self, jacobian: Array, prior: Array) -> None:
        self.jacobian, self.prior = jacobian, prior

    def step(self, weights: Array, gradient: Array, damping: float) -> Array:
        """The step, shape (p,)."""
        rooted = self.jacobian * np.sqrt(weights)[:, np.newaxis]
        own = self.prior + damping * np.maximum(self.prior + np.einsum("ij,ij->j", rooted, rooted), LEAST)
        level = rooted / np.sqrt(own)
        inside = np.eye(len(rooted)) + level @ level.T
        along = gradient / own
        found: Array = along - (rooted.T @ np.linalg.solve(inside, rooted @ along)) / own
        return found
