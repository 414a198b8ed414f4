"""Pool what the boats of a club's racers teach into one prior for everybody.

Each racer shares a summary, not runs: for every number of a family of things, how far it lies from the general guess
and how certain that is, in spreads. The mean over a racer's things of a family counts once, so ten boats of one racer
are not ten racers. Everything is linear and normal, so pooling is in closed form: a racer's numbers are normal about
the family's mean, and the part of the variance that a family has in common is the one that makes all summaries
likeliest (random effects; D. A. Harville, J. Am. Stat. Assoc. 72 (1977) 320-338; several numbers at once as D. Jackson,
I. R. White, S. G. Thompson, Stat. Med. 29 (2010) 1282-1297).
"""

import dataclasses
import itertools
import math
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final, TypeAlias

import numpy as np

from kunstflug.core.evidence.readings import STEADY
from kunstflug.core.learning.cases import numbers_of
from kunstflug.core.learning.estimate import Indices
from kunstflug.core.learning.learn import Posterior, learn
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.club import Club, Number

LEAST_RACERS: Final = 3
"""A family that fewer racers share is left out: one racer's part could be read from it (common practice, no source)."""
MOST_OFF: Final = 4.0
"""A summary farther off than so many spreads is a mistake and does not count (common practice, no source)."""
SHARES: Final = (0.02, 0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6, 0.7, 0.8, 0.9)
WIDTHS: Final = (0.6, 0.7, 0.8, 0.9, 1.0, 1.1, 1.2, 1.3, 1.45, 1.6)
WIDTH_SPREAD: Final = 0.3
"""Of the logarithm of how far a guess of the spread itself may be off (common practice, no source)."""
TELLS: Final = 0.95
"""A number of which the club leaves more than this part of the variance open costs time and tells nothing."""


Each: TypeAlias = Callable[[Callable[[Any, Any], Any], Any, Sequence[Any]], Iterable[Any]]
"""Applies a function to one thing, which is large, with each of many."""


def here(work: Callable[[Any, Any], Any], shared: Any, pieces: Sequence[Any]) -> Iterable[Any]:
    """One after the other, in this thread."""
    return (work(shared, piece) for piece in pieces)


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Summary:
    """What one racer's runs taught about families of things: normal numbers, in spreads as bought.

    Parameters
    ----------
    numbers : n of them, by family and name.
    mean, covariance : what is known of their means over the racer's things, shapes (n,) and (n, n).
    before : their covariance before any run, shape (n, n).
    """

    numbers: tuple[Number, ...]
    mean: Array
    covariance: Array
    before: Array

    @property
    def families(self) -> set[str]:
        """The families in it."""
        return {family for family, _ in self.numbers}


def summary_of(runs: Sequence[RunEvidence]) -> Summary | None:
    """Summarise a racer's runs, learnt without the club; None if no run has a reading that counts.

    Temperatures and charge do not count. Racers guess the duty and the minutes after landing in the same way, so an
    error that all boats share comes from that guess and not from the boats (seen on the simulated pond).
    """
    told = [dataclasses.replace(run, readings=tuple(r for r in run.readings if r.what in STEADY)) for run in runs]
    told = [run for run in told if run.readings]
    return _summary(learn(told)) if told else None


def _summary(learned: Posterior) -> Summary:
    latents = learned.latents
    rows: dict[Number, dict[str, Array]] = defaultdict(dict)
    for case in learned.evidence.cases:
        for owner, thing, name in numbers_of(case.run):
            if (thing, name) in latents.columns:
                rows[case.base.families[owner], name][thing] = latents.row(thing, name)[0]
    table = np.array([np.mean(list(of_things.values()), axis=0) for of_things in rows.values()])
    return Summary(
        numbers=tuple(rows),
        mean=table @ learned.mean,
        covariance=learned.covariance.of(table),
        before=table @ table.T,
    )


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class _Evidence:
    """What a racer's runs alone say of the numbers, whatever was believed before: a normal likelihood.

    Parameters
    ----------
    at : place of each number in the club's table, shape (n,).
    precision : shape (n, n).
    pull : precision times what is likeliest, shape (n,).
    before : covariance before any run, shape (n, n).
    """

    at: Indices
    precision: Array
    pull: Array
    before: Array

    def of_families(self, share: float, width: float) -> tuple[Array, Array, float]:
        """Precision and pull on what families have in common, and the logarithm of how likely the rest is."""
        own = (1.0 - share) * width**2 * self.before
        inside = np.eye(len(own)) + self.precision @ own
        pull: Array = np.asarray(np.linalg.solve(inside, self.pull), dtype=np.float64)
        precision = share * np.linalg.solve(inside, self.precision)
        _, log_det = np.linalg.slogdet(inside)
        likely = 0.5 * float(self.pull @ own @ pull) - 0.5 * float(log_det)
        return 0.5 * (precision + precision.T), math.sqrt(share) * pull, likely


