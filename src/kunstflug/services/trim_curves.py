"""Curves over the knobs of a boat's trim, from its runs, and the next setting worth trying. Nothing is saved."""

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from kunstflug.core.drive import dangers as d
from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup, centre_of_mass
from kunstflug.core.trim.curve import Curve, Points, curve_of, days_of
from kunstflug.core.trim.knobs import KNOBS, KNOWN_TO_MODEL, MOST_USED, TrimKnob
from kunstflug.core.trim.measures import KINDS, Measure, Read, shown
from kunstflug.core.trim.next_setting import SAFE_STEPS, Knob, next_setting
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
from kunstflug.services.trim_paths import change_to, spec_at, value_at, with_changes
from kunstflug.wording.fields import FIELDS
from kunstflug.wording.trim import ADVICE, BEHAVIOURS, BOUND_TO, MEASURED_BY, MEASURES, why

FRIGHTENING: Final = (Behaviour.BLEW_OVER, Behaviour.PORPOISES, Behaviour.LIGHT_BOW)
LINE: Final = 25
BESIDE_STEPS: Final = 3.0
"""So far past what was run a curve is drawn."""
Z80: Final = 1.2816
MOST_KNOBS: Final = 4
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
    read: Mapping[Measure, Read]
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
        self.runs = [run for run in boat.runs if run.setup_id in alike and Measure.SPEED in run.read]
        self.turned = [knob for knob in KNOBS if self._turned(knob)][:MOST_KNOBS]
        self.here = np.array([self._at(document, knob) for knob in self.turned])
        self._uses_here = (margin_uses(*now) if now is not None else None) or {}
        self._asked: dict[tuple[float, ...], tuple[Setup, Forecast] | None] = {}
        self.series = {one.measure: one for one in (self._series(measure) for measure in Measure) if one is not None}
        speed = self.series.get(Measure.SPEED)
        self.curve = speed.curve if speed is not None else None

    def _turned(self, knob: TrimKnob) -> bool:
        """Whether a knob was run at several settings, and stands in all of them."""
        values = [value_at(self.documents[run.setup_id], knob.path) for run in self.runs]
        return (
            value_at(self.document, knob.path) is not None
            and None not in values
            and len({round(v / knob.step, 3) for v in values if v is not None}) > 1
        )

    def _at(self, document: SetupDocument, knob: TrimKnob) -> float:
        value = value_at(document, knob.path)
        assert value is not None
        return value / knob.step

    def _series(self, measure: Measure) -> Series | None:
        """A curve through what was read; None unless it was read at two settings or more."""
        runs = [run for run in self.runs if measure in run.read]
        if not self.turned:
            return None
        at = [[self._at(self.documents[run.setup_id], knob) for knob in self.turned] for run in runs]
        if len({tuple(np.round(row, 3)) for row in at}) < 2:
            return None
        points = Points(
            at=np.array(at) - self.here,
            read=np.array([run.read[measure].over for run in runs], dtype=np.float64),
            spread=np.array([run.read[measure].spread for run in runs]),
            day=days_of([run.outing for run in runs]),
        )
        return Series(measure=measure, runs=runs, curve=curve_of(points))

    def _changed(self, at: Array) -> SetupDocument | None:
        """The setup with its knobs some steps from here; None past what they can be."""
        changes = []
        for knob, steps, here in zip(self.turned, at, self.here, strict=True):
            change = change_to(self.document, knob.path, float(here + steps) * knob.step)
            if change is None:
                return None
            changes.append(change)
        return with_changes(self.document, changes)

    def _found(self, at: Array) -> tuple[Setup, Forecast] | None:
        """Setup and forecast, as bought, some steps from here, asked for once; None where no drive runs so."""
        key = tuple(np.round(at, 4))
        if key not in self._asked:
            self._asked[key] = _forecast_of(self._changed(at))
        return self._asked[key]

    def _speed(self, at: Array) -> float:
        """As bought, m/s; NaN where no drive runs so."""
        found = self._found(at)
        return math.nan if found is None else float(found[1].point.speed_mps)

    def _model(self, at: Array) -> Array:
        speeds = np.array([self._speed(row) for row in at])
        return np.where(np.isfinite(speeds), np.log(np.where(np.isfinite(speeds), speeds, 1.0)), -1.0)

    def _allowed(self, at: Array) -> bool:
        """Whether a setting keeps the margins that the model knows, or takes no more of one that is past already."""
        return self._keeps(self._found(at))

    def _keeps(self, found: tuple[Setup, Forecast] | None) -> bool:
        uses = None if found is None else margin_uses(*found)
        here = self._uses_here
        return uses is not None and all(
            use <= max(MOST_USED[kind], here.get(kind, 0.0) + 1e-6) for kind, use in uses.items()
        )

    def knobs(self) -> list[KnobOut]:
        """All knobs, with the curves of those that were turned."""
        return [self._knob(knob) for knob in KNOBS]

    def _knob(self, knob: TrimKnob) -> KnobOut:
        spec = spec_at(knob.path)
        kind, _, key = knob.path.partition(".")
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
            curves=[self._drawn(knob, one) for one in self.series.values()] if knob in self.turned else [],
        )

    def _safe(self, knob: TrimKnob) -> list[float] | None:
        """How far from here a knob keeps the margins, in its unit; None where nobody wrote it or the model is blind."""
        here = value_at(self.document, knob.path)
        if here is None or knob.path not in KNOWN_TO_MODEL:
            return None
        ends = []
        for way in (-1, 1):
            reach = 0
            while reach < SAFE_STEPS:
                change = change_to(self.document, knob.path, here + way * (reach + 1) * knob.step)
                if change is None or not self._keeps(_forecast_of(with_changes(self.document, [change]))):
                    break
                reach += 1
            ends.append(here + way * reach * knob.step)
        return [round(end, 6) for end in ends]

    def _shown(self, measure: Measure, at: Array, over: float, rise_k: float) -> float:
        """What a logarithm stands for, in the conditions of the setup on the sheet."""
        if measure is Measure.SPEED:
            return self._speed(at) * math.exp(over)
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
        """The next setting worth trying; None until two settings were run."""
        if self.curve is None:
            return None
        knobs = []
        for knob, here in zip(self.turned, self.here, strict=True):
            spec = spec_at(knob.path)
            low, high = spec.low / knob.step - here, spec.high / knob.step - here
            knobs.append(Knob(name=knob.path, step=knob.step, low=float(low), high=float(high)))
        frightened = [k for k, run in enumerate(self.runs) if run.seen & set(FRIGHTENING)]
        found = next_setting(self.curve, knobs, self._allowed, frightened, model=self._model, just_tried=True)
        changes = []
        for knob, steps, here in zip(self.turned, found.at, self.here, strict=True):
            change = change_to(self.document, knob.path, float(here + steps) * knob.step) if abs(steps) > 1e-6 else None
            changes += [change] if change is not None else []
        return NextOut(
            advice=found.advice.value,
            words=ADVICE[found.advice],
            why=why(found, len(self.runs)),
            changes=changes,
            gain=round(found.gain, 4),
            better=round(found.better, 3),
            worse=round(found.worse, 3),
        )


