"""Runs against what was said of them: as bought, with what was known then, without the run, and now."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.linalg import solve_triangular

from kunstflug.core.drive.curves import percentiles
from kunstflug.core.evidence.judgement import Prediction
from kunstflug.core.evidence.readings import HEAT, STEADY, Reading, What
from kunstflug.core.learning.cases import Case, bent
from kunstflug.core.learning.drawn import DRAWS, SEED
from kunstflug.core.learning.estimate import ROUNDED, Indices, root_of
from kunstflug.core.learning.learn import Posterior
from kunstflug.core.learning.predict import RunPrediction, steady_many
from kunstflug.core.learning.search import FARTHEST
from kunstflug.core.learning.spreads import spread_of
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.value import Z80, Array

STEEP: Final = 1.0  # of a logarithm, from what is said where the search ended
MOST_OFF: Final = 0.2
LEAST_FITTING: Final = 16  # draws, of which a band can be made


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedReading:
    """A reading and what was said of it.

    Parameters
    ----------
    bought : before any run.
    then : with what was known when it was run.
    without : with all runs but this one.
    now : with all runs.
    off : read less ``without``, in spreads.
    weight : what the robust loss left of it, 0 to 1.
    """

    what: What
    read: float
    minutes: float
    bought: Prediction
    then: Prediction
    without: Prediction
    now: Prediction
    off: float
    weight: float

    def off_from(self, told: Prediction) -> float:
        """What was read less what was said: as logarithm, or in K."""
        return self.read - told.value if self.what in HEAT else math.log(self.read / told.value)


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedRun:
    """A run's readings and what was said of each.

    Parameters
    ----------
    offs : readings less what was said without the run, shape (k,); logarithms, or K.
    spread : their covariance, shape (k, k).
    """

    key: str
    readings: tuple[JudgedReading, ...]
    offs: Array
    spread: Array
    said: RunPrediction


def judged(learned: Posterior) -> tuple[JudgedRun, ...]:
    """Every run's readings, and what was said of each before, then, without it and now."""
    e = learned.evidence
    runs = [_Run.of(case, e.read[case.rows], e.spread[case.rows], e.weights[case.rows]) for case in e.cases]
    season = _Season(runs, e.centre, e.found)
    whole = []
    for k, (earlier, other, as_bought) in enumerate(zip(*_neighbours(runs), e.bought, strict=True)):
        before = runs[k].before()
        before.value = as_bought.copy()
        here, without = season.with_and_without(k, other)
        whole.append((runs[k], (before, season.then(k, earlier), without, here)))
    # About what all runs say it is straight: there the slopes were taken.
    _by_the_laws([(run.case, seen) for run, four in whole for seen in four[:3]])
    return tuple(_judged(run, *four, e.weights[run.case.rows]) for run, four in whole)


@dataclass(slots=True, kw_only=True)
class _Run:
    """A run about the end of the search, where all is linear.

    Parameters
    ----------
    columns : places of the latents that take part, shape (c,); ``width`` is how many there are.
    table : by those, the logarithms of the setup's n numbers and what stands beside the laws of k readings,
        shape (n + k, c).
    onto : the readings by those, shape (k, n + k).
    line : readings with all latents at 0, shape (k,).
    """

    case: Case
    columns: Indices
    width: int
    table: Array
    onto: Array
    line: Array
    read: Array
    variance: Array
    noise: Array
    use: npt.NDArray[np.bool_]

    @classmethod
    def of(cls, case: Case, read: Array, spread: Array, weights: Array) -> "_Run":
        """With the numbers that a case was said about."""
        said = case.said
        beside, first = np.flatnonzero(case.own.any(axis=0)), case.width - case.own.shape[1]
        columns = np.union1d(case.columns_of, beside + first)
        n = len(case.table)
        table = np.zeros((n + len(read), len(columns)))
        table[:n, np.searchsorted(columns, case.columns_of)] = case.table
        table[n:, np.searchsorted(columns, beside + first)] = case.own[:, beside]
        line = said.value - said.slope @ said.at
        return cls(
            case=case,
            columns=columns,
            width=case.width,
            table=table,
            onto=np.hstack([said.slope, np.eye(len(read))]),
            line=line,
            read=read,
            variance=spread**2,
            noise=spread**2 / weights,
            use=np.isfinite(line) & np.isfinite(read),
        )

    def before(self) -> "_Seen":
        """Before any run, as bought."""
        return self.seen(np.zeros(len(self.table)), self.table @ self.table.T)

    def seen(self, mean: Array, covariance: Array) -> "_Seen":
        """What is known, as it bears on this run: a straight line, no farther than the laws go on one.

        Where a boat may hang at its hump it is steep, and a straight line soon says anything.
        """
        spread = FARTHEST * np.maximum(self.case.mixed.before, 1e-3)
        near = np.append(np.clip(mean[: len(spread)], -spread, spread), mean[len(spread) :])
        said = self.onto @ covariance @ self.onto.T
        value = np.clip(self.line + self.onto @ near, self.case.said.value - STEEP, self.case.said.value + STEEP)
        return _Seen(mean=near, covariance=covariance, value=value, said=said)

    def across(self, other: "_Run") -> Array:
        """How its numbers go with another run's before any run, shape (n + k, n' + k')."""
        wide = np.zeros((len(self.table), self.width))
        wide[:, self.columns] = self.table
        found: Array = wide[:, other.columns] @ other.table.T
        return found


