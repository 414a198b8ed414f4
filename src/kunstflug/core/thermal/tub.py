"""The tub test: readings on the model's curve at rest, seconds left, and what the curve teaches.

A maximum a posteriori estimate: four factors on the model's guesses (part of water held, winding to case, heat capacity
of the case, case to still water and air) with their priors as observations, the readings as the rest; least squares on
the logarithms, the posterior's spread from the Jacobian at the solution (Laplace). Readings of other places are
kept and drawn; they teach nothing here.
"""

import dataclasses
import math
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import scipy

from kunstflug.core.drive.values import drive_values
from kunstflug.core.parts.learnt import Learnt
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact, NumberBetween
from kunstflug.core.quantity.fields import QuantitySpec, fields_of
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Array, Source, Value
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty, Kind, held_phase
from kunstflug.core.thermal.nodes import still_w_k, thermal_values
from kunstflug.core.thermal.run import run_duty

READING_K: Final = 1.5  # spread of a gun's reading (common practice, no source)
NAMES: Final = ("water_at_rest", "winding_case_w_k", "case_j_k", "case_still_w_k")
PRIOR: Final = (0.35, 0.30, 0.15, 0.40)
_RANGES: Final = {name: (spec.low, spec.high) for name, spec in fields_of(Learnt) if isinstance(spec, QuantitySpec)}
LONGEST_S: Final = 600.0
EVERY_S: Final = 30.0
TOLD_BEFORE_S: Final = 10.0  # "stop" is said at least this long before the ceiling
NEAR_K: Final = 2.0
DRAWS: Final = 24
MOVED: Final = 0.8


@dataclass(frozen=True, slots=True, kw_only=True)
class TubReading:
    """One reading of the case."""

    seconds: float
    celsius: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FactorShift:
    """One parameter before and after the test; ``spread`` of the logarithm [1]."""

    name: str
    before: float
    before_spread: float
    after: float
    spread: float

    @property
    def moved(self) -> bool:
        """Whether the test taught it anything: its spread fell by a fifth."""
        return self.spread < MOVED * self.before_spread


@dataclass(frozen=True, slots=True, kw_only=True)
class StopNow(Fact):
    """The ceiling is here, or some seconds away."""

    ceiling_c: float
    seconds_left: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LevelsOff(Fact):
    """The case levels off below the ceiling."""

    level_c: float
    ceiling_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class GoOn(Fact):
    """So many seconds to the ceiling; infinite where it is never reached."""

    seconds_left: float
    ceiling_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HarsherThanPond(Fact):
    """Held, the propeller takes a current for minutes where the boat takes another for seconds."""

    held_a: float
    running_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TubCurve:
    """The curve of a tub test.

    Parameters
    ----------
    time_s, prior_c, low_c, high_c : the model's own curve of the case with its band, shape (T,).
    fitted_c : the curve with what the readings taught, shape (T,); the prior's while there are none.
    end_c : where the case levels off [degC] by the fitted curve; NaN where it does not within ten minutes.
    seconds_left : until the ceiling, from the last reading [s]; infinite where it is never reached.
    stop : whether to stop now; said before the ceiling, never after.
    fails_s : when solder or enamel gives out by the fitted curve [s]; NaN where neither does within ten minutes.
    """

    time_s: Array
    prior_c: Array
    low_c: Array
    high_c: Array
    fitted_c: Array
    end_c: float
    seconds_left: float
    stop: bool
    fails_s: float
    advice: Fact
    taught: tuple[FactorShift, ...]
    misfit_k: float
    held_a: float
    kinder: HarsherThanPond


def held_setup(setup: Setup, factors: Array) -> Setup:
    """A setup with its four parameters of the tub test scaled, within what each can be."""
    values = before_values(setup)
    learnt: dict[str, Any] = {
        name: Value(value=_possible(name, value * float(f)), source=Source.LEARNT)
        for (name, value), f in zip(values.items(), factors, strict=True)
    }
    return dataclasses.replace(setup, learnt=Learnt(**learnt))


