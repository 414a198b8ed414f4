"""The small bench instruments: what a drill, a meter, a caliper and a scale say of a part, each with its uncertainty.

Every instrument is a function of what was read; the spread of the result follows from the spreads of the readings by
the law of propagation [gum], first order, the readings independent.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from kunstflug.core.laws import mechanics as m
from kunstflug.core.laws.electric import copper_resistance_ohm
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact, Missing
from kunstflug.core.quantity.units import Dimension


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingSpec:
    """One thing that an instrument asks for.

    Parameters
    ----------
    spread : usual relative standard deviation of such a reading [1]; ``step`` an absolute one in the core's unit.
    usual : what stands there at first, in the core's unit.
    """

    key: str
    dimension: Dimension
    unit: str
    usual: float
    low: float
    high: float
    spread: float = 0.0
    step: float = 0.0

    def check(self, value: float | None) -> float:
        """A reading that is there and possible.

        Raises
        ------
        InvalidValue : it is neither.
        """
        if value is None:
            raise InvalidValue(self.key, Missing(), self.allowed())
        if not math.isfinite(value) or not self.low - 1e-12 <= value <= self.high + 1e-12:
            raise InvalidValue(self.key, Amount(value=value, dimension=self.dimension, unit=self.unit), self.allowed())
        return value

    def allowed(self) -> Between:
        """What is allowed."""
        return Between(low=self.low, high=self.high, dimension=self.dimension, unit=self.unit)


@dataclass(frozen=True, slots=True, kw_only=True)
class Instrument:
    """One instrument.

    Parameters
    ----------
    law : from readings in the core's units to the result.
    writes : fields of part documents that take the result (``motor.kv``).
    """

    key: str
    readings: tuple[ReadingSpec, ...]
    dimension: Dimension
    unit: str
    law: Callable[[Mapping[str, float]], float]
    writes: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Result:
    """What an instrument says: value and standard deviation, in the core's unit, and which reading matters most."""

    value: float
    sd: float
    widest: str


