"""What was read over one or several knobs: a Gaussian process on what the model leaves over, days taken out.

[rasmussen2006] C. E. Rasmussen, C. K. I. Williams, Gaussian Processes for Machine Learning (2006), ch. 2, 4, 5: the
posterior by Cholesky's factor (algorithm 2.1), Matern's kernel of order 5/2 (4.17), the marginal likelihood (5.8).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, Final

import numpy as np
import numpy.typing as npt
import scipy

from kunstflug.core.evidence.instruments import DAY
from kunstflug.core.quantity.value import Array

LEVEL: Final = 0.3
"""Spread of the level itself: the curve says what a knob changes, not where it lies."""
USUAL_REACH: Final = 5.0  # steps over which a curve bends (common practice, no source)
REACH_SPREAD: Final = 0.7
BOWL: Final = 4.0  # steps over which a bowl is worth as much as the knob (common practice, no source)
BESIDE: Final = 0.8  # how much of the curve is no bowl, beside that
USUAL_SIZE: Final = 0.05  # what a knob is worth [logarithm] (common practice, no source)
SIZE_SPREAD: Final = 0.8


def matern52(a: Array, b: Array) -> Array:
    """Matern's kernel of order 5/2 between rows of two tables, shape (n, m); lengths are those of the columns.

    Examples
    --------
    >>> round(float(matern52(np.array([[0.0]]), np.array([[1.0]]))[0, 0]), 4)
    0.524
    """
    apart = np.sqrt(np.maximum(np.sum((a[:, np.newaxis, :] - b[np.newaxis, :, :]) ** 2, axis=2), 0.0)) * math.sqrt(5.0)
    found: Array = (1.0 + apart + apart**2 / 3.0) * np.exp(-apart)
    return found


def kernel(a: Array, b: Array, reach: Array, size: float) -> Array:
    """Covariance of the curve between settings, shape (n, m): its level, a bowl or a slope, and what bends beside.

    Most knobs have one best setting with a bowl about it, which a polynomial of the second degree says in few runs;
    Matern's part takes what is no bowl.
    """
    level: Array = LEVEL**2 + size**2 * ((1.0 + (a / BOWL) @ (b / BOWL).T) ** 2 - 1.0)
    return level + (BESIDE * size) ** 2 * matern52(a / reach, b / reach)


@dataclass(frozen=True, slots=True, kw_only=True)
class Points:
    """What was read.

    Parameters
    ----------
    at : settings in steps of each knob, shape (n, k).
    read : logarithms of what was read over what the model says, shape (n,).
    spread : of each, shape (n,).
    day : a number for each day, shape (n,).
    """

    at: Array
    read: Array
    spread: Array
    day: npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Curve:
    """What the points say of all settings.

    Parameters
    ----------
    reach : of each knob, steps, shape (k,).
    size : of what the knobs change.
    """

    points: Points
    reach: Array
    size: float
    factor: tuple[Array, bool]
    weights: Array

    def at(self, where: Array) -> tuple[Array, Array]:
        """Mean, shape (m,), and covariance, shape (m, m), at some settings in steps, shape (m, k)."""
        cross = self._kernel(where, self.points.at)
        own = self._kernel(where, where)
        covariance = own - cross @ scipy.linalg.cho_solve(self.factor, cross.T)
        return cross @ self.weights, np.asarray(covariance, dtype=np.float64)

    def beside(self, where: Array, one: Array) -> tuple[Array, Array]:
        """How much better settings are than one of them, and the spread of that, shape (m,); the level falls out."""
        mean, covariance = self.at(np.concatenate([one[np.newaxis], where]))
        own = covariance[0, 0] + np.diag(covariance)[1:] - 2.0 * covariance[0, 1:]
        return mean[1:] - mean[0], np.sqrt(np.maximum(own, 0.0))

    def _kernel(self, a: Array, b: Array) -> Array:
        return kernel(a, b, self.reach, self.size)


def curve_of(points: Points) -> Curve:
    """The likeliest curve; how far and how much the knobs act is found with it, held near what is usual."""
    start = _start(points)
    best = start
    if len(points.read) > 1:
        bounds = [(m - 3.0 * s, m + 3.0 * s) for m, s in zip(start, _spread(points), strict=True)]
        costs: Any = partial(cost, points)  # the stubs know no slopes of an array of any shape
        best = scipy.optimize.minimize(costs, start, method="L-BFGS-B", bounds=bounds, jac=True).x
    reach, size = np.exp(best[:-1]), math.exp(best[-1])
    factor, weights = _fitted(points, kernel(points.at, points.at, reach, size))
    return Curve(points=points, reach=reach, size=size, factor=factor, weights=weights)


def _start(points: Points) -> Array:
    return np.log([*[USUAL_REACH] * points.at.shape[1], USUAL_SIZE])


def _spread(points: Points) -> Array:
    return np.array([*[REACH_SPREAD] * points.at.shape[1], SIZE_SPREAD])


def cost(points: Points, at: Array) -> tuple[float, Array]:
    """What a curve costs by the logarithms of its reaches and its size, shape (k + 1,), and its slopes by them.

    The marginal likelihood and its slopes are [rasmussen2006] (5.8) and (5.9), beside what is usual.
    """
    reach, size = np.exp(at[:-1]), math.exp(at[-1])
    beside = (BESIDE * size) ** 2
    along = ((points.at[:, np.newaxis, :] - points.at[np.newaxis, :, :]) / reach) ** 2
    apart = np.sqrt(5.0 * np.sum(along, axis=2))
    own = kernel(points.at, points.at, reach, size)
    factor, weights = _fitted(points, own)
    inverse = np.asarray(scipy.linalg.cho_solve(factor, np.eye(len(weights))), dtype=np.float64)
    pull = 0.5 * (inverse - np.outer(weights, weights))
    falls = pull * beside * (5.0 / 3.0) * (1.0 + apart) * np.exp(-apart)
    slopes = np.append(np.einsum("ij,ijk->k", falls, along), 2.0 * np.sum(pull * (own - LEVEL**2)))
    off = (at - _start(points)) / _spread(points)
    marginal = 0.5 * float(points.read @ weights) + float(np.sum(np.log(np.diag(factor[0]))))
    return marginal + 0.5 * float(off @ off), slopes + off / _spread(points)


def _fitted(points: Points, own: Array) -> tuple[tuple[Array, bool], Array]:
    same_day = points.day[:, np.newaxis] == points.day[np.newaxis, :]
    factor = scipy.linalg.cho_factor(own + DAY**2 * same_day + np.diag(points.spread**2), lower=True)
    return factor, np.asarray(scipy.linalg.cho_solve(factor, points.read), dtype=np.float64)


def days_of(names: Sequence[str]) -> npt.NDArray[np.int64]:
    """A number for each of some days."""
    found = {name: k for k, name in enumerate(dict.fromkeys(names))}
    return np.array([found[name] for name in names], dtype=np.int64)
