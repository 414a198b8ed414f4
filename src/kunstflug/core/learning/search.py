"""The likeliest latents, searched about the laws' slopes as far as the laws then agree, and draws about them."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.learning.arrow import Dual, Indices
from kunstflug.core.learning.cases import Case, Memory, bent
from kunstflug.core.learning.estimate import (
    ENOUGH,
    FREEDOM,
    Ended,
    Estimate,
    Model,
    likeliest,
    loss,
    weights_of,
    with_posterior,
)
from kunstflug.core.learning.predict import Said, said, steady_many
from kunstflug.core.learning.spreads import spread_of
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.club import Column

ANCHORS: Final = 4  # how often the model is asked again about its slopes, at most
ANCHORS_WARM: Final = 2  # the same after the heat was asked again
LEAST_PART: Final = 0.2
LEAST_PART_WARM: Final = 0.5
LEAST_GAIN: Final = 1.0  # of what is minimised, that is worth asking the laws once more
FARTHEST: Final = 3.0  # spreads from what was given, past which the laws are not asked
ON_THE_WAY: Final = 1e-4  # what a search gains at its last step, about slopes that may change yet
DRAWS: Final = 128
SEED: Final = 907
MOST_DRAWN: Final = 24  # setups that draws are held against, by the newest run of each
MOST_OFF: Final = 0.2
MOST_LEFT: Final = 0.15  # of a logarithm, that a draw may leave between the laws and what was read
MORE_DRAG: Final = math.log(1.15)  # as much as a single change takes, by which the middle is to plane yet
MOST_LOST: Final = 0.25  # of a logarithm: who loses more has fallen back behind the hump
LEAST_FITTING: Final = 16  # draws, of which others can be made
STRAIGHT: Final = "charge_error"  # the charge goes with it, and next to nothing else: no slope changes by it
MOVED: Final = 0.8  # in spreads, past which slopes are worked out anew


def searched(
    cases: Sequence[Case],
    read: Array,
    spread: Array,
    kept: Indices,
    columns: Sequence[Column],
    centre: Array,
    m: int,
    memory: Memory,
) -> Estimate:
    """The likeliest latents: searched about the laws' slopes, and about new ones as far as the laws then agree.

    Parameters
    ----------
    centre : of the latents before any run, shape (p,).
    """
    at = memory.start(columns, centre)

    def about(enough: float) -> Ended:
        return _about(cases, read, spread, kept, at, centre, m, enough)

    # The heat, which takes the most time, first follows in a straight line; what it says at the end counts, too.
    agreed = False
    goes_on = memory.searched([case.run for case in cases])  # one run more gives it one more go
    least = {False: LEAST_PART_WARM if goes_on else LEAST_PART, True: LEAST_PART_WARM}
    for heat, anchors in ((False, 1 if goes_on else ANCHORS), (True, 1 if goes_on else ANCHORS_WARM)):
        _ask_again(cases, at, heat=heat)
        cost = _cost(cases, read, spread, kept, at, centre, m)
        for _ in range(anchors):
            found, part = about(ON_THE_WAY), 1.0
            while True:
                before = [case.said for case in cases]
                reached = at + part * (found.mean - at)
                bent = _ask_again(cases, reached, heat=heat, anew=False)
                new = _cost(cases, read, spread, kept, reached, centre, m)
                if new <= cost or part <= least[heat] or not bent:
                    break
                # The laws bend on the way there: half as far.
                part *= 0.5
                _restore(cases, before)
            agreed = not bent and part == 1.0
            if new > cost and not agreed:
                _restore(cases, before)  # nothing better is known than where it stands
                break
            gained, at, cost = cost - new, reached, new
            if agreed or gained < LEAST_GAIN:
                break
            if heat:
                _ask_again(cases, at, heat=True)
    ended = about(ENOUGH) if agreed else _standing(cases, read, spread, kept, at, m)
    memory.end(columns, ended.mean, [case.run for case in cases])
    for case in cases:
        memory.said[case.run.key] = (case.run, case.said)
    return with_posterior(ended)


def _lines(cases: Sequence[Case], kept: Indices, width: int, m: int) -> tuple[Array, Array]:
    """What all runs say with all latents at 0, and the slopes, of the readings that are kept."""
    lines = [case.line(m) for case in cases]
    return joined([value for value, _ in lines])[kept], joined([slope for _, slope in lines], width)[kept]


def _restore(cases: Sequence[Case], before: Sequence[Said]) -> None:
    for case, old in zip(cases, before, strict=True):
        case.said = old


def _standing(cases: Sequence[Case], read: Array, spread: Array, kept: Indices, at: Array, m: int) -> Ended:
    """The end of a search where the laws let it go no further."""
    start, slopes = _lines(cases, kept, len(at), m)
    residuals = (read[kept] - start - slopes @ at) / spread[kept]
    jacobian = slopes / spread[kept][:, np.newaxis]
    return Ended(mean=at, residuals=residuals, weights=weights_of(residuals, FREEDOM), jacobian=jacobian, steps=ANCHORS)


def _about(
    cases: Sequence[Case],
    read: Array,
    spread: Array,
    kept: Indices,
    at: Array,
    centre: Array,
    m: int,
    enough: float,
) -> Ended:
    """The likeliest latents about the slopes at hand."""
    start, slopes = _lines(cases, kept, len(at), m)
    prior = np.ones(len(at))
    return likeliest(
        _straight(start, slopes),
        read[kept],
        spread[kept],
        at,
        prior,
        prior_mean=centre,
        enough=enough,
        normal=lambda table: Dual(table, prior),
    )


def _cost(cases: Sequence[Case], read: Array, spread: Array, kept: Indices, at: Array, centre: Array, m: int) -> float:
    """What is minimised, with what the laws themselves say close by; infinite where they say nothing."""
    said_there = joined([line + slope @ at for line, slope in (case.line(m) for case in cases)])[kept]
    found = loss((read[kept] - said_there) / spread[kept], FREEDOM) + 0.5 * float((at - centre) @ (at - centre))
    return found if math.isfinite(found) else math.inf


def _straight(start: Array, slopes: Array) -> Model:
    """A model that is linear in the latents."""

    def model(at: Array) -> tuple[Array, Array]:
        return start + slopes @ at, slopes

    return model


def joined(parts: Sequence[Array], width: int | None = None) -> Array:
    """Arrays one below the other; an empty one where there are none."""
    empty = np.zeros(0) if width is None else np.zeros((0, width))
    return np.concatenate([empty, *parts])


def _ask_again(cases: Sequence[Case], at: Array, *, heat: bool = False, anew: bool = True) -> bool:
    """Asks the laws anew where what was learnt has moved far from where they were asked; at most some spreads away.

    A run of which the laws say nothing there keeps its own slopes.
    """
    far = []
    for case in cases:
        spread = np.maximum(case.mixed.before, 1e-3)
        x = np.clip(case.at(at), -FARTHEST * spread, FARTHEST * spread)
        moved = np.abs(x - (case.said.heat_at if heat else case.said.at)) / spread
        moved[case.mixed.names.index(STRAIGHT)] = 0.0
        if np.max(moved, initial=0.0) > MOVED:
            far.append((case, x))
    if not far:
        return False
    cases_far, at_far = [c for c, _ in far], [x for _, x in far]
    names, before = [c.mixed.names for c in cases_far], [c.said for c in cases_far]
    asked = said([c.run for c in cases_far], [c.base for c in cases_far], names, at_far, before, heat=heat, anew=anew)
    for case, answer in zip(cases_far, asked, strict=True):
        if np.isfinite(answer.value).sum() >= np.isfinite(case.said.value).sum():
            case.said = answer
    return True


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """Draws of the things' latents about their mean.

    Parameters
    ----------
    mean : shape (m,).
    draws : shape (DRAWS, m).
    """

    mean: Array
    draws: Array


def draws_of(cases: Sequence[Case], found: Estimate, m: int) -> Drawn:
    """Draws of the things' latents, each moved so that the laws themselves say what was read.

    A draw of the Gaussian posterior keeps to the readings only as far as the laws are straight; one step of randomised
    maximum likelihood brings it back (D. S. Oliver, A. C. Reynolds, N. Liu, Inverse Theory (2008), ch. 10). Where that
    fails, a boat that was seen to plane would not: such a draw is none, others stand for it, and the mean moves as far
    as that moves the mean of the draws.
    """
    width = len(found.mean)
    z = (found.mean[:, np.newaxis] + found.covariance.drawn(even_deviates(width, DRAWS, SEED))).T
    newest: dict[int, Case] = {}
    for case in reversed(cases):
        if case.steady():
            newest.setdefault(id(case.mixed), case)
    last = list(newest.values())[:MOST_DRAWN]
    if not last:
        return Drawn(mean=found.mean[:m], draws=z[:, :m])
    off, slope, spreads = _bent(last, z, m)
    off = np.where(np.isfinite(off), off, 0.0)
    gain = np.linalg.solve(slope @ slope.T + np.diag(spreads**2), slope).T  # the least move, as the prior counts it
    moved: Array = z + np.clip(off, -MOST_OFF, MOST_OFF) @ gain.T
    left, _, _ = _bent(last, moved, m)
    fits = np.all(np.abs(np.where(np.isfinite(left), left, np.inf)) < MOST_LEFT, axis=1)
    kept = moved[np.flatnonzero(fits)[np.arange(DRAWS) % fits.sum()]] if fits.sum() >= LEAST_FITTING else moved
    planes = _planes(last[0], kept)
    middle = kept[planes] if planes.mean() > 0.5 else kept
    return Drawn(mean=(found.mean + middle.mean(axis=0) - moved.mean(axis=0))[:m], draws=kept[:, :m])


def _planes(case: Case, z: Array) -> npt.NDArray[np.bool_]:
    """Which of some latents let a boat plane as it did with a drag that is larger by a part."""
    at = case.at(z)
    more = at.copy()
    more[:, case.mixed.names.index("wetted_factor")] += MORE_DRAG
    (logs, loaded) = steady_many([case.base] * 2, [case.mixed.names] * 2, [at, more])
    found: npt.NDArray[np.bool_] = logs[:, 0] - loaded[:, 0] < MOST_LOST
    return found


def _bent(cases: Sequence[Case], z: Array, m: int) -> tuple[Array, Array, Array]:
    """How far the laws are from straight at some latents, shape (S, k); slopes of the k readings, and their spreads."""
    offs = [-off for off in bent(cases, [case.at(z) for case in cases])]
    slopes, spreads = [], []
    for case in cases:
        rows = case.steady()
        slopes.append(case.line(m)[1][rows])
        spreads += [spread_of(case.run.readings[i], 1.0, case.run.setup.conditions) for i in rows]
    return np.concatenate(offs, axis=1), np.concatenate(slopes), np.array(spreads)
