"""A covariance of many independent numbers of which few readings were taken: what these took away, not all the rest.

Before any reading it is the identity. n readings narrow it in n directions at most, however many numbers there are: a
racer with a hundred boats has thousands, and their table would take gigabytes and minutes.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.value import Array


@dataclass(frozen=True, eq=False, slots=True)
class NarrowedCovariance:
    """The covariance I - G^T G.

    Parameters
    ----------
    factor : G, shape (n, p).
    """

    factor: Array

    def __len__(self) -> int:
        return int(self.factor.shape[1])

    def of(self, table: Array) -> Array:
        """Covariance of mixtures, given by rows of shape (k, p); shape (k, k)."""
        taken = table @ self.factor.T
        found: Array = table @ table.T - taken @ taken.T
        return found

    def among(self, rows: npt.NDArray[np.int64], columns: npt.NDArray[np.int64]) -> Array:
        """Covariance of some of the numbers with some, shape (len(rows), len(columns))."""
        found: Array = (rows[:, np.newaxis] == columns) - self.factor[:, rows].T @ self.factor[:, columns]
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

    def first(self, m: int) -> "NarrowedCovariance":
        """Of the first numbers alone."""
        return NarrowedCovariance(np.ascontiguousarray(self.factor[:, :m]))

    def widened(self, more: int) -> "NarrowedCovariance":
        """With more numbers, of which nothing was read."""
        return NarrowedCovariance(np.hstack([self.factor, np.zeros((len(self.factor), more))]))
