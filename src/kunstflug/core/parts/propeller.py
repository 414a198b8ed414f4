"""The propeller as a part: what is printed on it, and what is guessed."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact, Missing
from kunstflug.core.quantity.fields import Part, choice, count, length, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, exact, guess, known


class Condition(StrEnum):
    """How a propeller's edges are."""

    PREPARED = "prepared"
    AS_CAST = "as_cast"
    DULL = "dull"
    NICKED = "nicked"
    UNBALANCED = "unbalanced"


EDGE_DRAG: Final = {
    Condition.PREPARED: 0.8,
    Condition.AS_CAST: 1.0,
    Condition.DULL: 1.3,
    Condition.NICKED: 1.7,
    Condition.UNBALANCED: 1.0,
}
"""Face friction and edge drag over that of a propeller as it came (common practice, no source)."""
SHAKES: Final = (Condition.NICKED, Condition.UNBALANCED)
MISSING_KG: Final = 1e-4  # what a nick takes off one blade, or balancing would (common practice, no source)
EDGE_FRICTION: Final = 0.010
CUP_GAIN: Final = 1.2
USUAL_AREA: Final = {2: 0.45, 3: 0.55}
USUAL_AREA_MORE: Final = 0.62
HALF: Final = 0.5
LOWEST_PITCH_RATIO: Final = 0.5
HIGHEST_PITCH_RATIO: Final = 2.2


@dataclass(frozen=True, slots=True, kw_only=True)
class Propeller(Part):
    """A propeller by diameter and pitch (or pitch ratio) and blades."""

    diameter_m: Value = length(10, 200, required=True)
    pitch_m: Value | None = length(8, 400)
    pitch_ratio: Value | None = quantity(Dimension.RATIO, "1", LOWEST_PITCH_RATIO, HIGHEST_PITCH_RATIO)
    blades: int = count(2, 6, default=2)
    bore_m: Value | None = length(1, 15)
    condition: Condition = choice(Condition, Condition.AS_CAST)
    cup_m: Value | None = length(0, 5, estimated=False)
    rake_deg: Value | None = quantity(Dimension.ANGLE, "deg", -20, 30, estimated=False)
    area_ratio: Value | None = quantity(Dimension.RATIO, "1", 0.2, 1.2)
    immersion: Value | None = quantity(Dimension.RATIO, "1", 0.15, 1.0)

    def __post_init__(self) -> None:
        Part.__post_init__(self)
        if self.pitch_m is None and self.pitch_ratio is None:
            raise InvalidValue("propeller.pitch_ratio", Missing(), PitchNeeded())
        ratio, diameter = pitch_ratio(self), self.diameter_m.value
        if not LOWEST_PITCH_RATIO - 1e-3 <= ratio <= HIGHEST_PITCH_RATIO + 1e-3:
            given = Amount(value=pitch(self).value, dimension=Dimension.LENGTH, unit="mm")
            low, high = LOWEST_PITCH_RATIO * diameter, HIGHEST_PITCH_RATIO * diameter
            allowed = Between(low=low, high=high, dimension=Dimension.LENGTH, unit="mm")
            raise InvalidValue("propeller.pitch", given, allowed)


@dataclass(frozen=True, slots=True, kw_only=True)
class PitchNeeded(Fact):
    """A propeller needs a pitch or a pitch ratio."""


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgesOf(Fact):
    """Friction and drag of a blade's faces and edges in a condition."""

    condition: Condition


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintedPitch(Fact):
    """Effective pitch against the printed one; a cup adds to it."""

    cup_gain: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LiftFromRake(Fact):
    """A blade's rake lifts the stern with part of the thrust."""

    rake_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class UsualForBlades(Fact):
    """Blade area usual for a number of blades."""

    blades: int


@dataclass(frozen=True, slots=True, kw_only=True)
class HalfTheTurn(Fact):
    """A surface drive usually runs with half of the turn in the water."""


def pitch(propeller: Propeller) -> Value:
    """Pitch [m], from the pitch ratio where that is what was given."""
    if propeller.pitch_m is not None:
        return propeller.pitch_m
    assert propeller.pitch_ratio is not None  # held by __post_init__
    ratio = propeller.pitch_ratio
    return Value(value=ratio.value * propeller.diameter_m.value, source=ratio.source, spread=ratio.spread)


def pitch_ratio(propeller: Propeller) -> float:
    """Pitch over diameter [1]."""
    return pitch(propeller).value / propeller.diameter_m.value


def edge_friction(propeller: Propeller) -> Value:
    """Face friction and edge drag of the blades [1]: 0.010 as cast (common practice, no source)."""
    factor = EDGE_DRAG[propeller.condition]
    return guess(EDGE_FRICTION * factor, 0.3, EdgesOf(condition=propeller.condition))


def pitch_factor(propeller: Propeller) -> Value:
    """Effective over given pitch [1]: 1, and 1.2 x cup / diameter more for a cup (common practice, no source).

    Its spread is that of the casting, and of the pitch itself where that is a guess or a measurement.
    """
    cup = propeller.cup_m.value if propeller.cup_m else 0.0
    gain = CUP_GAIN * cup / propeller.diameter_m.value
    cast = 0.035 if cup else 0.03
    return guess(1.0 + gain, math.hypot(cast, pitch(propeller).spread), PrintedPitch(cup_gain=gain))


def lift_ratio(propeller: Propeller) -> Value:
    """Lift over thrust [1]: half the tangent of the rake (common practice, no source); none without a given rake."""
    if propeller.rake_deg is None or propeller.rake_deg.value == 0:
        return exact(0.0)
    rake = propeller.rake_deg.value
    return guess(0.5 * math.tan(math.radians(rake)), 0.3, LiftFromRake(rake_deg=rake))


def area_ratio(propeller: Propeller) -> Value:
    """Blade area ratio [1]: 0.45 for two blades, 0.55 for three, 0.62 for more (common practice, no source)."""
    usual = USUAL_AREA.get(propeller.blades, USUAL_AREA_MORE)
    return known(propeller.area_ratio, guess(usual, 0.12, UsualForBlades(blades=propeller.blades)))


def immersion(propeller: Propeller, *, submerged: bool) -> Value:
    """Immersed part of the turn [1]: half for surface drives (common practice, no source), all of it when submerged."""
    if submerged:
        return exact(1.0)
    return known(propeller.immersion, guess(HALF, 0.12, HalfTheTurn()))
