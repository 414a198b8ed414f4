"""The likeliest numbers under many readings, in the space of the readings; one minimum, whatever comes first.

Gauss and Newton's steps about laws that are asked anew at each (J. Nocedal, S. J. Wright, Numerical Optimization
(2006), ch. 10), solved with one row a reading (M. A. Woodbury, Inverting modified matrices, Princeton (1950)). A
reading that is far off pulls with a steady force and no more (P. J. Huber, Ann. Math. Statist. 35 (1964) 73-101): the
loss is convex, so that what was typed moves what is learnt one way, and never back. Where readings of one kind
contradict each other more than their spreads say, all of them count as so much less sure.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.linalg import cho_factor, cho_solve

from kunstflug.core.quantity.narrowed import NarrowedCovariance
from kunstflug.core.quantity.value import Array

BENDS: Final = 2.0
"""Spreads past which a reading pulls no harder."""
USUAL_RUNS: Final = 4.0
"""Readings that the spreads as they are given count for, before their own scatter is known (common practice, no
source)."""
FARTHEST: Final = 3.0  # times the usual scatter, past which one reading says nothing of the others'
HALF_NORMAL: Final = 0.455  # median of the square of a standard normal number
OUT: Final = 1e-6  # weight of a reading that is left out
MOST_STEPS: Final = 40
LEAST_PART: Final = 1 / 4096
DONE: Final = 1e-5  # of a spread before any run
SETTLED: Final = 1e-4
ROUNDED: Final = 1e-10  # added to each variance against rounding, in units of the variance before any run

Indices = npt.NDArray[np.int64]
Model = Callable[[Array, bool], tuple[Array, Array]]
"""Of numbers of shape (m,), and whether slopes are wanted: what would be read, (n,), and its slopes, (n, m)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Kinds:
    """Which readings are of one kind, and of one setup.

    Parameters
    ----------
    of : kind of each reading, shape (n,): their scatter is one.
    setup : shape (n,): the mean of those of one setup is not known beforehand.
    """

    of: Indices
    setup: Indices


@dataclass(frozen=True, slots=True, kw_only=True)
class Estimate:
    """The end of a search and what is known there.

    Parameters
    ----------
    mean : shape (m,).
    beside : likeliest of what belongs to days, instruments, runs and laws, shape (q,).
    off : read less said, shape (n,).
    weights : what is left of each reading, 0 to 1, shape (n,).
    slopes : shape (n, m).
    covariance : of the m and the q (Laplace).
    left, left_spread : each reading less what all others say of it, and the spread of that, shape (n,).
    """

    mean: Array
    beside: Array
    off: Array
    weights: Array
    slopes: Array
    covariance: NarrowedCovariance
    left: Array
    left_spread: Array
    steps: int


def weights_of(off: Array) -> Array:
    """What a reading counts that is so many spreads off, shape (n,)."""
    found: Array = np.minimum(BENDS / np.maximum(np.abs(off), 1e-12), 1.0)
    return found


def scatter_of(off: Array, kinds: Kinds, use: npt.NDArray[np.bool_]) -> Array:
    """By how much readings of a kind scatter more than their spreads say: factor on the variance of each, shape (n,).

    Parameters
    ----------
    off : in spreads, with all that is open of a reading; shape (n,).
    use : which of them count.
    """
    found = np.ones(len(off))
    for kind in np.unique(kinds.of):
        mine = (kinds.of == kind) & use
        count = int(mine.sum())
        free = count - len(np.unique(kinds.setup[mine]))
        if free <= 0:
            continue
        squares = off[mine] ** 2
        usual = max(float(np.median(squares)) / HALF_NORMAL, 1.0)
        whole = float(np.sum(np.minimum(squares, FARTHEST**2 * usual)))
        found[kinds.of == kind] = max((USUAL_RUNS + whole * free / count) / (USUAL_RUNS + free), 1.0)
    return found


