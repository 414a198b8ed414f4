"""Planing of a prismatic hull [savitsky1964]: lift, centre of pressure, equilibrium trim and drag.

Used where it holds: trim 2 to 15 degrees, wetted length 1 to 4 beams, speed coefficient 0.6 to 13. Model boats at full
speed leave that range; then ``SavitskyPoint.covered`` is false.
"""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.laws.crossing import crossing
from kunstflug.core.laws.resistance import GRAVITY_MPS2, skin_friction_ittc57
from kunstflug.core.quantity.value import Floats

ROUGHNESS_ALLOWANCE: Final = 0.0  # a polished model hull; full-size boats are given 0.0004
_LONGEST: Final = 8.0  # wetted length over beam tried; past 4 it is out of range


@dataclass(frozen=True, slots=True, kw_only=True)
class SavitskyPoint:
    """Equilibrium of a planing hull.

    Parameters
    ----------
    trim_deg : trim of the keel [deg].
    wetted_ratio : mean wetted length over beam [1].
    drag_n : resistance [N].
    covered : whether the method is meant for such a point.
    """

    trim_deg: float
    wetted_ratio: float
    drag_n: float
    speed_coefficient: float
    lift_coefficient: float
    covered: bool


def flat_lift_coefficient(trim_deg: Floats, wetted_ratio: Floats, speed_coefficient: Floats) -> Floats:
    """CL0 of a flat plate: trim^1.1 (0.0120 lambda^0.5 + 0.0055 lambda^2.5 / Cv^2)."""
    buoyant = 0.0055 * wetted_ratio**2.5 / speed_coefficient**2
    return trim_deg**1.1 * (0.0120 * wetted_ratio**0.5 + buoyant)


def deadrise_lift_coefficient(flat: Floats, deadrise_deg: Floats) -> Floats:
    """CL of a V bottom: CL0 - 0.0065 beta CL0^0.6."""
    return flat - 0.0065 * deadrise_deg * flat**0.6


def centre_of_pressure(wetted_ratio: Floats, speed_coefficient: Floats) -> Floats:
    """Centre of pressure ahead of the transom over the mean wetted length: 0.75 - 1 / (5.21 Cv^2/lambda^2 + 2.39)."""
    return 0.75 - 1 / (5.21 * speed_coefficient**2 / wetted_ratio**2 + 2.39)


def bottom_velocity_ratio(trim_deg: Floats, wetted_ratio: Floats, deadrise_deg: Floats) -> Floats:
    """Mean velocity over the bottom, over the boat's [1]: sqrt(1 - CL_dynamic / (lambda cos trim)).

    The dynamic lift is that of the V bottom, CL0 - 0.0065 beta CL0^0.6.
    """
    flat = 0.0120 * wetted_ratio**0.5 * trim_deg**1.1
    dynamic = np.maximum(deadrise_lift_coefficient(flat, deadrise_deg), 0.0)
    # Far outside the method's range the root would vanish; the caveats say that it is outside.
    return np.sqrt(np.maximum(1 - dynamic / (wetted_ratio * np.cos(np.radians(trim_deg))), 0.04))


def porpoising_trim_deg(lift_coefficient: Floats, deadrise_deg: Floats) -> Floats:
    """Trim above which a hull porpoises [deg], from sqrt(CL/2); Savitsky's chart as polynomials.

    Parabolas through three readings each at 0 and 20 degrees of deadrise, linear between; sqrt(CL/2) 0.15 to 0.35.
    """
    x = np.sqrt(np.asarray(lift_coefficient) / 2)
    flat = 3.82 + (x - 0.20) * (52.6 + (x - 0.25) * 46.0)
    deep = 5.78 + (x - 0.20) * (45.2 + (x - 0.25) * 48.0)
    return flat + (deep - flat) * np.asarray(deadrise_deg) / 20.0


def equilibrium(
    speed_mps: float,
    mass_kg: float,
    beam_m: float,
    deadrise_deg: float,
    lcg_m: float,
    vcg_m: float,
    density_kg_m3: float,
    viscosity_m2_s: float,
) -> SavitskyPoint | None:
    """Trim and drag at which lift and moments balance, thrust through the centre of mass along the keel.

    Parameters
    ----------
    lcg_m, vcg_m : centre of mass ahead of the transom and above the keel [m].

    Returns
    -------
    None where no trim balances the moments (the centre of mass lies too far forward or aft).
    """
    cv = speed_mps / math.sqrt(GRAVITY_MPS2 * beam_m)
    weight = mass_kg * GRAVITY_MPS2
    wanted = weight / (0.5 * density_kg_m3 * speed_mps**2 * beam_m**2)
    flat = crossing(
        lambda c: float(deadrise_lift_coefficient(c, deadrise_deg)) - wanted, 0.999999 * wanted, 5.0 + 2 * wanted
    )

    def friction(wetted: float, trim: float) -> float:
        mean = speed_mps * float(bottom_velocity_ratio(trim, wetted, deadrise_deg))
        reynolds = mean * wetted * beam_m / viscosity_m2_s
        coefficient = float(skin_friction_ittc57(reynolds)) + ROUGHNESS_ALLOWANCE
        area = wetted * beam_m**2 / math.cos(math.radians(deadrise_deg))
        return 0.5 * density_kg_m3 * mean**2 * area * coefficient

    def trim_of(wetted: float) -> float:
        return float((flat / float(flat_lift_coefficient(1.0, wetted, cv))) ** (1 / 1.1))  # lift goes with trim^1.1

    def moment(wetted: float) -> float:
        trim = trim_of(wetted)
        lever = lcg_m - float(centre_of_pressure(wetted, cv)) * wetted * beam_m
        drag = friction(wetted, trim)
        arm = vcg_m - beam_m / 4 * math.tan(math.radians(deadrise_deg))
        tau = math.radians(trim)
        normal = (weight - drag * math.sin(tau)) / math.cos(tau)
        return normal * lever + drag * arm

    low, high = 0.15, _LONGEST
    if moment(low) * moment(high) > 0:
        return None
    wetted = crossing(moment, low, high, within=1e-10)
    trim = trim_of(wetted)
    drag = weight * math.tan(math.radians(trim)) + friction(wetted, trim) / math.cos(math.radians(trim))
    return SavitskyPoint(
        trim_deg=trim,
        wetted_ratio=wetted,
        drag_n=drag,
        speed_coefficient=cv,
        lift_coefficient=wanted,
        covered=2 <= trim <= 15 and 1 <= wetted <= 4 and 0.6 <= cv <= 13,
    )
