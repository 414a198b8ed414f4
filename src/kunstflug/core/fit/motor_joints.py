"""The motor in the hull: room, jacket, ring, bolt circle, screws."""

from dataclasses import dataclass
from enum import StrEnum

from kunstflug.core.fit.joint import Fit, Joint, JointCaution, JointKey, metres, unknown
from kunstflug.core.laws import mechanics as m
from kunstflug.core.parts.motor import MotorKind
from kunstflug.core.parts.placement import WALL_BEHIND_M
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup

MOST_AIR_M = 1.5e-3  # all round between can and jacket; no ring bridges more (common practice, no source)
SLEEVE_PLAY_M = 0.2e-3
HOLE_SLACK_M = 0.25e-3  # a clearance hole of M3 gives a quarter
BEFORE_WINDING_M = 0.3e-3
CAN_TORQUE_PART = 0.5  # of what the screw itself takes: the can is soft (common practice, no source)
USUAL_HOLES = 4


class Side(StrEnum):
    """A direction in the hull."""

    LENGTH = "length"
    WIDTH = "width"
    HEIGHT = "height"


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomFits(Fact):
    """The motor has room; so much to spare in length."""

    spare_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Excess:
    """What is too much in one direction."""

    side: Side
    over_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomTooSmall(Fact):
    """The motor, with its wires and nipples, is too large for its place; the worst direction."""

    excesses: tuple[Excess, ...]
    worst: Side
    wanted_m: float
    there_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MakeRoom(Fact):
    """What gives room in a direction."""

    side: Side


@dataclass(frozen=True, slots=True, kw_only=True)
class OutrunnerTurns(Fact):
    """An outrunner's can turns: no jacket goes on it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CoolAtMount(Fact):
    """An outrunner is cooled at its mount."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CanTooThick(Fact):
    """The can does not go into the jacket."""

    can_m: float
    bore_m: float
    over_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class JacketForCan(Fact):
    """A jacket for the can, or, where it is too wide, a sleeve."""

    can_m: float
    sleeve_m: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class JacketTooWide(Fact):
    """More air all round than a ring bridges."""

    gap_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class JacketFits(Fact):
    """A gap all round for the rings to bridge."""

    gap_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RingSpace(Fact):
    """Space between the groove's floor and the can."""

    space_m: float


class RingFault(StrEnum):
    """What is wrong with a ring."""

    NONE = "none"
    LEAKS = "leaks"
    TEARS = "tears"
    LOOSE = "loose"


@dataclass(frozen=True, slots=True, kw_only=True)
class RingPressed(Fact):
    """How a ring is pressed and stretched [1]; ``stretch`` None where its inside is not known."""

    squeeze: float
    stretch: float | None
    fault: RingFault


@dataclass(frozen=True, slots=True, kw_only=True)
class RingsThatDo(Fact):
    """Standard rings that seal; none: a cord of a section."""

    names: tuple[str, ...]
    cord_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CircleFits(Fact):
    """Bolt circles agree."""

    circle_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HolesDiffer(Fact):
    """The circles agree, the numbers of holes do not."""

    motor: int
    mount: int


@dataclass(frozen=True, slots=True, kw_only=True)
class CircleDiffers(Fact):
    """The motor's circle is not one of the mount's."""

    motor_m: float
    low_m: float
    high_m: float
    off_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillHoles(Fact):
    """Holes to drill: how many, and how far apart; with ``plate`` an adapter plate does as well."""

    holes: int
    apart_m: float
    plate: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ScrewTooLong(Fact):
    """A screw reaches the winding."""

    inside_m: float
    winding_m: float
    over_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ScrewTooShort(Fact):
    """Too little thread holds."""

    inside_m: float
    least_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ScrewFits(Fact):
    """So much thread holds, so much is left before the winding; to be tightened with a torque."""

    inside_m: float
    before_winding_m: float
    torque_nm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ScrewOfLength(Fact):
    """A screw that does; None where no length that is sold does."""

    thread: str
    length_m: float | None


