"""Curves over the knobs of a boat's trim, from its runs, and the next setting worth trying. Nothing is saved."""

import json
import math
from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from kunstflug.core.drive import dangers as d
from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.fields import QuantitySpec
from kunstflug.core.quantity.units import number_in
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.trim.curve import Curve, Points, curve_of, days_of
from kunstflug.core.trim.knobs import KNOBS, MOST_USED, TrimKnob
from kunstflug.core.trim.next_setting import Knob, next_setting
from kunstflug.core.trim.signs import Behaviour
from kunstflug.documents.quantity import Quantity, si
from kunstflug.documents.setup import SetupDocument, dimension_of, part_in, setup_of, spec_of
from kunstflug.documents.trim import KnobLineOut, KnobOut, KnobPointOut, NextOut, SettingOut, TrimChange
from kunstflug.services.changes import Change, change_document
from kunstflug.wording.fields import FIELDS
from kunstflug.wording.trim import ADVICE, BEHAVIOURS, MEASURED_BY, why

FRIGHTENING: Final = (Behaviour.BLEW_OVER, Behaviour.PORPOISES, Behaviour.LIGHT_BOW)
LINE: Final = 25
BESIDE_STEPS: Final = 3.0
"""So far past what was run a curve is drawn."""
Z80: Final = 1.2816
MOST_KNOBS: Final = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimRun:
    """A run of the boat: what it did, and its speed over what was forecast as bought; None where nobody read it."""

    id: int
    setup_id: int
    seen: frozenset[Behaviour]
    water_state: str
    over: float | None
    spread: float
    outing: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimBoat:
    """What is known of the boat of a setup: its setups and runs, in their order."""

    documents: dict[int, SetupDocument]
    parents: dict[int, int | None]
    runs: tuple[TrimRun, ...]


def quantity_at(document: SetupDocument, path: str) -> Quantity | None:
    """What stands at a path of a document."""
    kind, _, key = path.partition(".")
    return part_in(document, kind).quantity(key)


def spec_at(path: str) -> QuantitySpec:
    """What a knob may be."""
    spec = spec_of(path)
    assert isinstance(spec, QuantitySpec)
    return spec


def value_at(document: SetupDocument, path: str) -> float | None:
    """The same in the core's unit; None where nothing was given."""
    given = quantity_at(document, path)
    return None if given is None else si(given, dimension_of(path))


def change_to(document: SetupDocument, path: str, value: float) -> TrimChange | None:
    """A knob at a value, in the unit in which it was given; None past what it can be."""
    given, spec = quantity_at(document, path), spec_at(path)
    if not spec.low - 1e-9 <= value <= spec.high + 1e-9:
        return None
    unit = given.unit if given is not None else spec.unit
    kind, _, key = path.partition(".")
    number = round(number_in(value, unit, spec.dimension), 4)
    quantity = Quantity.model_validate({"value": number, "unit": unit, "source": "typed"})
    return TrimChange(path=path, value=quantity, label=FIELDS[kind][key].label)


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


class Curves:
    """Curves over the knobs that were turned, all else alike."""

    def __init__(self, document: SetupDocument, boat: TrimBoat) -> None:
        self.document = document
        same = _but_trim(document)
        alike = {key for key, other in boat.documents.items() if _but_trim(other) == same}
        self.documents = boat.documents
        self.runs = [run for run in boat.runs if run.setup_id in alike and run.over is not None]
        self.turned = [knob for knob in KNOBS if self._turned(knob)][:MOST_KNOBS]
        self.here = np.array([self._at(document, knob) for knob in self.turned])
        now = _forecast_of(document)
        self._uses_here = (margin_uses(*now) if now is not None else None) or {}
        self._asked: dict[tuple[float, ...], tuple[Setup, Forecast] | None] = {}
        self.curve = self._curve()

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

    def _curve(self) -> Curve | None:
        if not self.turned:
            return None
        at = [[self._at(self.documents[run.setup_id], knob) for knob in self.turned] for run in self.runs]
        return curve_of(
            Points(
                at=np.array(at) - self.here,
                read=np.array([run.over for run in self.runs], dtype=np.float64),
                spread=np.array([run.spread for run in self.runs]),
                day=days_of([run.outing for run in self.runs]),
            )
        )

    def _changed(self, at: Array) -> SetupDocument | None:
        """The setup with its knobs some steps from here; None past what they can be."""
        changes = []
        for knob, steps, here in zip(self.turned, at, self.here, strict=True):
            change = change_to(self.document, knob.path, float(here + steps) * knob.step)
            if change is None:
                return None
            changes.append(Change(path=change.path, value=change.value.model_dump(mode="json")))
        return change_document(self.document, changes).document

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
        found = self._found(at)
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
        points = self._points(knob) if knob in self.turned else []
        return KnobOut(
            path=knob.path,
            label=FIELDS[kind][key].label,
            dimension=spec.dimension.value,
            unit=spec.unit,
            value=value_at(self.document, knob.path),
            step=knob.step,
            low=spec.low,
            high=spec.high,
            measured_by=MEASURED_BY[knob.path],
            points=points,
            line=self._line(knob) if points else [],
            settings=len({round(p.value / knob.step, 3) for p in points}),
        )

    def _points(self, knob: TrimKnob) -> list[KnobPointOut]:
        """Runs of the knob, each at the speed that it would have in today's conditions."""
        assert self.curve is not None
        k = self.turned.index(knob)
        return [
            KnobPointOut(
                value=round(float(at[k] + self.here[k]) * knob.step, 6),
                speed_mps=round(self._speed(at) * math.exp(run.over or 0.0), 3),
                run_id=run.id,
                setup_id=run.setup_id,
            )
            for run, at in zip(self.runs, self.curve.points.at, strict=True)
        ]

    def _line(self, knob: TrimKnob) -> list[KnobLineOut]:
        """The curve over one knob, the others as they stand."""
        assert self.curve is not None
        k, spec = self.turned.index(knob), spec_at(knob.path)
        run = self.curve.points.at[:, k]
        low = max(min(run.min(), 0.0) - BESIDE_STEPS, spec.low / knob.step - self.here[k])
        high = min(max(run.max(), 0.0) + BESIDE_STEPS, spec.high / knob.step - self.here[k])
        where = np.zeros((LINE, len(self.turned)))
        where[:, k] = np.linspace(low, high, LINE)
        mean, covariance = self.curve.at(where)
        spread = np.sqrt(np.maximum(np.diag(covariance), 0.0))
        found = []
        for at, middle, half in zip(where, mean, Z80 * spread, strict=True):
            speed = self._speed(at)
            if math.isfinite(speed):
                found.append(
                    KnobLineOut(
                        value=round(float(at[k] + self.here[k]) * knob.step, 6),
                        speed_mps=round(speed * math.exp(middle), 3),
                        low_mps=round(speed * math.exp(middle - half), 3),
                        high_mps=round(speed * math.exp(middle + half), 3),
                    )
                )
        return found

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
            speed = _speed_of(self.document, document) * math.exp(sum(run.over or 0.0 for run in runs) / len(runs))
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


def _speed_of(here: SetupDocument, other: SetupDocument) -> float:
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
            case _:
                pass
    return uses
