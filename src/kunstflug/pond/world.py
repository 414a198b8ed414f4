"""The world behind the simulated pond: laws of its own, none of them the forecast's, with hidden numbers of each boat.

A propeller whose thrust falls in a straight line with the advance, a drag that goes with a power of the speed, one body
of heat for each part: what is learnt and advised is tried on a world that the model is wrong about in form. The middle
of each number is common practice, no source, as are the spreads.
"""

import math
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.parts import controller, hull, motor, pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty, Mode

WATER: Final = 998.0
AIR: Final = 1.2
GRAVITY: Final = 9.81
THRUST_SLOPE: Final = 0.165  # of the thrust coefficient by the advance ratio, half immersed
TORQUE_FLOOR: Final = 0.0011  # friction and edges, of the advance at no thrust squared
WET_M2: Final = {"mono": 1.12e-4, "catamaran": 0.9e-4, "tunnel": 1.1e-4, "outrigger": 0.47e-4}
"""Drag area of a boat of 1 kg at ``DRAG_MPS``."""
BEST_PACK: Final = {"mono": 0.29, "catamaran": 0.24, "tunnel": 0.30, "outrigger": 0.27}
"""Where the pack should be, over the length."""
OUT_OF_TRIM: Final = 30.0
MASS_POWER: Final = 0.72
DRAG_MPS: Final = 21.0
DRAG_POWER: Final = 1.7
CARRIED: Final = 0.09  # drag of what carries, over the weight
AIR_AREA: Final = 0.02  # over the length squared
COPPER_PER_K: Final = 0.0039
STEP_S: Final = 0.1
KV_OF_WORLD: Final = 1.015  # over the printed one, of a motor in the middle
PART_SPREADS: Final = ((0.025, 0.28, 0.3), (0.35,), (0.3,), (0.04, 0.12, 0.2))
"""Of the numbers of :class:`HiddenParts`: motor, controller, pack, propeller."""
COMMON: Final = 0.6  # what two parts of a kind on one shelf have in common
CLUB: Final = 0.7  # what hulls of a type, and parts of a size, have in common in one club, where there is one
HULL_SPREAD: Final = (0.32, 0.05, 0.08, 0.25, 0.01, 0.3, 0.45, 0.25)
"""Of the numbers of :class:`Hidden`, of their logarithms."""


class Fault(StrEnum):
    """What may be wrong on a day."""

    CAP = "cap"  # left on the water intake
    WEED = "weed"
    WEAK_CELL = "weak_cell"
    NICKED = "nicked"
    WIND = "wind"  # one way only, and with the wind
    PEAK = "peak"  # a display's false sample


@dataclass(frozen=True, slots=True, kw_only=True)
class Steady:
    """Full throttle held: m/s, A out of the pack, rpm, V."""

    speed_mps: float
    current_a: float
    rpm: float
    voltage_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Pull:
    """What the drive does: thrust [N], motor current [A], shaft speed [1/s]."""

    thrust_n: float
    current_a: float
    shaft_rps: float


@dataclass(frozen=True, slots=True)
class Hidden:
    """What the racer does not know of a boat's hull: factors on the middle of each number."""

    wet: float
    power: float  # of the drag over the speed
    mass_power: float
    carried: float
    shaft: float
    cooling: float
    plate: float
    wires: float


@dataclass(frozen=True, slots=True)
class HiddenParts:
    """What the racer does not know of motor, controller, pack and propeller: factors on the middle of each number."""

    kv: float
    winding: float
    iron: float
    switches: float
    cells: float
    pitch: float
    slope: float
    floor: float


def boat_seed(boat_id: int) -> int:
    """Which hidden boat belongs to a boat of the racer's: one boat stays the same over its outings."""
    return 21000 + boat_id


def _draw(rng: np.random.Generator, *spreads: float) -> list[float]:
    return [float(np.exp(s * rng.standard_normal())) for s in spreads]


def _with_club(own: list[float], spreads: Sequence[float], club: int | None, *family: int) -> list[float]:
    """Hidden numbers of which a club's things of a family have a part in common; of the same spread."""
    if club is None:
        return own
    common = _draw(np.random.default_rng((club, 15, *family)), *spreads)
    return [c**CLUB * o ** math.sqrt(1 - CLUB**2) for c, o in zip(common, own, strict=True)]


