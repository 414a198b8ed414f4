"""Temperatures on the simulated pond: the core's five nodes with the boat's hidden thermal parameters."""

import numpy as np
import numpy.typing as npt

from kunstflug.core import heat
from kunstflug.core.drive.thermal import ThermalNumbers

Array = npt.NDArray[np.float64]


class HeatNodes:
    """Winding, case, controller, pack, connector [degC], stepped in time."""

    def __init__(self, thermal: ThermalNumbers, water_c: float, air_c: float) -> None:
        self.thermal = thermal
        self.water_c, self.air_c = water_c, air_c
        t = thermal
        self.capacity = np.array([t.winding_j_k, t.case_j_k, t.controller_j_k, t.pack_j_k, t.connector_j_k])
        self.air = np.array([0.0, t.case_air_w_k, t.controller_air_w_k, t.pack_air_w_k, t.connector_air_w_k])
        self.temperature = np.full(5, air_c)

    def step(self, heat_w: Array, speed_mps: float, step_s: float) -> None:
        """One step with a heat into each node; the pickup pumps with speed, none at rest."""
        t = self.temperature
        flow = heat.water_flow_kg_s(speed_mps, self.thermal.water_bore_m)
        water = np.zeros(5)
        water[1] = heat.jacket_conductance_w_k(flow, self.thermal.case_jacket_w_k)
        water[2] = heat.jacket_conductance_w_k(flow, self.thermal.controller_jacket_w_k)
        inner = self.thermal.winding_case_w_k * (t[0] - t[1])
        rate = heat_w - water * (t - self.water_c) - self.air * (t - self.air_c)
        rate[0] -= inner
        rate[1] += inner
        self.temperature = t + rate / self.capacity * step_s

    def soak(self, seconds: float) -> Array:
        """Temperatures some seconds after landing: no power, no flow; the nodes themselves are moved on."""
        for _ in range(int(seconds / 0.5)):
            self.step(np.zeros(5), 0.0, 0.5)
        return self.temperature.copy()
