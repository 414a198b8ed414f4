"""Temperatures on the simulated pond: winding, motor case, controller and pack as lumped nodes."""

from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.setup import Setup
from kunstflug.core.motor import motor_mass
from kunstflug.core.pack import pack_mass

Array = npt.NDArray[np.float64]

SPECIFIC_HEAT: Final = 450.0  # J/(kg K), steel and copper
PACK_SPECIFIC_HEAT: Final = 1000.0  # J/(kg K), pouch cells (common practice, no source)


class HeatNodes:
    """Winding, case, controller, pack [degC]; explicit steps of the linear network."""

    def __init__(self, setup: Setup, factors: Array, water_c: float, air_c: float) -> None:
        motor_kg, pack_kg = motor_mass(setup.motor).value, pack_mass(setup.pack).value
        self.capacity = factors[:4] * np.array(
            [0.25 * motor_kg * SPECIFIC_HEAT, 0.75 * motor_kg * SPECIFIC_HEAT, 70.0, pack_kg * PACK_SPECIFIC_HEAT]
        )
        self.inside = 4.0 * factors[4] * (motor_kg / 0.25) ** 0.5  # winding to case, W/K
        self.sink = factors[4:8] * np.array([0.0, 0.9, 0.7, 0.5])  # to water, water, air at speed, W/K
        self.water_c, self.air_c = water_c, air_c
        self.ambient = np.array([water_c, water_c, water_c, air_c])
        self.temperature = np.array([air_c, air_c, air_c, air_c + 4.0])

    def step(self, heat_w: Array, speed_mps: float, step_s: float) -> None:
        """One step with a heat into each node; cooling grows with speed (the pickup is in the rudder)."""
        flow = min(speed_mps / 12.0, 1.2)
        sink = self.sink * np.array([0.0, 0.15 + flow, 0.15 + flow, 0.4 + 0.6 * flow])
        inner = self.inside * (self.temperature[0] - self.temperature[1])
        rate = heat_w - sink * (self.temperature - self.ambient) + inner * np.array([-1.0, 1.0, 0.0, 0.0])
        self.temperature = self.temperature + rate / self.capacity * step_s

    def soak(self, seconds: float) -> Array:
        """Temperatures some seconds after landing: no power, no flow; the nodes themselves are moved on."""
        for _ in range(int(seconds / 0.5)):
            self.step(np.zeros(4), 0.0, 0.5)
        return self.temperature.copy()
