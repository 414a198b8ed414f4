"""Runs against what was said of them: as bought, with what was known then, without the run, and now."""

import math
from dataclasses import dataclass

import numpy as np

from kunstflug.core.learning.cases import Case
from kunstflug.core.learning.estimate import Estimate
from kunstflug.core.learning.learn import Learned
from kunstflug.core.learning.predict import Said
from kunstflug.core.learning.seen import HEAT, Reading, What
from kunstflug.core.learning.spreads import spread_of
from kunstflug.core.quantity.value import Z80, Array


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What was said of a reading, as logarithm or in K beside what was read.

    Parameters
    ----------
    value : said, in the reading's unit.
    spread : one standard deviation with the reading's own; of the logarithm, or in K.
    """

    value: float
    spread: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
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
    bought: Told
    then: Told
    without: Told
    now: Told
    off: float
    weight: float

    def off_from(self, told: Told) -> float:
        """What was read less what was said: as logarithm, or in K."""
        return self.read - told.value if self.what in HEAT else math.log(self.read / told.value)

    def band(self, told: Told) -> tuple[float, float]:
        """The 80 % band of what was said."""
        half = Z80 * told.spread
        if self.what in HEAT:
            return told.value - half, told.value + half
        return told.value * math.exp(-half), told.value * math.exp(half)

    def inside(self, told: Told) -> bool:
        """Whether what was read lies in it."""
        low, high = self.band(told)
        return low <= self.read <= high


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedRun:
    """A run's readings and what was said of each.

    Parameters
    ----------
    offs : readings less what was said without the run, shape (k,); logarithms, or K.
    spread : their covariance, shape (k, k).
    """

    key: str
    readings: tuple[Judged, ...]
    offs: Array
    spread: Array
    said: Said


def judged(learned: Learned) -> tuple[JudgedRun, ...]:
    """Every run's readings, and what was said of each before, then, without it and now."""
    e = learned.evidence
    known = _Known(mean=e.centre.copy(), covariance=np.eye(len(e.centre)))
    return tuple(
        _judged(c, before, known, e.found, e.read[c.rows], e.spread[c.rows], e.weights[c.rows], e.m)
        for c, before in zip(e.cases, e.bought, strict=True)
    )


@dataclass(slots=True, kw_only=True)
class _Known:
    """What was known before a run; moved on by each, in closed form (R. E. Kalman, J. Basic Eng. 82 (1960) 35-45)."""

    mean: Array
    covariance: Array

    def update(self, slope: Array, off: Array, variance: Array) -> None:
        """One run more: what was read less what all latents at 0 say."""
        ph = self.covariance @ slope.T
        gain = np.linalg.solve(slope @ ph + np.diag(variance), ph.T).T
        self.mean = self.mean + gain @ (off - slope @ self.mean)
        self.covariance = self.covariance - gain @ ph.T


def _judged(
    case: Case, before: Array, known: _Known, found: Estimate, read: Array, spread: Array, weights: Array, m: int
) -> JudgedRun:
    """About the end of the search all is linear: what was known then, and what would be without this run."""
    line, slope = case.line(m)
    use = np.isfinite(line) & np.isfinite(read)
    variance, noise = spread**2, spread**2 / weights
    now = line + slope @ found.mean
    then, s_then = line + slope @ known.mean, slope @ known.covariance @ slope.T
    s_now = slope @ found.covariance @ slope.T
    # Leaving a run out of a linear fit, in closed form (R. D. Cook, S. Weisberg, Residuals and Influence (1982)).
    inside = np.diag(noise) - s_now + 1e-12 * np.eye(len(line))
    gain = np.where(use, np.linalg.solve(inside, np.where(use, read - now, 0.0)), 0.0)
    without = now + np.where(use, read - now - noise * gain, 0.0)
    s_without = s_now + s_now @ np.linalg.solve(inside, s_now)
    s_bought, whole = slope @ slope.T, s_without + np.diag(variance)
    offs = np.where(use, read - without, 0.0)
    items = tuple(
        Judged(
            what=reading.what,
            read=reading.value,
            minutes=reading.minutes,
            bought=_told(case, reading, before[i], s_bought[i, i]),
            then=_told(case, reading, then[i], s_then[i, i]),
            without=_told(case, reading, without[i], s_without[i, i]),
            now=_told(case, reading, now[i], s_now[i, i]),
            off=float(offs[i] / math.sqrt(max(whole[i, i], 1e-12))),
            weight=float(weights[i]),
        )
        for i, reading in enumerate(case.run.readings)
    )
    known.update(slope[use], (read - line)[use], noise[use])
    return JudgedRun(key=case.run.key, readings=items, offs=offs, spread=whole, said=case.said)


def _told(case: Case, reading: Reading, value: float, variance: float) -> Told:
    """Convert a compared value back to its unit, with the spread of the boat's numbers and of the reading itself.

    An error of the numbers grows with the temperature's rise. A gun's error is the same in K at any temperature.
    """
    if not math.isfinite(value):
        return Told(value=math.nan, spread=math.nan)
    shown = math.exp(min(value, 50.0))
    spread = math.hypot(math.sqrt(max(variance, 0.0)), spread_of(reading, shown, case.run.setup.conditions))
    if reading.what in HEAT:
        return Told(value=case.said.base_c + shown, spread=shown * spread)
    return Told(value=shown, spread=spread)
