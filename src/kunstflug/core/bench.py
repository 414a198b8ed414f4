"""The small bench instruments: what a drill, a meter, a caliper and a scale say of a part, each with its uncertainty.

Every instrument is a function of what was read; the spread of the result follows from the spreads of the readings by the
law of propagation [gum], first order, the readings independent.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from kunstflug.core.errors import InvalidValue
from kunstflug.core.fit import mechanics as m
from kunstflug.core.units import Dimension


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One thing that an instrument asks for.

    Parameters
    ----------
    spread : usual relative standard deviation of such a reading [1]; ``step`` an absolute one in the core's unit.
    usual : what stands there at first, in the core's unit.
    """

    key: str
    label: str
    dimension: Dimension
    unit: str
    usual: float
    low: float
    high: float
    spread: float = 0.0
    step: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Instrument:
    """One instrument.

    Parameters
    ----------
    law : from readings in the core's units to the result.
    writes : fields of part documents that take the result (``motor.kv``).
    """

    key: str
    title: str
    how: str
    equation: str
    readings: tuple[Reading, ...]
    dimension: Dimension
    unit: str
    law: Callable[[Mapping[str, float]], float]
    writes: tuple[str, ...] = ()
    caution: str = ""
    source: str = "definition"


@dataclass(frozen=True, slots=True, kw_only=True)
class Result:
    """What an instrument says: a value and its standard deviation, in the core's unit, and which reading matters most."""

    value: float
    sd: float
    widest: str


def reading(
    key: str, label: str, dimension: Dimension, unit: str, usual: float, low: float, high: float, *, spread: float = 0.0,
    step: float = 0.0,
) -> Reading:  # fmt: skip
    return Reading(key=key, label=label, dimension=dimension, unit=unit, usual=usual, low=low, high=high, spread=spread,
                   step=step)  # fmt: skip


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
    return readings["volts"] / readings["amps"] * 255.0 / (235.0 + readings["celsius"])


def no_load_at_rpm(readings: Mapping[str, float]) -> float:
    """Friction part of the no-load current [A]: two currents at two voltages, straight line back to none."""
    a1, a2, v1, v2 = (readings[k] for k in ("amps1", "amps2", "volts1", "volts2"))
    return a1 - (a2 - a1) / (v2 - v1) * v1