def _possible(name: str, value: float) -> float:
    """A parameter within what it can be."""
    low, high = _RANGES[name]
    return min(max(value, low), high)


def before_values(setup: Setup) -> dict[str, float]:
    """The four parameters as they stand before the test."""
    th, given = thermal_values(setup), setup.learnt
    still = float(np.asarray(still_w_k(th.water_bore_m.value, th.case_jacket_w_k.value)))
    return {
        "water_at_rest": drive_values(setup).water_at_rest.value,
        "winding_case_w_k": th.winding_case_w_k.value,
        "case_j_k": th.case_j_k.value,
        "case_still_w_k": given.case_still_w_k.value if given.case_still_w_k else still,
    }


def _priors(setup: Setup) -> Array:
    given = {f.name: getattr(setup.learnt, f.name) for f in dataclasses.fields(setup.learnt)}
    return np.array([
        given[name].spread or 0.05 if given.get(name) is not None else usual
        for name, usual in zip(NAMES, PRIOR, strict=True)
    ])  # fmt: skip


def _held(seconds: float) -> Duty:
    return Duty(kind=Kind.TUB_TEST, phases=(held_phase(seconds),))


def _held_a(setup: Setup) -> float:
    """Bus current when held, after the start [A]."""
    return float(run_duty(setup, _held(4.0), step_s=0.1, stride=5).bus_current_a[0, -1])


def _fails_s(setup: Setup) -> float:
    """When a held drive gives out [s]: the earlier of solder and enamel; NaN where neither does."""
    run = run_duty(setup, _held(LONGEST_S), step_s=0.25, stride=2)
    return float(np.fmin.reduce([at[0] for at in run.fails_s.values()]))


def held_case_c(setup: Setup, seconds: float) -> tuple[Array, Array]:
    """Times [s] and the case's temperatures [degC] held for some seconds; a row each half second."""
    run = run_duty(setup, _held(seconds), step_s=0.25, stride=2)
    start = setup.conditions.air_c.value
    return np.concatenate([[0.0], run.time_s]), np.concatenate([[start], run.temperature_c[0, :, 1]])


def _check(readings: tuple[TubReading, ...]) -> None:
    last = -1.0
    for r in readings:
        if not (0 <= r.seconds <= LONGEST_S and r.seconds > last):
            raise InvalidValue("readings.seconds", r.seconds, NumberBetween(low=max(last, 0.0), high=LONGEST_S))
        if not -10 <= r.celsius <= 200:
            given = Amount(value=r.celsius, dimension=Dimension.TEMPERATURE, unit="degC")
            allowed = Between(low=-10.0, high=200.0, dimension=Dimension.TEMPERATURE, unit="degC")
            raise InvalidValue("readings.celsius", given, allowed)
        last = r.seconds


