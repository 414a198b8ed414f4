"""What the model says of a boat's speed and margins as its knobs are turned."""

import math
from collections.abc import Callable, Sequence
from typing import Final

import numpy as np

from kunstflug.core.drive import dangers as d
from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.trim.knobs import TrimKnob
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.trim.paths import change_to, with_changes

NO_DRIVE: Final = -1.0
"""Logarithm of a speed where nothing drives."""
ALL_OF_IT: Final = 9.0
"""Use of a margin where nothing drives: nobody goes there."""
Found = tuple[Setup, Forecast]


class Field:
    """Speed and margins about a setup, by the model as bought.

    Several knobs at once are each knob alone, summed: asking the model of hundreds of settings would take seconds.
    """

    def __init__(self, document: SetupDocument, knobs: Sequence[TrimKnob], here: Array) -> None:
        self.document, self.knobs, self.here = document, knobs, here
        self._asked: dict[tuple[float, ...], Found | None] = {}

    def found(self, at: Array) -> Found | None:
        """Setup and forecast some steps from here, asked for once; None where no drive runs so."""
        key = tuple(np.round(at, 4))
        if key not in self._asked:
            self._asked[key] = forecast_of(self._changed(at))
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

    def _changed(self, at: Array) -> SetupDocument | None:
        """The setup with its knobs some steps from here; None past what they can be."""
        changes = []
        for knob, steps, here in zip(self.knobs, at, self.here, strict=True):
            change = change_to(self.document, knob.path, float(here + steps) * knob.step)
            if change is None:
                return None
            changes.append(change)
        return with_changes(self.document, changes)


def forecast_of(document: SetupDocument | None) -> tuple[Setup, Forecast] | None:
    """A setup and its forecast as bought; None where it cannot be, or nothing drives."""
    try:
        setup = setup_of(document) if document is not None else None
    except InvalidValue:
        return None
    found = forecast(setup, explained=False) if setup is not None else None
    return (setup, found) if setup is not None and found is not None and found.runs else None


def speed_of(here: SetupDocument, other: SetupDocument) -> float:
    """Speed of a setup as bought in the conditions of another, m/s; NaN where nothing drives."""
    found = forecast_of(other.model_copy(update={"conditions": here.conditions}))
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