class _Season:
    """All runs in their order, and what the first of them say of each: by one factor of their readings' covariance.

    Its leading part is that of the first runs alone, so that what was known at every moment of a season takes no more
    than what is known at its end (R. E. Kalman's filter (1960), in the space of the readings).

    Parameters
    ----------
    centre : of all latents before any run, shape (p,).
    found : where the search ended.
    """

    def __init__(self, runs: Sequence[_Run], centre: Array, found: Array) -> None:
        self.runs, self.centre, self.found = runs, centre, found
        self.begins = np.concatenate([[0], np.cumsum([int(run.use.sum()) for run in runs])])
        slopes = np.zeros((self.begins[-1], len(centre)))
        for run, a, b in zip(runs, self.begins, self.begins[1:], strict=False):
            slopes[a:b, run.columns] = (run.onto @ run.table)[run.use]
        noise = np.concatenate([run.noise[run.use] for run in runs])
        read = np.concatenate([(run.read - run.line)[run.use] for run in runs])
        lower = np.linalg.cholesky(slopes @ slopes.T + np.diag(noise))
        self.off = solve_triangular(lower, read - slopes @ centre, lower=True)
        # How each run's numbers go with the readings, through the factor, shape (readings, n + k).
        self.by = [solve_triangular(lower, slopes[:, run.columns] @ run.table.T, lower=True) for run in runs]

    def _among(self, a: int, b: int, first: int) -> Array:
        """Covariance of two runs' numbers after so many readings."""
        found: Array = self.runs[a].across(self.runs[b]) - self.by[a][:first].T @ self.by[b][:first]
        return found

    def _mean(self, k: int, first: int) -> Array:
        run = self.runs[k]
        found: Array = run.table @ self.centre[run.columns] + self.by[k][:first].T @ self.off[:first]
        return found

    def then(self, k: int, held_to: int | None) -> "_Seen":
        """What was known when a run was driven. ``held_to`` is one whose readings the draws have to agree with."""
        first = int(self.begins[k])
        seen = self.runs[k].seen(self._mean(k, first), self._among(k, k, first))
        if held_to is not None:
            cross = self._among(held_to, k, first)
            seen.held = _Held.of(self.runs[held_to], self._mean(held_to, first), cross, seen.covariance)
        return seen

    def with_and_without(self, k: int, held_to: int | None) -> tuple["_Seen", "_Seen"]:
        """What all runs say of one, and what all but this one say.

        The second is a linear fit in closed form (R. D. Cook, S. Weisberg, Residuals and Influence (1982)).
        """
        run, last = self.runs[k], int(self.begins[-1])
        now = run.seen(run.table @ self.found[run.columns], self._among(k, k, last))
        onto = run.onto[run.use]
        inside = np.diag(run.noise[run.use]) - now.said[np.ix_(run.use, run.use)] + 1e-12 * np.eye(len(onto))
        off, mine = (run.read - now.value)[run.use], now.covariance @ onto.T

        def less(mean: Array, cross: Array) -> tuple[Array, Array]:
            gain = np.linalg.solve(inside, (cross @ onto.T).T).T
            return mean - gain @ off, cross + gain @ mine.T

        seen = run.seen(*less(now.mean, now.covariance))
        if held_to is not None:
            other = self.runs[held_to]
            theirs = less(other.table @ self.found[other.columns], self._among(held_to, k, last))
            seen.held = _Held.of(other, *theirs, seen.covariance)
        return now, seen


