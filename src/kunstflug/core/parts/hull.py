"""The hull as a part: its type, what a ruler says, and what is guessed from both."""

import dataclasses
import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.laws.resistance import foil_drag_area_m2
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, choice, length, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, guess, known, scaled


class HullType(StrEnum):
    """How the hull runs."""

    MONO = "mono"
    CATAMARAN = "catamaran"
    TUNNEL = "tunnel"
    OUTRIGGER = "outrigger"


class Drive(StrEnum):
    """How the propeller sits in the water."""

    SURFACE = "surface"
    SUBMERGED = "submerged"
    JET = "jet"


class Hardware(StrEnum):
    """How rudder, strut and fin are."""

    SOUND = "sound"
    DAMAGED = "damaged"


@dataclass(frozen=True, slots=True, kw_only=True)
class Hull(Part):
    """A hull by its type and what a ruler says."""

    hull_type: HullType = choice(HullType, HullType.MONO)
    drive: Drive = choice(Drive, Drive.SURFACE)
    length_m: Value = length(150, 2500, required=True)
    beam_m: Value | None = length(40, 1200)
    deadrise_deg: Value | None = quantity(Dimension.ANGLE, "deg", 0, 35)
    mass_centre_m: Value | None = length(10, 2000)
    appendage_area_m2: Value | None = quantity(Dimension.AREA, "cm2", 0.05, 200)
    shaft_depth_m: Value | None = length(-60, 120)
    trim_deg: Value | None = quantity(Dimension.ANGLE, "deg", 0.5, 12)
    rudder_depth_m: Value | None = length(5, 250)
    rudder_chord_m: Value | None = length(5, 150)
    fin_depth_m: Value | None = length(0, 200)
    fin_chord_m: Value | None = length(5, 200)
    strut_angle_deg: Value | None = quantity(Dimension.ANGLE, "deg", -6, 15, estimated=False)
    rudder_offset_m: Value | None = length(-300, 300, estimated=False)
    fin_angle_deg: Value | None = quantity(Dimension.ANGLE, "deg", -8, 15, estimated=False)
    tab_angle_deg: Value | None = quantity(Dimension.ANGLE, "deg", -5, 15, estimated=False)
    hardware: Hardware = choice(Hardware, Hardware.SOUND)


@dataclass(frozen=True, slots=True, kw_only=True)
class UsualForType(Fact):
    """What is usual for a hull of a type."""

    hull_type: HullType


@dataclass(frozen=True, slots=True, kw_only=True)
class PartOfLength(Fact):
    """A part of the hull's length, usual for a hull of a type."""

    part: float
    hull_type: HullType


@dataclass(frozen=True, slots=True, kw_only=True)
class AreaFromLength(Fact):
    """An area that goes with the hull's length squared."""

    part: float
    hull_type: HullType


@dataclass(frozen=True, slots=True, kw_only=True)
class AtTrim(Fact):
    """A hull that runs with its bow up by an angle."""

    trim_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HardwareBySize(Fact):
    """Rudder and fin by their sizes where those are given, the rest a part of what is usual."""

    rudder: bool
    fin: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HullCharacter:
    """What a type of hull is assumed to do; all common practice, no source."""

    beam_per_length: float
    planing_drag_ratio: float  # drag over weight of the running surfaces
    hump_drag_ratio: float  # added at the hump
    drag_per_length2: float  # of hardware and wetted hull together, 0.5 rho V^2 x this x length^2, see ``SHARE_WET``
    air_drag_per_length2: float
    air_lift_part: float  # lift area over length x beam
    deadrise_deg: float
    rise_froude: float  # volume Froude number over which it rises, and the propeller with it


