"""Parts that join a drive, and the rest of the shelf: each asks for what a caliper, a scale or a label says."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.fields import Part, choice, count, length, mass, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value


class Thread(StrEnum):
    """Metric threads of the trade."""

    M2 = "M2"
    M2_5 = "M2.5"
    M3 = "M3"
    M4 = "M4"
    M5 = "M5"
    M6 = "M6"


class ShaftKind(StrEnum):
    """How a propeller shaft is made."""

    FLEX = "flex"
    SOLID = "solid"


class ShaftKeeper(StrEnum):
    """What keeps a shaft in the boat when the coupler slips."""

    UNKNOWN = "unknown"
    COLLAR = "collar"
    NOTHING = "nothing"


class MountMaterial(StrEnum):
    """What a motor mount is made of."""

    UNKNOWN = "unknown"
    METAL = "metal"
    NYLON = "nylon"
    PLA = "pla"
    PETG = "petg"
    ABS = "abs"


SOFT_C: Final = {MountMaterial.NYLON: 120.0, MountMaterial.PLA: 55.0, MountMaterial.PETG: 75.0, MountMaterial.ABS: 95.0}
"""Where a mount gives way under its screws [degC]: glass transition of the printed ones, long-term heat of glass-filled
nylon (handbook values, from memory)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mount(Part):
    """A motor mount."""

    circle_m: Value | None = length(8, 80)
    circle_to_m: Value | None = length(8, 80)
    holes: int | None = count(2, 8)
    plate_m: Value | None = length(0.5, 20)
    screw: Thread = choice(Thread, Thread.M3)
    screw_length_m: Value | None = length(2, 60)
    collar_m: Value | None = length(3, 60)
    height_m: Value | None = length(5, 200)
    material: MountMaterial = choice(MountMaterial, MountMaterial.UNKNOWN)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Coupler(Part):
    """A coupler between motor and propeller shaft."""

    motor_bore_m: Value | None = length(1, 20)
    shaft_bore_m: Value | None = length(1, 20)
    outside_m: Value | None = length(3, 40)
    length_m: Value | None = length(5, 80)
    set_screw: Thread = choice(Thread, Thread.M4)
    grip_m: Value | None = length(2, 40)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shaft(Part):
    """A propeller shaft with its supports."""

    kind: ShaftKind = choice(ShaftKind, ShaftKind.FLEX)
    diameter_m: Value | None = length(1, 15)
    end_m: Value | None = length(1, 15)
    length_m: Value | None = length(20, 1500)
    span_m: Value | None = length(10, 1200)
    gap_m: Value | None = length(0, 30)
    collar: ShaftKeeper = choice(ShaftKeeper, ShaftKeeper.UNKNOWN)
    tube_m: Value | None = length(2, 30)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Jacket(Part):
    """A water jacket over the can."""

    bore_m: Value | None = length(10, 160)
    outside_m: Value | None = length(12, 180)
    length_m: Value | None = length(8, 250)
    groove_m: Value | None = length(0, 6)
    ring_section_m: Value | None = length(0.5, 6)
    ring_inside_m: Value | None = length(5, 160)
    nipple_m: Value | None = length(2, 40)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Charger(Part):
    """A charger."""

    most_cells: int | None = count(1, 24)
    most_current_a: Value | None = quantity(Dimension.CURRENT, "A", 0.1, 100)
    power_w: Value | None = quantity(Dimension.POWER, "W", 5, 5000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Collar(Part):
    """A collar that keeps the shaft in the boat."""

    bore_m: Value | None = length(1, 20)
    outside_m: Value | None = length(3, 40)
    width_m: Value | None = length(2, 30)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class AdapterTube(Part):
    """A thin-walled tube: a shim between a bore and a shaft."""

    outside_m: Value | None = length(1, 30)
    wall_m: Value | None = length(0.1, 5)
    length_m: Value | None = length(2, 1000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bearing(Part):
    """A ball bearing or a bushing."""

    bore_m: Value | None = length(1, 20)
    outside_m: Value | None = length(3, 40)
    width_m: Value | None = length(1, 40)
    most_rpm: Value | None = quantity(Dimension.ROTATION, "rpm", 1000, 200000)


@dataclass(frozen=True, slots=True, kw_only=True)
class ORing(Part):
    """A rubber ring."""

    inside_m: Value | None = length(1, 160)
    section_m: Value | None = length(0.5, 8)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hose(Part):
    """A cooling hose."""

    bore_m: Value | None = length(1, 12)
    outside_m: Value | None = length(1.5, 18)
    length_m: Value | None = length(10, 10000)


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterPiece(Part):
    """A pickup, a Y piece or an outlet."""

    bore_m: Value | None = length(1, 12)
    mass_kg: Value | None = mass(0.05, 20000)


class Pickup(WaterPiece):
    """Where the water comes in."""


class YPiece(WaterPiece):
    """Where a line splits or joins."""


class Outlet(WaterPiece):
    """Where the driver sees it come out."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Connector(Part):
    """A plug."""

    pin_m: Value | None = length(1, 12)
    pins: int | None = count(1, 8)
    current_a: Value | None = quantity(Dimension.CURRENT, "A", 1, 600)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wire(Part):
    """Silicone wire."""

    gauge_awg: int | None = count(2, 26)
    outside_m: Value | None = length(0.8, 15)
    length_m: Value | None = length(10, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Servo(Part):
    """A servo."""

    torque_nm: Value | None = quantity(Dimension.TORQUE, "Nm", 0.01, 20)
    voltage_v: Value | None = quantity(Dimension.VOLTAGE, "V", 3, 15)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class ReceiverPack(Part):
    """A receiver pack."""

    voltage_v: Value | None = quantity(Dimension.VOLTAGE, "V", 2, 15)
    capacity_ah: Value | None = quantity(Dimension.CHARGE, "mAh", 50, 10000)
    mass_kg: Value | None = mass(0.05, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Logger(Part):
    """A position logger."""

    rate: int | None = count(1, 50)
    mass_kg: Value | None = mass(0.05, 20000)
