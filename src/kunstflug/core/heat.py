"""Heat: lumped nodes, conductances between them, sinks to water and air; steady, in time, and cooling by water."""

from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.linalg import expm

from kunstflug.core.values import Floats

Array = npt.NDArray[np.float64]

COPPER_J_KGK: Final = 385.0  # handbook values, from memory
STEEL_J_KGK: Final = 460.0
CELL_J_KGK: Final = 1000.0  # pouch cells (common practice, no source)
WATER_J_KGK: Final = 4184.0  # at 20 degC [coolprop]


def network_matrix(capacity: Array, between: Array, sink: Array) -> Array:
    """System matrix A of dT/dt = A T + (P + sink T_env) / C.

    Parameters
    ----------
    capacity : heat capacities [J/K], shape (N,).
    between : symmetric conductances between nodes [W/K], shape (N, N), zero diagonal.
    sink : conductances to the surroundings [W/K], shape (N,).
    """
    flow = between - np.diag(between.sum(axis=1) + sink)
    matrix: Array = np.asarray(flow / capacity[:, np.newaxis], dtype=np.float64)
    return matrix


def steady_c(between: Array, sink: Array, ambient_c: Array, power_w: Array) -> Array:
    """Temperatures at which all heat put in leaves again [degC], shape (N,)."""
    flow = between - np.diag(between.sum(axis=1) + sink)
    return np.asarray(np.linalg.solve(-flow, power_w + sink * ambient_c), dtype=np.float64)


def temperatures_after_c(
    start_c: Array, seconds: float, capacity: Array, between: Array, sink: Array, ambient_c: Array, power_w: Array
) -> Array:
    """Temperatures some seconds later under constant power [degC]: exact, by the matrix exponential."""
    size = len(capacity)
    augmented = np.zeros((size + 1, size + 1))
    augmented[:size, :size] = network_matrix(capacity, between, sink) * seconds
    augmented[:size, size] = (power_w + sink * ambient_c) / capacity * seconds
    return (expm(augmented) @ np.append(start_c, 1.0))[:size]


def winding_equilibrium_c(
    current_a: Floats, resistance_20_ohm: Floats, conductance_w_k: Floats, ambient_c: Floats
) -> Floats:
    """Temperature at which copper's rising resistance and cooling balance [degC]; NaN where it runs away.

    I^2 R20 (235 + T) / 255 = G (T - T0), solved for T [iec60034-1].
    """
    slope = current_a**2 * resistance_20_ohm / 255.0
    with np.errstate(divide="ignore", invalid="ignore"):
        balance = (slope * 235.0 + conductance_w_k * ambient_c) / (conductance_w_k - slope)
    return np.where(np.asarray(conductance_w_k) > slope, balance, np.nan)


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


def water_warming_k(heat_w: Floats, flow_kg_s: Floats) -> Floats:
    """Rise of the water's temperature [K].

    Examples
    --------
    >>> round(water_warming_k(150.0, 0.5 / 60 * 0.998), 2)
    4.31
    """
    return heat_w / (flow_kg_s * WATER_J_KGK)


def copper_adiabatic_s(current_a: Floats, section_mm2: Floats, start_c: Floats, end_c: Floats) -> Floats:
    """Seconds in which a copper conductor heats from start to end without losing any heat [iec60949].

    I^2 t = K^2 S^2 ln((beta + end) / (beta + start)) with K = 226, beta = 234.5.
    """
    return 226.0**2 * section_mm2**2 * np.log((234.5 + end_c) / (234.5 + start_c)) / current_a**2
