"""Parts that join a drive, and the rest of the shelf: each asks for what a caliper, a scale or a label says."""

from dataclasses import dataclass
from enum import StrEnum

from kunstflug.core.units import Dimension
from kunstflug.core.values import Part, Value, choice, count, quantity


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


class Kept(StrEnum):
    """What keeps a shaft in the boat when the coupler slips."""

    UNKNOWN = "not said"
    COLLAR = "a collar"
    NOTHING = "nothing"


def _mass() -> Value | None:
    found: Value | None = quantity("Mass", Dimension.MASS, "g", 0.05, 20000)
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Mount(Part):
    """A motor mount."""

    circle_m: Value | None = quantity(
        "Bolt circle", Dimension.LENGTH, "mm", 8, 80, help="the smallest, where it is slotted"
    )
    circle_to_m: Value | None = quantity("Slotted up to", Dimension.LENGTH, "mm", 8, 80)
    holes: int | None = count("Holes", 2, 8)
    plate_m: Value | None = quantity("Plate thickness", Dimension.LENGTH, "mm", 0.5, 20)
    screw: Thread = choice("Screws", Thread, Thread.M3)
    screw_length_m: Value | None = quantity("Screw length", Dimension.LENGTH, "mm", 2, 60, help="under the head")
    collar_m: Value | None = quantity("Hole for the motor's collar", Dimension.LENGTH, "mm", 3, 60)
    height_m: Value | None = quantity("Shaft above the floor", Dimension.LENGTH, "mm", 5, 200)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class Coupler(Part):
    """A coupler between motor and propeller shaft."""

    motor_bore_m: Value | None = quantity("Bore on the motor", Dimension.LENGTH, "mm", 1, 20)
    shaft_bore_m: Value | None = quantity("Bore on the shaft", Dimension.LENGTH, "mm", 1, 20)
    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 3, 40)
    length_m: Value | None = quantity("Length", Dimension.LENGTH, "mm", 5, 80)
    set_screw: Thread = choice("Set screw", Thread, Thread.M4)
    grip_m: Value | None = quantity("Grip on each shaft", Dimension.LENGTH, "mm", 2, 40)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class Shaft(Part):
    """A propeller shaft with its supports."""

    kind: ShaftKind = choice("Kind", ShaftKind, ShaftKind.FLEX)
    diameter_m: Value | None = quantity("Diameter in the coupler", Dimension.LENGTH, "mm", 1, 15)
    end_m: Value | None = quantity("Diameter at the propeller", Dimension.LENGTH, "mm", 1, 15)
    length_m: Value | None = quantity("Length", Dimension.LENGTH, "mm", 20, 1500)
    span_m: Value | None = quantity(
        "Free between two supports", Dimension.LENGTH, "mm", 10, 1200, help="the longest one"
    )
    gap_m: Value | None = quantity(
        "Gap at the strut", Dimension.LENGTH, "mm", 0, 30, help="between dog and bushing: a flex shortens under torque"
    )
    collar: Kept = choice("Kept in the boat by", Kept, Kept.UNKNOWN)
    tube_m: Value | None = quantity("Tube, outside", Dimension.LENGTH, "mm", 2, 30)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class Jacket(Part):
    """A water jacket over the can."""

    bore_m: Value | None = quantity("Bore", Dimension.LENGTH, "mm", 10, 160)
    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 12, 180)
    length_m: Value | None = quantity("Length", Dimension.LENGTH, "mm", 8, 250)
    groove_m: Value | None = quantity("Depth of the ring's groove", Dimension.LENGTH, "mm", 0, 6, help="0: none")
    ring_section_m: Value | None = quantity("Ring section", Dimension.LENGTH, "mm", 0.5, 6)
    ring_inside_m: Value | None = quantity("Ring inside", Dimension.LENGTH, "mm", 5, 160)
    nipple_m: Value | None = quantity("Nipple height", Dimension.LENGTH, "mm", 2, 40)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class Charger(Part):
    """A charger."""

    most_cells: int | None = count("Most cells", 1, 24)
    most_current_a: Value | None = quantity("Most current", Dimension.CURRENT, "A", 0.1, 100)
    power_w: Value | None = quantity("Power", Dimension.POWER, "W", 5, 5000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Collar(Part):
    """A collar that keeps the shaft in the boat."""

    bore_m: Value | None = quantity("Bore", Dimension.LENGTH, "mm", 1, 20)
    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 3, 40)
    width_m: Value | None = quantity("Width", Dimension.LENGTH, "mm", 2, 30)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class AdapterTube(Part):
    """A thin-walled tube: a shim between a bore and a shaft."""

    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 1, 30)
    wall_m: Value | None = quantity("Wall", Dimension.LENGTH, "mm", 0.1, 5)
    length_m: Value | None = quantity("Length", Dimension.LENGTH, "mm", 2, 1000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bearing(Part):
    """A ball bearing or a bushing."""

    bore_m: Value | None = quantity("Bore", Dimension.LENGTH, "mm", 1, 20)
    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 3, 40)
    width_m: Value | None = quantity("Width", Dimension.LENGTH, "mm", 1, 40)
    most_rpm: Value | None = quantity("Most rpm", Dimension.ROTATION, "rpm", 1000, 200000)


@dataclass(frozen=True, slots=True, kw_only=True)
class ORing(Part):
    """A rubber ring."""

    inside_m: Value | None = quantity("Inside", Dimension.LENGTH, "mm", 1, 160)
    section_m: Value | None = quantity("Section", Dimension.LENGTH, "mm", 0.5, 8)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hose(Part):
    """A cooling hose."""

    bore_m: Value | None = quantity("Bore", Dimension.LENGTH, "mm", 1, 12)
    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 1.5, 18)
    length_m: Value | None = quantity("Length", Dimension.LENGTH, "mm", 10, 10000)


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterPiece(Part):
    """A pickup, a Y piece or an outlet."""

    bore_m: Value | None = quantity("Bore", Dimension.LENGTH, "mm", 1, 12)
    mass_kg: Value | None = _mass()


class Pickup(WaterPiece):
    """Where the water comes in."""


class YPiece(WaterPiece):
    """Where a line splits or joins."""


class Outlet(WaterPiece):
    """Where the driver sees it come out."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Connector(Part):
    """A plug."""

    pin_m: Value | None = quantity("Pin", Dimension.LENGTH, "mm", 1, 12)
    pins: int | None = count("Pins", 1, 8)
    current_a: Value | None = quantity("Printed current", Dimension.CURRENT, "A", 1, 600)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wire(Part):
    """Silicone wire."""

    gauge_awg: int | None = count("Gauge", 2, 26)
    outside_m: Value | None = quantity("Outside", Dimension.LENGTH, "mm", 0.8, 15)
    length_m: Value | None = quantity("Length", Dimension.LENGTH, "mm", 10, 20000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Servo(Part):
    """A servo."""

    torque_nm: Value | None = quantity("Torque", Dimension.TORQUE, "Nm", 0.01, 20)
    voltage_v: Value | None = quantity("Most voltage", Dimension.VOLTAGE, "V", 3, 15)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class ReceiverPack(Part):
    """A receiver pack."""

    voltage_v: Value | None = quantity("Voltage", Dimension.VOLTAGE, "V", 2, 15)
    capacity_ah: Value | None = quantity("Capacity", Dimension.CHARGE, "mAh", 50, 10000)
    mass_kg: Value | None = _mass()


@dataclass(frozen=True, slots=True, kw_only=True)
class Logger(Part):
    """A position logger."""

    rate: int | None = count("Fixes a second", 1, 50)
    mass_kg: Value | None = _mass()
