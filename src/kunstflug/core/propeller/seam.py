"""Between wetted and ventilated: how much of the turn is in the water, and which law the blades then follow.

Off the plane a surface drive's propeller is all in the water; as the hull rises it comes up to the part it runs with.
A blade that is all in the water and lightly loaded runs wetted; one that breaks the surface, or is loaded so hard that
it draws air down, runs ventilated. Both steps are smooth (cubic), so that thrust and torque have no edge anywhere. The
places of the steps are common practice, no source.

Heavily loaded, as at rest and while getting onto the plane, a blade that breaks the surface works in a mixture: it
throws water out faster than more can flow in, and draws air down instead. The water fraction that is left is a
parameter of its own; it lowers held thrust from six times the weight to two or three, and sets how long the boat takes
to plane.
"""

from typing import Final

import numpy as np

from kunstflug.core.laws.jit import jitable
from kunstflug.core.quantity.value import Floats

WET_FROM: Final = 0.70  # immersed part of the turn at which blades begin to run wetted
WET_FULL: Final = 1.00
LIGHT_SLIP: Final = 0.35  # slip below which a wetted blade draws no air
HEAVY_SLIP: Final = 0.60  # above which it is ventilated
AIR_FROM: Final = 0.40  # slip from which a surface propeller draws air
AIR_FULL: Final = 0.80  # slip at which it draws as much as at rest
REFERENCE_TURNS: Final = 0.85  # loaded over free rpm, for the speed that belongs to an advance coefficient


@jitable
def smooth_step(x: Floats, low: float, high: float) -> Floats:
    """0 below ``low``, 1 above ``high``, a cubic with level ends in between [1].

    Examples
    --------
    >>> float(smooth_step(0.5, 0.0, 1.0))
    0.5
    """
    t = np.minimum(np.maximum((x - low) / (high - low), 0.0), 1.0)
    return t * t * (3.0 - 2.0 * t)


@jitable
def immersed_part(froude: Floats, running: Floats, rise: Floats) -> Floats:
    """Immersed part of the turn [1] at a volume Froude number: 1 at rest, ``running`` on the plane.

    Parameters
    ----------
    froude, rise : volume Froude number, and the one over which the hull rises [1].
    running : immersed part on the plane [1].
    """
    return running + (1.0 - running) * np.exp(-((froude / rise) ** 2))


@jitable
def wetness(immersed: Floats, slip: Floats) -> Floats:
    """Share of the wetted law [1]: 1 where the blades run wetted, 0 where they are ventilated."""
    return smooth_step(immersed, WET_FROM, WET_FULL) * (1.0 - smooth_step(slip, LIGHT_SLIP, HEAVY_SLIP))


@jitable
def water_part(slip: Floats, at_rest: Floats) -> Floats:
    """Water fraction around a blade [1]: 1 while lightly loaded, ``at_rest`` at the highest slip.

    Thrust and torque go with it, as they do with the density of a mixture. Common practice, no source.

    Parameters
    ----------
    slip : slip of the blades [1].
    at_rest : water fraction around a propeller that is held [1].

    Examples
    --------
    >>> float(water_part(0.2, 0.4)), float(water_part(1.0, 0.4))
    (1.0, 0.4)
    """
    return 1.0 - (1.0 - at_rest) * smooth_step(slip, AIR_FROM, AIR_FULL)


@jitable
def side_factor(immersed: Floats) -> Floats:
    """Mean sideways part of the blades' turning force [1]: sin(a) / a, a the half angle of the immersed sector.

    A blade at the bottom pushes sideways; over a whole turn that cancels, over the lower half 2 / pi of it is left.
    The sector's half angle follows from the immersed part of the disc's diameter, cos a = 1 - 2 part.

    Examples
    --------
    >>> round(float(side_factor(0.5)), 4), round(abs(float(side_factor(1.0))), 4)
    (0.6366, 0.0)
    """
    half = np.arccos(1.0 - 2.0 * np.minimum(np.maximum(immersed, 1e-6), 1.0))
    return np.sin(half) / half
