"""What holds a boat back: running surfaces, hardware, air; and the speed at which air lifts it."""

from typing import Final

import numpy as np

from kunstflug.core.laws.jit import jitable
from kunstflug.core.quantity.value import Floats

GRAVITY_MPS2: Final = 9.80665
PLANING_FROUDE: Final = 3.0  # volume Froude number above which the hump is behind


@jitable
def volume_froude(speed_mps: Floats, mass_kg: Floats, water_kg_m3: Floats) -> Floats:
    """Froude number on the cube root of the displaced volume [1].

    Parameters
    ----------
    speed_mps, mass_kg, water_kg_m3 : boat's speed [m/s] and mass [kg], density of the water [kg/m3].
    """
    return speed_mps / np.sqrt(GRAVITY_MPS2 * np.cbrt(mass_kg / water_kg_m3))


@jitable
def running_drag_ratio(froude: Floats, planing_ratio: Floats, hump_ratio: Floats) -> Floats:
    """Drag over weight of the running surfaces [1] against volume Froude number.

    Rises from rest, has its hump near 1.9 and settles at the planing value. The shape is that of planing-craft
    tests, the numbers are common practice, no source.

    Parameters
    ----------
    froude, planing_ratio, hump_ratio : volume Froude number, drag over weight on the plane, and added at the hump [1].
    """
    rise = 1 - np.exp(-((froude / 1.5) ** 2))
    hump = np.exp(-((np.log(np.maximum(froude, 1e-9) / 1.9) / 0.45) ** 2))
    return planing_ratio * rise + hump_ratio * hump


WETTED_FROUDE: Final = 20.0  # at which a wetted factor is given
WETTED_FLOOR: Final = 3.0  # below the plane a hull wets no more than it floats


@jitable
def wetted_area_m2(volume_m3: Floats, froude: Floats, factor: Floats, exponent: Floats) -> Floats:
    """Drag area of the hull that runs wet, its spray and slapping [m2]: a V^(2/3) (F / 20)^-q.

    A heavy boat wets more, a fast one less. Form and numbers are common practice, no source; the exponent is itself
    uncertain. Below planing the power of the Froude number levels off.

    Parameters
    ----------
    volume_m3 : volume of water that the hull displaces for what it carries [m3].
    froude : volume Froude number [1].
    factor, exponent : a and q [1].

    Examples
    --------
    >>> round(float(wetted_area_m2(2e-3, 20.0, 8e-3, 1.0)) * 1e4, 3)
    1.256
    """
    part = np.sqrt(froude * froude + WETTED_FLOOR * WETTED_FLOOR) / WETTED_FROUDE
    return factor * np.cbrt(volume_m3 * volume_m3) * part ** (-exponent)


@jitable
def air_lift_n(speed_mps: Floats, headwind_mps: Floats, area_m2: Floats, air_kg_m3: Floats) -> Floats:
    """Lift of the air under deck and tunnel [N] of a lift area [m2]; none from a wind that overtakes the boat."""
    relative = np.maximum(speed_mps + headwind_mps, 0.0)
    return 0.5 * air_kg_m3 * area_m2 * relative * relative


LEAST_CARRIED: Final = 0.3
ROUNDED_CARRIED: Final = 0.2


@jitable
def carried_n(mass_kg: Floats, lift_n: Floats) -> Floats:
    """Weight that the running surfaces carry [N]: the boat's less a lift [N], at least some 30 % of it.

    The floor is rounded, so that a boat that is carried by its lift feels its mass yet (common practice, no source).
    """
    weight = mass_kg * GRAVITY_MPS2
    above = (1.0 - LEAST_CARRIED) * weight - lift_n
    rounded = ROUNDED_CARRIED * np.minimum(np.maximum(lift_n, 0.0), weight)
    return LEAST_CARRIED * weight + 0.5 * (above + np.sqrt(above * above + rounded * rounded))


@jitable
def air_drag_n(speed_mps: Floats, headwind_mps: Floats, area_m2: Floats, air_kg_m3: Floats) -> Floats:
    """Air drag [N] of a drag area [m2]; a tail wind that overtakes the boat pushes."""
    relative = speed_mps + headwind_mps
    return 0.5 * air_kg_m3 * area_m2 * relative * np.abs(relative)


@jitable
def appendage_drag_n(speed_mps: Floats, area_m2: Floats, water_kg_m3: Floats) -> Floats:
    """Drag of rudder, strut and fin [N] from their drag area [m2]."""
    return 0.5 * water_kg_m3 * area_m2 * speed_mps**2


FOIL_FRICTION: Final = 0.005  # of a turbulent blade at the Reynolds numbers of rudders, 4e5 to 1e6 [ittc1957]
FOIL_THICKNESS: Final = 0.10  # over its chord (common practice, no source)
SPRAY: Final = 0.24  # drag area of a strut's spray over its thickness squared [hoerner1965]


def foil_drag_area_m2(depth_m: Floats, chord_m: Floats) -> Floats:
    """Drag area of a rudder or fin that breaks the surface [m2]: both sides, thickness, spray [hoerner1965].

    Parameters
    ----------
    depth_m, chord_m : in the water, and along it [m].

    Examples
    --------
    >>> round(float(foil_drag_area_m2(0.04, 0.025)) * 1e4, 3)
    0.135
    """
    thick = FOIL_THICKNESS * chord_m
    return 2 * depth_m * chord_m * FOIL_FRICTION * (1 + 2 * FOIL_THICKNESS) + SPRAY * thick * thick


def skin_friction_ittc57(reynolds: Floats) -> Floats:
    """Skin friction coefficient 0.075 / (log10 Re - 2)^2 [ittc1957].

    Examples
    --------
    >>> round(float(skin_friction_ittc57(1e7)), 6)
    0.003
    """
    return 0.075 / (np.log10(reynolds) - 2) ** 2


def blow_over_speed_mps(
    mass_kg: Floats, centre_m: Floats, length_m: Floats, deck_m2: Floats, headwind_mps: Floats, air_kg_m3: Floats
) -> Floats:
    """Speed at which a gust under a bow that stands 5 degrees up turns the boat over its transom [m/s].

    Lift of the deck, 1.2 per radian, at 60 % of the length, against weight at the centre of mass: common practice, no
    source. Ground effect and the hull's own form can double or halve it.

    Parameters
    ----------
    centre_m : centre of mass ahead of the transom [m].
    deck_m2 : seen from above [m2].
    """
    lift_per_q = deck_m2 * 1.2 * np.radians(5.0)
    wind = np.sqrt(mass_kg * GRAVITY_MPS2 * centre_m / (0.5 * air_kg_m3 * lift_per_q * 0.6 * length_m))
    return wind - headwind_mps