def cell_from_two_loads(readings: Mapping[str, float]) -> float:
    """Resistance of a cell [ohm] from two loads: the fall of the voltage over the rise of the current, over the cells."""
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
        raise InvalidValue("width", f"{readings['width'] * 1e3:g} mm", "less than the shaft")
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
        key="kv", title="KV on a drill", dimension=Dimension.KV, unit="rpm/V", writes=("motor.kv",), law=kv_from_drill,
        how="Turn the shaft with a drill, read AC volts between any two leads and the drill's rpm with a tachometer.",
        equation="KV = rpm / (√2 · U)",
        readings=(
            reading("rpm", "Drill", RPM, "rpm", 1500, 100, 60000, spread=0.005),
            reading("volts", "AC between two leads", V, "V", 0.48, 0.01, 100, spread=0.01),
        ),
        caution="A loose chuck throws the motor: clamp the can, keep sleeves clear.",
    ),
    Instrument(
        key="winding", title="Winding by current and millivolts", dimension=OHM, unit="mohm", writes=("motor.resistance",),
        law=winding_from_millivolts, how="Send a steady current through two leads, read the millivolts at the leads, not at the clips.",
        equation="R20 = U / I · 255 / (235 + T)",
        readings=(
            reading("volts", "Across the leads", V, "V", 0.045, 0.0001, 10, spread=0.01),
            reading("amps", "Current", A, "A", 5.0, 0.1, 50, spread=0.01),
            reading("celsius", "Winding", Dimension.TEMPERATURE, "degC", 20, -10, 120, step=2.0),
        ),
        source="IEC 60034-1, from memory",
    ),
    Instrument(
        key="no-load", title="No-load current against volts", dimension=A, unit="A", law=no_load_at_rpm,
        how="Run the motor free on two voltages; the current at none is friction, what rises is iron.",
        equation="I at 0 = I1 − (I2 − I1) / (U2 − U1) · U1",
        readings=(
            reading("volts1", "Lower voltage", V, "V", 7.4, 1, 100, spread=0.005),
            reading("amps1", "Current there", A, "A", 2.1, 0.05, 60, spread=0.02),
            reading("volts2", "Higher voltage", V, "V", 14.8, 1, 100, spread=0.005),
            reading("amps2", "Current there", A, "A", 3.0, 0.05, 60, spread=0.02),
        ),
        caution="A free motor may pass its rpm limit: no more cells than it is printed for.",
    ),
    Instrument(
        key="cell", title="Cell resistance from two loads", dimension=OHM, unit="mohm", writes=("pack.cell_resistance",),
        law=cell_from_two_loads, how="Two steady loads for ten seconds each, warm pack, read volts and amperes under each.",
        equation="R = (U1 − U2) / (I2 − I1) / cells",
        readings=(
            reading("volts1", "Volts, light load", V, "V", 15.62, 1, 110, step=0.01),
            reading("amps1", "Light load", A, "A", 5.0, 0, 500, spread=0.01),
            reading("volts2", "Volts, heavy load", V, "V", 15.21, 1, 110, step=0.01),
            reading("amps2", "Heavy load", A, "A", 40.0, 0.5, 500, spread=0.01),
            reading("cells", "Cells", RATIO, "1", 4, 1, 24),
        ),
        caution="LiPo under load: attended, in a fire-safe place, below its printed current.",
    ),
    Instrument(
        key="pitch-rise", title="Pitch from rise over an angle", dimension=L, unit="mm", writes=("propeller.pitch",),
        law=pitch_from_rise, how="Propeller flat on a plate: height of the blade's face at one radius, turned by an angle, again.",
        equation="P = 360 / angle · rise",
        readings=(
            reading("rise", "Rise of the face", L, "mm", 6.5e-3, 0.1e-3, 0.2, step=0.05e-3),
            reading("angle", "Turned by", ANGLE, "deg", 40, 5, 180, step=1.0),
        ),
    ),
    Instrument(
        key="pitch-gauge", title="Pitch from a blade gauge", dimension=L, unit="mm", writes=("propeller.pitch",),
        law=pitch_from_gauge, how="Angle of the face against the disc, measured at 0.7 of the radius.",
        equation="P = 2 π r tan(angle)",
        readings=(
            reading("radius", "At radius", L, "mm", 14.7e-3, 2e-3, 0.2, step=0.2e-3),
            reading("angle", "Blade angle", ANGLE, "deg", 32.5, 5, 70, step=0.7),
        ),
    ),
    Instrument(
        key="pitch-chord", title="Pitch from rise over chord", dimension=L, unit="mm", writes=("propeller.pitch",),
        law=pitch_from_chord, how="Length of the blade's chord at a radius, and how much higher one edge is than the other.",
        equation="P = 2 π r · rise / √(chord² − rise²)",
        readings=(
            reading("radius", "At radius", L, "mm", 14.7e-3, 2e-3, 0.2, step=0.2e-3),
            reading("chord", "Chord", L, "mm", 16e-3, 2e-3, 0.2, step=0.1e-3),
            reading("rise", "Rise", L, "mm", 8.6e-3, 0.2e-3, 0.2, step=0.1e-3),
        ),
    ),
    Instrument(
        key="nick", title="What a nick does", dimension=Dimension.FORCE, unit="N", law=nick_unbalance,
        how="Size of the missing piece, where it is missing, and how fast it turns.", equation="F = m r (2 π rpm / 60)²",
        readings=(
            reading("area", "Missing area", Dimension.AREA, "cm2", 4e-6, 1e-8, 1e-3, spread=0.2),
            reading("thickness", "Thickness there", L, "mm", 0.6e-3, 0.05e-3, 0.01, spread=0.1),
            reading("density", "Density, kg/m3", RATIO, "1", 8250, 900, 12000, spread=0.02),
            reading("radius", "At radius", L, "mm", 19e-3, 2e-3, 0.2, spread=0.03),
            reading("rpm", "Loaded rpm", RPM, "rpm", 25000, 500, 100000, spread=0.05),
        ),
        caution="Beryllium copper: dust is toxic. Do not file or grind it dry; send it out.",
    ),
    Instrument(
        key="balance", title="Balance", dimension=Dimension.FORCE, unit="N", law=balance_force,
        how="On knife edges, tape on the light blade's tip until it stays level: the tape's mass and place.",
        equation="F = m r (2 π rpm / 60)²",
        readings=(
            reading("mass", "Tape", MASS, "g", 0.02e-3, 1e-7, 0.02, step=0.005e-3),
            reading("radius", "At radius", L, "mm", 20e-3, 2e-3, 0.2, spread=0.03),
            reading("rpm", "Loaded rpm", RPM, "rpm", 25000, 500, 100000, spread=0.05),
        ),
    ),
    Instrument(
        key="centre", title="Mass and centre from two scales", dimension=L, unit="mm", writes=("hull.mass_centre",),
        law=centre_from_two_scales, how="Boat ready to run, an edge under the transom on one scale, an edge near the bow on the other.",
        equation="x = bow · distance / (bow + stern)",
        readings=(
            reading("stern", "Stern scale", MASS, "g", 1.35, 0.01, 60, step=SCALE),
            reading("bow", "Bow scale", MASS, "g", 0.74, 0.01, 60, step=SCALE),
            reading("distance", "Edge to edge", L, "mm", 0.5, 0.05, 2.5, step=1e-3),
        ),
    ),
    Instrument(
        key="slip", title="Speed from rpm and slip", dimension=SPEED, unit="km/h", law=speed_from_rpm,
        how="Loaded rpm from a log, the pitch, and a slip of 12 to 24 %.", equation="V = rpm / 60 · P · (1 − slip)",
        readings=(
            reading("rpm", "Loaded rpm", RPM, "rpm", 25000, 100, 100000, spread=0.02),
            reading("pitch", "Pitch", L, "mm", 58.8e-3, 5e-3, 0.5, spread=0.03),
            reading("slip", "Slip", RATIO, "%", 0.18, 0, 0.9, step=0.04),
        ),
    ),
    Instrument(
        key="flat-width", title="Flat: depth from its width", dimension=L, unit="mm", law=flat_from_width,
        how="The width of the flat, seen from above, and the shaft.", equation="d = r − √(r² − w² / 4)",
        readings=(
            reading("diameter", "Shaft", L, "mm", 5e-3, 1e-3, 0.02, step=CALIPER),
            reading("width", "Width seen", L, "mm", 3e-3, 0.2e-3, 0.02, step=0.1e-3),
        ),
    ),
    Instrument(
        key="flat-over", title="Flat: width from what is left", dimension=L, unit="mm", law=flat_from_depth,
        how="Caliper over the flat and the back of the shaft.", equation="w = 2 √(D d − d²), d = D − over",
        readings=(
            reading("diameter", "Shaft", L, "mm", 5e-3, 1e-3, 0.02, step=CALIPER),
            reading("over", "Over the flat", L, "mm", 4.5e-3, 0.5e-3, 0.02, step=CALIPER),
        ),
    ),
    Instrument(
        key="circle", title="Bolt circle from two holes", dimension=L, unit="mm", writes=("motor.circle", "mount.circle"),
        law=circle_of, how="Middle to middle of two neighbouring holes, and how many there are.",
        equation="D = chord / sin(180 / n)",
        readings=(
            reading("chord", "Hole to hole", L, "mm", 17.68e-3, 2e-3, 0.1, step=0.05e-3),
            reading("holes", "Holes", RATIO, "1", 4, 2, 12),
        ),
    ),
    Instrument(
        key="power", title="Shaft power", dimension=Dimension.POWER, unit="W", law=power_of,
        how="Torque and rpm.", equation="P = T · 2 π rpm / 60",
        readings=(
            reading("torque", "Torque", Dimension.TORQUE, "Nm", 0.5, 0, 100, spread=0.02),
            reading("rpm", "rpm", RPM, "rpm", 25000, 0, 200000, spread=0.01),
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
        value = readings.get(r.key)
        if value is None or not math.isfinite(value) or not r.low - 1e-12 <= value <= r.high + 1e-12:
            raise InvalidValue(r.key, "missing" if value is None else f"{value:g}", f"{r.low:g} to {r.high:g} (SI)")
    given = spreads or {}
    try:
        value = instrument.law(readings)
    except (ZeroDivisionError, ValueError) as error:
        raise InvalidValue("readings", "these together", "readings that differ and give a number") from error
    if not math.isfinite(value):
        raise InvalidValue("readings", "these together", "readings that differ and give a number")
    parts: dict[str, float] = {}
    for r in instrument.readings:
        sd = given.get(r.key, max(r.spread * abs(readings[r.key]), r.step))
        parts[r.key] = (_slope(instrument, readings, r) * sd) ** 2 if sd > 0 else 0.0
    widest = max(parts, key=lambda k: parts[k]) if any(parts.values()) else ""
    return Result(value=value, sd=math.sqrt(sum(parts.values())), widest=widest)


def _slope(instrument: Instrument, readings: Mapping[str, float], r: Reading) -> float:
    """Derivative of the result by one reading, by a small step to both sides."""
    step = 1e-5 * max(abs(readings[r.key]), 1e-9)
    try:
        up = instrument.law({**readings, r.key: readings[r.key] + step})
        down = instrument.law({**readings, r.key: readings[r.key] - step})
    except (ZeroDivisionError, ValueError, InvalidValue):
        return 0.0
    return (up - down) / (2 * step)