def tub_curve(setup: Setup, readings: tuple[TubReading, ...], ceiling_c: float, running_a: float) -> TubCurve:
    """The model's curve, the readings on it, what they teach, and whether to stop.

    Parameters
    ----------
    ceiling_c : of the case, by the chosen school.
    running_a : what the running boat draws [A], to say why the tub is harsher.

    Raises
    ------
    InvalidValue : readings that are not in order, or impossible.
    """
    _check(readings)
    prior = _priors(setup)
    time_s, prior_c = held_case_c(setup, LONGEST_S)
    z = even_deviates(len(NAMES), DRAWS, 907).T
    drawn = np.array([held_case_c(held_setup(setup, np.exp(prior * row)), LONGEST_S)[1] for row in z])
    low, high = np.percentile(drawn, (10, 90), axis=0)
    fit = _fit(setup, readings, prior)
    fitted = held_case_c(held_setup(setup, fit.factors), LONGEST_S)[1] if readings else prior_c
    now = readings[-1].seconds if readings else 0.0
    left = _seconds_left(time_s, fitted, high, now, ceiling_c, readings)
    values, held_a = before_values(setup), _held_a(held_setup(setup, fit.factors))
    taught = tuple(
        FactorShift(
            name=name, before=value, before_spread=float(p), after=_possible(name, value * float(f)), spread=float(s)
        )
        for (name, value), p, f, s in zip(values.items(), prior, fit.factors, fit.spreads, strict=True)
    )
    stop = bool(readings) and (readings[-1].celsius >= ceiling_c - NEAR_K or left <= TOLD_BEFORE_S)
    level = _level_c(fitted)
    return TubCurve(
        time_s=time_s,
        prior_c=prior_c,
        low_c=low,
        high_c=high,
        fitted_c=fitted,
        end_c=level,
        seconds_left=left,
        stop=stop,
        fails_s=_fails_s(held_setup(setup, fit.factors)),
        advice=_advice(stop, left, level, ceiling_c, readings),
        taught=taught,
        misfit_k=fit.misfit_k,
        held_a=held_a,
        kinder=HarsherThanPond(held_a=held_a, running_a=running_a),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Fit:
    """Factors, spreads of their logarithms, and the root mean square misfit [K]."""

    factors: Array
    spreads: Array
    misfit_k: float


def _fit(setup: Setup, readings: tuple[TubReading, ...], prior: Array) -> _Fit:
    if not readings:
        return _Fit(factors=np.ones(len(NAMES)), spreads=prior, misfit_k=math.nan)
    seconds = np.array([r.seconds for r in readings])
    seen = np.array([r.celsius for r in readings])

    def residuals(logs: Array) -> Array:
        time_s, case = held_case_c(held_setup(setup, np.exp(logs)), float(seconds[-1]) + 1.0)
        return np.concatenate([(np.interp(seconds, time_s, case) - seen) / READING_K, logs / prior])

    found = scipy.optimize.least_squares(
        residuals, np.zeros(len(NAMES)), diff_step=np.full(len(NAMES), 0.02), x_scale=prior, max_nfev=40
    )
    jacobian = np.asarray(found.jac, dtype=float)
    covariance = np.linalg.inv(jacobian.T @ jacobian)
    misfit = float(np.sqrt(np.mean((found.fun[: len(readings)] * READING_K) ** 2)))
    return _Fit(factors=np.exp(found.x), spreads=np.sqrt(np.diag(covariance)), misfit_k=misfit)


def _level_c(curve: Array) -> float:
    """Where a curve levels off [degC]: its highest point, if it rose less than 2 K in the minute before; a pack that
    is empty ends it too.
    """
    top = int(np.argmax(curve))
    return float(curve[top]) if curve[top] - curve[max(top - 120, 0)] < 2.0 else math.nan


QUICKER: Final = {0: 0.0, 1: 0.5, 2: 0.15}
"""How much faster than the fitted curve it may rise while there are so few readings [1] (our own caution)."""


def _seconds_left(
    time_s: Array, fitted: Array, high: Array, now: float, ceiling_c: float, readings: tuple[TubReading, ...]
) -> float:
    """Seconds from the last reading until the ceiling, on the cautious side; before any by the band's hot edge.

    From the last reading, or the curve where that is hotter (a gun may miss the spot), the rise of the fitted curve,
    quicker while there are few readings, two spreads of a reading on top.
    """
    ahead = time_s > now
    if not readings:
        likely = high
    else:
        at_now = float(np.interp(now, time_s, fitted))
        quicker = 1.0 + QUICKER.get(len(readings), 0.0)
        likely = max(readings[-1].celsius, at_now) + (fitted - at_now) * quicker + 2 * READING_K
    over = np.flatnonzero(ahead & (likely >= ceiling_c))
    return float(time_s[over[0]] - now) if over.size else math.inf


def _advice(stop: bool, left: float, level: float, ceiling_c: float, readings: tuple[TubReading, ...]) -> Fact:
    if stop:
        here = readings[-1].celsius >= ceiling_c - NEAR_K
        return StopNow(ceiling_c=ceiling_c, seconds_left=0.0 if here else left)
    if math.isinf(left) and math.isfinite(level):
        return LevelsOff(level_c=level, ceiling_c=ceiling_c)
    return GoOn(seconds_left=left, ceiling_c=ceiling_c)
