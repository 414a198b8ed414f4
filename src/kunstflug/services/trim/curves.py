"""Curves over the knobs of a boat's trim, from its runs, and the next setting worth trying. Nothing is saved."""

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from kunstflug.core.drive.forecast import Forecast
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup, centre_of_mass
from kunstflug.core.trim.cliff import Sight, cliff_of
from kunstflug.core.trim.curve import Curve, Points, curve_of, days_of
from kunstflug.core.trim.knobs import FIRST_TURNED, KNOBS, KNOWN_TO_MODEL, TrimKnob, knob_of
from kunstflug.core.trim.measures import KINDS, Measure, Measurement, shown
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
from kunstflug.core.trim.signs import Behaviour
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.documents.trim import (
    KnobCurveOut,
    KnobLineOut,
    KnobOut,
    KnobPointOut,
    NextOut,
    SettingOut,
)
from kunstflug.services.trim.margins import Field, margin_uses, speed_of
from kunstflug.services.trim.paths import change_to, spec_at, value_at
from kunstflug.wording.fields import FIELDS
from kunstflug.wording.trim import ADVICE, BEHAVIOURS, BOUND_TO, MEASURED_BY, MEASURES, why

FRIGHTENING: Final = frozenset((
    Behaviour.BLEW_OVER, Behaviour.PORPOISES, Behaviour.LIGHT_BOW, Behaviour.CHINE_WALKS, Behaviour.HOPS,
    Behaviour.HOOKS,
))  # fmt: skip
LINE: Final = 25
BESIDE_STEPS: Final = float(FARTHEST[0])
"""So far past what was run a curve is drawn: what is proposed lies on it."""
Z80: Final = 1.2816
MOST_KNOBS: Final = 4
MARGIN_DOUBT: Final = 0.15
"""Of the margins of the model, as a part of their use; our own choice."""
WATER_C: Final = 16.0  # where a setup does not say


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimRun:
    """A run of the boat: what it did, and what was read, speed and heat over what was forecast as bought.

    Parameters
    ----------
    rise_k : of the motor's case over the water, as forecast; NaN where it was not read.
    """

    id: int
    setup_id: int
    seen: frozenset[Behaviour]
    water_state: str
    outing: str
    read: Mapping[Measure, Measurement]
    rise_k: float = math.nan

    @property
    def over(self) -> float:
        """Of the speed; only of runs whose speed was read."""
        return self.read[Measure.SPEED].over


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimBoat:
    """What is known of the boat of a setup: its setups and runs, in their order."""

    documents: dict[int, SetupDocument]
    parents: dict[int, int | None]
    runs: tuple[TrimRun, ...]


