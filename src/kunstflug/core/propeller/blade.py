"""Blade elements: the outline of a blade and the two kinds of section force on it."""

from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.value import Floats

HUB: Final = 0.2  # hub radius over tip radius
_STATIONS: Final = 20

_nodes, _weights = np.polynomial.legendre.leggauss(_STATIONS)
RADII: Final[npt.NDArray[np.float64]] = HUB + (1 - HUB) * (_nodes + 1) / 2
WEIGHTS: Final[npt.NDArray[np.float64]] = (1 - HUB) / 2 * _weights


def chord_shape(x: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Chord against radius, 1 at its largest near 0.6 of the tip radius, about 0 at the tip."""
    return np.sqrt(np.maximum(1 - ((x - 0.6) / 0.62) ** 2, 0.0)) * np.sqrt(np.clip((1 - x) / 0.08, 0.0, 1.0))


_SHAPE: Final = chord_shape(RADII)
_SHAPE_MEAN: Final = float(np.sum(_SHAPE * WEIGHTS))


def plate_normal_coefficient(angle_rad: Floats) -> Floats:
    """Normal force coefficient of a flat plate with an open cavity behind it [1].

    2 pi sin a / (4 + pi sin a) [rayleigh1876, kirchhoff1869]; odd in the angle.

    Examples
    --------
    >>> import math
    >>> round(float(plate_normal_coefficient(math.radians(10))), 8)
    0.24002993
    """
    sine = np.sin(angle_rad)
    return 2 * np.pi * sine / (4 + np.pi * np.abs(sine))


def wetted_lift_coefficient(angle_rad: Floats) -> Floats:
    """Lift coefficient of a thin wetted section of aspect ratio about 2: pi sin 2a / 2.

    Slender-wing value 2 pi a / (1 + 2 / AR); used only for the *ratio* between two propellers, see ``wetted``.
    """
    return np.pi * np.sin(2 * angle_rad) / 2


def section_integrals(
    j: npt.NDArray[np.float64], pitch_ratio: Floats, *, cavity: bool
) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64], npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Thrust and torque of all blades for a blade area ratio of 1, the whole turn immersed.

    Parameters
    ----------
    j : advance coefficients [1], shape (..., G).
    pitch_ratio : P / D [1], scalar or shape (..., 1).
    cavity : ventilated plate if true, wetted section if false.

    Returns
    -------
    kt, kq of the normal force and kt, kq of a friction coefficient of 1, each of j's shape [1].
    """
    x = RADII
    j_ = np.asarray(j, dtype=float)[..., np.newaxis]
    pitch_angle = np.arctan(np.asarray(pitch_ratio, dtype=float)[..., np.newaxis] / (np.pi * x))
    attack = pitch_angle - np.arctan2(j_, np.pi * x)
    # dynamic pressure x area, over rho n^2 D^4: (1/2) (W / nD)^2 c dr Z / D^2, with Z c dr = area ratio x disc x shape
    flow = 0.5 * ((np.pi * x) ** 2 + j_**2) * (np.pi / 4) * _SHAPE / _SHAPE_MEAN * WEIGHTS
    arm = x / 2  # radius over diameter
    if cavity:
        normal = plate_normal_coefficient(attack)
        axial, turning = normal * np.cos(pitch_angle), normal * np.sin(pitch_angle)
    else:
        lift = wetted_lift_coefficient(attack)
        advance = pitch_angle - attack
        axial, turning = lift * np.cos(advance), lift * np.sin(advance)
    kt = np.sum(flow * axial, axis=-1)
    kq = np.sum(flow * arm * turning, axis=-1)
    kt_friction = -np.sum(flow * np.sin(pitch_angle), axis=-1)
    kq_friction = np.sum(flow * arm * np.cos(pitch_angle), axis=-1)
    return kt, kq, kt_friction, kq_friction
