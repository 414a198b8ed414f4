"""Two more worlds behind the pond, each of another form than the model's and than the pond's own.

``Second`` was looked at while learning was built. ``Sealed`` was written first, made to give the slip and the loaded
rpm that racers report, and asked once, at the end. Every middle and every spread is common practice, no source.
"""

import math
import zlib
from collections.abc import Sequence
from typing import ClassVar

import numpy as np
from scipy.optimize import brentq

from kunstflug.core.parts import controller, motor, pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty, Mode
from kunstflug.pond.world import Fault, Steady, World

RHO, AIR, G = 998.0, 1.2, 9.81
STEP_S = 0.2
SHELF = 0.6  # what two parts of a kind on one shelf have in common


class Other(World):
    """A boat as it really is; what differs from world to world are the laws below.

    The racer's parts and hull have hidden factors; the same part of a seed is the same part in every setup.
    """

    HULL: ClassVar[dict[str, float]] = {}
    PARTS: ClassVar[dict[str, dict[str, float]]] = {}

    def __init__(
        self,
        setup: Setup,
        seed: int,
        faults: Sequence[Fault] = (),
        day_drag: float = 1.0,
        pack_c: float = 34.0,
        club: int | None = None,
    ) -> None:
        self.setup, self.day_drag, self.pack_c, self.faults = setup, day_drag, pack_c, faults
        self.mass, self.length = setup.all_up_mass_kg.value, setup.hull.length_m.value
        self.diameter = setup.propeller.diameter_m.value
        self.cells = pack.series_cells(setup.pack)
        mill = setup.motor
        self.can = mill.can_diameter_m.value**2 * mill.can_length_m.value / (0.036**2 * 0.074)
        name = type(self).__name__.encode()
        self.h = self._drawn((zlib.crc32(name), seed), self.HULL)
        for kind, part in (
            ("motor", mill), ("controller", setup.controller), ("pack", setup.pack), ("propeller", setup.propeller),
        ):  # fmt: skip
            number = zlib.crc32(kind.encode())
            common = self._drawn((zlib.crc32(name), seed, number), self.PARTS[kind])
            own = self._drawn((zlib.crc32(name), seed, number, zlib.crc32(repr(part).encode())), self.PARTS[kind])
            self.h |= {key: SHELF * common[key] + math.sqrt(1 - SHELF**2) * own[key] for key in own}
        self.ratio = propellers.pitch_ratio(setup.propeller) * self.x("pitch")
        self.ke = 60.0 / (2 * math.pi * mill.kv_rpm_per_v.value * self.x("kv"))
        self.rest_v = self.rest()
        self.ohms = self.resistances()
        self._top: dict[float, Steady] = {}

    @staticmethod
    def _drawn(seed: tuple[int, ...], spreads: dict[str, float]) -> dict[str, float]:
        rng = np.random.default_rng(seed)
        return {key: spread * float(rng.standard_normal()) for key, spread in spreads.items()}

    def x(self, key: str) -> float:
        """A hidden factor."""
        return math.exp(self.h[key])

    # what a world has of its own

    def rest(self) -> float:
        """Pack at rest [V]."""
        raise NotImplementedError

    def resistances(self) -> tuple[float, float, float, float]:
        """Winding, switches, pack, wires [ohm]."""
        raise NotImplementedError

    def iron(self, turns: float) -> float:
        """Torque that iron and bearings take [Nm]."""
        raise NotImplementedError

    def bite(self, advance: float) -> tuple[float, float]:
        """Thrust and torque coefficient [1]."""
        raise NotImplementedError

    def drag(self, speed: float, wind: float) -> float:
        """Resistance [N]."""
        raise NotImplementedError

    def conductances(self, speed: float) -> tuple[tuple[float, float], ...]:
        """Of motor, controller, pack: to the water and to the air [W/K]."""
        raise NotImplementedError

    # what they have in common

    def turns(self, speed: float) -> float:
        """Shaft speed at full throttle [1/s]."""
        ohm = sum(self.ohms)

        def left(n: float) -> float:
            current = (self.rest_v - self.ke * 2 * math.pi * n) / ohm
            _, kq = self.bite(speed / (n * self.diameter))
            return self.ke * current - self.iron(n) - kq * RHO * n * n * self.diameter**5

        return float(brentq(left, 20.0, self.rest_v / (self.ke * 2 * math.pi), xtol=1e-6))

    def steady(self, headwind_mps: float = 0.0) -> Steady:
        """Full throttle held on the plane."""
        if headwind_mps not in self._top:

            def surplus(v: float) -> float:
                n = self.turns(v)
                kt, _ = self.bite(v / (n * self.diameter))
                return kt * RHO * n * n * self.diameter**4 - self.drag(v, headwind_mps)

            low = 8.0
            while surplus(low) < 0 and low > 0.5:
                low *= 0.8
            v = float(brentq(surplus, low, 80.0, xtol=1e-5))
            n = self.turns(v)
            current = (self.rest_v - self.ke * 2 * math.pi * n) / sum(self.ohms)
            self._top[headwind_mps] = Steady(
                speed_mps=v, current_a=current, rpm=60 * n, voltage_v=self.rest_v - current * self.ohms[2]
            )
        return self._top[headwind_mps]

    def heated(self, duty: Duty, minutes: Sequence[float]) -> tuple[list[list[float]], float]:
        """Temperatures of motor, controller and pack some minutes after landing [degC], and the charge used [Ah]."""
        c, top = self.setup.conditions, self.steady()
        water, air = c.water_c.value, c.air_c.value
        setup = self.setup
        capacity = (
            410.0 * motor.motor_mass(setup.motor).value,
            720.0 * controller.controller_mass(setup.controller).value,
            1000.0 * pack.pack_mass(setup.pack).value,
        )
        t, used, speed = [air, air, self.pack_c], 0.0, 0.0

        def step(amps: float, part: float, n: float, seconds: float) -> None:
            winding, switch, cell, _ = self.ohms
            heats = (
                amps**2 * winding * (1 + 0.0039 * (t[0] - 20.0)) + self.iron(n) * 2 * math.pi * n,
                amps**2 * switch + 0.012 * self.rest_v * part * amps * (1.6 if 0.05 < part < 0.95 else 1.0),
                (amps * part) ** 2 * cell,
            )
            for k, (to_water, to_air) in enumerate(self.conductances(speed)):
                t[k] += (heats[k] - to_water * (t[k] - water) - to_air * (t[k] - air)) / capacity[k] * seconds

        for phase in duty.phases[:-1]:
            level = {Mode.FULL: 1.0, Mode.TUB: 1.0, Mode.REST: 0.0}.get(phase.mode, phase.level)
            for _ in range(round(phase.seconds / STEP_S)):
                speed += (level * top.speed_mps - speed) * STEP_S / 1.3
                part = level if level >= 1.0 else 0.9 * level
                amps = top.current_a * level**1.6
                step(amps, part, top.rpm / 60 * part, STEP_S)
                used += amps * part * STEP_S / 3600
        found, done, speed = [], 0.0, 0.0
        for end in sorted(minutes):
            for _ in range(int((end - done) * 60 / 1.0)):
                step(0.0, 0.0, 0.0, 1.0)
            done = end
            found.append(list(t))
        return found, used


