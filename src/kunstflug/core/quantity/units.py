"""Units a racer may type, and their SI values.

Conversion happens at the edges only; inside the core everything is SI, except temperatures in degC,
charge in Ah and motor constants in rpm/V, whose names say so. Factors: exact by definition
(international yard and pound 1959, nautical mile 1929) or GNU units [units].
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Dimension(StrEnum):
    """What a quantity measures."""

    LENGTH = "length"
    MASS = "mass"
    SPEED = "speed"
    TEMPERATURE = "temperature"
    CURRENT = "current"
    VOLTAGE = "voltage"
    POWER = "power"
    RESISTANCE = "resistance"
    CHARGE = "charge"
    KV = "kv"
    ROTATION = "rotation"
    RATIO = "ratio"
    AREA = "area"
    ANGLE = "angle"
    TIME = "time"
    TORQUE = "torque"
    PRESSURE = "pressure"
    FLOW = "flow"
    FORCE = "force"
    CONDUCTANCE = "conductance"
    HEAT_CAPACITY = "heat capacity"


@dataclass(frozen=True, slots=True, kw_only=True)
class Unit:
    """One unit: ``si = (number + offset) * factor``."""

    factor: float
    offset: float = 0.0

    def to_si(self, number: float) -> float:
        """Value in the core's unit of this dimension."""
        return (number + self.offset) * self.factor

    def from_si(self, value: float) -> float:
        """Number in this unit."""
        return value / self.factor - self.offset


# The first unit of each dimension is the core's own.
UNITS: Final[dict[Dimension, dict[str, Unit]]] = {
    Dimension.LENGTH: {
        "m": Unit(factor=1.0),
        "mm": Unit(factor=1e-3),
        "cm": Unit(factor=1e-2),
        "ft": Unit(factor=0.3048),
        "in": Unit(factor=0.0254),
    },
    Dimension.MASS: {
        "kg": Unit(factor=1.0),
        "g": Unit(factor=1e-3),
        "oz": Unit(factor=0.028349523125),
        "lb": Unit(factor=0.45359237),
    },
    Dimension.SPEED: {
        "m/s": Unit(factor=1.0),
        "km/h": Unit(factor=1 / 3.6),
        "mph": Unit(factor=0.44704),
        "kn": Unit(factor=1852 / 3600),
    },
    Dimension.TEMPERATURE: {"degC": Unit(factor=1.0), "degF": Unit(factor=5 / 9, offset=-32.0)},
    Dimension.CURRENT: {"A": Unit(factor=1.0)},
    Dimension.VOLTAGE: {"V": Unit(factor=1.0)},
    Dimension.POWER: {"W": Unit(factor=1.0), "kW": Unit(factor=1e3), "hp": Unit(factor=745.6998715822702)},
    Dimension.RESISTANCE: {"ohm": Unit(factor=1.0), "mohm": Unit(factor=1e-3)},
    Dimension.CHARGE: {"Ah": Unit(factor=1.0), "mAh": Unit(factor=1e-3)},
    Dimension.KV: {"rpm/V": Unit(factor=1.0)},
    Dimension.ROTATION: {"rpm": Unit(factor=1.0)},
    Dimension.RATIO: {"1": Unit(factor=1.0), "%": Unit(factor=1e-2)},
    Dimension.ANGLE: {"deg": Unit(factor=1.0)},
    Dimension.AREA: {"m2": Unit(factor=1.0), "cm2": Unit(factor=1e-4)},
    Dimension.TIME: {"s": Unit(factor=1.0), "min": Unit(factor=60.0), "h": Unit(factor=3600.0)},
    Dimension.TORQUE: {"Nm": Unit(factor=1.0), "Ncm": Unit(factor=1e-2), "ozf in": Unit(factor=0.0070615518333333)},
    Dimension.PRESSURE: {
        "Pa": Unit(factor=1.0),
        "kPa": Unit(factor=1e3),
        "bar": Unit(factor=1e5),
        "psi": Unit(factor=6894.757293168361),
    },
    Dimension.FLOW: {"m3/s": Unit(factor=1.0), "L/min": Unit(factor=1e-3 / 60)},
    Dimension.CONDUCTANCE: {"W/K": Unit(factor=1.0)},
    Dimension.HEAT_CAPACITY: {"J/K": Unit(factor=1.0)},
    Dimension.FORCE: {"N": Unit(factor=1.0), "kgf": Unit(factor=9.80665), "gf": Unit(factor=9.80665e-3)},
}


def si_from(number: float, unit: str, dimension: Dimension) -> float:
    """Value in the core's unit of ``dimension`` of a number in ``unit``.

    Raises
    ------
    KeyError : a unit of another dimension.
    """
    return UNITS[dimension][unit].to_si(number)


def number_in(value: float, unit: str, dimension: Dimension) -> float:
    """Number in ``unit`` of a value in the core's unit."""
    return UNITS[dimension][unit].from_si(value)