def likeliest(
    model: Model,
    read: Array,
    spread: Array,
    beside: Array,
    centre: Array,
    start: Array,
    kinds: Kinds,
    out: npt.NDArray[np.bool_] | None = None,
    *,
    done: float = DONE,
) -> Estimate:
    """Numbers that are likeliest given readings; about a prior of spread 1 each.

    Parameters
    ----------
    read, spread : readings and one standard deviation of each, shape (n,).
    beside : readings by what belongs to days, instruments, runs and laws, shape (n, q).
    centre, start : of the numbers before any reading, and where the search begins, shape (m,).
    out : readings that do not count.
    done : in spreads before any reading: a step that is shorter ends the search.
    """
    at, common = np.array(start), beside @ beside.T
    use = np.ones(len(read), dtype=bool) if out is None else ~out
    noise = np.where(use, spread**2, spread**2 / OUT)
    whole = np.sqrt(spread**2 + np.diag(common))
    value, slopes = model(at, True)
    steps = 0
    while steps < MOST_STEPS:
        steps += 1
        off = read - value
        pull = _pull(slopes, common, noise, off + slopes @ (at - centre))
        new = centre + slopes.T @ pull
        tried, value = _as_far_as_it_is_better(model, read, common, noise, centre, at, new, value)
        moved = float(np.max(np.abs(tried - at), initial=0.0))
        at = tried
        scatter = scatter_of((read - value) / whole, kinds, use)
        wide = np.sqrt(scatter) * spread
        weights = weights_of(noise * pull / wide)
        fresh = np.where(use, wide**2 / weights, spread**2 / OUT)
        changed = float(np.max(np.abs(np.log(fresh / noise)), initial=0.0))
        if moved < done and changed < max(SETTLED, done):
            break
        noise = fresh
        value, slopes = model(at, True)
    return _ended(at, read - value, slopes, beside, common, noise, spread, use, centre, steps)


def unmoved(model: Model, read: Array, spread: Array, beside: Array, at: Array, out: npt.NDArray[np.bool_]) -> Estimate:
    """What readings say of each other about some numbers, before any search."""
    value, slopes = model(at, True)
    noise = np.where(out, spread**2 / OUT, spread**2)
    return _ended(at, read - value, slopes, beside, beside @ beside.T, noise, spread, ~out, at, 0)


def _pull(slopes: Array, common: Array, noise: Array, target: Array) -> Array:
    inside = slopes @ slopes.T + common + np.diag(noise)
    found: Array = cho_solve(cho_factor(inside, lower=True, check_finite=False), target, check_finite=False)
    return found


def _as_far_as_it_is_better(
    model: Model,
    read: Array,
    common: Array,
    noise: Array,
    centre: Array,
    at: Array,
    new: Array,
    value: Array,
) -> tuple[Array, Array]:
    """The step, halved until the laws themselves agree better with what was read; and what they say there."""
    inside = cho_factor(common + np.diag(noise), lower=True, check_finite=False)

    def cost(where: Array, said: Array) -> float:
        off = read - said
        found = 0.5 * float((where - centre) @ (where - centre) + off @ cho_solve(inside, off, check_finite=False))
        return found if np.isfinite(found) else np.inf

    before, part = cost(at, value), 1.0
    while part >= LEAST_PART:
        tried = at + part * (new - at)
        said, _ = model(tried, False)
        if cost(tried, said) <= before * (1 + 1e-9) + 1e-12:
            return tried, said
        part *= 0.5
    return at, value


def _ended(
    at: Array,
    off: Array,
    slopes: Array,
    beside: Array,
    common: Array,
    noise: Array,
    spread: Array,
    use: npt.NDArray[np.bool_],
    centre: Array,
    steps: int,
) -> Estimate:
    known, target = slopes @ slopes.T + common, off + slopes @ (at - centre)
    lower = np.linalg.cholesky(known + np.diag(noise))
    # What the others say of each is by the spreads as they are: one that is far off must not hide itself.
    plain = np.where(use, spread**2, noise)
    inverse = cho_solve(cho_factor(known + np.diag(plain), lower=True), np.eye(len(known)))
    own = np.diag(inverse)
    return Estimate(
        mean=at,
        beside=beside.T @ cho_solve((lower, True), target),
        off=off,
        weights=spread**2 / noise,
        slopes=slopes,
        covariance=NarrowedCovariance(np.linalg.solve(lower, np.hstack([slopes, beside]))),
        left=inverse @ target / own,
        left_spread=np.sqrt(np.maximum(1.0 / own - plain, 0.0) + spread**2),
        steps=steps,
    )


def root_of(covariance: Array) -> Array:
    """A square root A of a covariance, A A^T, shape (n, n), also where rounding has made an eigenvalue negative."""
    even = 0.5 * (covariance + covariance.T)
    try:
        return np.asarray(np.linalg.cholesky(even + ROUNDED * np.eye(len(even))), dtype=np.float64)
    except np.linalg.LinAlgError:
        values, vectors = np.linalg.eigh(even)
        return np.asarray(vectors * np.sqrt(np.maximum(values, 0.0)), dtype=np.float64)