class Second(Other):
    """Thrust that falls as a power of the advance, a wetted area by length, iron that goes with the turns squared."""

    HULL: ClassVar = {
        "wet": 0.26,
        "bare": 0.25,
        "carried": 0.15,
        "shaft": 0.03,
        "wires": 0.3,
        "cooling": 0.4,
        "plate": 0.4,
    }
    PARTS: ClassVar = {
        "motor": {"kv": 0.025, "winding": 0.2, "iron": 0.3},
        "controller": {"switch": 0.3},
        "pack": {"cells": 0.3},
        "propeller": {"pitch": 0.045, "slope": 0.10, "floor": 0.2},
    }
    WET: ClassVar = {"mono": 2.4e-4, "catamaran": 1.8e-4, "tunnel": 2.1e-4, "outrigger": 0.85e-4}

    def rest(self) -> float:
        """Pack at rest [V]."""
        soc = self.setup.conditions.state_of_charge.value
        return self.cells * (3.50 + 0.56 * soc + 0.12 * soc**4) * (0.96 if Fault.WEAK_CELL in self.faults else 1.0)

    def resistances(self) -> tuple[float, float, float, float]:
        """Winding, switches, pack, wires [ohm]."""
        s = self.setup
        c = s.pack.c_rating.value if s.pack.c_rating else 40.0
        cell = 0.85 / (c**0.9 * 1.3 * s.pack.capacity_ah.value * s.pack.parallel) * self.x("cells")
        winding = 7.2e-3 * (2200.0 / s.motor.kv_rpm_per_v.value) ** 2 / self.can**0.8 * self.x("winding")
        switch = 1.7e-3 * (120.0 / s.controller.continuous_current_a.value) ** 0.5 * self.x("switch")
        weak = 1.35 if Fault.WEAK_CELL in self.faults else 1.0
        return 1.2 * winding, switch, self.cells * cell * weak, 2.5e-3 * self.x("wires")

    def iron(self, turns: float) -> float:
        """Torque that iron and bearings take [Nm]."""
        return (0.006 + 0.009 * (turns / 450.0) ** 2) * self.can * self.x("iron")

    def bite(self, advance: float) -> tuple[float, float]:
        """Thrust and torque coefficient [1]."""
        part = max(advance, 1e-6) / self.ratio
        lift = 0.215 * (self.ratio / 1.4) ** 0.9 * {2: 1.0, 3: 1.2}.get(self.setup.propeller.blades, 1.3)
        nicked = 0.96 if Fault.NICKED in self.faults else 1.0
        kt = lift * nicked * self.x("slope") * (1.0 - part**1.25)
        kq = max(kt, 0.0) * self.ratio * 0.97 / (2 * math.pi) + 2.1e-3 * self.x("floor")
        return kt * self.x("shaft"), kq

    def drag(self, speed: float, wind: float) -> float:
        """Resistance [N]."""
        froude = speed / math.sqrt(G * (self.mass / RHO) ** (1 / 3))
        load = self.mass / (5.0 * self.length**2.5)
        wet = self.WET[self.setup.hull.hull_type.value] * self.x("wet") * self.length**2 * load**0.55
        wet *= (18.0 / max(froude, 3.0)) ** 0.7 * (1.3 if Fault.WEED in self.faults else 1.0)
        bare = 0.55e-4 * self.x("bare") * self.length**2
        carried = 0.10 * self.x("carried") * self.mass * G
        air = 0.5 * AIR * 0.03 * self.length**2 * (speed + wind) * abs(speed + wind)
        return (0.5 * RHO * (wet + bare) * speed**2 + carried) * self.day_drag + air

    def conductances(self, speed: float) -> tuple[tuple[float, float], ...]:
        """Of motor, controller, pack: to the water and to the air [W/K]."""
        flow = (0.0 if Fault.CAP in self.faults else 1.0) * (max(speed, 0.0) / 15.0) ** 0.6
        return (
            (2.4 * self.can**0.6 * self.x("cooling") * flow, 0.2 * self.can**0.6),
            (0.6 * self.x("plate") * flow, 0.12),
            (0.0, 0.35),
        )


