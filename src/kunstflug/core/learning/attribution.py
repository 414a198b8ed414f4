"""What a change brought: measured effect with its interval, and what may be said of it.

Runs before and after, each freed of its conditions by the model, differ by the change, by the day and by how well
this driver repeats himself on this water. Variances are pooled over all setups of the boat, and the interval is
Student's with what they leave open. Many changes at once are held to Holm's order, so that of twenty changes that do
nothing it is rare that even one is called real.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import scipy

from kunstflug.core.evidence.instruments import DAY, REPEAT

LEVEL: Final = 0.05
POWER: Final = 0.80
PRIOR_WEIGHT: Final = 4.0
"""Runs that the usual repeatability counts for, before this driver's own is known (common practice, no source)."""
MOST_PASSES: Final = 200


class Ruling(StrEnum):
    """What may be said of a change."""

    REAL = "real"
    NOT_SHOWN = "not_shown"
    TOO_MANY = "too_many"
    NO_RUNS = "no_runs"


@dataclass(frozen=True, slots=True, kw_only=True)
class Try:
    """One run of a setup: logarithm of what was read, freed of its conditions; its spread; its outing."""

    value: float
    spread: float
    outing: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Repeatability:
    """How well a driver repeats himself, in the terms of ISO 5725-2: standard deviations of logarithms.

    Parameters
    ----------
    within : s_r, of runs of one setup within an outing.
    between : s_L, between outings.
    runs : how many runs the first is taken from beyond one a group; 0 where it is only usual.
    """

    within: float
    between: float
    runs: int

    @property
    def reproducible(self) -> float:
        """s_R, of runs on different days."""
        return math.hypot(self.within, self.between)

    @property
    def limit(self) -> float:
        """Two runs of one outing differ by less than this, 95 of 100 times (ISO 5725-6: 2.8 s_r)."""
        return 2.8 * self.within

    @property
    def limit_of_days(self) -> float:
        """The same of two runs of different days."""
        return 2.8 * self.reproducible


def repeatability(groups: Sequence[Sequence[Try]]) -> Repeatability:
    """Of runs in groups, each of one setup (ISO 5725-2:1994, 7.4, for groups of unequal size), held to the usual."""
    squares, freedom = PRIOR_WEIGHT * REPEAT**2, PRIOR_WEIGHT
    between, days, counted = PRIOR_WEIGHT * DAY**2, PRIOR_WEIGHT, 0
    for group in groups:
        cells: dict[str, list[float]] = {}
        for run in group:
            cells.setdefault(run.outing, []).append(run.value)
        for cell in cells.values():
            squares += sum((v - float(np.mean(cell))) ** 2 for v in cell)
            freedom += len(cell) - 1
            counted += len(cell) - 1
        if len(cells) > 1:
            means = [float(np.mean(cell)) for cell in cells.values()]
            size = len(cells) / sum(1 / len(cell) for cell in cells.values())
            spread = float(np.var(means, ddof=1)) - squares / freedom / size
            between += max(spread, 0.0) * (len(cells) - 1)
            days += len(cells) - 1
    return Repeatability(within=math.sqrt(squares / freedom), between=math.sqrt(between / days), runs=counted)


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What a change brought, as a logarithm.

    Parameters
    ----------
    low, high : the 95 % interval before it is held to others.
    p : chance of such a difference, or a larger one, with a change that does nothing.
    """

    value: float
    low: float
    high: float
    p: float
    freedom: float


def effect(before: Sequence[Try], after: Sequence[Try], known: Repeatability) -> Effect | None:
    """What a change brought; None without runs on both sides.

    Outings with runs on both sides are compared within the day, all else carries the day's spread.
    """
    if not before or not after:
        return None
    columns = {day: k for k, day in enumerate(sorted({t.outing for t in (*before, *after)}))}
    tries = [*before, *after]
    design = np.array([[1.0, float(k >= len(before))] for k in range(len(tries))])
    days = np.zeros((len(tries), len(columns)))
    for k, run in enumerate(tries):
        days[k, columns[run.outing]] = 1.0
    own = np.array([t.spread for t in tries])
    spread = np.diag(known.within**2 + own**2) + known.between**2 * days @ days.T
    inverse = np.linalg.inv(spread)
    covariance = np.linalg.inv(design.T @ inverse @ design)
    value = float((covariance @ design.T @ inverse @ np.array([t.value for t in tries]))[1])
    deviation = math.sqrt(covariance[1, 1])
    freedom = PRIOR_WEIGHT + known.runs + max(len(tries) - 2, 0)
    wide = float(scipy.special.stdtrit(freedom, 1 - LEVEL / 2)) * deviation
    p = 2 * float(scipy.special.stdtr(freedom, -abs(value) / deviation))
    return Effect(value=value, low=value - wide, high=value + wide, p=p, freedom=freedom)


def holm(p: Sequence[float], level: float = LEVEL) -> list[bool]:
    """Which of many differences are real: Holm's order (S. Holm, Scand. J. Statist. 6 (1979) 65-70)."""
    order = np.argsort(p)
    real = [False] * len(p)
    for rank, k in enumerate(order):
        if p[k] > level / (len(p) - rank):
            break
        real[k] = True
    return real


