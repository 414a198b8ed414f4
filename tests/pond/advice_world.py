"""A world of its own form to judge advice in: written before the advice was tuned, and asked once, at the end.

Drag by planing lift and a friction line, a propeller whose coefficients are straight lines of the slip, cells that sag
by a straight part and a logarithm. Every middle and every spread is common practice, no source.
"""

import math
from typing import ClassVar

from tests.pond.other_worlds import AIR, RHO, G, Other

from kunstflug.pond.world import Fault


class Straight(Other):
    """Coefficients straight in the slip, wetted area by what the lift carries, losses by turns and load."""

    HULL: ClassVar = {"wet": 0.25, "lift": 0.15, "shaft": 0.03, "wires": 0.3, "cooling": 0.4, "plate": 0.4}
    PARTS: ClassVar = {
        "motor": {"kv": 0.03, "winding": 0.2, "iron": 0.3},
        "controller": {"switch": 0.3},
        "pack": {"cells": 0.35},
        "propeller": {"pitch": 0.05, "thrust": 0.10, "torque": 0.12},
    }
    RATIO: ClassVar = {"mono": 0.150, "catamaran": 0.135, "tunnel": 0.135, "outrigger": 0.125}
    WET: ClassVar = {"mono": 0.031, "catamaran": 0.025, "tunnel": 0.029, "outrigger": 0.0125}

    def rest(self) -> float:
        """Pack at rest [V]."""
        soc = self.setup.conditions.state_of_charge.value
        return self.cells * (3.40 + 0.80 * soc - 0.10 * soc**2) * (0.96 if Fault.WEAK_CELL in self.faults else 1.0)

    def resistances(self) -> tuple[float, float, float, float]:
        """Winding, switches, pack, wires [ohm]."""
        s = self.setup
        c = s.pack.c_rating.value if s.pack.c_rating else 40.0
        cell = (0.5 + 32.0 / c) / (1e3 * s.pack.capacity_ah.value * s.pack.parallel / 12.0) * self.x("cells")
        winding = 8.4e-3 * (2200.0 / s.motor.kv_rpm_per_v.value) ** 1.8 / self.can**0.85 * self.x("winding")
        switch = 1.5e-3 * (120.0 / s.controller.continuous_current_a.value) ** 0.6 * self.x("switch")
        weak = 1.35 if Fault.WEAK_CELL in self.faults else 1.0
        return 1.2 * winding, switch, self.cells * cell * weak, 2.2e-3 * self.x("wires")

    def iron(self, turns: float) -> float:
        """Torque that iron and bearings take [Nm]."""
        return (0.004 + 0.010 * turns / 450.0) * self.can**0.9 * self.x("iron")

    def bite(self, advance: float) -> tuple[float, float]:
        """Thrust and torque coefficient [1]."""
        slip = 1.0 - advance / (1.02 * self.ratio)
        blades = {2: 1.0, 3: 1.18}.get(self.setup.propeller.blades, 1.3)
        nicked = 0.96 if Fault.NICKED in self.faults else 1.0
        kt = 0.175 * (self.ratio / 1.4) * blades * slip * nicked * self.x("thrust")
        kq = (0.0026 + 0.034 * (self.ratio / 1.4) ** 1.8 * blades * max(slip, 0.0)) * self.x("torque")
        return kt * self.x("shaft"), kq

    def drag(self, speed: float, wind: float) -> float:
        """Resistance [N]."""
        v, kind = max(speed, 0.1), self.setup.hull.hull_type.value
        pressure = 0.5 * RHO * v * v
        lift = self.RATIO[kind] * self.x("lift") * self.mass * G * (1.0 + 2.5 / (1.0 + (v / 5.0) ** 4)) * 0.6
        area = self.WET[kind] * self.x("wet") * self.length**2 * (6.0 / v + 0.28)
        friction = 0.075 / (math.log10(v * self.length / 1e-6) - 2.0) ** 2 * 1.35
        weed = 1.3 if Fault.WEED in self.faults else 1.0
        air = 0.5 * AIR * 0.028 * self.length**2 * (speed + wind) * abs(speed + wind)
        struts = 0.35e-4 * self.length**2 * 10.0
        return (lift + pressure * (friction * area * weed + 0.02 * struts)) * self.day_drag + air

    def conductances(self, speed: float) -> tuple[tuple[float, float], ...]:
        """Of motor, controller, pack: to the water and to the air [W/K]."""
        flow = 0.0 if Fault.CAP in self.faults else max(speed, 0.0) / (max(speed, 0.0) + 8.0) * 1.5
        return (
            (2.1 * self.can**0.6 * self.x("cooling") * flow, 0.22 * self.can**0.6),
            (0.5 * self.x("plate") * flow, 0.14),
            (0.0, 0.33),
        )
