"""A turn: what fin and rudder hold against what the turn wants."""

import math
from typing import Final

from kunstflug.core.laws.resistance import GRAVITY_MPS2

VENTILATES: Final = 0.45
"""Side force coefficient at which a fin or rudder that breaks the surface draws air (common practice, no source)."""


def side_slope_per_rad(aspect: float) -> float:
    """Side force coefficient for each radian of a short straight foil: 2 pi A / (2 + sqrt(A^2 + 4)) [helmbold1942].

    At speed the surface gives way, so the aspect ratio is that of what is in the water, not twice it.

    Parameters
    ----------
    aspect : depth in the water over chord [1].

    Examples
    --------
    >>> round(side_slope_per_rad(6.0), 3)
    4.529
    """
    return 2.0 * math.pi * aspect / (2.0 + math.sqrt(aspect * aspect + 4.0))


def grip_m2(depth_m: float, chord_m: float, angle_deg: float | None = None) -> float:
    """Side force of a fin or rudder over dynamic pressure [m2]; the most before it draws air where no angle is given.

    Parameters
    ----------
    depth_m, chord_m : in the water, and along it [m].
    angle_deg : to the water [deg].
    """
    most = VENTILATES
    if angle_deg is not None:
        most = min(side_slope_per_rad(depth_m / chord_m) * math.radians(abs(angle_deg)), VENTILATES)
    return depth_m * chord_m * most


def tightest_radius_m(mass_kg: float, grip_area_m2: float, water_kg_m3: float) -> float:
    """Radius below which fin and rudder slip [m]: m V^2 / r against rho V^2 A / 2; the speed falls out.

    Examples
    --------
    >>> round(tightest_radius_m(2.0, 4e-4, 1000.0), 1)
    10.0
    """
    return 2.0 * mass_kg / (water_kg_m3 * grip_area_m2)


def lateral_g(speed_mps: float, radius_m: float) -> float:
    """Sideways acceleration over that of gravity [1]: V^2 / (r g)."""
    return speed_mps * speed_mps / (radius_m * GRAVITY_MPS2)
