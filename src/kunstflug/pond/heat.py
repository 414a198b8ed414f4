"""Temperatures on the simulated pond: the core's network with the boat's hidden thermal parameters."""

from typing import Any

import numpy as np

from kunstflug.core.drive.values import Rows
from kunstflug.core.laws.heat import jacket_conductance_w_k, water_flow_kg_s
from kunstflug.core.laws.jit import kept
from kunstflug.core.quantity.value import Array
from kunstflug.core.thermal.network import COUNT, INSIDE, NUMBERS, capacities_j_k, flows_w

SOAK_STEP_S = 0.5


@kept
def _step(numbers: Any, t: Array, heat_w: Array, case_w_k: float, plate_w_k: float, step_s: float) -> None:
    """Moves the temperatures on by a step with a heat into each part [W]."""
    capacity, leaving, behind = np.zeros(COUNT), np.zeros(COUNT), np.zeros(2)
    capacities_j_k(numbers[0], capacity)
    flows_w(numbers[0], t, case_w_k, plate_w_k, behind, leaving)
    for k in range(COUNT):
        entering = heat_w[k] if k < INSIDE else 0.0
        t[k] += (entering - leaving[k]) / capacity[k] * step_s


class HeatNodes:
    """Winding, case, controller, pack, connector and the air inside [degC], stepped in time."""

    def __init__(self, thermal: Rows, water_c: float, air_c: float) -> None:
        self.water_c, self.air_c = water_c, air_c
        names = set(NUMBERS.names or ()) & set(thermal.dtype.names or ())
        self._numbers = np.zeros(1, NUMBERS)
        for name in names:
            self._numbers[name] = thermal[name][0]
        self._numbers["water_c"], self._numbers["air_c"] = water_c, air_c
        self._bore_m, self._case_w_k, self._plate_w_k = (
            float(thermal[name][0]) for name in ("water_bore_m", "case_jacket_w_k", "controller_jacket_w_k")
        )
        self.temperature = np.full(COUNT, float(air_c))

    def step(self, heat_w: Array, speed_mps: float, step_s: float) -> None:
        """One step with a heat into each part; the pickup pumps with speed, none at rest."""
        flow = water_flow_kg_s(speed_mps, self._bore_m)
        case = float(jacket_conductance_w_k(flow, self._case_w_k))
        plate = float(jacket_conductance_w_k(flow, self._plate_w_k))
        _step(self._numbers, self.temperature, heat_w, case, plate, step_s)

    def soak(self, seconds: float) -> Array:
        """Temperatures some seconds after landing: no power, no flow; the nodes themselves are moved on."""
        for _ in range(int(seconds / SOAK_STEP_S)):
            self.step(np.zeros(INSIDE), 0.0, SOAK_STEP_S)
        return self.temperature.copy()