def hidden_of(seed: int, club: int | None = None, hull_type: str = "") -> Hidden:
    """A boat's hidden numbers; the same seed is the same boat."""
    own = _draw(np.random.default_rng((seed, 1)), *HULL_SPREAD)
    return Hidden(*_with_club(own, HULL_SPREAD, club, 0, zlib.crc32(hull_type.encode())))


def hidden_parts(setup: Setup, seed: int, club: int | None = None) -> HiddenParts:
    """The hidden numbers of a setup's parts; the same part is the same in every setup of a seed."""
    of = [_seed(part) for part in (setup.motor, setup.controller, setup.pack, setup.propeller)]
    families = (round(100 * setup.motor.can_diameter_m.value), 0, 0, setup.propeller.blades)
    found: list[float] = []
    for kind, (part, spreads) in enumerate(zip(of, PART_SPREADS, strict=True)):
        common = _draw(np.random.default_rng((seed, 2 + kind)), *spreads)
        own = _draw(np.random.default_rng((seed, 2 + kind, part)), *spreads)
        mine = [c**COMMON * o ** math.sqrt(1 - COMMON**2) for c, o in zip(common, own, strict=True)]
        found += _with_club(mine, spreads, club, 1 + kind, families[kind])
    return HiddenParts(*found)


def _seed(part: object) -> int:
    """A number for a part's description; the same in every process."""
    return zlib.crc32(repr(part).encode())


def out_of_trim(setup: Setup, seed: int) -> float:
    """Drag of the wetted hull over that with the pack in its best, hidden place; 1 where nobody says where it is."""
    where, length = setup.placement.pack_m, setup.hull.length_m.value
    if where is None:
        return 1.0
    best = BEST_PACK[setup.hull.hull_type.value] + float(np.random.default_rng((seed, 9)).uniform(-0.03, 0.03))
    return 1.0 + OUT_OF_TRIM * (where.value / length - best) ** 2


