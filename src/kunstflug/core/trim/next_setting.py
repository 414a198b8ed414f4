"""The next setting worth trying: expected improvement within a safe step of what is known to run well.

Expected improvement: D. R. Jones, M. Schonlau, W. J. Welch, J. Global Optimization 13 (1998) 455-492, eq. 15.
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import scipy

from kunstflug.core.quantity.value import Array
from kunstflug.core.trim.curve import Curve

ENOUGH: Final = 0.001
"""What a further run may be expected to gain, below which there is nothing more to win [logarithm]; our own choice."""
SAFE_STEPS: Final = 2
"""How far from a setting that ran well the next one may lie, in steps of a knob (common practice, no source)."""
WORSE: Final = 0.02
TRIED_ALREADY: Final = 1e-6


class Advice(StrEnum):
    """What to do next."""

    TRY = "try"
    BACK = "back"  # the last one was worse, or frightening
    ENOUGH = "enough"
    HELD = "held"  # the runs point past a margin


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """One knob: its step in the core's unit and the range that is safe from here, in steps."""

    name: str
    step: float
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """The next setting.

    Parameters
    ----------
    at : in steps, shape (k,); the best known one unless it is to be tried.
    gain : expected over the best one, if it is better and nothing if not [logarithm].
    better : chance that it is better [1].
    worse : chance that it is worse by more than ``WORSE`` [1].
    """

    advice: Advice
    at: Array
    gain: float
    better: float
    worse: float


def expected_improvement(mean: Array, spread: Array) -> Array:
    """Of normal differences, what is gained on average where a loss is not taken [unit of the mean].

    Examples
    --------
    >>> float(expected_improvement(np.array([0.0]), np.array([1.0]))[0].round(6))
    0.398942
    """
    z = mean / np.maximum(spread, 1e-300)
    found: Array = mean * scipy.special.ndtr(z) + spread * np.exp(-0.5 * z**2) / np.sqrt(2.0 * np.pi)
    return np.maximum(found, 0.0)


Model = Callable[[Array], Array]
"""Of settings in steps, shape (m, k), what the model says of them [logarithm], shape (m,)."""


def nothing_said(at: Array) -> Array:
    """A model that knows nothing of the knobs."""
    return np.zeros(len(at))


def best_known(curve: Curve, frightened: Sequence[int] = (), model: Model = nothing_said) -> Array:
    """The setting, of those tried, that is likeliest the best, shape (k,); those that frightened do not count."""
    mean = curve.at(curve.points.at)[0] + model(curve.points.at)
    calm = [k for k in range(len(mean)) if k not in set(frightened)] or list(range(len(mean)))
    found: Array = curve.points.at[max(calm, key=lambda k: float(mean[k]))]
    return found


def next_setting(
    curve: Curve,
    knobs: Sequence[Knob],
    allowed: Callable[[Array], bool],
    frightened: Sequence[int] = (),
    *,
    model: Model = nothing_said,
    just_tried: bool = False,
) -> Proposal:
    """What to try next.

    Parameters
    ----------
    allowed : whether a setting, in steps, keeps all margins.
    frightened : which points a racer did not want to see again.
    model : what the points were read over.
    just_tried : whether the newest point was a step away from the best one: if it was worse, back comes first.
    """
    best = best_known(curve, frightened, model)
    last = curve.points.at[-1]
    if just_tried and np.max(np.abs(last - best)) > TRIED_ALREADY:
        less, spread = _beside(curve, model, last[np.newaxis], best)
        worse = float(scipy.special.ndtr(-less[0] / max(float(spread[0]), 1e-12)))
        if len(curve.points.read) - 1 in set(frightened) or worse > 0.9:
            return Proposal(advice=Advice.BACK, at=best, gain=0.0, better=1.0 - worse, worse=worse)
    around = np.array(_around(best, knobs)).reshape(-1, len(best))
    if not len(around):
        return Proposal(advice=Advice.ENOUGH, at=best, gain=0.0, better=0.0, worse=0.0)
    mean, spread = _beside(curve, model, around, best)
    gains = expected_improvement(mean, spread)
    free = np.array([allowed(x) and not _near_fright(x, best, curve, frightened) for x in around], dtype=bool)
    k = int(np.argmax(np.where(free, gains, -1.0)))
    if not free[k] or (gains[k] <= ENOUGH and np.max(mean) > WORSE):
        return Proposal(advice=Advice.HELD, at=best, gain=0.0, better=0.0, worse=0.0)
    where = around
    sure = max(float(spread[k]), 1e-12)
    return Proposal(
        advice=Advice.TRY if gains[k] > ENOUGH else Advice.ENOUGH,
        at=where[k] if gains[k] > ENOUGH else best,
        gain=float(gains[k]),
        better=float(scipy.special.ndtr(mean[k] / sure)),
        worse=float(scipy.special.ndtr((-WORSE - mean[k]) / sure)),
    )


def _beside(curve: Curve, model: Model, where: Array, best: Array) -> tuple[Array, Array]:
    mean, spread = curve.beside(where, best)
    return mean + model(where) - model(best[np.newaxis]), spread


def _around(best: Array, knobs: Sequence[Knob]) -> list[Array]:
    """Settings a few steps away on one knob, or a step away on two together."""
    found: list[Array] = []
    for k, by in itertools.product(range(len(knobs)), (-2, -1, 1, 2)):
        found.append(_moved(best, {k: by}))
    for k, j in itertools.combinations(range(len(knobs)), 2):
        found += [_moved(best, {k: by_k, j: by_j}) for by_k in (-1, 1) for by_j in (-1, 1)]
    low, high = np.array([k.low for k in knobs]), np.array([k.high for k in knobs])
    return [x for x in found if np.all(x >= low - TRIED_ALREADY) and np.all(x <= high + TRIED_ALREADY)]


def _moved(best: Array, by: dict[int, int]) -> Array:
    where = best.copy()
    for k, steps in by.items():
        where[k] += min(max(steps, -SAFE_STEPS), SAFE_STEPS)
    return where


def _near_fright(where: Array, best: Array, curve: Curve, frightened: Sequence[int]) -> bool:
    """Whether a setting goes as far from the best one as one that frightened, the same way."""
    for k in frightened:
        away = curve.points.at[k] - best
        size = float(away @ away)
        if size > TRIED_ALREADY and float((where - best) @ away) >= size * (1 - 1e-9):
            return True
    return False
