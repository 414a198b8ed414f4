"""The next setting worth trying: what a run there teaches of the best setting, as far from here as the margin allows.

The value of a run is its knowledge gradient: by how much the best mean rises, on average, once a reading has come in.
Where one run tells less than the racer's runs scatter, several of the same setting are weighed as one (KG(*)): so a
setting is run again where that tells more.

[frazier2009] P. I. Frazier, W. B. Powell, S. Dayanik, INFORMS J. Computing 21 (2009) 599-613 (from memory).
"""

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import scipy

from kunstflug.core.quantity.value import Array
from kunstflug.core.trim.cliff import Cliff
from kunstflug.core.trim.curve import Curve

ENOUGH: Final = 0.003
"""Of the speed that is still to be won on average, below which it is enough [logarithm]; our own choice."""
HELD_BY: Final = 2.0
"""Where so many times that could be won without the margin, the margin holds; our own choice."""
RISK: Final = 0.03
"""Of passing the margin, at most, for what is proposed, unless the best known takes more; our own choice."""
FARTHEST: Final = (5, 3)
"""How far from the best setting known the next one may lie on one knob, on each of two at once, in steps."""
BLIND: Final = (2, 1)
"""The same of knobs whose margin the model does not know (common practice, no source)."""
WORSE: Final = 0.02
MOST_WORSE: Final = 0.4
"""Chance that what is proposed is worse by so much, at most: a racer would not go there (our own choice)."""
SAFE_STEPS: Final = 2
"""How far an answer to a sign goes at most, and a safe range is shown, in steps (common practice, no source)."""
TRIED_ALREADY: Final = 1e-6
SURELY_WORSE: Final = 0.9
IN_A_ROW: Final = (1, 2, 4, 8)
"""How many runs of one setting are weighed as one reading."""
PLACES: Final = scipy.special.ndtri((np.arange(40) + 0.5) / 40)
"""Of a normal law, each as likely as the next."""
DRAWS: Final = 400
SEED: Final = 12
MOST_KNOBS: Final = 8
FAR: Final = scipy.stats.qmc.Sobol(MOST_KNOBS, seed=SEED).random(128)
"""Settings all about, to ask what is still to be won."""


class Advice(StrEnum):
    """What to do next."""

    TRY = "try"
    AGAIN = "again"  # one that was run before: it tells more than a new one
    BACK = "back"  # the last one was worse, or frightening
    ENOUGH = "enough"
    HELD = "held"  # the runs point past a margin


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """One knob: its step in the core's unit, its range in steps, and whether the model does not know its margin."""

    name: str
    step: float
    low: float
    high: float
    blind: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """The next setting.

    Parameters
    ----------
    at : in steps, shape (k,); what is held for the best where nothing is to be tried.
    gain : still to be won over the best known, on average [logarithm].
    better : chance that it is better than the best known [1].
    worse : chance that it is worse by more than ``WORSE`` [1].
    past : chance that it passes a margin [1].
    top : what is held for the best, tried or not, in steps, shape (k,).
    """

    advice: Advice
    at: Array
    gain: float
    better: float
    worse: float
    past: float
    top: Array


Model = Callable[[Array], Array]
"""Of settings in steps, shape (m, k), what the model says of them [logarithm], shape (m,)."""


def nothing_said(at: Array) -> Array:
    """A model that knows nothing of the knobs."""
    return np.zeros(len(at))


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimKnowledge:
    """What is known of the knobs.

    Parameters
    ----------
    curve : through what was read over the model.
    cliff : of the margin.
    uses : of some settings, what the model says of the margin; None where it is blind.
    model : what the points were read over.
    frightened : which points of the curve a racer did not want to see again.
    """

    curve: Curve
    cliff: Cliff
    uses: Model | None = None
    model: Model = nothing_said
    frightened: Sequence[int] = ()

    def past(self, at: Array) -> Array:
        """Chance of passing the margin, shape (m,)."""
        return self.cliff.chance(at, None if self.uses is None else self.uses(at))

    def best(self) -> Array:
        """The setting, of those tried, that is likeliest the best, shape (k,); those that frightened do not count."""
        at = self.curve.points.at
        mean = self.curve.at(at)[0] + self.model(at)
        calm = [k for k in range(len(mean)) if k not in set(self.frightened)] or list(range(len(mean)))
        found: Array = at[max(calm, key=lambda k: float(mean[k]))]
        return found