def _neighbours(runs: Sequence[_Run]) -> tuple[list[int | None], list[int | None]]:
    """For each run: the last one before it of its boat with a steady reading; and that one or, failing it, the next."""
    places = list(range(len(runs)))
    earlier, later = _last_before(runs, places), _last_before(runs, places[::-1])[::-1]
    return earlier, [after if before is None else before for before, after in zip(earlier, later, strict=True)]


def _last_before(runs: Sequence[_Run], places: Sequence[int]) -> list[int | None]:
    newest: dict[str, int] = {}
    found = []
    for k in places:
        case = runs[k].case
        found.append(newest.get(case.run.boat))
        if case.steady():
            newest[case.run.boat] = k
    return found


@dataclass(slots=True, kw_only=True)
class _Held:
    """Another run of the boat, whose readings the draws have to agree with.

    Draws agree with earlier readings only along the straight line. The laws curve below that line, so the band of a
    boat that had run lay half a spread too low. Each draw's curvature in the other run is subtracted in this one.

    Parameters
    ----------
    mean : of the other run's numbers and of what stands beside the laws there, shape (n' + k',).
    follows : how they follow from those of this run, shape (n + k, n' + k').
    """

    run: _Run
    mean: Array
    follows: Array

    @classmethod
    def of(cls, run: _Run, mean: Array, cross: Array, covariance: Array) -> "_Held":
        """By the covariance of both, shape (n' + k', n + k), and that of this run's."""
        follows = np.asarray(np.linalg.solve(covariance + ROUNDED * np.eye(len(covariance)), cross.T), dtype=np.float64)
        return cls(run=run, mean=mean, follows=follows)


@dataclass(slots=True, kw_only=True)
class _Seen:
    """What is known of a run's numbers and of what stands beside the laws, and what that says of its readings.

    Parameters
    ----------
    mean, covariance : shapes (n + k,) and (n + k, n + k).
    value : logarithms, shape (k,).
    said : their covariance, shape (k, k).
    held : the run that draws have to agree with, if any.
    drawn : by place of a reading, draws of it and as many deviates for its own spread.
    """

    mean: Array
    covariance: Array
    value: Array
    said: Array
    held: _Held | None = None
    drawn: dict[int, tuple[Array, Array]] = field(default_factory=dict)


def _by_the_laws(asked: Sequence[tuple[Case, _Seen]]) -> None:
    """Speed, current, rpm and voltage as the laws say them, with the spread of draws: near the hump they bend.

    Where a boat comes over it or not, a straight line says anything.
    """
    asked = [(case, seen) for case, seen in asked if case.steady()]
    if not asked:
        return
    deviates: dict[int, Array] = {}
    at = [_drawn(seen, deviates) for _, seen in asked]
    names = [case.mixed.names for case, _ in asked]
    numbers = [x[:, : len(n)] for (x, _), n in zip(at, names, strict=True)]
    real = steady_many([case.base for case, _ in asked], names, numbers)
    curved = _curved([(seen, x) for (_, seen), (x, _) in zip(asked, at, strict=True)])
    for (case, seen), (x, own), logs, less in zip(asked, at, real, curved, strict=True):
        rows, columns = case.steady(), case.columns()
        said = (logs - less)[:, columns] + x[:, [len(case.mixed.names) + i for i in rows]]
        agree, drives = np.isfinite(said[1:]).all(axis=1), np.isfinite(logs[1:]).all(axis=1)
        if not np.isfinite(said[0]).all() or drives.sum() < DRAWS // 2 or agree.sum() < LEAST_FITTING:
            continue  # the laws have no answer for too many draws: the straight line is all there is
        seen.value[rows] = said[0]
        seen.drawn = {i: (said[1:][agree, j], own[agree, i]) for j, i in enumerate(rows)}


