"""Curves over the knobs that a boat was run with, how far each may be turned, and the next setting worth trying."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.trim.boat import FRIGHTENING, TrimBoat, TrimRun
from kunstflug.core.trim.cliff import Sight, cliff_of
from kunstflug.core.trim.curve import Curve, Points, curve_of, days_of
from kunstflug.core.trim.knobs import FIRST_TURNED, KNOBS, KNOWN_TO_MODEL, TrimKnob, knob_of
from kunstflug.core.trim.measures import Measure, shown
from kunstflug.core.trim.next_setting import (
    FARTHEST,
    RISK,
    SAFE_STEPS,
    Advice,
    Knob,
    Proposal,
    TrimKnowledge,
    next_setting,
)
from kunstflug.core.trim.settings import Field, but_trim, forecast_of, spec_at, speed_of, value_at
from kunstflug.core.trim.signs import Behaviour

LINE: Final = 25
BESIDE_STEPS: Final = float(FARTHEST[0])
"""So far past what was run a curve is drawn: what is proposed lies on it."""
Z80: Final = 1.2816
MOST_KNOBS: Final = 4
MARGIN_DOUBT: Final = 0.15
"""Of the margins of the model, as a part of their use; our own choice."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """One measure: the runs that have it, and the curve through them."""

    measure: Measure
    runs: list[TrimRun]
    curve: Curve


@dataclass(frozen=True, slots=True, kw_only=True)
class LinePoint:
    """The curve over one knob at one place [core's unit], with its 80 % band."""

    at: float
    middle: float
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadPoint:
    """What a run read at one place of a knob, in the conditions of the setup on the sheet."""

    at: float
    read: float
    run: TrimRun


@dataclass(frozen=True, slots=True, kw_only=True)
class KnobCurve:
    """A measure over one knob, the others as they stand."""

    measure: Measure
    points: list[ReadPoint]
    line: list[LinePoint]

    @property
    def settings(self) -> int:
        """At how many places the knob was run."""
        return len({point.at for point in self.points})


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """A setup that was run and differs from the one on the sheet in its trim only.

    Parameters
    ----------
    values : where its knobs stand, those that stand elsewhere.
    """

    setup_id: int
    values: dict[str, float]
    runs: list[TrimRun]
    speed_mps: float

    @property
    def seen(self) -> frozenset[Behaviour]:
        """What it did in all its runs."""
        return frozenset().union(*(run.seen for run in self.runs))


@dataclass(frozen=True, slots=True, kw_only=True)
class NextSetting:
    """The next setting worth trying: what is proposed, and where the knobs that move would stand.

    Parameters
    ----------
    runs : that the curve of speed goes through.
    repeats : spread of the speed of two runs of one setting, as a part of it.
    unwritten : path of a knob that nobody wrote down, where those that are have no more to give.
    """

    proposal: Proposal
    values: dict[str, float]
    runs: int
    repeats: float
    unwritten: str | None


class Landscape:
    """What runs say of the knobs of a setup, all else alike.

    Parameters
    ----------
    setup : the one on the sheet; the knobs' steps count from it.
    """

    def __init__(self, setup: Setup, boat: TrimBoat) -> None:
        self.setup, self.setups = setup, boat.setups
        same = but_trim(setup, setup.conditions)
        alike = {key for key, other in boat.setups.items() if but_trim(other, setup.conditions) == same}
        self.ran = [run for run in boat.runs if run.setup_id in alike]
        self.runs = [run for run in self.ran if Measure.SPEED in run.read]
        moved = [knob for knob in KNOBS if self.was_turned(knob)]
        begun = [knob for knob in map(knob_of, self._practice()) if knob is not None and self._stands(knob)]
        self.turned = list(dict.fromkeys([*moved, *begun]))[:MOST_KNOBS]
        self.here = np.array([_steps(setup, knob) for knob in self.turned])
        self.series = {one.measure: one for one in (self._series(measure) for measure in Measure) if one is not None}
        blind = [knob.path not in KNOWN_TO_MODEL for knob in self.turned]
        self.field = Field(setup, self.turned, self.here)
        self.drives = forecast_of(setup) is not None
        at = self._stood(self.ran)
        self.sights = [run.sight for run in self.ran]
        self.ran_uses = self.field.uses(at) if self.drives else None
        self.cliff = cliff_of(at, self.sights, self.ran_uses, MARGIN_DOUBT, blind)
        self.blind = [unknown or not self.drives for unknown in blind]

    def was_turned(self, knob: TrimKnob) -> bool:
        """Whether a knob was run at several settings, and stands in all of them."""
        values = [value_at(self.setups[run.setup_id], knob.path) for run in self.ran]
        return self._stands(knob) and len({round(v / knob.step, 3) for v in values if v is not None}) > 1

    def curves(self, knob: TrimKnob) -> list[KnobCurve]:
        """Every measure over a knob; none where it was not turned."""
        if knob not in self.turned or not self.was_turned(knob):
            return []
        return [self._curve(knob, one) for one in self.series.values()]

    def safe(self, knob: TrimKnob) -> tuple[float, float] | None:
        """From where to where a knob keeps the margins [core's unit]; None where it is not written, or unknown."""
        here, spec = value_at(self.setup, knob.path), spec_at(knob.path)
        if here is None or knob.path not in KNOWN_TO_MODEL or not self.drives:
            return None
        chance = self._chances(knob)
        low, high = (here + way * self._reach(chance, way) * knob.step for way in (-1, 1))
        return max(low, spec.low), min(high, spec.high)

    def settings(self) -> list[Setting]:
        """Setups that were run and differ in their trim only, fastest first; those that frightened last."""
        found = [one for one in self._settings() if math.isfinite(one.speed_mps)]
        return sorted(found, key=lambda one: (bool(one.seen & FRIGHTENING), -one.speed_mps))

    def next(self) -> NextSetting | None:
        """The next setting worth trying; None until a run was read with a knob of trim written down."""
        speed = self.series.get(Measure.SPEED)
        if speed is None:
            return None
        knobs = []
        for knob, here, blind in zip(self.turned, self.here, self.blind, strict=True):
            spec = spec_at(knob.path)
            low, high = spec.low / knob.step - here, spec.high / knob.step - here
            knobs.append(Knob(name=knob.path, step=knob.step, low=float(low), high=float(high), blind=blind))
        known = TrimKnowledge(
            curve=speed.curve,
            cliff=self.cliff,
            uses=self.field.uses if self.drives else None,
            model=self.field.log_speeds,
            frightened=[k for k, run in enumerate(speed.runs) if run.sight is not Sight.CALM],
        )
        newest = self._stood(self.ran[-1:])[0]
        found = next_setting(known, knobs, (newest, self.sights[-1] is not Sight.CALM))
        moved = zip(self.turned, found.at, self.here, strict=True)
        return NextSetting(
            proposal=found,
            values={knob.path: float(here + by) * knob.step for knob, by, here in moved if abs(by) > 1e-6},
            runs=len(speed.runs),
            repeats=known.curve.repeats,
            unwritten=self._unwritten(found),
        )

    def _practice(self) -> tuple[str, ...]:
        """What is turned for speed on such a boat, first to last."""
        return FIRST_TURNED[self.setup.hull.hull_type]

    def _stands(self, knob: TrimKnob) -> bool:
        """Whether a knob is written down here and in all runs."""
        setups = [self.setup, *(self.setups[run.setup_id] for run in self.ran)]
        return all(value_at(setup, knob.path) is not None for setup in setups)

    def _series(self, measure: Measure) -> Series | None:
        """A curve through what was read; None where it was not, and, but for speed, at one setting only."""
        runs = [run for run in self.runs if measure in run.read]
        if not self.turned or not runs:
            return None
        at = self._stood(runs)
        if measure is not Measure.SPEED and len({tuple(np.round(row, 3)) for row in at}) < 2:
            return None
        points = Points(
            at=at,
            read=np.array([run.read[measure].over for run in runs], dtype=np.float64),
            spread=np.array([run.read[measure].spread for run in runs]),
            day=days_of([run.outing for run in runs]),
        )
        return Series(measure=measure, runs=runs, curve=curve_of(points))

    def _stood(self, runs: list[TrimRun]) -> Array:
        """Where the knobs stood in runs, in steps from here, shape (n, k)."""
        at = [[_steps(self.setups[run.setup_id], knob) for knob in self.turned] for run in runs]
        return np.array(at, dtype=np.float64).reshape(len(runs), len(self.turned)) - self.here

    @staticmethod
    def _reach(chance: list[float], way: int) -> int:
        """How many steps one way keep the chance of passing a margin small, or as small as it is here."""
        most = max(RISK, chance[SAFE_STEPS])
        past = (reach for reach in range(SAFE_STEPS) if chance[SAFE_STEPS + way * (reach + 1)] > most)
        return next(past, SAFE_STEPS)

    def _chances(self, knob: TrimKnob) -> list[float]:
        """Of passing a margin, some steps down to some up on one knob alone, by the law of what is proposed."""
        steps = np.arange(-SAFE_STEPS, SAFE_STEPS + 1, dtype=np.float64)
        if knob in self.turned:
            at = steps[:, np.newaxis] * np.eye(len(self.turned))[self.turned.index(knob)]
            return list(self.cliff.chance(at, self.field.uses(at)))
        alone = Field(self.setup, [knob], np.array([_steps(self.setup, knob)]))
        cliff = cliff_of(np.zeros((len(self.ran), 1)), self.sights, self.ran_uses, MARGIN_DOUBT)
        return list(cliff.chance(steps[:, np.newaxis], alone.uses(steps[:, np.newaxis])))

    def _curve(self, knob: TrimKnob, series: Series) -> KnobCurve:
        k, points = self.turned.index(knob), series.curve.points
        rises = [run.rise_k for run in series.runs if math.isfinite(run.rise_k)]
        rise = float(np.median(rises)) if rises else math.nan
        return KnobCurve(
            measure=series.measure,
            points=[
                ReadPoint(at=self._place(k, at[k]), read=self._shown(series.measure, at, over, rise), run=run)
                for run, at, over in zip(series.runs, points.at, points.read, strict=True)
            ],
            line=list(self._line(k, series, rise)),
        )

    def _line(self, k: int, series: Series, rise_k: float) -> Iterator[LinePoint]:
        """A measure along one knob, from some steps below what was run to some above."""
        knob, run = self.turned[k], series.curve.points.at[:, k]
        spec = spec_at(knob.path)
        low = max(min(run.min(), 0.0) - BESIDE_STEPS, spec.low / knob.step - self.here[k])
        high = min(max(run.max(), 0.0) + BESIDE_STEPS, spec.high / knob.step - self.here[k])
        where = np.zeros((LINE, len(self.turned)))
        where[:, k] = np.linspace(low, high, LINE)
        mean, covariance = series.curve.at(where)
        half = Z80 * np.sqrt(np.maximum(np.diag(covariance), 0.0))
        for at, middle, wide in zip(where, mean, half, strict=True):
            three = [self._shown(series.measure, at, over, rise_k) for over in (middle, middle - wide, middle + wide)]
            if all(math.isfinite(v) for v in three):
                yield LinePoint(at=self._place(k, at[k]), middle=three[0], low=min(three), high=max(three))

    def _place(self, k: int, steps: float) -> float:
        """Where a knob stands some steps from here [core's unit]."""
        return round(float(steps + self.here[k]) * self.turned[k].step, 6)

    def _shown(self, measure: Measure, at: Array, over: float, rise_k: float) -> float:
        """What a logarithm stands for, in the conditions of the setup on the sheet."""
        if measure is Measure.SPEED:
            return self.field.speed(at) * math.exp(over)
        if measure is Measure.HEAT:
            return self.setup.conditions.water_c.value + rise_k * math.exp(over)
        return shown(measure, over)

    def _settings(self) -> Iterator[Setting]:
        for setup_id in dict.fromkeys(run.setup_id for run in self.runs):
            runs, setup = [run for run in self.runs if run.setup_id == setup_id], self.setups[setup_id]
            there = {knob.path: value_at(setup, knob.path) for knob in KNOBS}
            yield Setting(
                setup_id=setup_id,
                values={p: v for p, v in there.items() if v is not None and v != value_at(self.setup, p)},
                runs=runs,
                speed_mps=speed_of(self.setup, setup) * math.exp(sum(run.over for run in runs) / len(runs)),
            )

    def _unwritten(self, found: Proposal) -> str | None:
        """The next knob by practice that nobody wrote down, where these have no more to give; else None."""
        if found.advice not in (Advice.ENOUGH, Advice.HELD):
            return None
        return next((path for path in self._practice() if value_at(self.setup, path) is None), None)


def _steps(setup: Setup, knob: TrimKnob) -> float:
    """Where a knob stands, in its steps."""
    value = value_at(setup, knob.path)
    assert value is not None, knob.path
    return value / knob.step
