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
CURVED: Final = 0.8  # how far a knob's bowl opens downward before runs tell (common practice, no source)
CURVED_SPREAD: Final = 0.5
TWISTED: Final = 0.5  # how far two knobs lean on each other
BESIDE: Final = 0.4  # how much of the curve is no bowl, beside that
USUAL_SIZE: Final = 0.05  # what a knob is worth [logarithm] (common practice, no source)
SIZE_SPREAD: Final = 0.8
REPEATS: Final = 0.01
"""Of one run to the next beside what the instrument says, before runs tell [logarithm] (common practice, no source)."""
REPEATS_SPREAD: Final = 0.5


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
    Matern's part takes what is no bowl. Settings are steps from where the first run stood.
    """
    a, b, reach = a / BOWL, b / BOWL, reach / BOWL
    product, square = a @ b.T, (a**2) @ (b**2).T
    bowl: Array = 2.0 * product + CURVED_SPREAD**2 * square + TWISTED**2 * (product**2 - square) / 2.0
    return LEVEL**2 + size**2 * (bowl + BESIDE**2 * matern52(a / reach, b / reach))


def usual_bowl(at: Array, size: float) -> Array:
    """What is to be expected of settings before runs tell, shape (n,): a bowl about where the first run stood."""
    found: Array = -CURVED * size * np.sum((at / BOWL) ** 2, axis=1)
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Points:
    """What was read.

    Parameters
    ----------
    at : settings in steps of each knob, shape (n, k).
    read : logarithms of what was read over what the model says, shape (n,).
    spread : of each, shape (n,).
    day : a number for each day, shape (n,).
    repeats : how well this racer's runs repeat beside their own spread, before these runs tell [logarithm].
    """

    at: Array
    read: Array
    spread: Array
    day: npt.NDArray[np.int64]
    repeats: float = REPEATS


@dataclass(frozen=True, slots=True, kw_only=True)
class Curve:
    """What the points say of all settings.

    Parameters
    ----------
    reach : of each knob, steps, shape (k,).
    size : of what the knobs change.
    repeats : of one run to the next beside its own spread, as these runs say [logarithm].
    """

    points: Points
    reach: Array
    size: float
    repeats: float
    factor: tuple[Array, bool]
    weights: Array

    def at(self, where: Array) -> tuple[Array, Array]:
        """Mean, shape (m,), and covariance, shape (m, m), at some settings in steps, shape (m, k)."""
        where, tried = where - self.points.at[0], self.points.at - self.points.at[0]
        cross, own = (kernel(where, b, self.reach, self.size) for b in (tried, where))
        covariance = own - cross @ scipy.linalg.cho_solve(self.factor, cross.T)
        return usual_bowl(where, self.size) + cross @ self.weights, np.asarray(covariance, dtype=np.float64)

    def beside(self, where: Array, one: Array) -> tuple[Array, Array]:
        """How much better settings are than one of them, and the spread of that, shape (m,); the level falls out."""
        mean, covariance = self.at(np.concatenate([one[np.newaxis], where]))
        own = covariance[0, 0] + np.diag(covariance)[1:] - 2.0 * covariance[0, 1:]
        return mean[1:] - mean[0], np.sqrt(np.maximum(own, 0.0))


def curve_of(points: Points) -> Curve:
    """The likeliest curve; how far and how much the knobs act, and how well runs repeat, is found with it."""
    start = _start(points)
    best = start
    if len(points.read) > 1:
        bounds = [(m - 3.0 * s, m + 3.0 * s) for m, s in zip(start, _spread(points), strict=True)]
        costs: Any = partial(cost, points)  # the stubs know no slopes of an array of any shape
        best = scipy.optimize.minimize(costs, start, method="L-BFGS-B", bounds=bounds, jac=True).x
    reach, size, repeats = np.exp(best[:-2]), math.exp(best[-2]), math.exp(best[-1])
    at = points.at - points.at[0]
    factor, weights = _fitted(points, kernel(at, at, reach, size), usual_bowl(at, size), repeats)
    return Curve(points=points, reach=reach, size=size, repeats=repeats, factor=factor, weights=weights)


def _start(points: Points) -> Array:
    return np.log([*[USUAL_REACH] * points.at.shape[1], USUAL_SIZE, points.repeats])


def _spread(points: Points) -> Array:
    return np.array([*[REACH_SPREAD] * points.at.shape[1], SIZE_SPREAD, REPEATS_SPREAD])


def cost(points: Points, at: Array) -> tuple[float, Array]:
    """What a curve costs, and its slopes, by the logarithms of its reaches, its size and how runs repeat (k + 2).

    The marginal likelihood and its slopes are [rasmussen2006] (5.8) and (5.9), beside what is usual.
    """
    reach, size, repeats = np.exp(at[:-2]), math.exp(at[-2]), math.exp(at[-1])
    beside, where = (BESIDE * size) ** 2, points.at - points.at[0]
    along = ((where[:, np.newaxis, :] - where[np.newaxis, :, :]) / reach) ** 2
    apart = np.sqrt(5.0 * np.sum(along, axis=2))
    own, bowl = kernel(where, where, reach, size), usual_bowl(where, size)
    factor, weights = _fitted(points, own, bowl, repeats)
    inverse = np.asarray(scipy.linalg.cho_solve(factor, np.eye(len(weights))), dtype=np.float64)
    pull = 0.5 * (inverse - np.outer(weights, weights))
    falls = pull * beside * (5.0 / 3.0) * (1.0 + apart) * np.exp(-apart)
    last = [2.0 * np.sum(pull * (own - LEVEL**2)) - bowl @ weights, 2.0 * repeats**2 * np.trace(pull)]
    slopes = np.concatenate([np.einsum("ij,ijk->k", falls, along), last])
    off = (at - _start(points)) / _spread(points)
    marginal = 0.5 * float((points.read - bowl) @ weights) + float(np.sum(np.log(np.diag(factor[0]))))
    return marginal + 0.5 * float(off @ off), slopes + off / _spread(points)


def _fitted(points: Points, own: Array, bowl: Array, repeats: float) -> tuple[tuple[Array, bool], Array]:
    same_day = points.day[:, np.newaxis] == points.day[np.newaxis, :]
    factor = scipy.linalg.cho_factor(own + DAY**2 * same_day + np.diag(points.spread**2 + repeats**2), lower=True)
    return factor, np.asarray(scipy.linalg.cho_solve(factor, points.read - bowl), dtype=np.float64)


def days_of(names: Sequence[str]) -> npt.NDArray[np.int64]:
    """A number for each of some days."""
    found = {name: k for k, name in enumerate(dict.fromkeys(names))}
    return np.array([found[name] for name in names], dtype=np.int64)