def _curved(asked: Sequence[tuple[_Seen, Array]]) -> list[Array]:
    """Curvature of the laws in the run that each one's draws have to agree with; shapes (1 + DRAWS, 4).

    0 where there is no such run, and NaN for a draw that contradicts it.
    """
    found = [np.zeros((len(x), len(STEADY))) for _, x in asked]
    held = [
        (k, seen.held.run.case, seen.held.mean + (x - seen.mean) @ seen.held.follows)
        for k, (seen, x) in enumerate(asked)
        if seen.held is not None
    ]
    off_line = bent([case for _, case, _ in held], [x[:, : len(case.mixed.names)] for _, case, x in held])
    for (k, case, _), off in zip(held, off_line, strict=True):
        near: npt.NDArray[np.bool_] = np.all(np.abs(off) < MOST_OFF, axis=1)
        if near[0] and near[1:].sum() >= LEAST_FITTING:
            # A draw that is farther off sits on the other side of the hump.
            found[k][:, case.columns()] = np.where(near[:, np.newaxis], off, np.nan)
    return found


def _drawn(seen: _Seen, deviates: dict[int, Array]) -> tuple[Array, Array]:
    """The mean and draws about it, shape (1 + DRAWS, n + k), and deviates of the readings, shape (DRAWS, k).

    Parameters
    ----------
    deviates : by how many there are, made once.
    """
    count, readings = len(seen.mean), len(seen.value)
    fields = count + readings
    if fields not in deviates:
        deviates[fields] = even_deviates(fields, DRAWS, SEED)
    factor = root_of(seen.covariance)
    found: Array = seen.mean + np.vstack([np.zeros(count), (factor @ deviates[fields][:count]).T])
    return found, deviates[fields][count:].T


def _judged(run: _Run, bought: _Seen, then: _Seen, without: _Seen, now: _Seen, weights: Array) -> JudgedRun:
    whole = without.said + np.diag(run.variance)
    offs = np.where(run.use, run.read - without.value, 0.0)

    def told(seen: _Seen, i: int) -> Prediction:
        reading = run.case.run.readings[i]
        if i in seen.drawn:
            return _drawn_told(run.case, reading, seen.value[i], *seen.drawn[i])
        return _told(run.case, reading, seen.value[i], seen.said[i, i])

    items = tuple(
        JudgedReading(
            what=reading.what,
            read=reading.value,
            minutes=reading.minutes,
            bought=told(bought, i),
            then=told(then, i),
            without=told(without, i),
            now=told(now, i),
            off=float(offs[i] / math.sqrt(max(whole[i, i], 1e-12))),
            weight=float(weights[i]),
        )
        for i, reading in enumerate(run.case.run.readings)
    )
    return JudgedRun(key=run.case.run.key, readings=items, offs=offs, spread=whole, said=run.case.said)


def _drawn_told(case: Case, reading: Reading, value: float, drawn: Array, own: Array) -> Prediction:
    """Draws of a reading with its own spread."""
    read = drawn + own * spread_of(reading, 1.0, case.run.setup.conditions)
    low, high = percentiles(read[:, np.newaxis])[:, 0].tolist()
    return Prediction(value=math.exp(value), spread=(high - low) / (2 * Z80), low=math.exp(low), high=math.exp(high))


def _told(case: Case, reading: Reading, value: float, variance: float) -> Prediction:
    """Convert a compared value back to its unit, with the spread of the boat's numbers and of the reading itself.

    An error of the numbers grows with the temperature's rise. A gun's error is the same in K at any temperature.
    """
    if not math.isfinite(value):
        return Prediction(value=math.nan, spread=math.nan, low=math.nan, high=math.nan)
    shown = math.exp(min(value, 50.0))
    spread = math.hypot(math.sqrt(max(variance, 0.0)), spread_of(reading, shown, case.run.setup.conditions))
    if reading.what in HEAT:
        middle, half = case.said.base_c + shown, Z80 * shown * spread
        return Prediction(value=middle, spread=shown * spread, low=middle - half, high=middle + half)
    apart = math.exp(min(Z80 * spread, 50.0))
    return Prediction(value=shown, spread=spread, low=shown / apart, high=shown * apart)
