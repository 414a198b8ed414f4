"""The hull: what holds the boat back, at planing speed and at the hump before it."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, choice, guess, known, quantity

GRAVITY_MPS2: Final = 9.80665


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Hull(Part):
    """A hull by its type and what a ruler says."""

    hull_type: HullType = choice("Type", HullType, HullType.MONO)
    drive: Drive = choice(
        "Drive",
        Drive,
        Drive.SURFACE,
        help="surface: half the propeller is out of the water at speed; jet: an impeller in a duct",
    )
    length_m: Value = quantity("Length", Dimension.LENGTH, "mm", 150, 2500, required=True)
    beam_m: Value | None = quantity("Beam", Dimension.LENGTH, "mm", 40, 1200)
    deadrise_deg: Value | None = quantity(
        "Deadrise", Dimension.ANGLE, "deg", 0, 35, help="of the bottom, at the transom"
    )
    mass_centre_m: Value | None = quantity(
        "Centre of mass", Dimension.LENGTH, "mm", 10, 2000, help="ahead of the transom, balanced on a finger"
    )
    appendage_area_m2: Value | None = quantity(
        "Appendage drag area",
        Dimension.AREA,
        "cm2",
        0.05,
        200,
        help="rudder, strut and fin: wetted area x drag coefficient",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class HullCharacter:
    """What a type of hull is assumed to do; all common practice, no source."""

    beam_per_length: float
    planing_drag_ratio: float  # drag over weight of the running surfaces
    hump_drag_ratio: float  # added at the hump
    appendage_per_length2: float  # 0.5 rho V^2 x this x length^2
    air_drag_per_length2: float


CHARACTERS: Final[dict[HullType, HullCharacter]] = {
    HullType.MONO: HullCharacter(
        beam_per_length=0.30,
        planing_drag_ratio=0.12,
        hump_drag_ratio=0.06,
        appendage_per_length2=2.8e-4,
        air_drag_per_length2=0.033,
    ),
    HullType.CATAMARAN: HullCharacter(
        beam_per_length=0.34,
        planing_drag_ratio=0.12,
        hump_drag_ratio=0.06,
        appendage_per_length2=2.0e-4,
        air_drag_per_length2=0.033,
    ),
    HullType.TUNNEL: HullCharacter(
        beam_per_length=0.42,
        planing_drag_ratio=0.12,
        hump_drag_ratio=0.06,
        appendage_per_length2=2.2e-4,
        air_drag_per_length2=0.036,
    ),
    HullType.OUTRIGGER: HullCharacter(
        beam_per_length=0.45,
        planing_drag_ratio=0.11,
        hump_drag_ratio=0.08,
        appendage_per_length2=1.0e-4,
        air_drag_per_length2=0.030,
    ),
}


def volume_froude(speed_mps: Floats, mass_kg: Floats, water_kg_m3: Floats) -> Floats:
    """Froude number on the cube root of the displaced volume [1]."""
    return speed_mps / np.sqrt(GRAVITY_MPS2 * np.cbrt(mass_kg / water_kg_m3))


def running_drag_ratio(froude: Floats, planing_ratio: Floats, hump_ratio: Floats) -> Floats:
    """Drag over weight of the running surfaces [1] against volume Froude number.

    Rises from rest, has its hump near 1.9 and settles at the planing value. The shape is that of planing-craft
    tests, the numbers are common practice, no source.
    """
    rise = 1 - np.exp(-((froude / 1.5) ** 2))
    hump = np.exp(-((np.log(np.maximum(froude, 1e-9) / 1.9) / 0.45) ** 2))
    return planing_ratio * rise + hump_ratio * hump


PLANING_FROUDE: Final = 3.0  # volume Froude number above which the hump is behind


def skin_friction_ittc57(reynolds: Floats) -> Floats:
    """Skin friction coefficient 0.075 / (log10 Re - 2)^2 [ittc1957].

    Examples
    --------
    >>> round(float(skin_friction_ittc57(1e7)), 6)
    0.003
    """
    return 0.075 / (np.log10(reynolds) - 2) ** 2


def carried_n(mass_kg: Floats, lift_n: Floats) -> Floats:
    """Weight that the running surfaces carry [N]: the boat's less a lift, at least 30 % of it."""
    weight = mass_kg * GRAVITY_MPS2
    return np.maximum(weight - lift_n, 0.3 * weight)