def _but_trim(document: SetupDocument) -> str:
    """All of a setup but its knobs, its name and the day's conditions: runs that agree in it differ in trim only."""
    data: dict[str, Any] = document.model_dump(mode="json", exclude={"name", "conditions", "version"})
    for knob in KNOBS:
        kind, _, key = knob.path.partition(".")
        (data.get(kind) or {}).pop(key, None)
    for part in data.values():
        if isinstance(part, dict):
            part.pop("name", None)
    return json.dumps(data, sort_keys=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """One measure: the runs that have it, and the curve through them."""

    measure: Measure
    runs: list[TrimRun]
    curve: Curve


class Curves:
    """Curves over the knobs that were turned, all else alike."""

    def __init__(self, document: SetupDocument, boat: TrimBoat, now: tuple[Setup, Forecast] | None) -> None:
        self.document = document
        same = _but_trim(document)
        alike = {key for key, other in boat.documents.items() if _but_trim(other) == same}
        self.documents = boat.documents
        ran = [run for run in boat.runs if run.setup_id in alike]
        self.runs = [run for run in ran if Measure.SPEED in run.read]
        turned = [knob for knob in KNOBS if self._turned(knob, ran)]
        begun = [knob for knob in map(knob_of, self._practice()) if knob is not None and self._stands(knob, ran)]
        self.turned = list(dict.fromkeys([*turned, *begun]))[:MOST_KNOBS]
        self.ran = ran
        self.here = np.array([self._at(document, knob) for knob in self.turned])
        self.series = {one.measure: one for one in (self._series(measure) for measure in Measure) if one is not None}
        blind = [knob.path not in KNOWN_TO_MODEL for knob in self.turned]
        self.field = Field(document, self.turned, self.here)
        self.said = now is not None and margin_uses(*now) is not None
        at = self._stood(ran)
        self.sights = [_sight(run) for run in ran]
        self.ran_uses = self.field.uses(at) if self.said else None
        self.cliff = cliff_of(at, self.sights, self.ran_uses, MARGIN_DOUBT, blind)
        self.blind = [unknown or not self.said for unknown in blind]

    def _practice(self) -> tuple[str, ...]:
        """What is turned for speed on such a boat, first to last."""
        return FIRST_TURNED[setup_of(self.document).hull.hull_type]

    def _stands(self, knob: TrimKnob, runs: list[TrimRun]) -> bool:
        """Whether a knob is written down here and in all of some runs."""
        documents = [self.document, *(self.documents[run.setup_id] for run in runs)]
        return all(value_at(document, knob.path) is not None for document in documents)

    def _turned(self, knob: TrimKnob, runs: list[TrimRun]) -> bool:
        """Whether a knob was run at several settings, and stands in all of them."""
        values = [value_at(self.documents[run.setup_id], knob.path) for run in runs]
        return self._stands(knob, runs) and len({round(v / knob.step, 3) for v in values if v is not None}) > 1

    def _at(self, document: SetupDocument, knob: TrimKnob) -> float:
        value = value_at(document, knob.path)
        assert value is not None
        return value / knob.step

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
        at = [[self._at(self.documents[run.setup_id], knob) for knob in self.turned] for run in runs]
        return np.array(at, dtype=np.float64).reshape(len(runs), len(self.turned)) - self.here

    def knobs(self) -> list[KnobOut]:
        """All knobs, with the curves of those that were turned."""
        return [self._knob(knob) for knob in KNOBS]

    def _knob(self, knob: TrimKnob) -> KnobOut:
        spec = spec_at(knob.path)
        kind, _, key = knob.path.partition(".")
        drawn = knob in self.turned and self._turned(knob, self.ran)
        return KnobOut(
            path=knob.path,
            label=FIELDS[kind][key].label,
            dimension=spec.dimension.value,
            unit=spec.unit,
            value=value_at(self.document, knob.path),
            step=knob.step,
            low=spec.low,
            high=spec.high,
            safe=self._safe(knob),
            begin=centre_of_mass(setup_of(self.document)).value if kind == "placement" else knob.begin,
            measured_by=MEASURED_BY[knob.path],
            bound_to=BOUND_TO.get(knob.path, ""),
            curves=[self._drawn(knob, one) for one in self.series.values()] if drawn else [],
        )

    def _safe(self, knob: TrimKnob) -> list[float] | None:
        """How far from here a knob keeps the margins, in its unit; None where nobody wrote it or the model is blind."""
        here, spec = value_at(self.document, knob.path), spec_at(knob.path)
        if here is None or knob.path not in KNOWN_TO_MODEL or not self.said:
            return None
        chance = self._chances(knob)
        ends = []
        for way in (-1, 1):
            reach = 0
            while reach < SAFE_STEPS and chance[SAFE_STEPS + way * (reach + 1)] <= max(RISK, chance[SAFE_STEPS]):
                reach += 1
            ends.append(min(max(here + way * reach * knob.step, spec.low), spec.high))
        return [round(end, 6) for end in ends]

    def _chances(self, knob: TrimKnob) -> list[float]:
        """Of passing a margin, some steps down to some up on one knob alone, by the law of what is proposed."""
        steps = np.arange(-SAFE_STEPS, SAFE_STEPS + 1, dtype=np.float64)
        if knob in self.turned:
            at = steps[:, np.newaxis] * np.eye(len(self.turned))[self.turned.index(knob)]
            return list(self.cliff.chance(at, self.field.uses(at)))
        here = value_at(self.document, knob.path)
        assert here is not None
        alone = Field(self.document, [knob], np.array([here / knob.step]))
        cliff = cliff_of(np.zeros((len(self.ran), 1)), self.sights, self.ran_uses, MARGIN_DOUBT)
        return list(cliff.chance(steps[:, np.newaxis], alone.uses(steps[:, np.newaxis])))

    def _shown(self, measure: Measure, at: Array, over: float, rise_k: float) -> float:
        """What a logarithm stands for, in the conditions of the setup on the sheet."""
        if measure is Measure.SPEED:
            return self.field.speed(at) * math.exp(over)
        if measure is Measure.HEAT:
            given = value_at(self.document, "conditions.water")
            water = WATER_C if given is None else given
            return water + rise_k * math.exp(over)
        return shown(measure, over)

    def _drawn(self, knob: TrimKnob, series: Series) -> KnobCurveOut:
        """The curve over one knob, the others as they stand, and the runs on it."""
        k, spec, points = self.turned.index(knob), spec_at(knob.path), series.curve.points
        rises = [run.rise_k for run in series.runs if math.isfinite(run.rise_k)]
        rise = float(np.median(rises)) if rises else math.nan

        def place(steps: float) -> float:
            return round(float(steps + self.here[k]) * knob.step, 6)

        run = points.at[:, k]
        low = max(min(run.min(), 0.0) - BESIDE_STEPS, spec.low / knob.step - self.here[k])
        high = min(max(run.max(), 0.0) + BESIDE_STEPS, spec.high / knob.step - self.here[k])
        where = np.zeros((LINE, len(self.turned)))
        where[:, k] = np.linspace(low, high, LINE)
        mean, covariance = series.curve.at(where)
        half = Z80 * np.sqrt(np.maximum(np.diag(covariance), 0.0))
        line = []
        for at, middle, wide in zip(where, mean, half, strict=True):
            three = [self._shown(series.measure, at, over, rise) for over in (middle, middle - wide, middle + wide)]
            if all(math.isfinite(v) for v in three):
                line.append(
                    KnobLineOut(
                        at=place(at[k]), middle=round(three[0], 5), low=round(min(three), 5), high=round(max(three), 5)
                    )
                )
        kind = KINDS[series.measure]
        return KnobCurveOut(
            measure=series.measure,
            words=MEASURES[series.measure],
            dimension=kind.dimension.value,
            more_is_better=kind.more_is_better,
            points=[
                KnobPointOut(
                    at=place(at[k]),
                    read=round(self._shown(series.measure, at, over, rise), 5),
                    run_id=one.id,
                    setup_id=one.setup_id,
                )
                for one, at, over in zip(series.runs, points.at, points.read, strict=True)
            ],
            line=line,
            settings=len({round(float(at), 3) for at in run}),
        )

    def settings(self) -> list[SettingOut]:
        """Setups that were run and differ in their trim only, fastest first; those that frightened last."""
        found = []
        for setup_id in dict.fromkeys(run.setup_id for run in self.runs):
            runs, document = [run for run in self.runs if run.setup_id == setup_id], self.documents[setup_id]
            there = {knob.path: value_at(document, knob.path) for knob in KNOBS}
            changes = [
                change_to(document, path, value)
                for path, value in there.items()
                if value is not None and value != value_at(self.document, path)
            ]
            speed = speed_of(self.document, document) * math.exp(sum(run.over for run in runs) / len(runs))
            seen = frozenset().union(*(run.seen for run in runs))
            if math.isfinite(speed):
                found.append(
                    SettingOut(
                        setup_id=setup_id,
                        name=document.name,
                        changes=[change for change in changes if change is not None],
                        runs=len(runs),
                        speed_mps=round(speed, 3),
                        seen=[BEHAVIOURS[sign] for sign in Behaviour if sign in seen],
                    )
                )
        frightened = {s.setup_id for s in found if {BEHAVIOURS[sign] for sign in FRIGHTENING} & set(s.seen)}
        return sorted(found, key=lambda s: (s.setup_id in frightened, -s.speed_mps))

    def next(self) -> NextOut | None:
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
            uses=self.field.uses if self.said else None,
            model=self.field.log_speeds,
            frightened=[k for k, run in enumerate(speed.runs) if _sight(run) is not Sight.CALM],
        )
        newest = self._stood(self.ran[-1:])[0]
        found = next_setting(known, knobs, (newest, self.sights[-1] is not Sight.CALM))
        changes = []
        for knob, steps, here in zip(self.turned, found.at, self.here, strict=True):
            change = change_to(self.document, knob.path, float(here + steps) * knob.step) if abs(steps) > 1e-6 else None
            changes += [change] if change is not None else []
        return NextOut(
            advice=found.advice.value,
            words=ADVICE[found.advice],
            why=why(found, len(speed.runs), known.curve.repeats, self._unwritten(found)),
            changes=changes,
            gain=round(found.gain, 4),
            better=round(found.better, 3),
            worse=round(found.worse, 3),
            past=round(found.past, 3),
            repeats=round(known.curve.repeats, 4),
        )

    def _unwritten(self, found: Proposal) -> str:
        """The next knob by practice that nobody wrote down, where these have no more to give; else nothing."""
        if found.advice not in (Advice.ENOUGH, Advice.HELD):
            return ""
        path = next((path for path in self._practice() if value_at(self.document, path) is None), None)
        kind, _, key = (path or "").partition(".")
        return FIELDS[kind][key].label if path else ""


def _sight(run: TrimRun) -> Sight:
    """What a run says of the margin."""
    if Behaviour.BLEW_OVER in run.seen:
        return Sight.OVER
    return Sight.WARNED if run.seen & FRIGHTENING else Sight.CALM
