"""Heat: specific heats, cooling by water, heat transfer in passages."""

import math
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Floats

COPPER_J_KGK: Final = 385.0  # handbook values, from memory
STEEL_J_KGK: Final = 460.0
CELL_J_KGK: Final = 1000.0  # pouch cells (common practice, no source)
WATER_J_KGK: Final = 4184.0  # at 20 degC [coolprop]


def water_flow_kg_s(speed_mps: Floats, bore_m: Floats, recovery: Floats = 0.8) -> Floats:
    """Cooling water that a pickup facing the stream drives through the line [kg/s].

    0.11 L/min for each m/s in a 4 mm line, with the square of the bore; the loop solved in the water circuit gives
    0.107 to 0.115 for such a line with recovery 0.8. Goes with the root of the recovery.
    """
    litres_min = 0.11 * speed_mps * (bore_m / 4e-3) ** 2 * np.sqrt(recovery / 0.8)
    return litres_min / 60.0


def jacket_conductance_w_k(flow_kg_s: Floats, wall_w_k: Floats) -> Floats:
    """Conductance from a can to the water that enters its jacket [W/K].

    m c (1 - exp(-UA / (m c))): the water warms on its way (definition of the effectiveness of an exchanger with one
    side at one temperature). UA grows with the root of the flow from its value at 0.02 kg/s (p).
    """
    capacity_flow = np.maximum(flow_kg_s, 1e-9) * WATER_J_KGK
    area = wall_w_k * np.sqrt(np.maximum(flow_kg_s, 1e-9) / 0.02)
    return capacity_flow * (1 - np.exp(-area / capacity_flow))


def nusselt(reynolds: float, prandtl: float, diameter_over_length: float = 0.0) -> float:
    """Nusselt number in a passage: Hausen's laminar entry, Gnielinski above Re 4000, straight between 2300 and 4000.

    [hausen1943, gnielinski1976]
    """
    laminar = laminar_nusselt(min(reynolds, 2300.0), prandtl, diameter_over_length)
    if reynolds <= 2300:
        return laminar
    turbulent = gnielinski_nusselt(max(reynolds, 4000.0), prandtl)
    if reynolds >= 4000:
        return turbulent
    part = (reynolds - 2300) / 1700
    return laminar * (1 - part) + turbulent * part


def laminar_nusselt(reynolds: float, prandtl: float, diameter_over_length: float) -> float:
    """Hausen's Nusselt number of a laminar entry at constant wall temperature; 3.66 far down [hausen1943]."""
    graetz = diameter_over_length * reynolds * prandtl
    return 3.66 + 0.0668 * graetz / (1 + 0.04 * graetz ** (2 / 3))


def gnielinski_nusselt(reynolds: float, prandtl: float) -> float:
    """Gnielinski's turbulent Nusselt number with Petukhov's friction, (0.79 ln Re - 1.64)^-2."""
    friction = (0.79 * math.log(reynolds) - 1.64) ** -2 / 8
    return friction * (reynolds - 1000) * prandtl / (1 + 12.7 * math.sqrt(friction) * (prandtl ** (2 / 3) - 1))
