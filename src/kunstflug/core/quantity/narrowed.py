"""A covariance of many independent numbers of which few readings were taken: what these took away, not all the rest.

Before any reading it is the identity. n readings narrow it in n directions at most, however many numbers there are: a
racer with a hundred boats has thousands, and their table would take gigabytes and minutes.
"""

from dataclasses import dataclass
from typing import Self

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.value import Array


@dataclass(frozen=True, eq=False, slots=True)
class Narrowed:
    """The covariance I - G^T G.

    Parameters
    ----------
    factor : G, shape (n, p).
    """

    factor: Array

    @classmethod
    def by(cls, slopes: Array) -> Self:
        """What readings leave of the identity, the inverse of I + J^T J (M. A. Woodbury, 1950).

        Parameters
        ----------
        slopes : J, of each reading in its spreads, shape (n, p).
        """
        lower = np.linalg.cholesky(np.eye(len(slopes)) + slopes @ slopes.T)
        return cls(np.linalg.solve(lower, slopes))

    def __len__(self) -> int:
        return int(self.factor.shape[1])

    def of(self, table: Array) -> Array:
        """Covariance of mixtures, given by rows of shape (k, p); shape (k, k)."""
        taken = table @ self.factor.T
        found: Array = table @ table.T - taken @ taken.T
        return found

    def variance(self, table: Array, columns: npt.NDArray[np.int64]) -> Array:
        """Variance of mixtures of some of the numbers, shape (k,).

        Parameters
        ----------
        table : shape (k, c).
        columns : which numbers these are, shape (c,).
        """
        taken = table @ self.factor[:, columns].T
        found: Array = np.maximum(np.sum(table**2, axis=1) - np.sum(taken**2, axis=1), 0.0)
        return found

    def first(self, m: int) -> "Narrowed":
        """Of the first numbers alone."""
        return Narrowed(np.ascontiguousarray(self.factor[:, :m]))

    def widened(self, more: int) -> "Narrowed":
        """With more numbers, of which nothing was read."""
        return Narrowed(np.hstack([self.factor, np.zeros((len(self.factor), more))]))

    def drawn(self, deviates: Array) -> Array:
        """Independent deviates made to have this covariance, by its symmetric root; shape (p, S) as they were.

        A number of which nothing was read keeps its own.
        """
        values, vectors = np.linalg.eigh(self.factor @ self.factor.T)
        values = np.clip(values, 0.0, 1.0)
        part = np.where(values > 1e-12, (1.0 - np.sqrt(1.0 - values)) / np.maximum(values, 1e-300), 0.5)
        turned = vectors.T @ (self.factor @ deviates)
        found: Array = deviates - self.factor.T @ (vectors @ (part[:, np.newaxis] * turned))
        return found
