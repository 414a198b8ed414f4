"""The propeller as a part: what is printed on it, and what is guessed."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.laws.blade import CUP_GAIN, blade_friction, immersion_of_depth, span_factor, torque_of_cup
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact, Missing
from kunstflug.core.quantity.fields import Part, choice, count, length, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Floats, Value, exact, guess, honest, known, scaled


class Condition(StrEnum):
    """How a propeller's edges are."""

    PREPARED = "prepared"
    AS_CAST = "as_cast"
    DULL = "dull"
    NICKED = "nicked"
    UNBALANCED = "unbalanced"


EDGE_M: Final = {
    Condition.PREPARED: 0.045e-3,
    Condition.AS_CAST: 0.085e-3,
    Condition.DULL: 0.15e-3,
    Condition.NICKED: 0.22e-3,
    Condition.UNBALANCED: 0.085e-3,
}
"""How thick an edge drags, with a coefficient of 1 on it [m] (common practice, no source)."""
PRINTED_PITCH: Final = 0.04  # spread of a printed pitch about what was cast (common practice, no source)
CAST_SPREAD: Final = 0.025  # of the effective pitch about the one a gauge finds on the face
CUP_SPREAD: Final = 0.035
RAKE_SPREAD: Final = 0.3
SHAFT_SPREAD: Final = 0.1
SHAKES: Final = (Condition.NICKED, Condition.UNBALANCED)
MISSING_KG: Final = 1e-4  # what a nick takes off one blade, or balancing would (common practice, no source)
REST_WATER: Final = 0.35  # part of water that a surface propeller held at rest works in (common practice, no source)
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
    """Friction of a blade's faces by its Reynolds number, and drag of its edges in a condition."""

    condition: Condition


@dataclass(frozen=True, slots=True, kw_only=True)
class AirDrawn(Fact):
    """A heavily loaded surface propeller draws air down."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintedPitch(Fact):
    """Effective pitch against the printed one; a cup adds to it."""

    cup_gain: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LiftFromRake(Fact):
    """A blade's rake lifts the stern with part of the thrust."""

    rake_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LiftFromShaft(Fact):
    """A shaft that slopes lifts the stern with part of the thrust, and a blade's rake with more."""

    rake_deg: float
    shaft_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class UsualForBlades(Fact):
    """Blade area usual for a number of blades."""

    blades: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ByShaftHeight(Fact):
    """A shaft at the propeller so far below the bottom of the hull, negative above it."""

    depth_m: float


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


def friction(propeller: Propeller, rps: float, viscosity_m2_s: float) -> Value:
    """Friction and edge drag of the blades [1], see ``laws.blade.blade_friction``.

    Parameters
    ----------
    rps : turns a second on the plane [1/s].
    """
    drag = friction_at(propeller, rps, viscosity_m2_s, propeller.diameter_m.value)
    return guess(float(drag), 0.3, EdgesOf(condition=propeller.condition))


def friction_at(propeller: Propeller, rps: Floats, viscosity_m2_s: float, diameter_m: Floats) -> Floats:
    """The same for another diameter [m]: over the area that the force goes with, see ``working_area`` [1]."""
    area = area_ratio(propeller).value
    drag = blade_friction(diameter_m, propeller.blades, area, rps, viscosity_m2_s, EDGE_M[propeller.condition])
    return drag / span_factor(propeller.blades, area)


def working_area(propeller: Propeller) -> Value:
    """Blade area ratio that the force goes with [1]: the area, and what its finite span leaves of it."""
    area = area_ratio(propeller)
    return scaled(area, float(span_factor(propeller.blades, area.value)))


def water_at_rest(*, submerged: bool) -> Value:
    """Water fraction around the blades of a boat that is held [1]; 1 when submerged.

    Common practice, no source: logs of held surface drives show about 0.4 of the current in solid water.
    """
    return exact(1.0) if submerged else guess(REST_WATER, 0.35, AirDrawn())


def thrust_part(propeller: Propeller, shaft_deg: float = 0.0) -> float:
    """Part of the blades' push that goes ahead [1]: the cosines of rake and shaft angle (geometry)."""
    rake = propeller.rake_deg.value if propeller.rake_deg else 0.0
    return math.cos(math.radians(rake)) * math.cos(math.radians(shaft_deg))


def torque_part(propeller: Propeller, diameter_m: Floats) -> Floats:
    """Torque of the blades over that of flat ones of the same effective pitch [1]: less with a cup."""
    return torque_of_cup((propeller.cup_m.value if propeller.cup_m else 0.0) / diameter_m)


def pitch_factor(propeller: Propeller) -> Value:
    """Effective over given pitch [1]: 1, and 1.2 x cup / diameter more for a cup (common practice, no source).

    Its spread is that of the casting, and of the pitch itself where that is a guess or a measurement.
    """
    cup = propeller.cup_m.value if propeller.cup_m else 0.0
    gain = CUP_GAIN * cup / propeller.diameter_m.value
    given = honest(pitch(propeller), PRINTED_PITCH)
    return guess(1.0 + gain, math.hypot(CUP_SPREAD if cup else CAST_SPREAD, given.spread), PrintedPitch(cup_gain=gain))


def lift_ratio(propeller: Propeller, shaft_deg: float = 0.0) -> Value:
    """Lift over thrust [1]: the tangent of the shaft's angle (geometry) and half that of the rake.

    The half is common practice, no source. Neither given is none.
    """
    rake = propeller.rake_deg.value if propeller.rake_deg else 0.0
    if rake == 0 and shaft_deg == 0:
        return exact(0.0)
    lifted = 0.5 * math.tan(math.radians(rake))
    if shaft_deg == 0:
        return guess(lifted, RAKE_SPREAD, LiftFromRake(rake_deg=rake))
    sloped = math.tan(math.radians(shaft_deg))
    spread = math.hypot(RAKE_SPREAD * lifted, SHAFT_SPREAD * sloped) / max(abs(lifted + sloped), 1e-3)
    return guess(lifted + sloped, min(spread, 1.0), LiftFromShaft(rake_deg=rake, shaft_deg=shaft_deg))


def area_ratio(propeller: Propeller) -> Value:
    """Blade area ratio [1]: 0.45 for two blades, 0.55 for three, 0.62 for more (common practice, no source)."""
    usual = USUAL_AREA.get(propeller.blades, USUAL_AREA_MORE)
    return known(propeller.area_ratio, guess(usual, 0.10, UsualForBlades(blades=propeller.blades)))


def immersion(propeller: Propeller, shaft_depth_m: Value | None, *, submerged: bool) -> Value:
    """Immersed part of the turn on the plane [1]: all when submerged; as given; by the shaft's height; half of it.

    Half for a surface drive whose shaft's height nobody gave: common practice, no source.

    Parameters
    ----------
    shaft_depth_m : the shaft at the propeller below the hull's bottom, negative above it [m].
    """
    if submerged:
        return exact(1.0)
    if propeller.immersion is None and shaft_depth_m is not None:
        part = float(immersion_of_depth(shaft_depth_m.value / propeller.diameter_m.value))
        return guess(part, 0.06, ByShaftHeight(depth_m=shaft_depth_m.value))
    return known(propeller.immersion, guess(HALF, 0.10, HalfTheTurn()))
