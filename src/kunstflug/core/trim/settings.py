"""Knobs of trim on a setup: where they stand, what they may be, how they are turned, and what the model says then."""

import dataclasses
import math
from collections.abc import Callable, Iterable, Sequence
from typing import Final

import numpy as np

from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.parts.conditions import Conditions
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.fields import QuantitySpec, core_field
from kunstflug.core.quantity.value import Array, Value
from kunstflug.core.setup.editor import edited, typed
from kunstflug.core.setup.setup import Setup
from kunstflug.core.trim.knobs import KNOBS, TrimKnob
from kunstflug.core.trim.margins import margin_uses

NO_DRIVE: Final = -1.0
"""Logarithm of a speed where nothing drives."""
ALL_OF_IT: Final = 9.0
"""Use of a margin where nothing drives: nobody goes there."""
Found = tuple[Setup, Forecast]


def spec_at(path: str) -> QuantitySpec:
    """What a knob may be."""
    spec = _field(path)[2]
    assert isinstance(spec, QuantitySpec)
    return spec


def value_at(setup: Setup, path: str) -> float | None:
    """Where a knob stands, in the core's unit; None where nobody wrote it down."""
    part, name, _ = _field(path)
    given: Value | None = getattr(getattr(setup, part), name)
    return None if given is None else given.value


def _field(path: str) -> tuple[str, str, object]:
    """Part of a setup, name there and spec of a field that documents call ``hull.strut_angle``."""
    part, _, key = path.partition(".")
    return part, *core_field(_PARTS[part], key)


_PARTS: Final = {f.name: f.type for f in dataclasses.fields(Setup) if isinstance(f.type, type)}


def turned(setup: Setup, values: Iterable[tuple[str, float]]) -> Setup | None:
    """The setup with knobs at other values; None past what they can be."""
    try:
        for path, value in values:
            setup = edited(setup, typed(path, value, setup))
    except InvalidValue:
        return None
    return setup


def but_trim(setup: Setup, conditions: Conditions) -> Setup:
    """The setup without its knobs and its name, on some day: setups that agree in it differ in trim only."""
    cleared = {part: getattr(setup, part) for part in {knob.path.partition(".")[0] for knob in KNOBS}}
    for knob in KNOBS:
        part, name, _ = _field(knob.path)
        cleared[part] = dataclasses.replace(cleared[part], **{name: None})
    return dataclasses.replace(setup, name="", conditions=conditions, **cleared)


def forecast_of(setup: Setup | None) -> Found | None:
    """A setup and its forecast; None where there is none, or nothing drives."""
    found = forecast(setup, explained=False) if setup is not None else None
    return (setup, found) if setup is not None and found is not None and found.runs else None


def speed_of(here: Setup, other: Setup) -> float:
    """Speed of a setup in the conditions of another, m/s; NaN where nothing drives."""
    found = forecast_of(dataclasses.replace(other, conditions=here.conditions))
    return math.nan if found is None else float(found[1].point.speed_mps)


class Field:
    """Speed and margins about a setup, by the model.

    Several knobs at once are each knob alone, summed: asking the model of hundreds of settings would take seconds.

    Parameters
    ----------
    here : where the knobs stand, in their steps, shape (k,).
    """

    def __init__(self, setup: Setup, knobs: Sequence[TrimKnob], here: Array) -> None:
        self.setup, self.knobs, self.here = setup, knobs, here
        self._asked: dict[tuple[float, ...], Found | None] = {}

    def found(self, at: Array) -> Found | None:
        """Setup and forecast some steps from here, asked for once; None where no drive runs so."""
        key = tuple(np.round(at, 4))
        if key not in self._asked:
            steps = zip(self.knobs, self.here + at, strict=True)
            self._asked[key] = forecast_of(turned(self.setup, [(knob.path, float(s) * knob.step) for knob, s in steps]))
        return self._asked[key]

    def speed(self, at: Array) -> float:
        """Some steps from here, m/s; NaN where no drive runs so."""
        found = self.found(at)
        return math.nan if found is None else float(found[1].point.speed_mps)

    def log_speeds(self, at: Array) -> Array:
        """Logarithms of the speeds, shape (m,), of settings in steps from here, shape (m, k)."""
        return self._summed(at, lambda found: math.log(float(found[1].point.speed_mps)), NO_DRIVE)

    def uses(self, at: Array) -> Array:
        """Of the margin that is used most, shape (m,), of settings in steps from here, shape (m, k)."""
        return self._summed(at, lambda found: max((margin_uses(*found) or {}).values(), default=0.0), ALL_OF_IT)

    def _summed(self, at: Array, of: Callable[[Found], float], none: float) -> Array:
        def one(steps: Array) -> float:
            found = self.found(steps)
            return none if found is None else of(found)

        here = one(np.zeros(len(self.knobs)))
        total = np.full(len(at), here)
        for k, unit in enumerate(np.eye(len(self.knobs))):
            alone = {steps: one(unit * steps) - here for steps in set(np.round(at[:, k], 4))}
            total += np.array([alone[steps] for steps in np.round(at[:, k], 4)])
        return total