def _forecast_of(document: SetupDocument | None) -> tuple[Setup, Forecast] | None:
    """A setup and its forecast as bought; None where it cannot be, or nothing drives."""
    try:
        setup = setup_of(document) if document is not None else None
    except InvalidValue:
        return None
    found = forecast(setup, explained=False) if setup is not None else None
    return (setup, found) if setup is not None and found is not None and found.runs else None


def speed_of(here: SetupDocument, other: SetupDocument) -> float:
    """Speed of a setup as bought in the conditions of another, m/s; NaN where nothing drives."""
    found = _forecast_of(other.model_copy(update={"conditions": here.conditions}))
    return math.nan if found is None else float(found[1].point.speed_mps)


def margin_uses(setup: Setup, found: Forecast) -> dict[str, float] | None:
    """Used parts of the margins against blowing over, rolling, porpoising [1]; None where nothing drives."""
    if not found.runs:
        return None
    uses = {}
    for danger in dangers_of(setup, found.point, found.curves):
        match danger.finding:
            case d.BlowOver(part=part):
                uses["blow_over"] = part
            case d.TorqueRoll(part=part):
                uses["torque"] = part
            case d.Porpoising(trim_deg=trim_deg, boundary_deg=boundary):
                uses["porpoising"] = trim_deg / boundary
            case d.Hop(part=part):
                uses["hop"] = part
            case _:
                pass
    return uses