class World:
    """One boat as it really is, in one setup.

    Parameters
    ----------
    seed : of the hidden boat.
    day_drag : factor of the day on the drag.
    pack_c : temperature of the pack at the start [degC].
    club : seed of a club whose hulls of a type and parts of a size are alike; None where nobody's are.
    """

    def __init__(
        self,
        setup: Setup,
        seed: int,
        faults: Sequence[Fault] = (),
        day_drag: float = 1.0,
        pack_c: float = 34.0,
        club: int | None = None,
    ) -> None:
        self.setup = setup
        h, p = hidden_of(seed, club, setup.hull.hull_type.value), hidden_parts(setup, seed, club)
        self._hidden, self._parts = h, p
        wheel, mill, cells = setup.propeller, setup.motor, pack.series_cells(setup.pack)
        self.diameter_m = wheel.diameter_m.value
        ratio = propellers.pitch_ratio(wheel) * p.pitch * (0.97 if Fault.NICKED in faults else 1.0)
        self._no_thrust = 1.02 * ratio  # advance at which the thrust is gone
        blades = {2: 1.0, 3: 1.18}.get(wheel.blades, 1.3)
        held = 1.0 if setup.hull.drive is hull.Drive.SURFACE else 1.7
        self._slope = THRUST_SLOPE * p.slope * blades * held * (ratio / 1.4) ** 0.15
        floor = TORQUE_FLOOR * p.floor * (2.2 if Fault.NICKED in faults else 1.0)
        self._torque = (floor * blades * held * self._no_thrust**2, self._slope * ratio / (2 * math.pi))
        self._v_s = 60.0 / (2 * math.pi * mill.kv_rpm_per_v.value * KV_OF_WORLD * p.kv)  # V s, and Nm/A
        size = mill.can_diameter_m.value**2 * mill.can_length_m.value / (0.036**2 * 0.074)
        given = mill.resistance_ohm
        ohm = given.value if given else 6.4e-3 * (2200.0 / mill.kv_rpm_per_v.value) ** 1.8 / size**0.9
        self.winding_ohm = ohm * (p.winding if given is None else 1 + 0.2 * (p.winding - 1))
        self.size = size
        self._iron_nm = 0.0125 * size**0.9 * p.iron
        charge = setup.conditions.state_of_charge.value
        weak = 0.96 if Fault.WEAK_CELL in faults else 1.0
        self.rest_v = cells * (3.485 + 0.62 * charge + 0.06 * charge**6) * weak
        per_cell = setup.pack.cell_resistance_ohm
        ah = setup.pack.capacity_ah.value * setup.pack.parallel
        cell_ohm = per_cell.value if per_cell else 1.85e-3 * 5.0 / ah * _soft(setup)
        self.pack_ohm = cells * cell_ohm * p.cells * (1.35 if Fault.WEAK_CELL in faults else 1.0)
        self.wires_ohm = 2.2e-3 * h.wires
        rating = setup.controller.continuous_current_a.value
        self.switch_ohm = 2.1e-3 * (120.0 / rating) ** 0.6 * p.switches
        self.mass_kg = setup.all_up_mass_kg.value
        wet = WET_M2[setup.hull.hull_type.value] * self.mass_kg ** (MASS_POWER * h.mass_power)
        self._wet = wet * h.wet * day_drag * (1.3 if Fault.WEED in faults else 1.0) * out_of_trim(setup, seed)
        self._power = DRAG_POWER * h.power
        self._carried = CARRIED * h.carried * self.mass_kg * GRAVITY
        self._air = AIR_AREA * setup.hull.length_m.value**2
        self._pack_c = pack_c
        self._capacity = self.capacities_j_k()
        self._cooling = 0.0 if Fault.CAP in faults else 1.0

    def pull(self, duty: float, speed_mps: float) -> Pull:
        """Thrust, motor current and turns at a part of full throttle and a speed."""
        d, j0 = self.diameter_m, self._no_thrust
        floor, slope = self._torque
        ohm = self.winding_ohm * 1.15 + self.switch_ohm + (self.pack_ohm + self.wires_ohm) * duty**2
        # (U - ke w) / R ke - iron = rho d^5 ((floor + slope j0) n^2 - slope V n / d), in n
        a = WATER * d**5 * (floor + slope * j0)
        b = self._v_s**2 * 2 * math.pi / ohm - WATER * d**4 * slope * speed_mps
        c = self._iron_nm - self.rest_v * duty * self._v_s / ohm
        turns = (-b + math.sqrt(max(b * b - 4 * a * c, 0.0))) / (2 * a) if c < 0 else 0.0
        if turns <= 0:
            return Pull(thrust_n=0.0, current_a=0.0, shaft_rps=0.0)
        advance = speed_mps / (turns * d)
        # at rest and on the way up the blades draw air
        bite = 0.4 + 0.6 * min(advance / (0.6 * j0), 1.0)
        thrust = WATER * turns**2 * d**4 * self._slope * max(j0 - advance, -0.02) * bite
        current = max((self.rest_v * duty - self._v_s * 2 * math.pi * turns) / ohm, 0.0)
        return Pull(thrust_n=thrust * self._hidden.shaft, current_a=current, shaft_rps=turns)

    def drag(self, speed_mps: float, headwind_mps: float = 0.0, *, turning: bool = False) -> float:
        """Resistance [N]; a turn adds a quarter."""
        wet = 0.5 * WATER * self._wet * DRAG_MPS**2 * (max(speed_mps, 0.0) / DRAG_MPS) ** self._power
        hump = 1.0 + 0.9 * math.exp(-(((speed_mps - 4.0) / 2.0) ** 2))
        air = 0.5 * AIR * self._air * (speed_mps + headwind_mps) * abs(speed_mps + headwind_mps)
        carried = self._carried * hump * min(speed_mps / 1.5, 1.0)
        return (wet + carried + air) * (1.25 if turning else 1.0)

    def steady(self, headwind_mps: float = 0.0) -> Steady:
        """Full throttle held: where thrust falls to drag, by halving."""
        low, high = 5.0, 90.0
        for _ in range(50):
            middle = 0.5 * (low + high)
            if self.pull(1.0, middle).thrust_n > self.drag(middle, headwind_mps):
                low = middle
            else:
                high = middle
        found = self.pull(1.0, low)
        return Steady(
            speed_mps=low,
            current_a=found.current_a,
            rpm=60 * found.shaft_rps,
            voltage_v=self.rest_v - found.current_a * self.pack_ohm,
        )

    def heats_w(self, current_a: float, duty: float, turns: float, celsius: Sequence[float]) -> tuple[float, ...]:
        """Heat into motor, controller, pack and the hottest plug [W]."""
        warm = 1 + COPPER_PER_K * (celsius[0] - 20.0)
        bus = current_a * duty
        rough = 0.005 * self.rest_v * current_a * (1.0 if 0.05 < duty < 0.95 else 0.35)
        return (
            current_a**2 * self.winding_ohm * warm + self._iron_nm * 2 * math.pi * turns,
            current_a**2 * self.switch_ohm + rough,
            bus**2 * self.pack_ohm,
            bus**2 * 0.12 * self.wires_ohm,
        )

    def cool_w(self, celsius: Sequence[float], speed_mps: float) -> tuple[float, ...]:
        """Heat out of motor, controller, pack and the hottest plug [W]."""
        c = self.setup.conditions
        water, air = c.water_c.value, c.air_c.value + 3.0
        flow = self._cooling * math.sqrt(max(speed_mps, 0.0) / 12.0)
        jacket = 2.1 * self.size**0.67 * self._hidden.cooling * flow
        plate = 0.5 * self._hidden.plate * flow
        return (
            jacket * (celsius[0] - water) + 0.16 * self.size**0.67 * (celsius[0] - air),
            plate * (celsius[1] - water) + 0.14 * (celsius[1] - air),
            0.3 * (celsius[2] - air),
            0.09 * (celsius[3] - air),
        )

    def capacities_j_k(self) -> tuple[float, ...]:
        """Heat capacities of motor, controller, pack and the hottest plug [J/K]."""
        setup = self.setup
        return (
            430.0 * motor.motor_mass(setup.motor).value,
            760.0 * controller.controller_mass(setup.controller).value,
            960.0 * pack.pack_mass(setup.pack).value,
            7.0,
        )

    def start_c(self) -> list[float]:
        """Temperatures before the run: all as the air, but the pack, which is kept warm [degC]."""
        air = self.setup.conditions.air_c.value
        return [air, air, self._pack_c, air]

    def warm(self, celsius: list[float], heat_w: Sequence[float], speed_mps: float, seconds: float) -> None:
        """Moves temperatures on by a step with a heat into each body; none where none is given."""
        cold = self.cool_w(celsius, speed_mps)
        for k, capacity in enumerate(self._capacity):
            celsius[k] += ((heat_w[k] if heat_w else 0.0) - cold[k]) / capacity * seconds

    def heated(self, duty: Duty, minutes: Sequence[float]) -> tuple[list[list[float]], float]:
        """Temperatures of all bodies at some minutes after landing [degC], and the charge used [Ah]."""
        t, used, speed = self.start_c(), 0.0, 0.0
        top = self.steady()
        for phase in duty.phases[:-1]:
            level = {Mode.FULL: 1.0, Mode.TUB: 1.0, Mode.REST: 0.0}.get(phase.mode, phase.level)
            left = phase.seconds
            while left > 0:
                speed += (level * top.speed_mps - speed) * STEP_S / 1.2
                part = level if level >= 1.0 else 0.85 * level + 0.05
                amps = top.current_a * (1.0 if level >= 1.0 else (level**1.4 * 0.9 + 0.02))
                turns = top.rpm / 60 * part
                self.warm(t, self.heats_w(amps, part, turns, t), speed, STEP_S)
                used += amps * part * STEP_S / 3600
                left -= STEP_S
        found: list[list[float]] = []
        for end in sorted(minutes):
            done = 0.0 if not found else sorted(minutes)[len(found) - 1]
            for _ in range(int((end - done) * 60 / 0.5)):
                self.warm(t, (), 0.0, 0.5)
            found.append(list(t))
        return found, used


def _soft(setup: Setup) -> float:
    """A pack with a low rating has more resistance."""
    rating = setup.pack.c_rating
    return float(np.clip((60.0 / rating.value) ** 0.5, 0.7, 1.8)) if rating else 1.2