CHARACTERS: Final[dict[HullType, HullCharacter]] = {
    kind: HullCharacter(
        beam_per_length=beam,
        planing_drag_ratio=planing,
        hump_drag_ratio=hump,
        drag_per_length2=appendage,
        air_drag_per_length2=air,
        air_lift_part=lift,
        deadrise_deg=deadrise,
        rise_froude=rise,
    )
    for kind, beam, planing, hump, appendage, air, lift, deadrise, rise in (
        (HullType.MONO, 0.30, 0.12, 0.06, 3.2e-4, 0.033, 0.01, 18.0, 1.7),
        (HullType.CATAMARAN, 0.34, 0.12, 0.06, 2.6e-4, 0.033, 0.05, 8.0, 1.5),
        (HullType.TUNNEL, 0.42, 0.12, 0.06, 2.9e-4, 0.036, 0.06, 8.0, 1.4),
        (HullType.OUTRIGGER, 0.45, 0.11, 0.08, 1.3e-4, 0.030, 0.03, 8.0, 1.2),
    )
}
SUBMERGED_APPENDAGE: Final = 1.3  # a whole strut and shaft in the water (common practice, no source)
JET_APPENDAGE: Final = 0.5  # neither strut nor rudder (common practice, no source)
CENTRE_PART: Final = 0.30
USUAL_TRIM_DEG: Final = 4.0  # bow up on the plane (common practice, no source)
BOTTOM_PART: Final = 0.5  # of that exponent, for the wetted hull (common practice, no source)
RUDDER_SHARE: Final = 0.4  # of the drag of all hardware (common practice, no source)
FIN_SHARE: Final = 0.2
BENT_DRAG: Final = 1.25  # a rudder out of line, a bent strut or fin (common practice, no source)
BENT_SPREAD: Final = 0.2
CHORD_PART: Final = 0.6  # of a rudder's or fin's depth (common practice, no source)


def beam(hull: Hull) -> Value:
    """Beam [m], from the type where it was not measured."""
    part = CHARACTERS[hull.hull_type].beam_per_length
    why = PartOfLength(part=part, hull_type=hull.hull_type)
    return known(hull.beam_m, guess(part * hull.length_m.value, 0.15, why))


def mass_centre(hull: Hull) -> Value:
    """Centre of mass ahead of the transom [m]: 30 % of the length (common practice, no source)."""
    why = PartOfLength(part=CENTRE_PART, hull_type=hull.hull_type)
    return known(hull.mass_centre_m, guess(CENTRE_PART * hull.length_m.value, 0.12, why))


def deadrise(hull: Hull) -> Value:
    """Deadrise [deg]: 18 for a deep V, 8 for the rest (common practice, no source)."""
    usual = CHARACTERS[hull.hull_type].deadrise_deg
    return known(hull.deadrise_deg, guess(usual, 0.2, UsualForType(hull_type=hull.hull_type)))


SHARE_WET: Final = 0.7  # of the drag area at volume Froude number 20 and the usual mass; the rest is hardware
USUAL_KG_M25: Final = 5.0  # usual mass over length^2.5
WATER_KG_M3: Final = 1000.0
WET_EXPONENT: Final = 1.0


def wetted_factor(hull: Hull) -> Value:
    """Drag area of the wetted hull over displaced volume^(2/3), at volume Froude number 20 [1].

    From a usual drag area and mass for the length: common practice, no source.
    """
    length, part = hull.length_m.value, CHARACTERS[hull.hull_type].drag_per_length2
    usual_m3 = USUAL_KG_M25 * length**2.5 / WATER_KG_M3
    factor = SHARE_WET * part * length**2 / usual_m3 ** (2 / 3)
    if hull.trim_deg is None:
        return guess(factor, 0.30, UsualForType(hull_type=hull.hull_type))
    # What a bottom wets for the same lift goes with trim^-1.1; how much of the wet is bottom, nobody has measured.
    less = (USUAL_TRIM_DEG / hull.trim_deg.value) ** (1.1 * BOTTOM_PART)
    return guess(factor * less, 0.35, AtTrim(trim_deg=hull.trim_deg.value))


def wetted_exponent(hull: Hull) -> Value:
    """Power with which the wetted hull falls with the Froude number [1]; about one (common practice, no source)."""
    return guess(WET_EXPONENT, 0.30, UsualForType(hull_type=hull.hull_type))


