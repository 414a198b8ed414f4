"""The propeller as a part: what is printed on it, and what is guessed."""

import math
from dataclasses import dataclass
from enum import StrEnum

from kunstflug.core.errors import InvalidValue
from kunstflug.core.units import Dimension
from kunstflug.core.values import Part, Value, choice, count, guess, known, quantity


class Condition(StrEnum):
    """How a propeller's edges are."""

    PREPARED = "sharpened and balanced"
    AS_CAST = "as it came"
    DULL = "dull"
    NICKED = "nicked"
    UNBALANCED = "out of balance"


# Face friction and edge drag over that of a propeller as it came (common practice, no source).
EDGE_DRAG = {
    Condition.PREPARED: 0.8,
    Condition.AS_CAST: 1.0,
    Condition.DULL: 1.3,
    Condition.NICKED: 1.7,
    Condition.UNBALANCED: 1.0,
}
SHAKES = (Condition.NICKED, Condition.UNBALANCED)
MISSING_KG = 1e-4  # what a nick takes off one blade, or balancing would (a tenth of a gram; common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Propeller(Part):
    """A propeller by diameter and pitch (or pitch ratio) and blades."""

    diameter_m: Value = quantity("Diameter", Dimension.LENGTH, "mm", 10, 200, required=True)
    pitch_m: Value | None = quantity("Pitch", Dimension.LENGTH, "mm", 8, 400)
    pitch_ratio: Value | None = quantity("Pitch ratio", Dimension.RATIO, "1", 0.5, 2.2, help="pitch over diameter")
    blades: int = count("Blades", 2, 6, default=2)
    bore_m: Value | None = quantity("Bore", Dimension.LENGTH, "mm", 1, 15)
    condition: Condition = choice("Condition", Condition, Condition.AS_CAST)
    cup_m: Value | None = quantity("Cup", Dimension.LENGTH, "mm", 0, 5, help="how far the trailing edge is turned down")
    rake_deg: Value | None = quantity("Rake", Dimension.ANGLE, "deg", -20, 30, help="lifts the stern")
    area_ratio: Value | None = quantity("Blade area ratio", Dimension.RATIO, "1", 0.2, 1.2)
    immersion: Value | None = quantity(
        "Immersed part of the turn", Dimension.RATIO, "1", 0.15, 1.0, help="surface drives: about half"
    )

    def __post_init__(self) -> None:
        Part.__post_init__(self)
        if self.pitch_m is None and self.pitch_ratio is None:
            raise InvalidValue("propeller.pitch_ratio", "missing", "a pitch or a pitch ratio")
        ratio = pitch(self).value / self.diameter_m.value
        if not 0.499 <= ratio <= 2.201:
            raise InvalidValue("propeller.pitch", f"{pitch(self).value * 1e3:g} mm", "0.5 to 2.2 x the diameter")


def pitch(propeller: Propeller) -> Value:
    """Pitch [m], from the pitch ratio where that is what was given."""
    if propeller.pitch_m is not None:
        return propeller.pitch_m
    assert propeller.pitch_ratio is not None  # held by __post_init__
    ratio = propeller.pitch_ratio
    return Value(value=ratio.value * propeller.diameter_m.value, source=ratio.source, spread=ratio.spread)


def edge_friction(propeller: Propeller) -> Value:
    """Face friction and edge drag of the blades [1]: 0.010 as cast (common practice, no source)."""
    factor = EDGE_DRAG[propeller.condition]
    return guess(0.010 * factor, 0.3, f"face friction and edge drag, {propeller.condition}")


def pitch_factor(propeller: Propeller) -> Value:
    """Effective over printed pitch [1]: 1, and 1.2 x cup / diameter more for a cup (common practice, no source)."""
    if propeller.cup_m is None or propeller.cup_m.value == 0:
        return guess(1.0, 0.03, "real over printed pitch")
    gain = 1.2 * propeller.cup_m.value / propeller.diameter_m.value
    return guess(1.0 + gain, 0.035, f"real over printed pitch, {gain:.1%} more for the cup")


def lift_ratio(propeller: Propeller) -> Value:
    """Lift over thrust [1]: half the tangent of the rake (common practice, no source); none without a given rake."""
    if propeller.rake_deg is None or propeller.rake_deg.value == 0:
        return Value(value=0.0)
    ratio = 0.5 * math.tan(math.radians(propeller.rake_deg.value))
    return guess(ratio, 0.3, f"half the tangent of {propeller.rake_deg.value:g} deg of rake")


def area_ratio(propeller: Propeller) -> Value:
    """Blade area ratio [1]: 0.45 for two blades, 0.55 for three, 0.62 for more (common practice, no source)."""
    usual = {2: 0.45, 3: 0.55}.get(propeller.blades, 0.62)
    return known(propeller.area_ratio, guess(usual, 0.12, f"usual for {propeller.blades} blades"))


def immersion(propeller: Propeller, submerged: bool) -> Value:
    """Immersed part of the turn [1]: half for surface drives (common practice, no source), all of it when submerged."""
    if submerged:
        return Value(value=1.0)
    return known(propeller.immersion, guess(0.5, 0.12, "half the turn, usual for a surface drive"))
