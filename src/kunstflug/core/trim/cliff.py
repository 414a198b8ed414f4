"""How far a setting may go before the boat lifts off or porpoises: the chance of it, from the model and from all runs.

The use of the margin is what the model says of a setting, or a line nobody knows, with a doubt; each run tells of it by
what was seen, with or without a speed. A few thousand lines are weighed by how well they say what was seen
(importance sampling).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum
from typing import Final

import numpy as np
import scipy

from kunstflug.core.quantity.value import Array

LINES: Final = 2048
SEED: Final = 15
USUAL_USE: Final = (0.6, 0.2)
"""Of the margin of a boat that runs: middle and spread, where the model says nothing (common practice, no source)."""
A_STEP: Final = 0.08  # of the margin, spread of what one step of a knob is worth (common practice, no source)
BENT: Final = 0.15  # of the doubt of a known margin, what a step adds to it
OVER_WIDTH: Final = 0.05  # over so much of the margin it goes from never to always
WARNS_AT: Final = 0.88
WARNS_WIDTH: Final = 0.06
WARNS: Final = 0.7  # of boats past that, how many somebody saw warn (common practice, no source)
SEEN_FOR_NOTHING: Final = 0.02


class Sight(IntEnum):
    """What was seen of the margin in a run."""

    CALM = 0
    WARNED = 1  # a light bow, or it began to porpoise
    OVER = 2  # upside down


@dataclass(frozen=True, slots=True, kw_only=True)
class Cliff:
    """What is known of the margin.

    Parameters
    ----------
    factors : by which the model's use is multiplied, shape (n,).
    levels : what is added, shape (n,).
    slopes : what a step of each knob adds, shape (n, k).
    weights : how likely each is, shape (n,).
    """

    factors: Array
    levels: Array
    slopes: Array
    weights: Array

    def chance(self, at: Array, said: Array | None) -> Array:
        """Of passing the margin at some settings in steps, shape (m, k), shape (m,) [1].

        Parameters
        ----------
        said : use of the margin by the model, shape (m,); None where it says nothing.
        """
        return _past(self._uses(at, said)) @ self.weights

    def _uses(self, at: Array, said: Array | None) -> Array:
        known = np.zeros(len(at)) if said is None else said
        return known[:, np.newaxis] * self.factors + self.levels + at @ self.slopes.T


def _past(uses: Array) -> Array:
    found: Array = scipy.special.ndtr((uses - 1.0) / OVER_WIDTH)
    return found


def cliff_of(
    at: Array, sights: Sequence[Sight], said: Array | None = None, doubt: float = 0.0, blind: Sequence[bool] = ()
) -> Cliff:
    """What runs say of the margin.

    Parameters
    ----------
    at : settings in steps of each knob, from where the model is asked, shape (n, k).
    sights : of each run.
    said : use of the margin by the model at each, shape (n,); None where the model is blind.
    doubt : of the model's use, as a part of it.
    blind : of each knob, whether the model does not know it; all or none where it is left out, as the model speaks.
    """
    knobs = at.shape[1]
    draws = scipy.stats.qmc.Sobol(knobs + 1, seed=SEED).random(LINES)
    normal = scipy.special.ndtri(np.clip(draws, 1e-9, 1.0 - 1e-9))
    unknown = np.asarray(blind or [said is None] * knobs)
    cliff = Cliff(
        factors=np.exp(doubt * normal[:, 0]),
        levels=USUAL_USE[0] + USUAL_USE[1] * normal[:, 0] if said is None else np.zeros(LINES),
        slopes=normal[:, 1:] * np.where(unknown, A_STEP, BENT * doubt),
        weights=np.full(LINES, 1.0 / LINES),
    )
    if not len(sights):
        return cliff
    uses = cliff._uses(at, said)
    over = _past(uses)
    warned = SEEN_FOR_NOTHING + (WARNS - SEEN_FOR_NOTHING) * scipy.special.ndtr((uses - WARNS_AT) / WARNS_WIDTH)
    each = np.stack([(1.0 - over) * (1.0 - warned), (1.0 - over) * warned, over])
    picked = np.maximum(each[np.asarray(sights, dtype=np.int64), np.arange(len(sights))], 1e-9)
    logs = np.sum(np.log(picked), axis=0)
    weights = np.exp(logs - logs.max())
    return Cliff(
        factors=cliff.factors, levels=cliff.levels, slopes=cliff.slopes, weights=weights / float(np.sum(weights))
    )