def air_lift_area(hull: Hull) -> Value:
    """Lift area of deck and tunnel in air [m2]: a part of length x beam by the type (common practice, no source)."""
    part = CHARACTERS[hull.hull_type].air_lift_part
    area = part * hull.length_m.value * beam(hull).value
    return guess(area, 0.5, UsualForType(hull_type=hull.hull_type))


def appendage_area(hull: Hull) -> Value:
    """Drag area of rudder, strut, fin and shaft [m2]; more of it, and less well known, where they are damaged."""
    whole = _whole_appendage_area(hull)
    if hull.hardware is Hardware.SOUND:
        return whole
    worse = scaled(whole, BENT_DRAG)
    spread = math.hypot(worse.spread, BENT_SPREAD)
    return dataclasses.replace(worse, spread=spread)


def _whole_appendage_area(hull: Hull) -> Value:
    """The same of hardware that nothing happened to."""
    factor = (1.0 - SHARE_WET) * CHARACTERS[hull.hull_type].drag_per_length2
    factor *= {Drive.SUBMERGED: SUBMERGED_APPENDAGE, Drive.JET: JET_APPENDAGE}.get(hull.drive, 1.0)
    usual, rudder, fin = factor * hull.length_m.value**2, hull.rudder_depth_m, hull.fin_depth_m
    if hull.appendage_area_m2 is not None:
        return hull.appendage_area_m2
    if rudder is None and fin is None:
        return guess(usual, 0.30, AreaFromLength(part=factor, hull_type=hull.hull_type))
    area = (1.0 - RUDDER_SHARE - FIN_SHARE) * usual
    for depth, chord, share in ((rudder, hull.rudder_chord_m, RUDDER_SHARE), (fin, hull.fin_chord_m, FIN_SHARE)):
        if depth is None:
            area += share * usual
        elif depth.value > 0:
            area += float(foil_drag_area_m2(depth.value, chord.value if chord else CHORD_PART * depth.value))
    spread = 0.30 if rudder is None or fin is None else 0.20
    return guess(area, spread, HardwareBySize(rudder=rudder is not None, fin=fin is not None))


def air_drag_area(hull: Hull) -> Value:
    """Drag area in air [m2]."""
    factor = CHARACTERS[hull.hull_type].air_drag_per_length2
    return guess(factor * hull.length_m.value**2, 0.25, AreaFromLength(part=factor, hull_type=hull.hull_type))


def shaft_angle_deg(hull: Hull) -> float:
    """Angle at which the propeller's shaft slopes down aft, to the bottom [deg]; along it where nobody said."""
    return hull.strut_angle_deg.value if hull.strut_angle_deg else 0.0


def rise_froude(hull: Hull) -> Value:
    """Volume Froude number over which the hull rises, and its propeller with it [1] (common practice, no source)."""
    return guess(CHARACTERS[hull.hull_type].rise_froude, 0.15, UsualForType(hull_type=hull.hull_type))


def planing_drag(hull: Hull) -> Value:
    """Drag over weight of the running surfaces on the plane [1].

    At a given trim the pressure's part is its tangent, the friction's goes with what is wetted for the same lift,
    trim^-1.1 [savitsky1964]; at the usual trim both make what is usual.
    """
    usual = CHARACTERS[hull.hull_type].planing_drag_ratio
    if hull.trim_deg is None:
        return guess(usual, 0.15, UsualForType(hull_type=hull.hull_type))
    trim, pressed = hull.trim_deg.value, math.tan(math.radians(USUAL_TRIM_DEG))
    friction = (usual - pressed) * (USUAL_TRIM_DEG / trim) ** 1.1
    return guess(math.tan(math.radians(trim)) + friction, 0.15, AtTrim(trim_deg=trim))


def hump_drag(hull: Hull) -> Value:
    """Drag over weight added at the hump [1]."""
    return guess(CHARACTERS[hull.hull_type].hump_drag_ratio, 0.40, UsualForType(hull_type=hull.hull_type))
