"""How a boat sits at speed: its bow's angle by where its weight is and by what lifts its stern.

At high speed the lift of a planing bottom goes with trim^1.1 lambda^0.5 and acts 0.75 of the wetted length ahead of the
transom [savitsky1964, the dynamic part of its lift and the limit of its centre of pressure]. With the lift balanced
and moments taken about the transom, a centre of mass x ahead of it and a part s of the weight lifted at the stern give
a wetted length that goes with x / (1 - s), and so

    trim ~ (1 - s)^(1.5/1.1) x^(-0.5/1.1).

The form is the method's; the level, what is usual for a hull, is common practice, no source, since fast small boats
run outside the method's range. Friction's and the air's moments are left out.
"""

from typing import Final

import numpy as np

from kunstflug.core.laws.jit import jitable
from kunstflug.core.quantity.value import Floats

CENTRE_POWER: Final = 0.5 / 1.1
UNLOADED_POWER: Final = 1.5 / 1.1
BOTTOM_PART: Final = 0.5  # of trim^-1.1, for all that is wetted (common practice, no source)
LEAST_CARRIED: Final = 0.4  # of the weight that is left to the bottom, whatever lifts the stern


def trim_by_centre(centre_ratio: Floats) -> Floats:
    """Trim over the one with the usual centre of mass [1].

    Parameters
    ----------
    centre_ratio : centre of mass ahead of the transom over the usual one [1].

    Examples
    --------
    >>> round(float(trim_by_centre(1.1)), 4)
    0.9576
    """
    found: Floats = np.clip(centre_ratio, 0.2, 5.0) ** -CENTRE_POWER
    return found


def planing_part(trim_ratio: Floats, pressure: Floats, friction: Floats, usual_rad: float) -> tuple[Floats, Floats]:
    """Drag over weight of the pressure and of the friction at a trim over the usual one [1].

    The pressure's is the tangent of the trim, scaled as it is at the usual one; the friction's goes with what is wetted
    for the same lift, trim^-1.1 [savitsky1964].
    """
    pressed = pressure * np.tan(usual_rad * trim_ratio) / np.tan(usual_rad)
    return pressed, friction * trim_ratio**-1.1


def wetted_by_trim(trim_ratio: Floats) -> Floats:
    """Wetted hull over the one at the usual trim [1]: part of it is bottom, and that goes with trim^-1.1."""
    found: Floats = trim_ratio ** (-1.1 * BOTTOM_PART)
    return found


@jitable
def left_to_bottom(lifted: Floats) -> Floats:
    """Part of the weight that the bottom carries where a part of it is lifted at the stern [1]."""
    return np.minimum(np.maximum(1.0 - lifted, LEAST_CARRIED), 2.0 - LEAST_CARRIED)


@jitable
def running_by_stern(carried: Floats, pressure_share: Floats) -> Floats:
    """Drag over carried weight, over the one without lift at the stern [1]; small angles.

    Parameters
    ----------
    carried : part of the weight that is left to the bottom [1].
    pressure_share : part of that drag which is pressure [1].
    """
    return pressure_share * np.exp(UNLOADED_POWER * np.log(carried)) + (1.0 - pressure_share) / (
        carried * np.sqrt(carried)
    )


@jitable
def wetted_by_stern(carried: Floats) -> Floats:
    """Wetted hull over the one without lift at the stern [1]: carried^(-1.1 x 1.5/1.1 / 2)."""
    return 1.0 / np.sqrt(carried * np.sqrt(carried))