def reading(
    key: str, dimension: Dimension, unit: str, usual: float, low: float, high: float, *, spread: float = 0.0,
    step: float = 0.0,
) -> ReadingSpec:  # fmt: skip
    """A reading; spread relative, step in the core's unit."""
    return ReadingSpec(
        key=key, dimension=dimension, unit=unit, usual=usual, low=low, high=high, spread=spread, step=step
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class LessThanShaft(Fact):
    """A flat is narrower than its shaft."""

    shaft_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingsDiffer(Fact):
    """Readings have to differ and give a number together."""


L, V, A, OHM, RPM = Dimension.LENGTH, Dimension.VOLTAGE, Dimension.CURRENT, Dimension.RESISTANCE, Dimension.ROTATION
MASS, ANGLE, SPEED, RATIO = Dimension.MASS, Dimension.ANGLE, Dimension.SPEED, Dimension.RATIO
CALIPER: Final = 0.02e-3
SCALE: Final = 0.5e-3


def kv_from_drill(readings: Mapping[str, float]) -> float:
    """KV [rpm/V] of a motor spun at some rpm: AC volts between two leads, root mean square of a sine, x sqrt 2.

    A trapezoidal EMF has a peak up to 6 % lower than a sine of the same r.m.s. value.
    """
    return readings["rpm"] / (readings["volts"] * math.sqrt(2))


def winding_from_millivolts(readings: Mapping[str, float]) -> float:
    """Resistance between two leads at 20 degC [ohm]: U / I, taken back by copper's (235 + T) / 255."""
    return readings["volts"] / readings["amps"] / float(copper_resistance_ohm(1.0, readings["celsius"]))


def no_load_at_rpm(readings: Mapping[str, float]) -> float:
    """Friction part of the no-load current [A]: two currents at two voltages, straight line back to none."""
    a1, a2, v1, v2 = (readings[k] for k in ("amps1", "amps2", "volts1", "volts2"))
    return a1 - (a2 - a1) / (v2 - v1) * v1


def cell_from_two_loads(readings: Mapping[str, float]) -> float:
    """Resistance of a cell [ohm] from two loads: fall of the voltage over rise of the current, over the cells."""
    fall = readings["volts1"] - readings["volts2"]
    return fall / (readings["amps2"] - readings["amps1"]) / readings["cells"]


def pitch_from_rise(readings: Mapping[str, float]) -> float:
    """Pitch [m] from the rise of a blade's face over an angle of turn: 360 deg / angle x rise."""
    return readings["rise"] * 360.0 / readings["angle"]


def pitch_from_gauge(readings: Mapping[str, float]) -> float:
    """Pitch [m] from the blade's angle at a radius: 2 pi r tan(angle)."""
    return 2 * math.pi * readings["radius"] * math.tan(math.radians(readings["angle"]))


def pitch_from_chord(readings: Mapping[str, float]) -> float:
    """Pitch [m] from the rise over the chord at a radius: 2 pi r x rise / sqrt(chord^2 - rise^2)."""
    chord, rise = readings["chord"], readings["rise"]
    return 2 * math.pi * readings["radius"] * rise / math.sqrt(chord**2 - rise**2)


def nick_unbalance(readings: Mapping[str, float]) -> float:
    """Turning force of a nick [N]: its mass at its radius, m r omega^2."""
    mass = readings["area"] * readings["thickness"] * readings["density"]
    return m.unbalance_force_n(mass * readings["radius"], readings["rpm"])


def balance_force(readings: Mapping[str, float]) -> float:
    """Turning force of an unbalance [N] from the mass at the tip that levels the propeller: m r omega^2."""
    return m.unbalance_force_n(readings["mass"] * readings["radius"], readings["rpm"])


def centre_from_two_scales(readings: Mapping[str, float]) -> float:
    """Centre of mass ahead of the stern scale's edge [m]: bow reading x distance / both."""
    return readings["bow"] * readings["distance"] / (readings["bow"] + readings["stern"])


def speed_from_rpm(readings: Mapping[str, float]) -> float:
    """Speed [m/s] of a propeller's pitch at some rpm less its slip: n P (1 - slip)."""
    return readings["rpm"] / 60 * readings["pitch"] * (1 - readings["slip"])


def flat_from_width(readings: Mapping[str, float]) -> float:
    """Depth of a flat [m] from the width one sees, r - sqrt(r^2 - w^2 / 4)."""
    if readings["width"] >= readings["diameter"]:
        given = Amount(value=readings["width"], dimension=Dimension.LENGTH, unit="mm")
        raise InvalidValue("width", given, LessThanShaft(shaft_m=readings["diameter"]))
    return m.flat_depth_m(readings["diameter"], readings["width"])


def flat_from_depth(readings: Mapping[str, float]) -> float:
    """Width of a flat [m] from what is left over it: diameter less what the caliper reads is the depth."""
    return m.flat_width_m(readings["diameter"], readings["diameter"] - readings["over"])


def circle_of(readings: Mapping[str, float]) -> float:
    """Bolt circle [m] from the distance of two neighbouring holes."""
    return m.circle_from_chord_m(readings["chord"], round(readings["holes"]))


def power_of(readings: Mapping[str, float]) -> float:
    """Shaft power [W] from torque and rpm: T omega."""
    return readings["torque"] * 2 * math.pi * readings["rpm"] / 60


INSTRUMENTS: Final = (
    Instrument(
        key="kv", dimension=Dimension.KV, unit="rpm/V", writes=("motor.kv",), law=kv_from_drill,
        readings=(
            reading("rpm", RPM, "rpm", 1500, 100, 60000, spread=0.005),
            reading("volts", V, "V", 0.48, 0.01, 100, spread=0.01),
        ),
    ),
    Instrument(
        key="winding", dimension=OHM, unit="mohm", writes=("motor.resistance",),
        law=winding_from_millivolts,
        readings=(
            reading("volts", V, "V", 0.045, 0.0001, 10, spread=0.01),
            reading("amps", A, "A", 5.0, 0.1, 50, spread=0.01),
            reading("celsius", Dimension.TEMPERATURE, "degC", 20, -10, 120, step=2.0),
        ),
    ),
    Instrument(
        key="no-load", dimension=A, unit="A", law=no_load_at_rpm,
        readings=(
            reading("volts1", V, "V", 7.4, 1, 100, spread=0.005),
            reading("amps1", A, "A", 2.1, 0.05, 60, spread=0.02),
            reading("volts2", V, "V", 14.8, 1, 100, spread=0.005),
            reading("amps2", A, "A", 3.0, 0.05, 60, spread=0.02),
        ),
    ),
    Instrument(
        key="cell", dimension=OHM, unit="mohm", writes=("pack.cell_resistance",),
        law=cell_from_two_loads,
        readings=(
            reading("volts1", V, "V", 15.62, 1, 110, step=0.01),
            reading("amps1", A, "A", 5.0, 0, 500, spread=0.01),
            reading("volts2", V, "V", 15.21, 1, 110, step=0.01),
            reading("amps2", A, "A", 40.0, 0.5, 500, spread=0.01),
            reading("cells", RATIO, "1", 4, 1, 24),
        ),
    ),
    Instrument(
        key="pitch-rise", dimension=L, unit="mm", writes=("propeller.pitch",),
        law=pitch_from_rise,
        readings=(
            reading("rise", L, "mm", 6.5e-3, 0.1e-3, 0.2, step=0.05e-3),
            reading("angle", ANGLE, "deg", 40, 5, 180, step=1.0),
        ),
    ),
    Instrument(
        key="pitch-gauge", dimension=L, unit="mm", writes=("propeller.pitch",),
        law=pitch_from_gauge,
        readings=(
            reading("radius", L, "mm", 14.7e-3, 2e-3, 0.2, step=0.2e-3),
            reading("angle", ANGLE, "deg", 32.5, 5, 70, step=0.7),
        ),
    ),
    Instrument(
        key="pitch-chord", dimension=L, unit="mm", writes=("propeller.pitch",),
        law=pitch_from_chord,
        readings=(
            reading("radius", L, "mm", 14.7e-3, 2e-3, 0.2, step=0.2e-3),
            reading("chord", L, "mm", 16e-3, 2e-3, 0.2, step=0.1e-3),
            reading("rise", L, "mm", 8.6e-3, 0.2e-3, 0.2, step=0.1e-3),
        ),
    ),
    Instrument(
        key="nick", dimension=Dimension.FORCE, unit="N", law=nick_unbalance,
        readings=(
            reading("area", Dimension.AREA, "cm2", 4e-6, 1e-8, 1e-3, spread=0.2),
            reading("thickness", L, "mm", 0.6e-3, 0.05e-3, 0.01, spread=0.1),
            reading("density", RATIO, "1", 8250, 900, 12000, spread=0.02),
            reading("radius", L, "mm", 19e-3, 2e-3, 0.2, spread=0.03),
            reading("rpm", RPM, "rpm", 25000, 500, 100000, spread=0.05),
        ),
    ),
    Instrument(
        key="balance", dimension=Dimension.FORCE, unit="N", law=balance_force,
        readings=(
            reading("mass", MASS, "g", 0.02e-3, 1e-7, 0.02, step=0.005e-3),
            reading("radius", L, "mm", 20e-3, 2e-3, 0.2, spread=0.03),
            reading("rpm", RPM, "rpm", 25000, 500, 100000, spread=0.05),
        ),
    ),
    Instrument(
        key="centre", dimension=L, unit="mm", writes=("hull.mass_centre",),
        law=centre_from_two_scales,
        readings=(
            reading("stern", MASS, "g", 1.35, 0.01, 60, step=SCALE),
            reading("bow", MASS, "g", 0.74, 0.01, 60, step=SCALE),
            reading("distance", L, "mm", 0.5, 0.05, 2.5, step=1e-3),
        ),
    ),
    Instrument(
        key="slip", dimension=SPEED, unit="km/h", law=speed_from_rpm,
        readings=(
            reading("rpm", RPM, "rpm", 25000, 100, 100000, spread=0.02),
            reading("pitch", L, "mm", 58.8e-3, 5e-3, 0.5, spread=0.03),
            reading("slip", RATIO, "%", 0.18, 0, 0.9, step=0.04),
        ),
    ),
    Instrument(
        key="flat-width", dimension=L, unit="mm", law=flat_from_width,
        readings=(
            reading("diameter", L, "mm", 5e-3, 1e-3, 0.02, step=CALIPER),
            reading("width", L, "mm", 3e-3, 0.2e-3, 0.02, step=0.1e-3),
        ),
    ),
    Instrument(
        key="flat-over", dimension=L, unit="mm", law=flat_from_depth,
        readings=(
            reading("diameter", L, "mm", 5e-3, 1e-3, 0.02, step=CALIPER),
            reading("over", L, "mm", 4.5e-3, 0.5e-3, 0.02, step=CALIPER),
        ),
    ),
    Instrument(
        key="circle", dimension=L, unit="mm", writes=("motor.circle", "mount.circle"),
        law=circle_of,
        readings=(
            reading("chord", L, "mm", 17.68e-3, 2e-3, 0.1, step=0.05e-3),
            reading("holes", RATIO, "1", 4, 2, 12),
        ),
    ),
    Instrument(
        key="power", dimension=Dimension.POWER, unit="W", law=power_of,
        readings=(
            reading("torque", Dimension.TORQUE, "Nm", 0.5, 0, 100, spread=0.02),
            reading("rpm", RPM, "rpm", 25000, 0, 200000, spread=0.01),
        ),
    ),
)  # fmt: skip

BY_KEY: Final = {i.key: i for i in INSTRUMENTS}


def measure(
    instrument: Instrument, readings: Mapping[str, float], spreads: Mapping[str, float] | None = None
) -> Result:
    """Result of an instrument with its standard deviation.

    Parameters
    ----------
    readings : in the core's units.
    spreads : standard deviations of some readings, in the core's units; the usual ones for the rest.

    Raises
    ------
    InvalidValue : a reading that is missing or out of range, or readings that give nothing.
    """
    for r in instrument.readings:
        r.check(readings.get(r.key))
    given = spreads or {}
    try:
        value = instrument.law(readings)
    except (ZeroDivisionError, ValueError) as error:
        raise InvalidValue("readings", Missing(), ReadingsDiffer()) from error
    if not math.isfinite(value):
        raise InvalidValue("readings", Missing(), ReadingsDiffer())
    parts: dict[str, float] = {}
    for r in instrument.readings:
        sd = given.get(r.key, max(r.spread * abs(readings[r.key]), r.step))
        parts[r.key] = (_slope(instrument, readings, r) * sd) ** 2 if sd > 0 else 0.0
    widest = max(parts, key=lambda k: parts[k]) if any(parts.values()) else ""
    return Result(value=value, sd=math.sqrt(sum(parts.values())), widest=widest)


def _slope(instrument: Instrument, readings: Mapping[str, float], r: ReadingSpec) -> float:
    """Derivative of the result by one reading, by a small step to both sides."""
    step = 1e-5 * max(abs(readings[r.key]), 1e-9)
    try:
        up = instrument.law({**readings, r.key: readings[r.key] + step})
        down = instrument.law({**readings, r.key: readings[r.key] - step})
    except (ZeroDivisionError, ValueError, InvalidValue):
        return 0.0
    return (up - down) / (2 * step)
