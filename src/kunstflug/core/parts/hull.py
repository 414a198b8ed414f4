"""The hull as a part: its type, what a ruler says, and what is guessed from both."""

import dataclasses
import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.laws.attitude import planing_part, trim_by_centre, wetted_by_trim
from kunstflug.core.laws.resistance import foil_drag_area_m2
from kunstflug.core.parts.hull_types import CHARACTERS as CHARACTERS
from kunstflug.core.parts.hull_types import HullType as HullType
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, choice, length, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Floats, Value, guess, known, scaled


class Drive(StrEnum):
    """How the propeller sits in the water."""

    SURFACE = "surface"
    SUBMERGED = "submerged"
    JET = "jet"


class Hardware(StrEnum):
    """How rudder, strut and fin are."""

    SOUND = "sound"
    DAMAGED = "damaged"


class Side(StrEnum):
    """On which side a fin stands, looking forward."""

    UNSAID = "unsaid"
    RIGHT = "right"
    LEFT = "left"
    BOTH = "both"


class Fitted(StrEnum):
    """Whether something is on."""

    UNSAID = "unsaid"
    ON = "on"
    OFF = "off"


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
    drive_offset_m: Value | None = length(-150, 150, estimated=False)
    rudder_setback_m: Value | None = length(0, 300, estimated=False)
    rudder_toe_deg: Value | None = quantity(Dimension.ANGLE, "deg", -6, 6, estimated=False)
    steering_deg: Value | None = quantity(Dimension.ANGLE, "deg", 2, 70, estimated=False)
    sponson_angle_deg: Value | None = quantity(Dimension.ANGLE, "deg", -3, 10, estimated=False)
    air_tab_deg: Value | None = quantity(Dimension.ANGLE, "deg", -10, 45, estimated=False)
    fin_side: Side = choice(Side, Side.UNSAID)
    strakes: Fitted = choice(Fitted, Fitted.UNSAID)
    ride_pads: Fitted = choice(Fitted, Fitted.UNSAID)
    hatch_tape: Fitted = choice(Fitted, Fitted.UNSAID)
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
class TrimOfCentre(Fact):
    """A hull whose bow is up by an angle that follows from its centre of mass, a part of its length."""

    trim_deg: float
    centre_part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HardwareBySize(Fact):
    """Rudder and fin by their sizes where those are given, the rest a part of what is usual."""

    rudder: bool
    fin: bool


SUBMERGED_APPENDAGE: Final = 1.3  # a whole strut and shaft in the water (common practice, no source)
JET_APPENDAGE: Final = 0.5  # neither strut nor rudder (common practice, no source)
CENTRE_PART: Final = 0.30
USUAL_TRIM_DEG: Final = 4.0  # bow up on the plane (common practice, no source)
LEAST_TRIM_DEG: Final = 1.0
MOST_TRIM_DEG: Final = 9.0
CENTRE_UNSURE: Final = 0.10  # of the trim by a centre of mass: how far a model boat follows the law
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


USUAL_KG_M25: Final = 5.0  # usual mass over length^2.5
WATER_KG_M3: Final = 1000.0


def running_trim(hull: Hull, centre: Value | None = None) -> Value:
    """Bow up on the plane [deg], before a lift at the stern: as measured, by the centre of mass, or the usual one.

    Parameters
    ----------
    centre : of mass ahead of the transom [m]; None for the usual one.
    """
    usual = guess(USUAL_TRIM_DEG, 0.25, UsualForType(hull_type=hull.hull_type))
    if hull.trim_deg is not None or centre is None:
        return known(hull.trim_deg, usual)
    ratio = centre.value / (CENTRE_PART * hull.length_m.value)
    if abs(ratio - 1.0) < 1e-9:
        return usual
    trim = float(trims_of(ratio))
    return guess(
        trim,
        math.hypot(0.25, CENTRE_UNSURE),
        TrimOfCentre(trim_deg=trim, centre_part=centre.value / hull.length_m.value),
    )