def room(setup: Setup) -> Joint:
    """The can in the hull, length, width and height."""
    place, can = setup.placement, setup.motor.can_diameter_m.value
    long = setup.motor.can_length_m.value + WALL_BEHIND_M
    missing = unknown(JointKey.ROOM, placement__room_length=place.room_length_m)
    if missing:
        return missing
    around = max(can, setup.jacket.outside_m.value if setup.jacket.outside_m else can)
    nipple = setup.jacket.nipple_m.value if setup.jacket.nipple_m else 0.0
    wanted = {Side.LENGTH: long, Side.WIDTH: around, Side.HEIGHT: around + nipple}
    there = {Side.LENGTH: place.room_length_m, Side.WIDTH: place.room_width_m, Side.HEIGHT: place.room_height_m}
    over = {s: wanted[s] - v.value for s, v in there.items() if v is not None and wanted[s] > v.value}
    if not over:
        finding = RoomFits(spare_m=metres(place.room_length_m) - long)
        return Joint(key=JointKey.ROOM, fit=Fit.FITS, finding=finding)
    worst = max(over, key=lambda side: over[side])
    too_small = RoomTooSmall(
        excesses=tuple(Excess(side=side, over_m=more) for side, more in over.items()),
        worst=worst,
        wanted_m=wanted[worst],
        there_m=metres(there[worst]),
    )
    return Joint(key=JointKey.ROOM, fit=Fit.CLASHES, off_m=over[worst], finding=too_small, remedy=MakeRoom(side=worst))


def jacket(setup: Setup) -> Joint | None:
    """The jacket's bore over the can."""
    bore, can = setup.jacket.bore_m, setup.motor.can_diameter_m.value
    if setup.motor.kind is MotorKind.OUTRUNNER:
        if bore is None:
            return None
        return Joint(key=JointKey.JACKET, fit=Fit.CLASHES, finding=OutrunnerTurns(), remedy=CoolAtMount())
    missing = unknown(JointKey.JACKET, jacket__bore=bore)
    if missing:
        return missing
    gap = (metres(bore) - can) / 2
    if gap < 0:
        thick = CanTooThick(can_m=can, bore_m=metres(bore), over_m=-2 * gap)
        mend = JacketForCan(can_m=can, sleeve_m=None)
        return Joint(key=JointKey.JACKET, fit=Fit.CLASHES, off_m=-2 * gap, finding=thick, remedy=mend)
    if gap > MOST_AIR_M:
        mend = JacketForCan(can_m=can, sleeve_m=metres(bore) - SLEEVE_PLAY_M)
        return Joint(key=JointKey.JACKET, fit=Fit.NEEDS, off_m=gap, finding=JacketTooWide(gap_m=gap), remedy=mend)
    return Joint(key=JointKey.JACKET, fit=Fit.FITS, finding=JacketFits(gap_m=gap))


def ring(setup: Setup) -> Joint | None:
    """The ring between jacket and can: squeeze and stretch, and those that would do."""
    own, can = setup.jacket, setup.motor.can_diameter_m.value
    if own.bore_m is None or setup.motor.kind is MotorKind.OUTRUNNER or own.bore_m.value < can:
        return None
    missing = unknown(JointKey.RING, jacket__groove=own.groove_m)
    if missing:
        return missing
    space = (own.bore_m.value - can) / 2 + metres(own.groove_m)
    mend = RingsThatDo(names=tuple(r.name for r in m.rings(can, space)[:3]), cord_m=m.section_for_m(space))
    if own.ring_section_m is None:
        return Joint(
            key=JointKey.RING,
            fit=Fit.UNKNOWN,
            finding=RingSpace(space_m=space),
            remedy=mend,
            ask=("jacket.ring_section",),
        )
    section, inside = own.ring_section_m.value, own.ring_inside_m.value if own.ring_inside_m else None
    pressed = m.squeeze(section, space)
    over = m.stretch(inside, can) if inside else None
    fault, off = _ring_fault(section, space, pressed, over, inside or 0.0)
    finding = RingPressed(squeeze=pressed, stretch=over, fault=fault)
    if fault is RingFault.NONE:
        return Joint(key=JointKey.RING, fit=Fit.FITS, finding=finding, caution=JointCaution.SILICONE_GREASE)
    return Joint(key=JointKey.RING, fit=Fit.NEEDS, off_m=off, finding=finding, remedy=mend)


