"""What a blade's size and shape do to its force and its drag: friction, edges, finite span, cup."""

import math
from typing import Final

import numpy as np

from kunstflug.core.laws.resistance import skin_friction_ittc57
from kunstflug.core.quantity.value import Floats

SPAN: Final = 0.4  # of a blade, over the diameter: from the hub at 0.2 R to the tip
USUAL_AREA: Final = 0.45  # of the two-bladed propeller by which the force was set
AT_RADIUS: Final = 0.7  # whose section stands for the blade
USUAL_ADVANCE: Final = 1.1  # J of a surface drive on the plane, for the speed of the water along its blades
LEAST_REYNOLDS: Final = 1e4
LEAST_IMMERSED: Final = 0.2  # higher up a propeller only sprays
CUP_GAIN: Final = 1.2  # pitch that a cup adds, over its depth (common practice, no source)
CAMBER_RELIEF: Final = 1.0 - 9.0 / 25.0


def chord_m(diameter_m: Floats, blades: int, area_ratio: Floats) -> Floats:
    """Mean chord of a blade [m]: its part of the blade area over its span.

    Examples
    --------
    >>> round(float(chord_m(0.040, 2, 0.45)) * 1e3, 1)
    17.7
    """
    return area_ratio * math.pi * diameter_m / (4 * SPAN * blades)


def span_factor(blades: int, area_ratio: Floats) -> Floats:
    """Force of a blade of finite span over that of the blade that the law was set by [1].

    A plate with a cavity has a lift slope of pi / 2; lifting-line theory leaves AR / (AR + 1/2) of it [prandtl1918],
    AR being span over mean chord. Taken over a two-bladed propeller of area ratio 0.45, by which the law was set: more
    area brings less than its share of thrust, more blades of the same area a little more.

    Examples
    --------
    >>> [round(float(span_factor(blades, area)), 3) for blades, area in ((2, 0.45), (2, 0.60), (3, 0.45))]
    [1.0, 0.894, 1.135]
    """
    aspect = 4 * SPAN * SPAN * blades / (math.pi * area_ratio)
    usual = 4 * SPAN * SPAN * 2 / (math.pi * USUAL_AREA)
    return aspect / (aspect + 0.5) * (usual + 0.5) / usual


def blade_friction(
    diameter_m: Floats, blades: int, area_ratio: Floats, rps: Floats, viscosity_m2_s: float, edge_m: float
) -> Floats:
    """Friction of the wetted face and drag of the edges, over face area and the flow along it [1].

    The face's friction is the flat plate's of its Reynolds number at 0.7 R, turbulent [ittc1957]; an edge drags with
    its thickness over the chord. About 0.010 for a 40 mm propeller as it came.

    Parameters
    ----------
    diameter_m, blades, area_ratio : of the propeller [m], [1], [1].
    rps : turns a second on the plane [1/s].
    viscosity_m2_s : kinematic viscosity of the water [m2/s].
    edge_m : thickness of the edges [m].

    Examples
    --------
    >>> round(float(blade_friction(0.040, 2, 0.45, 367.0, 1.1e-6, 0.085e-3)), 4)
    0.0101
    """
    chord = chord_m(diameter_m, blades, area_ratio)
    along = rps * diameter_m * math.hypot(AT_RADIUS * math.pi, USUAL_ADVANCE)
    return skin_friction_ittc57(np.maximum(along * chord / viscosity_m2_s, LEAST_REYNOLDS)) + edge_m / chord


def torque_of_cup(cup_part: Floats) -> Floats:
    """Torque of cupped blades over that of flat ones of the same effective pitch [1].

    A section with a cavity whose lift comes from camber has 9/25 of the drag of a flat one of the same lift, as a
    circular arc has [johnson1957]: by that much the force of what the cup adds to the pitch stands steeper.

    Parameters
    ----------
    cup_part : depth of the cup over the diameter [1].

    Examples
    --------
    >>> round(float(torque_of_cup(0.02)), 4)
    0.9846
    """
    return 1.0 - CAMBER_RELIEF * CUP_GAIN * cup_part


def immersion_of_depth(depth_part: Floats) -> Floats:
    """Immersed part of a propeller's diameter on the plane [1], by geometry: the water leaves the bottom level.

    Parameters
    ----------
    depth_part : shaft below the hull's bottom over the diameter, negative above it [1].

    Examples
    --------
    >>> [round(float(immersion_of_depth(part)), 2) for part in (0.0, 0.1, -0.1, 0.8)]
    [0.5, 0.6, 0.4, 1.0]
    """
    return np.clip(0.5 + depth_part, LEAST_IMMERSED, 1.0)