def trims_of(centre_ratio: Floats) -> Floats:
    """Bow up by a centre of mass over the usual one [deg]."""
    found: Floats = np.clip(USUAL_TRIM_DEG * trim_by_centre(centre_ratio), LEAST_TRIM_DEG, MOST_TRIM_DEG)
    return found


def by_trim(hull: Hull, trim_deg: Floats) -> tuple[Floats, Floats, Floats]:
    """At a trim: drag over weight of the running surfaces, the pressure's share of it, and the wetted factor [1]."""
    character, usual = CHARACTERS[hull.hull_type], math.radians(USUAL_TRIM_DEG)
    pressure = math.tan(usual)
    ratio = trim_deg / USUAL_TRIM_DEG
    pressed, rubbed = planing_part(ratio, pressure, character.planing_drag_ratio - pressure, usual)
    return pressed + rubbed, pressed / (pressed + rubbed), _usual_wet(hull) * wetted_by_trim(ratio)


def _usual_wet(hull: Hull) -> float:
    length, character = hull.length_m.value, CHARACTERS[hull.hull_type]
    usual_m3 = USUAL_KG_M25 * length**2.5 / WATER_KG_M3
    return float(character.share_wet * character.drag_per_length2 * length**2 / usual_m3 ** (2 / 3))


def wetted_factor(hull: Hull, trim: Value | None = None) -> Value:
    """Drag area of the wetted hull over displaced volume^(2/3), at volume Froude number 20 [1].

    From a usual drag area and mass for the length: common practice, no source. How much of the wet is bottom, which
    goes with the trim, nobody has measured.

    Parameters
    ----------
    trim : that it runs at, see ``running_trim``; None for the usual one, or as measured.
    """
    at = running_trim(hull) if trim is None else trim
    factor = float(by_trim(hull, at.value)[2])
    if isinstance(at.reason, UsualForType):
        return guess(factor, 0.28, UsualForType(hull_type=hull.hull_type))
    return guess(factor, 0.33, _at(at))


def _at(trim: Value) -> Fact:
    return trim.reason if isinstance(trim.reason, TrimOfCentre) else AtTrim(trim_deg=trim.value)


def wetted_exponent(hull: Hull) -> Value:
    """Power with which the wetted hull falls with the Froude number [1] (common practice, no source)."""
    return guess(CHARACTERS[hull.hull_type].wet_exponent, 0.30, UsualForType(hull_type=hull.hull_type))


def air_lift_area(hull: Hull) -> Value:
    """Lift area of deck and tunnel in air [m2]: a part of length x beam by the type (common practice, no source)."""
    part = CHARACTERS[hull.hull_type].air_lift_part
    area = part * hull.length_m.value * beam(hull).value
    return guess(area, 0.5, UsualForType(hull_type=hull.hull_type))


def deck_m2(hull: Hull) -> float:
    """What of a hull is seen from above [m2]: a part of length x beam by the type (common practice, no source).

    An outrigger is a tub of some 0.3 of its beam over three quarters of its length, and two sponsons of a sixth of the
    beam over a third of it; between them there is only air.
    """
    return CHARACTERS[hull.hull_type].deck_part * hull.length_m.value * beam(hull).value


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
    character = CHARACTERS[hull.hull_type]
    factor = (1.0 - character.share_wet) * character.drag_per_length2
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


def planing_drag(hull: Hull, trim: Value | None = None) -> Value:
    """Drag over weight of the running surfaces on the plane [1], see ``by_trim``.

    Parameters
    ----------
    trim : that it runs at, see ``running_trim``; None for the usual one, or as measured.
    """
    at = running_trim(hull) if trim is None else trim
    ratio = float(by_trim(hull, at.value)[0])
    if isinstance(at.reason, UsualForType):
        return guess(ratio, 0.15, UsualForType(hull_type=hull.hull_type))
    return guess(ratio, 0.15, _at(at))


def hump_drag(hull: Hull) -> Value:
    """Drag over weight added at the hump [1]."""
    return guess(CHARACTERS[hull.hull_type].hump_drag_ratio, 0.40, UsualForType(hull_type=hull.hull_type))
