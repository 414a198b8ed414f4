"""The motor: first-order equivalent circuit [drela2007], resistance at temperature, estimators."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, choice, count, guess, known, quantity


class MotorKind(StrEnum):
    """Which part turns."""

    INRUNNER = "inrunner"
    OUTRUNNER = "outrunner"


class Magnets(StrEnum):
    """Grade letters of NdFeB magnets and the temperature each is made for [iec60404-8-1, letters from memory]."""

    UNKNOWN = "not known"
    N = "no letter, 80 degC"
    M = "M, 100 degC"
    H = "H, 120 degC"
    SH = "SH, 150 degC"
    UH = "UH, 180 degC"
    EH = "EH, 200 degC"


class Insulation(StrEnum):
    """Insulation classes of windings [iec60085, from memory]."""

    UNKNOWN = "not known"
    A = "A, 105 degC"
    E = "E, 120 degC"
    B = "B, 130 degC"
    F = "F, 155 degC"
    H = "H, 180 degC"


MAGNET_LIMIT_C: Final = {
    Magnets.N: 80.0,
    Magnets.M: 100.0,
    Magnets.H: 120.0,
    Magnets.SH: 150.0,
    Magnets.UH: 180.0,
    Magnets.EH: 200.0,
}
INSULATION_LIMIT_C: Final = {
    Insulation.A: 105.0,
    Insulation.E: 120.0,
    Insulation.B: 130.0,
    Insulation.F: 155.0,
    Insulation.H: 180.0,
}
REMANENCE_PER_K: Final = 0.0012  # NdFeB loses 0.11 to 0.13 % a kelvin [iec60404-8-1, from memory]


@dataclass(frozen=True, slots=True, kw_only=True)
class Motor(Part):
    """A brushless motor by what is printed on it or measured with a caliper."""

    kind: MotorKind = choice("Kind", MotorKind, MotorKind.INRUNNER)
    kv_rpm_per_v: Value = quantity("KV", Dimension.KV, "rpm/V", 50, 20000, required=True)
    can_diameter_m: Value = quantity("Can diameter", Dimension.LENGTH, "mm", 8, 150, required=True)
    can_length_m: Value = quantity("Can length", Dimension.LENGTH, "mm", 10, 300, required=True)
    poles: int | None = count("Poles", 2, 42, help="magnets in the rotor")
    max_current_a: Value | None = quantity("Most current", Dimension.CURRENT, "A", 1, 1000)
    max_power_w: Value | None = quantity("Most power", Dimension.POWER, "W", 5, 40000)
    resistance_ohm: Value | None = quantity(
        "Winding resistance", Dimension.RESISTANCE, "mohm", 0.2, 2000, help="between two leads, at 20 °C"
    )
    no_load_current_a: Value | None = quantity("No-load current", Dimension.CURRENT, "A", 0.05, 60)
    no_load_voltage_v: Value | None = quantity("at a voltage of", Dimension.VOLTAGE, "V", 1, 100)
    magnets: Magnets = choice("Magnet grade", Magnets, Magnets.UNKNOWN)
    insulation: Insulation = choice("Insulation class", Insulation, Insulation.UNKNOWN)
    shaft_m: Value | None = quantity("Shaft diameter", Dimension.LENGTH, "mm", 1, 20)
    shaft_length_m: Value | None = quantity("Shaft beyond the can", Dimension.LENGTH, "mm", 2, 80)
    circle_m: Value | None = quantity("Bolt circle", Dimension.LENGTH, "mm", 6, 80)
    holes: int | None = count("Mounting holes", 2, 8)
    thread_depth_m: Value | None = quantity(
        "Thread to the winding", Dimension.LENGTH, "mm", 1, 30, help="how deep a screw may go before it touches"
    )
    mass_kg: Value | None = quantity("Mass", Dimension.MASS, "g", 10, 6000)


def torque_constant_nm_per_a(kv_rpm_per_v: Floats) -> Floats:
    """Torque constant Kt = 60 / (2 pi KV) [Nm/A].

    Examples
    --------
    >>> round(torque_constant_nm_per_a(1000.0), 8)
    0.0095493
    """
    return 60.0 / (2.0 * math.pi * kv_rpm_per_v)


def copper_resistance_ohm(resistance_20_ohm: Floats, winding_c: Floats) -> Floats:
    """Resistance of a copper winding at a temperature [ohm]: R20 (235 + T) / 255 [iec60034-1, from memory].

    Examples
    --------
    >>> round(copper_resistance_ohm(1.0, 100.0), 5)
    1.31373
    """
    return resistance_20_ohm * (235.0 + winding_c) / 255.0


def no_load_current_a(rpm: Floats, current_a: Floats, reference_rpm: Floats) -> Floats:
    """No-load current at a speed [A]: half of it friction, half rising with rpm.

    ``current_a`` was measured at ``reference_rpm``. The halves are common practice, no source.
    """
    return current_a * (0.5 + 0.5 * rpm / reference_rpm)


def motor_state(
    voltage_v: Floats, current_a: Floats, kv_rpm_per_v: Floats, resistance_ohm: Floats, no_load_a: Floats
) -> tuple[Floats, Floats, Floats]:
    """Speed [rpm], torque [Nm] and efficiency [1] at a terminal voltage and current [drela2007].

    Examples
    --------
    >>> rpm, torque, efficiency = motor_state(22.2, 100.0, 2000.0, 0.006, 4.0)
    >>> round(rpm), round(torque, 6), round(efficiency, 6)
    (43200, 0.458366, 0.934054)
    """
    emf_v = voltage_v - current_a * resistance_ohm
    rpm = kv_rpm_per_v * emf_v
    torque_nm = torque_constant_nm_per_a(kv_rpm_per_v) * (current_a - no_load_a)
    efficiency = emf_v * (current_a - no_load_a) / (voltage_v * current_a)
    return rpm, torque_nm, efficiency


def best_efficiency(voltage_v: Floats, resistance_ohm: Floats, no_load_a: Floats) -> tuple[Floats, Floats]:
    """Current [A] at which a motor is most efficient, and that efficiency [1] [drela2007]."""
    current_a = np.sqrt(no_load_a * voltage_v / resistance_ohm)
    return current_a, (1 - np.sqrt(no_load_a * resistance_ohm / voltage_v)) ** 2


def can_volume_cm3(motor: Motor) -> float:
    """Volume of the can [cm3]."""
    radius_cm = motor.can_diameter_m.value * 50
    return math.pi * radius_cm**2 * motor.can_length_m.value * 100


# The 36 x 74 mm can that the estimators are anchored to [cm3].
_ANCHOR_CM3 = math.pi / 4 * 3.6**2 * 7.4


def winding_resistance(motor: Motor) -> Value:
    """Winding resistance at 20 degC [ohm], estimated from can and KV where it was not given.

    8 mohm for a 36 x 74 mm can of 2200 KV. One can rewound follows KV^-2; but low-KV motors are the better
    built ones, so across makes the data follow about KV^-1. Common practice, no source; hence the wide spread.
    """
    kv = motor.kv_rpm_per_v.value
    ohm = 8.0e-3 * (2200.0 / kv) * (_ANCHOR_CM3 / can_volume_cm3(motor)) ** 0.5
    if motor.kind is MotorKind.OUTRUNNER:
        ohm *= 1.2
    return known(motor.resistance_ohm, guess(ohm, 0.35, "from can size and KV: 8 mohm for 36 x 74 mm at 2200 KV"))


def no_load_current(motor: Motor) -> Value:
    """No-load current [A] at the reference voltage, estimated from can and KV where it was not given.

    3 A for a 36 x 74 mm can of 2200 KV: common practice, no source.
    """
    kv = motor.kv_rpm_per_v.value
    amps = 3.0 * (can_volume_cm3(motor) / _ANCHOR_CM3) ** 0.5 * (kv / 2200.0) ** 0.7
    return known(motor.no_load_current_a, guess(amps, 0.35, "from can size and KV: 3 A for 36 x 74 mm at 2200 KV"))


CAN_KG_CM3: Final = 3.9e-3  # of a whole motor in its can's volume (common practice, no source)


def can_length_for_m(kg: float, diameter_m: float) -> float:
    """Length of a can of a diameter that holds a motor of a mass [m]; the inverse of ``motor_mass``."""
    return kg / CAN_KG_CM3 * 1e-6 / (np.pi / 4 * diameter_m**2)


def motor_mass(motor: Motor) -> Value:
    """Mass [kg]: 3.9 g a cm3 of can (common practice, no source)."""
    return known(motor.mass_kg, guess(can_volume_cm3(motor) * CAN_KG_CM3, 0.12, "3.9 g for each cm3 of can"))


def pole_count(motor: Motor) -> int:
    """Poles as given; else 4 for an inrunner and 14 for an outrunner, the usual numbers."""
    if motor.poles is not None:
        return motor.poles
    return 4 if motor.kind is MotorKind.INRUNNER else 14


def rpm_ceiling(motor: Motor) -> Value:
    """Largest loaded rpm one aims at.

    30 000 rpm for a 40 mm can (common practice, no source), inversely with the can's diameter; an outrunner's
    rotor is the can itself, so it gets 0.6 of that.
    """
    rpm = min(30000.0 * 0.040 / motor.can_diameter_m.value, 60000.0)
    if motor.kind is MotorKind.OUTRUNNER:
        rpm *= 0.6
    return guess(rpm, 0.1, "30 000 rpm for a 40 mm can, inversely with its diameter")


def power_limit(motor: Motor) -> Value:
    """Electrical power a water-cooled motor takes for minutes [W]: as printed, else 5 W a gram of motor.

    5 W/g is common practice, no source.
    """
    watts = 5.0 * motor_mass(motor).value * 1e3
    return known(motor.max_power_w, guess(watts, 0.3, "5 W for each gram of motor"))


def magnet_factor(magnet_c: Floats) -> Floats:
    """KV over that at 20 degC [1]: hot magnets give less field, so more KV and less torque for each ampere.

    1 / (1 - 0.0012 (T - 20)), reversible below the grade's limit [iec60404-8-1, from memory].

    Examples
    --------
    >>> round(float(magnet_factor(100.0)), 4)
    1.1062
    """
    return 1.0 / (1.0 - REMANENCE_PER_K * (magnet_c - 20.0))


def magnet_lag(motor: Motor) -> float:
    """How far magnets follow from case to winding [1]: 0.3 of the way in an inrunner, whose rotor is heated through the
    air gap; an outrunner's sit in the can. Common practice, no source."""
    return 0.3 if motor.kind is MotorKind.INRUNNER else 0.0


def magnet_limit_c(motor: Motor) -> Value:
    """Temperature its magnets are made for [degC]; 120 (grade H) where the grade is not known."""
    if motor.magnets is not Magnets.UNKNOWN:
        return Value(value=MAGNET_LIMIT_C[motor.magnets])
    return guess(120.0, 0.15, "grade not known: H, 120 °C, assumed")


def insulation_limit_c(motor: Motor) -> float | None:
    """Temperature of the insulation class [degC]; None where it is not known."""
    return INSULATION_LIMIT_C.get(motor.insulation)