def rulings(effects: Sequence[Effect | None], changes: Sequence[int]) -> list[Ruling]:
    """What may be said of each change, all together.

    Parameters
    ----------
    changes : how many things changed at once.
    """
    shown = [k for k, e in enumerate(effects) if e is not None]
    real = dict(zip(shown, holm([effects[k].p for k in shown if effects[k] is not None]), strict=True))  # type: ignore[union-attr]
    found = []
    for k, count in enumerate(changes):
        if k not in real:
            found.append(Ruling.NO_RUNS)
        elif not real[k]:
            found.append(Ruling.NOT_SHOWN)
        else:
            found.append(Ruling.TOO_MANY if count > 1 else Ruling.REAL)
    return found


def passes_needed(part: float, within: float, read: float = 0.0) -> int:
    """Passes of each setup in one outing to see a difference, four times of five.

    Parameters
    ----------
    part : the difference over the speed [1].
    within, read : spread of runs of one outing, and of one reading.
    """
    for count in range(2, MOST_PASSES):
        if chance_seen(part, count, within, read) >= POWER:
            return count
    return MOST_PASSES


def chance_seen(part: float, count: int, within: float, read: float = 0.0) -> float:
    """How often so many passes of each setup in one outing show a difference that is there: the t test's power [1].

    J. Cohen, Statistical Power Analysis for the Behavioral Sciences (1988), ch. 2.

    Parameters
    ----------
    part : the difference over the speed [1].
    count : passes of each setup, at least 2.
    within, read : spread of runs of one outing, and of one reading.
    """
    freedom = 2 * count - 2
    deviation = math.sqrt(2 * (within**2 + read**2) / count)
    critical = float(scipy.special.stdtrit(freedom, 1 - LEVEL / 2))
    return 1.0 - float(scipy.special.nctdtr(freedom, abs(part) / deviation, critical))


def order_of_passes(count: int) -> str:
    """An order of passes of A and B in which a steady drift of the day falls out: A B B A, over and over."""
    return "".join("ABBA"[k % 4] for k in range(2 * count)) if count % 2 == 0 else order_of_passes(count + 1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Share:
    """The part of one of several changes, as the model has it, and its correlation with the rest."""

    name: str
    value: float
    spread: float


def shared_out(measured: float, spread: float, forecast: Sequence[Share]) -> list[Share]:
    """A measured effect of several changes at once, shared out among them by the model.

    The forecasts are the prior, their sum the reading (closed form): who was less sure takes more of what is left. The
    parts are no better known than that; only their sum was measured.
    """
    prior = np.array([s.value for s in forecast])
    variance = np.array([s.spread**2 for s in forecast])
    whole = variance.sum() + spread**2
    left = measured - prior.sum()
    found = prior + variance / whole * left
    open_ = np.sqrt(variance - variance**2 / whole)
    return [Share(name=s.name, value=float(v), spread=float(o)) for s, v, o in zip(forecast, found, open_, strict=True)]
