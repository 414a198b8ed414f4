"""What a decision brought: how likely it helped and by how much, by one law for the word and for the interval.

Runs before and after, each freed of its conditions by the model, differ by the decision, by the day and by how well
this driver repeats himself on this water, his display included. What one day or one instrument does to both sides falls
out of the difference. Of decisions that do nothing ``LEVEL`` are called a change, however many others were tried in
other months: who tries much must not be told less. What each is likely to have brought with the forecast believed, too,
stands beside it.
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
"""Share of decisions that do nothing which are called a change."""
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
    within : s_r, of runs of one setup within an outing, reading included.
    between : s_L, between outings.
    runs : how many runs the first is taken from beyond one a group; 0 where it is only usual.
    scatter : the first over what is usual for such readings [1].
    """

    within: float
    between: float
    runs: int
    scatter: float = 1.0

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

    def freedom(self, count: int) -> float:
        """Degrees of freedom of a comparison of so many runs."""
        return PRIOR_WEIGHT + self.runs + max(count - 2, 0)


def usual_spread(own: float) -> float:
    """Of a run within an outing, before this driver's own is known: his driving and the reading."""
    return math.hypot(REPEAT, own)


def repeatability(groups: Sequence[Sequence[Try]]) -> Repeatability:
    """Of runs in groups, each of one setup (ISO 5725-2:1994, 7.4, for groups of unequal size), held to the usual."""
    squares, freedom = PRIOR_WEIGHT, PRIOR_WEIGHT
    between, days, counted = PRIOR_WEIGHT * DAY**2, PRIOR_WEIGHT, 0
    spreads = [usual_spread(run.spread) for group in groups for run in group]
    usual = math.sqrt(float(np.mean(np.square(spreads)))) if spreads else REPEAT
    for group in groups:
        cells: dict[str, list[Try]] = {}
        for run in group:
            cells.setdefault(run.outing, []).append(run)
        for cell in cells.values():
            mean = float(np.mean([run.value for run in cell]))
            squares += sum(((run.value - mean) / usual_spread(run.spread)) ** 2 for run in cell)
            freedom += len(cell) - 1
            counted += len(cell) - 1
        if len(cells) > 1:
            means = [float(np.mean([run.value for run in cell])) for cell in cells.values()]
            size = len(cells) / sum(1 / len(cell) for cell in cells.values())
            spread = float(np.var(means, ddof=1)) - squares / freedom * usual**2 / size
            between += max(spread, 0.0) * (len(cells) - 1)
            days += len(cells) - 1
    scatter = math.sqrt(squares / freedom)
    return Repeatability(within=scatter * usual, between=math.sqrt(between / days), runs=counted, scatter=scatter)


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What a decision brought, as a logarithm: Student's t about ``value``; see ``chance``, ``low`` and ``high``.

    Parameters
    ----------
    deviation : standard deviation, before what the freedom leaves open.
    freedom : degrees of it; infinite for a normal number.
    """

    value: float
    deviation: float
    freedom: float

    @property
    def chance(self) -> float:
        """How likely it is faster [1]."""
        return _below(self.value / self.deviation, self.freedom)

    @property
    def low(self) -> float:
        """Lower end of the 95 % interval; above 0 where that it is faster is called."""
        return self.value - self.deviation * _at(1 - LEVEL / 2, self.freedom)

    @property
    def high(self) -> float:
        """Upper end of it."""
        return self.value + self.deviation * _at(1 - LEVEL / 2, self.freedom)

    @property
    def called(self) -> bool:
        """Whether the interval leaves no change out: the same law as the chance."""
        return self.low > 0.0 or self.high < 0.0


def _below(t: float, freedom: float) -> float:
    return float(scipy.special.ndtr(t) if math.isinf(freedom) else scipy.special.stdtr(freedom, t))


def _at(part: float, freedom: float) -> float:
    return float(scipy.special.ndtri(part) if math.isinf(freedom) else scipy.special.stdtrit(freedom, part))


def effect(before: Sequence[Try], after: Sequence[Try], known: Repeatability) -> Effect | None:
    """What a decision brought; None without runs on both sides.

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
    each = np.array([known.scatter * usual_spread(t.spread) for t in tries])
    inverse = np.linalg.inv(np.diag(each**2) + known.between**2 * days @ days.T)
    covariance = np.linalg.inv(design.T @ inverse @ design)
    value = float((covariance @ design.T @ inverse @ np.array([t.value for t in tries]))[1])
    return Effect(value=value, deviation=math.sqrt(covariance[1, 1]), freedom=known.freedom(len(tries)))


def with_forecast(measured: Effect, forecast: float, spread: float) -> Effect:
    """The same with what was forecast of it believed as far as its spread: two normal numbers in one."""
    wide = measured.deviation * math.sqrt(measured.freedom / (measured.freedom - 2.0)) if measured.freedom > 2 else 1.0
    own, told = 1.0 / wide**2, 1.0 / spread**2
    value = (own * measured.value + told * forecast) / (own + told)
    return Effect(value=value, deviation=1.0 / math.sqrt(own + told), freedom=math.inf)


def ruling_of(found: Effect | None, decisions: int) -> Ruling:
    """What may be said of a change.

    Parameters
    ----------
    decisions : how many were taken at once.
    """
    if found is None:
        return Ruling.NO_RUNS
    if not found.called:
        return Ruling.NOT_SHOWN
    return Ruling.TOO_MANY if decisions > 1 else Ruling.REAL


def passes_needed(part: float, known: Repeatability) -> int:
    """Passes of each setup in one outing to see a difference, four times of five.

    Parameters
    ----------
    part : the difference over the speed [1].
    """
    for count in range(2, MOST_PASSES):
        if chance_seen(part, count, known) >= POWER:
            return count
    return MOST_PASSES


def chance_seen(part: float, count: int, known: Repeatability) -> float:
    """How often so many passes of each setup in one outing are called a change, by the law that will judge them [1].

    The noncentral t (J. Cohen, Statistical Power Analysis for the Behavioral Sciences (1988), ch. 2).

    Parameters
    ----------
    part : the difference over the speed [1].
    count : passes of each setup, at least 2.
    """
    freedom = known.freedom(2 * count)
    deviation = math.sqrt(2 / count) * known.within
    critical = _at(1 - LEVEL / 2, freedom)
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
