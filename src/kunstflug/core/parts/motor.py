"""The motor as a part: what is printed on it or measured with a caliper, and what is guessed."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.laws.mechanics import ring_rpm
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, choice, count, length, mass, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, exact, guess, known


class MotorKind(StrEnum):
    """Which part turns."""

    INRUNNER = "inrunner"
    OUTRUNNER = "outrunner"


class Magnets(StrEnum):
    """Grade letters of NdFeB magnets [iec60404-8-1, from memory]."""

    UNKNOWN = "unknown"
    N = "n"
    M = "m"
    H = "h"
    SH = "sh"
    UH = "uh"
    EH = "eh"


class Insulation(StrEnum):
    """Insulation classes of windings [iec60085, from memory]."""

    UNKNOWN = "unknown"
    A = "a"
    E = "e"
    B = "b"
    F = "f"
    H = "h"


MAGNET_LIMIT_C: Final = {
    Magnets.N: 80.0,
    Magnets.M: 100.0,
    Magnets.H: 120.0,
    Magnets.SH: 150.0,
    Magnets.UH: 180.0,
    Magnets.EH: 200.0,
}
"""Temperature each grade is made for [degC] [iec60404-8-1, letters from memory]."""
INSULATION_LIMIT_C: Final = {
    Insulation.A: 105.0,
    Insulation.E: 120.0,
    Insulation.B: 130.0,
    Insulation.F: 155.0,
    Insulation.H: 180.0,
}
"""Temperature of each class [degC] [iec60085, from memory]."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Motor(Part):
    """A brushless motor by what is printed on it or measured with a caliper."""

    kind: MotorKind = choice(MotorKind, MotorKind.INRUNNER)
    kv_rpm_per_v: Value = quantity(Dimension.KV, "rpm/V", 50, 20000, required=True)
    can_diameter_m: Value = length(8, 150, required=True)
    can_length_m: Value = length(10, 300, required=True)
    poles: int | None = count(2, 42)
    max_current_a: Value | None = quantity(Dimension.CURRENT, "A", 1, 1000)
    max_power_w: Value | None = quantity(Dimension.POWER, "W", 5, 40000)
    resistance_ohm: Value | None = quantity(Dimension.RESISTANCE, "mohm", 0.2, 2000)
    no_load_current_a: Value | None = quantity(Dimension.CURRENT, "A", 0.05, 60)
    no_load_voltage_v: Value | None = quantity(Dimension.VOLTAGE, "V", 1, 100)
    magnets: Magnets = choice(Magnets, Magnets.UNKNOWN)
    insulation: Insulation = choice(Insulation, Insulation.UNKNOWN)
    shaft_m: Value | None = length(1, 20)
    shaft_length_m: Value | None = length(2, 80)
    circle_m: Value | None = length(6, 80)
    holes: int | None = count(2, 8)
    thread_depth_m: Value | None = length(1, 30)
    mass_kg: Value | None = mass(10, 6000)


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceFromCan(Fact):
    """A winding's resistance scaled from that of a known can."""

    ohm: float
    kv_rpm_per_v: float
    diameter_m: float
    length_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class NoLoadFromCan(Fact):
    """A no-load current scaled from that of a known can."""

    current_a: float
    kv_rpm_per_v: float
    diameter_m: float
    length_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MassFromCan(Fact):
    """A motor's mass from its can's volume."""

    kg_cm3: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CeilingFromCan(Fact):
    """A rotor's usual ceiling, inversely with the can's diameter."""

    rpm: float
    diameter_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HoopOfBell(Fact):
    """An outrunner's ceiling, from the hoop stress in its bell."""

    stress_pa: float
    diameter_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PowerFromMass(Fact):
    """Power a motor takes for minutes, from its mass."""

    w_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class GradeAssumed(Fact):
    """Magnets of an unknown grade are taken for a usual one."""

    grade: Magnets
    limit_c: float


# The can that the estimators are anchored to, and what such a motor has (common practice, no source).
ANCHOR_DIAMETER_M: Final = 0.036
ANCHOR_LENGTH_M: Final = 0.074
ANCHOR_KV: Final = 2200.0
ANCHOR_OHM: Final = 8.0e-3
ANCHOR_NO_LOAD_A: Final = 3.0
OUTRUNNER_OHM: Final = 1.2
CAN_KG_CM3: Final = 3.9e-3
MOST_W_KG: Final = 5000.0
CEILING_RPM: Final = 30000.0
CEILING_DIAMETER_M: Final = 0.040
HIGHEST_CEILING_RPM: Final = 60000.0
BELL_PA: Final = 120e6  # a bell with glued magnets, with a reserve of two
BELL_KG_M3: Final = 15700.0  # steel, and as much again in magnets that bear nothing
USUAL_POLES: Final = {MotorKind.INRUNNER: 4, MotorKind.OUTRUNNER: 14}
ASSUMED_GRADE: Final = Magnets.H


def can_volume_cm3(motor: Motor) -> float:
    """Volume of the can [cm3]."""
    return _volume_cm3(motor.can_diameter_m.value, motor.can_length_m.value)


def _volume_cm3(diameter_m: float, length_m: float) -> float:
    return math.pi / 4 * (diameter_m * 100) ** 2 * length_m * 100


_ANCHOR_CM3: Final = _volume_cm3(ANCHOR_DIAMETER_M, ANCHOR_LENGTH_M)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rewinding:
    """How resistance and no-load current go with KV: powers of KV over the KV there was."""

    resistance: float
    no_load: float