def next_setting(known: TrimKnowledge, knobs: Sequence[Knob], last: tuple[Array, bool] | None = None) -> Proposal:
    """What to try next.

    Parameters
    ----------
    last : where the newest run stood, in steps, and whether it frightened, with a speed or without; where it frightened
        or was worse than the best, back comes first. None asks for the best place to learn from only.
    """
    best, curve = known.best(), known.curve
    if last is not None and np.max(np.abs(last[0] - best)) > TRIED_ALREADY:
        back = _back(known, last[0], best, frightened=last[1])
        if back is not None:
            return back
    where = _settings(known, best, knobs)
    mean, covariance = curve.at(where)
    mean = mean + known.model(where)
    past = known.past(where)
    free = past <= max(RISK, float(past[0]))
    top = int(np.argmax(np.where(free, mean, -np.inf)))
    left = _still_to_win(known, where, knobs, held=True)
    spread = np.sqrt(np.maximum(covariance[0, 0] + np.diag(covariance) - 2.0 * covariance[0], 1e-18))
    worse = scipy.special.ndtr((-WORSE - mean + mean[0]) / spread)
    worth = _worth(mean[free], covariance[np.ix_(free, free)], curve.repeats)
    k = int(np.flatnonzero(free)[int(np.argmax(np.where(worse[free] <= MOST_WORSE, worth, -1.0)))])
    if left <= ENOUGH:
        advice, k = (
            Advice.HELD if _still_to_win(known, where, knobs, held=False) > HELD_BY * ENOUGH else Advice.ENOUGH,
            top,
        )
    else:
        ran = np.min(np.max(np.abs(curve.points.at - where[k]), axis=1)) <= TRIED_ALREADY
        advice = Advice.AGAIN if ran else Advice.TRY
    return Proposal(
        advice=advice,
        at=where[k],
        gain=left,
        better=float(scipy.special.ndtr((mean[k] - mean[0]) / spread[k])) if k else 0.5,
        worse=float(worse[k]) if k else 0.0,
        past=float(past[k]),
        top=where[top],
    )


def _back(known: TrimKnowledge, last: Array, best: Array, *, frightened: bool) -> Proposal | None:
    """To the best one, where the last was worse or frightened; None where it was neither."""
    two = np.array([last, best])
    mean, spread = known.curve.beside(two[:1], best)
    less = float(mean[0] + known.model(two[:1])[0] - known.model(two[1:])[0])
    worse = float(scipy.special.ndtr(-less / max(float(spread[0]), 1e-12)))
    if not frightened and worse <= SURELY_WORSE:
        return None
    return Proposal(
        advice=Advice.BACK,
        at=best,
        gain=0.0,
        better=1.0 - worse,
        worse=worse,
        past=float(known.past(two[1:])[0]),
        top=best,
    )


def _still_to_win(known: TrimKnowledge, where: Array, knobs: Sequence[Knob], *, held: bool) -> float:
    """What the best setting, of these and all about them, has over the one held for best, on average of the curves.

    Parameters
    ----------
    held : whether only what keeps the margin counts.
    """
    low, high = (np.array([getattr(k, end) for k in knobs]) for end in ("low", "high"))
    far = where[0] + np.round(FARTHEST[0] * (2.0 * FAR - 1.0))[:, : len(knobs)]
    far = far[np.all((far >= low) & (far <= high), axis=1)]
    every = np.concatenate([where, far])
    past = known.past(every)
    every = every[past <= (max(RISK, float(past[0])) if held else 1.0)]
    mean, covariance = known.curve.at(every)
    mean = mean + known.model(every)
    rng = np.random.default_rng(SEED)
    root = np.linalg.cholesky(covariance + 1e-10 * np.eye(len(mean)))
    draws = mean[:, np.newaxis] + root @ rng.standard_normal((len(mean), DRAWS))
    return float(np.mean(np.max(draws, axis=0) - draws[int(np.argmax(mean))]))


def _worth(mean: Array, covariance: Array, repeats: float) -> Array:
    """By how much a run of each setting lifts the best mean, on average, shape (m,)."""
    best = np.zeros(len(mean))
    for runs in IN_A_ROW:
        moves = covariance / np.sqrt(np.diag(covariance) + repeats**2 / runs)[np.newaxis, :]
        lifted = np.zeros(len(mean))
        for place in PLACES:
            lifted += np.max(mean[:, np.newaxis] + moves * place, axis=0) / len(PLACES)
        best = np.maximum(best, (lifted - np.max(mean)) / runs)
    return best


def _settings(known: TrimKnowledge, best: Array, knobs: Sequence[Knob]) -> Array:
    """The best setting first, then what was tried and did not frighten, then what lies about the best."""
    tried = [x for k, x in enumerate(known.curve.points.at) if k not in set(known.frightened)]
    low, high = np.array([k.low for k in knobs]), np.array([k.high for k in knobs])
    about = [x for x in _around(best, knobs) if np.all(x >= low - TRIED_ALREADY) and np.all(x <= high + TRIED_ALREADY)]
    found: dict[tuple[float, ...], Array] = {}
    for x in [best, *tried, *about]:
        found.setdefault(tuple(np.round(x, 4)), x)
    return np.array(list(found.values()))


def _around(best: Array, knobs: Sequence[Knob]) -> list[Array]:
    """Settings some steps away on one knob, or fewer on two together."""
    one, two = (
        [[w for w in range(-reach, reach + 1) if w] for reach in ((BLIND if k.blind else FARTHEST)[n] for k in knobs)]
        for n in (0, 1)
    )
    found = [_moved(best, {k: by}) for k, ways in enumerate(one) for by in ways]
    for k, j in itertools.combinations(range(len(knobs)), 2):
        found += [_moved(best, {k: by_k, j: by_j}) for by_k in two[k] for by_j in two[j]]
    return found


def _moved(best: Array, by: dict[int, int]) -> Array:
    where = best.copy()
    for k, steps in by.items():
        where[k] += steps
    return where