def _evidence(summary: Summary, places: Mapping[Number, int]) -> _Evidence:
    kept = [k for k, number in enumerate(summary.numbers) if number in places]
    square = np.ix_(kept, kept)
    known, before = summary.covariance[square], summary.before[square]
    inverse = np.linalg.inv(known)
    precision = inverse - np.linalg.inv(before)
    values, vectors = np.linalg.eigh(0.5 * (precision + precision.T))
    return _Evidence(
        at=np.array([places[summary.numbers[k]] for k in kept], dtype=np.int64),
        precision=(vectors * np.maximum(values, 0.0)) @ vectors.T,  # runs take nothing away
        pull=inverse @ summary.mean[kept],
        before=before,
    )


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Pool:
    """All racers' summaries together, so that one more comes in, and one goes out, without looking at the others.

    Parameters
    ----------
    numbers : n of them, by family and name.
    precision, pull : what all summaries say of what families have in common, shapes (n, n) and (n,).
    share, width : see ``Club``.
    racers : how many taught each family.
    """

    numbers: tuple[Number, ...]
    precision: Array
    pull: Array
    share: float
    width: float
    racers: Mapping[str, int]

    def with_one(self, summary: Summary) -> "Pool":
        """The same with one racer more; parts in common stay what they were."""
        return self._moved(summary, 1)

    def without(self, summary: Summary) -> "Pool":
        """The same without one racer: what they get back is what the others taught."""
        return self._moved(summary, -1)

    def _moved(self, summary: Summary, sign: int) -> "Pool":
        if not counts(summary):
            return self
        there = set(self.numbers)
        numbers = (*self.numbers, *(number for number in summary.numbers if number not in there))
        evidence = [_evidence(summary, {number: k for k, number in enumerate(numbers)})]
        one, more = _sum(evidence, len(numbers), self.share, self.width), len(numbers) - len(there)
        racers = Counter(self.racers)
        racers.update(dict.fromkeys(summary.families, sign))
        return dataclasses.replace(
            self,
            numbers=numbers,
            precision=np.pad(self.precision, (0, more)) + sign * one.precision,
            pull=np.pad(self.pull, (0, more)) + sign * one.pull,
            racers=dict(racers),
        )

    def club(self) -> Club | None:
        """What families have in common; None where too few racers teach any, or nobody anything."""
        at = np.array([k for k, (family, _) in enumerate(self.numbers) if self.racers[family] >= LEAST_RACERS], int)
        if not len(at):
            return None
        covariance = np.linalg.inv(np.eye(len(at)) + self.precision[np.ix_(at, at)])
        mean = covariance @ self.pull[at]
        tells = np.flatnonzero(np.diag(covariance) < TELLS)
        kept = [self.numbers[at[k]] for k in tells.tolist()]
        if not kept:
            return None
        return Club(
            numbers={number: k for k, number in enumerate(kept)},
            mean=mean[tells],
            covariance=0.5 * (covariance + covariance.T)[np.ix_(tells, tells)],
            share=self.share,
            width=self.width,
            racers={family: self.racers[family] for family in sorted({family for family, _ in kept})},
        )


def counts(summary: Summary) -> bool:
    """Whether a summary is one: nothing in it lies where no boat can be."""
    return bool(len(summary.numbers)) and bool(np.all(np.abs(summary.mean) < MOST_OFF))


def pooled(
    summaries: Iterable[Summary],
    shares: Sequence[float] = SHARES,
    widths: Sequence[float] = WIDTHS,
    each: Each = here,
) -> Pool:
    """All racers' summaries together.

    Parameters
    ----------
    shares, widths : see ``Club``; of all of them those two that make the summaries likeliest.
    each : where the many parts are tried; on many machines, where there are many racers.
    """
    counted = [summary for summary in summaries if counts(summary)]
    numbers = tuple(sorted({number for summary in counted for number in summary.numbers}))
    places = {number: k for k, number in enumerate(numbers)}
    evidence = [_evidence(summary, places) for summary in counted]
    table = _Table(evidence=tuple(evidence), size=len(numbers))
    best = max(each(_tried, table, list(itertools.product(shares, widths))), key=lambda one: one.likely)
    racers = Counter(family for summary in counted for family in summary.families)
    return Pool(
        numbers=numbers,
        precision=best.precision,
        pull=best.pull,
        share=best.share,
        width=best.width,
        racers=dict(racers),
    )


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class _Sum:
    share: float
    width: float
    precision: Array
    pull: Array
    likely: float


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class _Table:
    """What all racers' runs say, sent once to whoever tries how much is in common."""

    evidence: tuple[_Evidence, ...]
    size: int


def _tried(table: _Table, parts: tuple[float, float]) -> _Sum:
    return _sum(table.evidence, table.size, *parts)


def _sum(evidence: Sequence[_Evidence], size: int, share: float, width: float) -> _Sum:
    """What all say of families that have a part of the variance in common, and how likely that part is."""
    precision, pull, likely = np.zeros((size, size)), np.zeros(size), 0.0
    for one in evidence:
        own_precision, own_pull, own_likely = one.of_families(share, width)
        precision[np.ix_(one.at, one.at)] += own_precision
        pull[one.at] += own_pull
        likely += own_likely
    whole = np.eye(size) + precision
    _, log_det = np.linalg.slogdet(whole)
    likely += 0.5 * float(pull @ np.linalg.solve(whole, pull)) - 0.5 * float(log_det)
    # Neither all nor nothing is in common, and guesses of a spread are not far off, before any summary is seen.
    likely += math.log(share * (1.0 - share)) - 0.5 * (math.log(width) / WIDTH_SPREAD) ** 2
    return _Sum(share=share, width=width, precision=precision, pull=pull, likely=likely)