class Sealed(Other):
    """A disc that pushes water back, drag by one power of speed and mass, cells that sag as a root of the current."""

    HULL: ClassVar = {
        "wet": 0.28, "power": 0.06, "mass": 0.15, "shaft": 0.04, "wires": 0.35, "cooling": 0.45, "plate": 0.45,
        "depth": 0.12,
    }  # fmt: skip
    PARTS: ClassVar = {
        "motor": {"kv": 0.03, "winding": 0.22, "iron": 0.3},
        "controller": {"switch": 0.35},
        "pack": {"cells": 0.35},
        "propeller": {"pitch": 0.05, "cup": 0.10, "face": 0.25},
    }
    WET: ClassVar = {"mono": 0.93, "catamaran": 0.80, "tunnel": 0.90, "outrigger": 0.44}

    def rest(self) -> float:
        """Pack at rest [V]."""
        soc = self.setup.conditions.state_of_charge.value
        return self.cells * (3.46 + 0.62 * soc + 0.1 * soc**8) * (0.96 if Fault.WEAK_CELL in self.faults else 1.0)

    def resistances(self) -> tuple[float, float, float, float]:
        """Winding, switches, pack, wires [ohm]."""
        s = self.setup
        c = s.pack.c_rating.value if s.pack.c_rating else 40.0
        cell = 1.0 / ((20.0 + 0.65 * c) * s.pack.capacity_ah.value * s.pack.parallel) * self.x("cells")
        winding = 8.0e-3 * (2200.0 / s.motor.kv_rpm_per_v.value) ** 1.9 / self.can**0.75 * self.x("winding")
        switch = 1.2e-3 * (120.0 / s.controller.continuous_current_a.value) ** 0.7 * self.x("switch")
        weak = 1.35 if Fault.WEAK_CELL in self.faults else 1.0
        return 1.25 * winding, switch, self.cells * cell * weak, 2.0e-3 * self.x("wires")

    def iron(self, turns: float) -> float:
        """Torque that iron and bearings take [Nm]."""
        return 0.011 * (turns / 450.0) ** 0.8 * self.can**0.8 * self.x("iron")

    def bite(self, advance: float) -> tuple[float, float]:
        """Thrust and torque coefficient [1]: momentum given to what the blades reach, friction of their faces."""
        push = 1.03 * self.ratio  # advance of the water that leaves
        reach = 0.40 * self.x("depth") * self.x("cup") * {2: 1.0, 3: 1.15}.get(self.setup.propeller.blades, 1.25)
        slip = max(push - advance, -0.05)
        kt = reach * slip * (0.25 + 0.33 * push) / (1.0 + 1.2 * slip)
        face = (0.0016 + 0.0004 * self.ratio) * self.x("face") * (2.0 if Fault.NICKED in self.faults else 1.0)
        kq = max(kt, 0.0) * (0.45 * push + 0.55 * max(advance, 0.3)) / (2 * math.pi) * 1.06 + face
        return kt * self.x("shaft"), kq

    def drag(self, speed: float, wind: float) -> float:
        """Resistance [N]."""
        wet = self.WET[self.setup.hull.hull_type.value] * self.x("wet")
        power, of_mass = 1.55 * self.x("power"), 0.62 * self.x("mass")
        water = 24.0 * wet * (self.mass / 2.0) ** of_mass * (self.length / 0.65) ** 0.5 * (speed / 20.0) ** power
        water *= 1.3 if Fault.WEED in self.faults else 1.0
        hump = 0.05 * self.mass * G * math.exp(-((speed - 4.5) ** 2) / 6.0)
        air = 0.5 * AIR * 0.026 * self.length**2 * (speed + wind) * abs(speed + wind)
        return (water + hump) * self.day_drag + air

    def conductances(self, speed: float) -> tuple[tuple[float, float], ...]:
        """Of motor, controller, pack: to the water and to the air [W/K]."""
        flow = 0.0 if Fault.CAP in self.faults else min(max(speed - 2.0, 0.0) / 14.0, 1.3)
        return (
            (1.9 * self.can**0.55 * self.x("cooling") * flow, 0.25 * self.can**0.55),
            (0.45 * self.x("plate") * flow, 0.16),
            (0.0, 0.28 + 0.01 * max(speed, 0.0)),
        )
