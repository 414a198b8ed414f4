"""One step of the search: normal equations, dense, or with what belongs to single runs taken out of them first.

Of a racer's hundred runs three quarters of all latents belong to one run each (its luck, its heat, its charge), and
nearly all of their columns is empty. Taken out run by run (Schur's complement; J. Nocedal, S. J. Wright, Numerical
Optimization (2006), ch. 16.2), they leave a quarter of the table to be solved. The steps are the same ones.
"""

from collections.abc import Sequence
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


class Arrow:
    """Columns that belong to one block of rows each are taken out first.

    Parameters
    ----------
    jacobian : shape (n, p).
    prior : the diagonal of its precision, shape (p,).
    rows, columns : of each block; its columns are empty in all other rows, and no column is in two blocks.
    """

    def __init__(self, jacobian: Array, prior: Array, rows: Sequence[Indices], columns: Sequence[Indices]) -> None:
        p = jacobian.shape[1]
        self.rows, self.there = _padded(rows)
        self.columns, self.real = _padded(columns)
        own = np.concatenate([np.zeros(0, dtype=np.int64), *columns])
        self.shared = np.setdiff1d(np.arange(p), own)
        self.prior = prior
        self.wide = np.ascontiguousarray(jacobian[:, self.shared])
        # Where a block has fewer rows or columns than the widest one, zeros stand.
        self.a = self.wide[self.rows] * self.there[:, :, np.newaxis]
        inside = jacobian[self.rows[:, :, np.newaxis], self.columns[:, np.newaxis, :]]
        self.b = inside * self.there[:, :, np.newaxis] * self.real[:, np.newaxis, :]

    def step(self, weights: Array, gradient: Array, damping: float) -> Array:
        """The step, shape (p,)."""
        bw = (self.b * weights[self.rows][:, :, np.newaxis]).swapaxes(1, 2)
        cross = bw @ self.a
        own = bw @ self.b
        k = own.shape[1]
        own[:, range(k), range(k)] += np.where(self.real, self.prior[self.columns], 1.0)
        own[:, range(k), range(k)] *= 1.0 + damping
        among = square(self.wide, weights)
        line = np.arange(len(self.shared))
        among[line, line] += self.prior[self.shared]
        among[line, line] = among[line, line] + damping * np.maximum(among[line, line], LEAST)

        g_own = np.where(self.real, gradient[self.columns], 0.0)[:, :, np.newaxis]
        solved = np.linalg.solve(own, np.concatenate([cross, g_own], axis=2))
        flat = cross.reshape(-1, len(self.shared))
        among -= flat.T @ solved[:, :, :-1].reshape(-1, len(self.shared))
        wide = np.linalg.solve(among, gradient[self.shared] - flat.T @ solved[:, :, -1].ravel())

        step = np.zeros(len(gradient))
        step[self.shared] = wide
        step[self.columns[self.real]] = (solved[:, :, -1] - solved[:, :, :-1] @ wide)[self.real]
        return step


def _padded(parts: Sequence[Indices]) -> tuple[Indices, npt.NDArray[np.bool_]]:
    """Lists of numbers as one table, filled up with 0, and where it is filled."""
    most = max((len(part) for part in parts), default=0)
    table = np.zeros((len(parts), most), dtype=np.int64)
    there = np.arange(most) < np.array([len(part) for part in parts], dtype=np.int64)[:, np.newaxis]
    table[there] = np.concatenate([np.zeros(0, dtype=np.int64), *parts])
    return table, there