def air_drag_n(speed_mps: Floats, headwind_mps: Floats, area_m2: Floats, air_kg_m3: Floats) -> Floats:
    """Air drag [N] of a drag area [m2]; a tail wind that overtakes the boat pushes."""
    relative = speed_mps + headwind_mps
    return 0.5 * air_kg_m3 * area_m2 * relative * np.abs(relative)


def appendage_drag_n(speed_mps: Floats, area_m2: Floats, water_kg_m3: Floats) -> Floats:
    """Drag of rudder, strut and fin [N] from their drag area [m2]."""
    return 0.5 * water_kg_m3 * area_m2 * speed_mps**2


def beam(hull: Hull) -> Value:
    """Beam [m], from the type where it was not measured."""
    ratio = CHARACTERS[hull.hull_type].beam_per_length
    return known(hull.beam_m, guess(ratio * hull.length_m.value, 0.15, f"{ratio:g} x length for a {hull.hull_type}"))


def mass_centre(hull: Hull) -> Value:
    """Centre of mass ahead of the transom [m]: 30 % of the length (common practice, no source)."""
    return known(hull.mass_centre_m, guess(0.30 * hull.length_m.value, 0.12, "30 % of the length ahead of the transom"))


def deadrise(hull: Hull) -> Value:
    """Deadrise [deg]: 18 for a deep V, 8 for the rest (common practice, no source)."""
    usual = 18.0 if hull.hull_type is HullType.MONO else 8.0
    return known(hull.deadrise_deg, guess(usual, 0.2, f"usual for a {hull.hull_type}"))


def blow_over_speed_mps(
    mass_kg: Floats, centre_m: Floats, length_m: Floats, beam_m: Floats, headwind_mps: Floats, air_kg_m3: Floats
) -> Floats:
    """Speed at which a gust under a bow that stands 5 degrees up turns the boat over its transom [m/s].

    Lift of the deck, 1.2 per radian on three quarters of length x beam, at 60 % of the length, against weight at the
    centre of mass: common practice, no source. Ground effect and the hull's own form can double or halve it.
    """
    area = 0.75 * length_m * beam_m
    lift_per_q = area * 1.2 * np.radians(5.0)
    wind = np.sqrt(mass_kg * GRAVITY_MPS2 * centre_m / (0.5 * air_kg_m3 * lift_per_q * 0.6 * length_m))
    return wind - headwind_mps


def appendage_area(hull: Hull) -> Value:
    """Drag area of rudder, strut and fin [m2]."""
    factor = CHARACTERS[hull.hull_type].appendage_per_length2
    if hull.drive is Drive.SUBMERGED:
        factor *= 1.3  # a whole strut and shaft in the water
    if hull.drive is Drive.JET:
        factor *= 0.5  # neither strut nor rudder
    return known(
        hull.appendage_area_m2,
        guess(factor * hull.length_m.value**2, 0.30, f"{factor * 1e4:.1f}e-4 x length squared for a {hull.hull_type}"),
    )


def air_drag_area(hull: Hull) -> Value:
    """Drag area in air [m2]."""
    factor = CHARACTERS[hull.hull_type].air_drag_per_length2
    return guess(factor * hull.length_m.value**2, 0.25, f"{factor:g} x length squared")


def planing_drag(hull: Hull) -> Value:
    """Drag over weight of the running surfaces on the plane [1]."""
    return guess(CHARACTERS[hull.hull_type].planing_drag_ratio, 0.15, f"usual for a {hull.hull_type}")


def hump_drag(hull: Hull) -> Value:
    """Drag over weight added at the hump [1]."""
    return guess(CHARACTERS[hull.hull_type].hump_drag_ratio, 0.40, f"usual for a {hull.hull_type}")