def rewinding(motor: Motor) -> Rewinding:
    """Powers of KV with which another winding changes a motor.

    A motor whose resistance is known is rewound: the same can, R with KV^-2 and the no-load current with KV (winding
    theory: fewer turns of as much more section). Where the resistance is a guess from the can, another KV is another
    make: low-KV motors are the better built ones, so across makes R follows about KV^-1 and the no-load current KV^0.7
    (common practice, no source).
    """
    return Rewinding(
        resistance=-1.0 if motor.resistance_ohm is None else -2.0,
        no_load=0.7 if motor.no_load_current_a is None else 1.0,
    )


def winding_resistance(motor: Motor) -> Value:
    """Winding resistance at 20 degC [ohm], estimated from can and KV where it was not given.

    8 mohm for a 36 x 74 mm can of 2200 KV, with KV^-1 (see ``rewinding``) and the root of the can's volume. Common
    practice, no source; hence the wide spread.
    """
    kv = motor.kv_rpm_per_v.value / ANCHOR_KV
    ohm = ANCHOR_OHM / kv * (_ANCHOR_CM3 / can_volume_cm3(motor)) ** 0.5
    if motor.kind is MotorKind.OUTRUNNER:
        ohm *= OUTRUNNER_OHM
    why = ResistanceFromCan(
        ohm=ANCHOR_OHM, kv_rpm_per_v=ANCHOR_KV, diameter_m=ANCHOR_DIAMETER_M, length_m=ANCHOR_LENGTH_M
    )
    return known(motor.resistance_ohm, guess(ohm, 0.35, why))


ELECTRICAL_S: Final = 1.2e-3  # inductance over resistance of two phases (common practice, no source)


def inductance_h(motor: Motor) -> float:
    """Inductance of two phases in series [H], from the winding's resistance; both go with the turns squared."""
    return ELECTRICAL_S * winding_resistance(motor).value


def no_load_current(motor: Motor) -> Value:
    """No-load current [A] at the reference voltage, estimated from can and KV where it was not given.

    3 A for a 36 x 74 mm can of 2200 KV: common practice, no source.
    """
    kv = motor.kv_rpm_per_v.value / ANCHOR_KV
    amps = ANCHOR_NO_LOAD_A * (can_volume_cm3(motor) / _ANCHOR_CM3) ** 0.5 * kv**0.7
    why = NoLoadFromCan(
        current_a=ANCHOR_NO_LOAD_A, kv_rpm_per_v=ANCHOR_KV, diameter_m=ANCHOR_DIAMETER_M, length_m=ANCHOR_LENGTH_M
    )
    return known(motor.no_load_current_a, guess(amps, 0.35, why))


def can_length_for_m(kg: float, diameter_m: float) -> float:
    """Length of a can of a diameter [m] that holds a motor of a mass [kg]; the inverse of ``motor_mass``."""
    return kg / CAN_KG_CM3 * 1e-6 / (math.pi / 4 * diameter_m**2)


def motor_mass(motor: Motor) -> Value:
    """Mass [kg]: 3.9 g a cm3 of can (common practice, no source)."""
    return known(motor.mass_kg, guess(can_volume_cm3(motor) * CAN_KG_CM3, 0.12, MassFromCan(kg_cm3=CAN_KG_CM3)))


def pole_count(motor: Motor) -> int:
    """Poles as given; else 4 for an inrunner and 14 for an outrunner, the usual numbers."""
    return motor.poles if motor.poles is not None else USUAL_POLES[motor.kind]


def rpm_ceiling(motor: Motor) -> Value:
    """Largest loaded rpm one aims at [rpm].

    30 000 rpm for a 40 mm can (common practice, no source), inversely with the can's diameter. An outrunner's rotor is
    its bell: a ring under hoop stress, see ``laws.mechanics.ring_rpm``; its numbers are common practice, no source.
    """
    diameter = motor.can_diameter_m.value
    if motor.kind is MotorKind.OUTRUNNER:
        rpm = min(ring_rpm(BELL_PA, BELL_KG_M3, diameter), HIGHEST_CEILING_RPM)
        return guess(rpm, 0.15, HoopOfBell(stress_pa=BELL_PA, diameter_m=diameter))
    rpm = min(CEILING_RPM * CEILING_DIAMETER_M / diameter, HIGHEST_CEILING_RPM)
    return guess(rpm, 0.1, CeilingFromCan(rpm=CEILING_RPM, diameter_m=CEILING_DIAMETER_M))


def power_limit(motor: Motor) -> Value:
    """Electrical power a water-cooled motor takes for minutes [W]: as printed, else 5 W a gram of motor.

    5 W/g is common practice, no source.
    """
    watts = MOST_W_KG * motor_mass(motor).value
    return known(motor.max_power_w, guess(watts, 0.3, PowerFromMass(w_kg=MOST_W_KG)))


def magnet_lag(motor: Motor) -> float:
    """How far magnets follow from case to winding [1]: 0.3 of the way in an inrunner, whose rotor is heated through the
    air gap; an outrunner's sit in the can. Common practice, no source.
    """
    return 0.3 if motor.kind is MotorKind.INRUNNER else 0.0


def magnet_limit_c(motor: Motor) -> Value:
    """Temperature its magnets are made for [degC]; that of grade H where the grade is not known."""
    if motor.magnets is not Magnets.UNKNOWN:
        return exact(MAGNET_LIMIT_C[motor.magnets])
    limit = MAGNET_LIMIT_C[ASSUMED_GRADE]
    return guess(limit, 0.15, GradeAssumed(grade=ASSUMED_GRADE, limit_c=limit))


def insulation_limit_c(motor: Motor) -> float | None:
    """Temperature of the insulation class [degC]; None where it is not known."""
    return INSULATION_LIMIT_C.get(motor.insulation)
