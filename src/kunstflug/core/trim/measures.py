"""What a knob may change, as it is read: a logarithm each, over what the model says where it says something."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.units import Dimension


class Measure(StrEnum):
    """What was read of a run."""

    SPEED = "speed"
    HEAT = "heat"  # of the motor's case over the water, over the forecast
    TURN_LOSS = "turn_loss"  # what a turn left of the speed
    SPEED_SWING = "speed_swing"
    COURSE_SWING = "course_swing"


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """How a measure is shown, how far it repeats, and which way is better.

    Parameters
    ----------
    spread : of one run to the next [logarithm] (common practice, no source).
    """

    dimension: Dimension
    spread: float
    more_is_better: bool


KINDS: Final[dict[Measure, Kind]] = {
    Measure.SPEED: Kind(dimension=Dimension.SPEED, spread=0.015, more_is_better=True),
    Measure.HEAT: Kind(dimension=Dimension.TEMPERATURE, spread=0.08, more_is_better=False),
    Measure.TURN_LOSS: Kind(dimension=Dimension.RATIO, spread=0.04, more_is_better=False),
    Measure.SPEED_SWING: Kind(dimension=Dimension.RATIO, spread=0.25, more_is_better=False),
    Measure.COURSE_SWING: Kind(dimension=Dimension.ANGLE, spread=0.25, more_is_better=False),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Measurement:
    """One reading: the logarithm that the curve is drawn through, and its spread."""

    over: float
    spread: float


def kept(lost: float) -> float:
    """Of a loss, the logarithm of what is left; a loss of nearly all is cut.

    Examples
    --------
    >>> round(kept(0.25), 4)
    -0.2877
    """
    return math.log(1.0 - min(max(lost, -0.5), 0.99))


def read_of(measure: Measure, value: float | None) -> Measurement | None:
    """What a run's number says, without a model; None where it has none."""
    if value is None or not math.isfinite(value):
        return None
    spread = KINDS[measure].spread
    if measure is Measure.TURN_LOSS:
        return Measurement(over=kept(value), spread=spread)
    return Measurement(over=math.log(value), spread=spread) if value > 0 else None


def shown(measure: Measure, over: float) -> float:
    """The number of a logarithm, without a model."""
    return 1.0 - math.exp(over) if measure is Measure.TURN_LOSS else math.exp(over)
