"""Every joint of a drive, along it from the bow to the propeller; wire, plugs and balance at the end."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.drive.limits import WIRE_HOLDS_C, wire_through_a
from kunstflug.core.drive.schools import Stint
from kunstflug.core.fit import motor_joints, shaft_joints
from kunstflug.core.fit.joint import Fit, Joint, JointCaution, JointKey, NotMeasured, metres, unknown
from kunstflug.core.parts.pack import pack_mass
from kunstflug.core.parts.placement import shift_to_restore_m
from kunstflug.core.parts.wiring import Plugs, pin_for, pin_rating_a
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup, centre_of_mass, thinnest_awg

SAME_CENTRE_M: Final = 2e-3
STERN_M: Final = 0.02
BOW_M: Final = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class WireCarries(Fact):
    """What a wire carries through the duty, and what runs."""

    gauge_awg: int
    holds_a: float
    current_a: float
    stint: Stint


@dataclass(frozen=True, slots=True, kw_only=True)
class ThickerWire(Fact):
    """A gauge that carries it."""

    gauge_awg: int


@dataclass(frozen=True, slots=True, kw_only=True)
class PinsCarry(Fact):
    """What pins carry in passes, and what runs."""

    pin_m: float
    holds_a: float
    current_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ThickerPins(Fact):
    """Pins that carry it."""

    pin_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CentreMoved(Fact):
    """Where the centre of mass is and was, ahead of the transom."""

    was_m: float
    now_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MovePack(Fact):
    """The pack moved (forward; negative aft), and where its middle is then."""

    by_m: float
    place_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MoreThanPack(Fact):
    """More than moving the pack can do."""


def joints(setup: Setup, rpm: float, current_a: float, stint: Stint, before: Setup | None = None) -> tuple[Joint, ...]:
    """All joints of a setup.

    Parameters
    ----------
    rpm, current_a : what the drive turns and draws at full throttle.
    stint : how long that is held; wires are judged by it as on Match.
    before : the setup it came from, for the centre of mass that is to be kept.
    """
    found = (
        motor_joints.room(setup),
        motor_joints.jacket(setup),
        motor_joints.ring(setup),
        motor_joints.circle(setup),
        motor_joints.screw(setup),
        shaft_joints.motor_coupler(setup),
        shaft_joints.flat(setup, rpm),
        shaft_joints.shaft_coupler(setup),
        shaft_joints.whirl(setup, rpm),
        shaft_joints.flex(setup),
        shaft_joints.collar(setup),
        shaft_joints.propeller(setup),
        _wire(setup, current_a, stint),
        _pins(setup, current_a),
        _centre(setup, before),
    )
    return tuple(j for j in found if j is not None)


def _wire(setup: Setup, current_a: float, stint: Stint) -> Joint:
    """Wire against the current it holds through the duty: the law of the drive's limits."""
    gauge, air = thinnest_awg(setup), setup.conditions.air_c.value

    def holds(awg: int) -> float:
        return wire_through_a(stint, WIRE_HOLDS_C, awg, air)

    finding = WireCarries(gauge_awg=gauge, holds_a=holds(gauge), current_a=current_a, stint=stint)
    if current_a <= finding.holds_a:
        return Joint(key=JointKey.WIRE, fit=Fit.FITS, finding=finding)
    thick = next((g for g in range(gauge - gauge % 2, 1, -2) if current_a <= holds(g)), 2)
    return Joint(key=JointKey.WIRE, fit=Fit.NEEDS, finding=finding, remedy=ThickerWire(gauge_awg=thick))


def _pins(setup: Setup, current_a: float) -> Joint:
    """Plugs against the current of passes."""
    missing = unknown(JointKey.PINS, wiring__connector_diameter=setup.wiring.connector_diameter_m)
    if missing:
        return missing
    pin = metres(setup.wiring.connector_diameter_m)
    finding = PinsCarry(pin_m=pin, holds_a=pin_rating_a(pin), current_a=current_a)
    caution = JointCaution.BUNDLED_PLUGS if setup.wiring.plugs is Plugs.BUNDLED else None
    if current_a <= finding.holds_a:
        return Joint(key=JointKey.PINS, fit=Fit.FITS, finding=finding, caution=caution)
    mend = ThickerPins(pin_m=pin_for(current_a).pin_m)
    return Joint(key=JointKey.PINS, fit=Fit.NEEDS, finding=finding, remedy=mend, caution=caution)


def _centre(setup: Setup, before: Setup | None) -> Joint | None:
    """Centre of mass against where it was, and the pack's shift that restores it."""
    if before is None:
        return None
    if setup.placement.shell_m is None or setup.placement.pack_m is None:
        if setup.motor == before.motor and setup.pack == before.pack:
            return None
        ask = ("placement.shell", "placement.pack", "placement.motor")
        return Joint(key=JointKey.CENTRE, fit=Fit.UNKNOWN, finding=NotMeasured(fields=ask), ask=ask)
    was, now = centre_of_mass(before).value, centre_of_mass(setup).value
    finding = CentreMoved(was_m=was, now_m=now)
    if abs(now - was) < SAME_CENTRE_M:
        return Joint(key=JointKey.CENTRE, fit=Fit.FITS, finding=finding)
    shift = shift_to_restore_m(setup.all_up_mass_kg.value, pack_mass(setup.pack).value, now, was)
    place = setup.placement.pack_m.value + shift
    in_hull = STERN_M < place < setup.hull.length_m.value - BOW_M
    mend: Fact = MovePack(by_m=shift, place_m=place) if in_hull else MoreThanPack()
    return Joint(key=JointKey.CENTRE, fit=Fit.NEEDS, off_m=abs(now - was), finding=finding, remedy=mend)
