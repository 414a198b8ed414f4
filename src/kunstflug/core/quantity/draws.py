"""Draws of uncertain values, spread evenly, so that few of them make a steady band."""

from statistics import NormalDist
from typing import Final

import numpy as np
import numpy.typing as npt

# The library's own array form takes a third of a second to load, longer than all draws of a forecast take.
_INVERSE: Final = np.frompyfunc(NormalDist().inv_cdf, 1, 1)


def even_deviates(fields: int, count: int, seed: int) -> npt.NDArray[np.float64]:
    """Standard normal deviates, shape (fields, count): a Latin hypercube with its chance correlations taken out.

    Each field has one draw in each of ``count`` equally likely slices (M. D. McKay, R. J. Beckman, W. J. Conover,
    Technometrics 21 (1979) 239-245). With more draws than fields the rows are then made uncorrelated with the
    Cholesky factor of their own covariance (after R. L. Iman, W. J. Conover, Comm. Statist. B 11 (1982) 311-334, from
    memory): the variance of any sum is then that of independent deviates, not one that chance has added to.
    """
    rng = np.random.default_rng(seed)
    if count == 0:
        return np.empty((fields, 0))
    slices = rng.permuted(np.tile(np.arange(count), (fields, 1)), axis=1)
    z: npt.NDArray[np.float64] = np.asarray(_INVERSE((slices + rng.random((fields, count))) / count), dtype=np.float64)
    if count > 2 * fields:
        z -= z.mean(axis=1, keepdims=True)
        z = np.linalg.solve(np.linalg.cholesky(z @ z.T / count), z)
    return z