def _ring_fault(
    section: float, space: float, pressed: float, over: float | None, inside: float
) -> tuple[RingFault, float]:
    """What is wrong with a ring, and by how much [m]."""
    if pressed < m.SQUEEZE[0]:
        return RingFault.LEAKS, space / (1 - m.SQUEEZE[0]) - section
    if pressed > m.SQUEEZE[1]:
        return RingFault.TEARS, section - space / (1 - m.SQUEEZE[1])
    if over is not None and over > m.STRETCH[1]:
        return RingFault.TEARS, 0.0
    if over is not None and over < m.STRETCH[0]:
        return RingFault.LOOSE, -over * inside
    return RingFault.NONE, 0.0


def circle(setup: Setup) -> Joint:
    """Bolt circle of the motor on that of the mount."""
    mount, wants_value = setup.mount, setup.motor.circle_m
    missing = unknown(JointKey.CIRCLE, motor__circle=wants_value, mount__circle=mount.circle_m)
    if missing:
        return missing
    low, wants = metres(mount.circle_m), metres(wants_value)
    high = mount.circle_to_m.value if mount.circle_to_m else low
    holes, there = setup.motor.holes, mount.holes
    if not low - HOLE_SLACK_M <= wants <= high + HOLE_SLACK_M:
        off, count = low - wants if wants < low else wants - high, holes or USUAL_HOLES
        return Joint(
            key=JointKey.CIRCLE,
            fit=Fit.CLASHES,
            off_m=off,
            finding=CircleDiffers(motor_m=wants, low_m=low, high_m=high, off_m=off),
            remedy=DrillHoles(holes=count, apart_m=m.chord_m(wants, count), plate=True),
        )
    if holes and there and (there % holes and holes % there):
        drill = DrillHoles(holes=holes, apart_m=m.chord_m(wants, holes), plate=False)
        differ = HolesDiffer(motor=holes, mount=there)
        return Joint(key=JointKey.CIRCLE, fit=Fit.NEEDS, finding=differ, remedy=drill)
    return Joint(key=JointKey.CIRCLE, fit=Fit.FITS, finding=CircleFits(circle_m=wants))


def screw(setup: Setup) -> Joint:
    """Length of the motor's screws against the winding."""
    mount, depth_value = setup.mount, setup.motor.thread_depth_m
    missing = unknown(
        JointKey.SCREW,
        motor__thread_depth=depth_value,
        mount__plate=mount.plate_m,
        mount__screw_length=mount.screw_length_m,
    )
    if missing:
        return missing
    plate, depth = metres(mount.plate_m), metres(depth_value)
    inside = metres(mount.screw_length_m) - plate
    least = m.thread_diameter_m(mount.screw)  # one diameter of thread in steel (common practice, no source)
    good = [s for s in m.SCREW_LENGTHS_M if least <= s - plate <= depth - BEFORE_WINDING_M]
    mend = ScrewOfLength(thread=mount.screw, length_m=good[-1] if good else None)
    if inside > depth:
        long = ScrewTooLong(inside_m=inside, winding_m=depth, over_m=inside - depth)
        return Joint(key=JointKey.SCREW, fit=Fit.CLASHES, off_m=inside - depth, finding=long, remedy=mend)
    if inside < least:
        short = ScrewTooShort(inside_m=max(inside, 0.0), least_m=least)
        return Joint(key=JointKey.SCREW, fit=Fit.NEEDS, off_m=least - inside, finding=short, remedy=mend)
    torque = CAN_TORQUE_PART * m.tightening_torque_nm(mount.screw, m.preload_n(mount.screw))
    finding = ScrewFits(inside_m=inside, before_winding_m=depth - inside, torque_nm=torque)
    return Joint(key=JointKey.SCREW, fit=Fit.FITS, finding=finding)
