"""Fronts: the drives that nobody beats in two things at once."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.value import Array

Index = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Drives:
    """Drives that were tried; arrays of shape (N,).

    Parameters
    ----------
    use : load over limit of the tightest margin [1]; above 1 it does not hold.
    tightest : index into ``limits.KEYS`` of that margin.
    verdict : index into ``verdict.ORDER``.
    run_s : full throttle until 80 % of the charge is used [s].
    mass_kg : the boat, ready to run [kg].
    """

    speed_mps: Array
    current_a: Array
    use: Array
    tightest: npt.NDArray[np.int8]
    verdict: npt.NDArray[np.int8]
    run_s: Array
    mass_kg: Array


def pareto_front(gain: Array, cost: Array) -> Index:
    """Indices of those that nobody beats: highest gain for each cost, by rising cost."""
    order = np.lexsort((-gain, cost))
    best = np.maximum.accumulate(np.concatenate([[-np.inf], gain[order][:-1]]))
    return order[gain[order] > best]


def easy_front(speed: Array, use: Array, verdict: npt.NDArray[np.int8]) -> Index:
    """Indices of the front of speed against the tightest margin, among drives that run."""
    good = np.flatnonzero(verdict < 3)
    return good[pareto_front(speed[good], use[good])] if good.size else good


def lasting_front(speed: Array, run_s: Array, verdict: npt.NDArray[np.int8]) -> Index:
    """Indices of the front of speed against run time [s], among drives that do not have to be stopped."""
    good = np.flatnonzero(verdict < 2)
    return good[pareto_front(speed[good], -run_s[good])] if good.size else good


def best_of_steps(front: Index, speed: Array, merit: Array, part: float = 0.03) -> Index:
    """Of a front's indices the one with the most merit in each ``part`` of speed [1], slowest first.

    Where two merits trade almost exactly, speed for run time, nearly every drive lies on the front; a map shows one for
    each step that a racer could tell.
    """
    best_first = front[np.argsort(-merit[front], kind="stable")]
    _, first = np.unique(np.floor(np.log(speed[best_first]) / np.log1p(part)), return_index=True)
    chosen: Index = best_first[first]
    return chosen
