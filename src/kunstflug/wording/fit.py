"""Joints in words: what fits, what does not, and what mends it; labels of the section drawing."""

from typing import Final

from kunstflug.core.fit import joints, motor_joints, shaft_joints
from kunstflug.core.fit.joint import Fit, Joint, JointCaution, JointKey, NotMeasured
from kunstflug.core.fit.motor_joints import RingFault, Side
from kunstflug.core.fit.section import Measure, MeasureKind, Shape, ShapeKind
from kunstflug.core.parts.joining import ShaftKeeper
from kunstflug.wording.fields import in_words
from kunstflug.wording.limits import stint
from kunstflug.wording.say import fixed, join, one, says
from kunstflug.wording.tongue import Tongue, trimmed

FITS: Final = {Fit.FITS: "Fits", Fit.NEEDS: "Needs work", Fit.CLASHES: "Clashes", Fit.UNKNOWN: "Not measured"}
TITLES: Final = {
    JointKey.ROOM: "Motor in the hull",
    JointKey.JACKET: "Jacket on the can",
    JointKey.RING: "O-ring of the jacket",
    JointKey.CIRCLE: "Bolt circle",
    JointKey.SCREW: "Motor screws",
    JointKey.MOTOR_COUPLER: "Motor shaft in the coupler",
    JointKey.FLAT: "Flat for the set screw",
    JointKey.SHAFT_COUPLER: "Propeller shaft in the coupler",
    JointKey.WHIRL: "Shaft whirl",
    JointKey.FLEX: "Gap for the flex",
    JointKey.COLLAR: "Shaft retention",
    JointKey.PROPELLER: "Propeller on its shaft",
    JointKey.WIRE: "Wire",
    JointKey.PINS: "Connectors",
    JointKey.CENTRE: "Centre of mass",
}
CAUTIONS: Final = {
    JointCaution.SILICONE_GREASE: "Silicone grease only: oil attacks the rubber. No sharp tool in the groove.",
    JointCaution.GRINDING: "Cover the motor: magnets pull filings. Protect eyes and hands. No wider than the screw.",
    JointCaution.BUNDLED_PLUGS: "Three connectors in a bundle heat each other: space them.",
}


def caution(joint: Joint) -> str:
    """What can hurt at a joint; empty for nothing."""
    return CAUTIONS[joint.caution] if joint.caution else ""


@says(NotMeasured)
def _unknown(f: NotMeasured, t: Tongue) -> str:
    return f"Needs {join([in_words(path) for path in f.fields])}"


_TOO: Final = {Side.LENGTH: "too long", Side.WIDTH: "too wide", Side.HEIGHT: "too high"}


@says(motor_joints.RoomFits)
def _room(f: motor_joints.RoomFits, t: Tongue) -> str:
    return f"{t.length(f.spare_m, 3)} to spare in length"


@says(motor_joints.RoomTooSmall)
def _no_room(f: motor_joints.RoomTooSmall, t: Tongue) -> str:
    over = join([f"{t.length(e.over_m, 3)} {_TOO[e.side]}" for e in f.excesses])
    extra = {Side.LENGTH: ", wires included,", Side.HEIGHT: ", nipples included,", Side.WIDTH: ""}[f.worst]
    return f"{over}: it takes {t.length(f.wanted_m)}{extra} and there are {t.length(f.there_m)}"


@says(motor_joints.MakeRoom)
def _make_room(f: motor_joints.MakeRoom, t: Tongue) -> str:
    return {
        Side.LENGTH: "Use a shorter can, or move the mount aft and shorten the shaft",
        Side.WIDTH: "Use a jacket of a smaller outside diameter, or none",
        Side.HEIGHT: "Turn the nipples sideways, or use lower ones",
    }[f.side]


fixed(motor_joints.OutrunnerTurns, "An outrunner's can turns: no jacket goes on it")
fixed(motor_joints.CoolAtMount, "Cool it at the mount")


@says(motor_joints.CanTooThick)
def _thick(f: motor_joints.CanTooThick, t: Tongue) -> str:
    return f"The {t.length(f.can_m)} can is {t.length(f.over_m, 3)} too thick for {one(t.length(f.bore_m))} bore"


@says(motor_joints.JacketForCan)
def _jacket(f: motor_joints.JacketForCan, t: Tongue) -> str:
    can = f"Use a jacket for {one(t.length(f.can_m, 3))} can"
    if f.sleeve_m is None:
        return f"{can}; boring this one out takes its wall and its grooves"
    return f"{can}, or a sleeve of {t.length(f.sleeve_m)} outside"


@says(motor_joints.JacketTooWide)
def _wide(f: motor_joints.JacketTooWide, t: Tongue) -> str:
    return f"{t.length(f.gap_m, 3)} of air all round: no O-ring bridges that well"


@says(motor_joints.JacketFits)
def _fits(f: motor_joints.JacketFits, t: Tongue) -> str:
    return f"{t.length(f.gap_m, 3)} all round for the O-rings to bridge"


@says(motor_joints.RingSpace)
def _space(f: motor_joints.RingSpace, t: Tongue) -> str:
    return f"{t.length(f.space_m, 3)} between the groove's floor and the can"


@says(motor_joints.RingPressed)
def _ring(f: motor_joints.RingPressed, t: Tongue) -> str:
    said = f"Squeezed {t.part(f.squeeze)} (15 to 30 % seals)"
    said += f", stretched {t.part(f.stretch, 1)} (up to 5 %)" if f.stretch is not None else ""
    fault = {
        RingFault.NONE: "",
        RingFault.LEAKS: ": it leaks",
        RingFault.TEARS: ": it tears when the jacket goes on",
        RingFault.LOOSE: ": it hangs loose and gets cut",
    }
    return said + fault[f.fault]


@says(motor_joints.RingsThatDo)
def _rings(f: motor_joints.RingsThatDo, t: Tongue) -> str:
    if f.names:
        return f"O-rings that fit: {', '.join(f.names)}"
    return f"No standard O-ring fits; cut and glue {one(t.length(f.cord_m, 3))} cord"


@says(motor_joints.CircleFits)
def _circle(f: motor_joints.CircleFits, t: Tongue) -> str:
    return f"{t.length(f.circle_m)} on both"


@says(motor_joints.HolesDiffer)
def _holes(f: motor_joints.HolesDiffer, t: Tongue) -> str:
    return f"{f.motor} holes in the motor, {f.mount} in the mount: they do not line up"


@says(motor_joints.CircleDiffers)
def _circles(f: motor_joints.CircleDiffers, t: Tongue) -> str:
    span = t.length(f.low_m) if f.low_m == f.high_m else f"{t.size(f.low_m)} to {t.length(f.high_m)}"
    return f"The motor needs {t.length(f.motor_m)}, the mount has {span}: {t.length(f.off_m, 3)} off"


@says(motor_joints.DrillHoles)
def _drill(f: motor_joints.DrillHoles, t: Tongue) -> str:
    holes = f"{f.holes} holes, {t.length(f.apart_m)} from hole to hole"
    return f"Use an adapter plate, or drill the mount: {holes}" if f.plate else f"Drill the mount: {holes}"


@says(motor_joints.ScrewTooLong)
def _long(f: motor_joints.ScrewTooLong, t: Tongue) -> str:
    return (
        f"The screw reaches {t.length(f.inside_m, 3)} into the motor and the winding begins at "
        f"{t.length(f.winding_m, 3)}: {t.length(f.over_m, 3)} too long, it kills the motor"
    )


@says(motor_joints.ScrewTooShort)
def _short(f: motor_joints.ScrewTooShort, t: Tongue) -> str:
    return f"Only {t.length(f.inside_m, 3)} of thread hold; {t.length(f.least_m, 3)} are needed"


@says(motor_joints.ScrewFits)
def _screw(f: motor_joints.ScrewFits, t: Tongue) -> str:
    return (
        f"{t.length(f.inside_m, 3)} of thread hold, {t.length(f.before_winding_m, 3)} short of the winding; tighten to "
        f"{trimmed(f.torque_nm, 2)} Nm with threadlocker (the can is soft)"
    )


@says(motor_joints.ScrewOfLength)
def _screw_of(f: motor_joints.ScrewOfLength, t: Tongue) -> str:
    if f.length_m is None:
        return f"No {f.thread} screw that is sold fits: use a thicker or thinner plate"
    return f"Use {f.thread} x {trimmed(f.length_m * 1e3)} mm"


@says(shaft_joints.ShaftFits)
def _shaft(f: shaft_joints.ShaftFits, t: Tongue) -> str:
    return f"{t.length(f.shaft_m)} in {t.length(f.bore_m)}"


@says(shaft_joints.ShaftTooThick)
def _too_thick(f: shaft_joints.ShaftTooThick, t: Tongue) -> str:
    return (
        f"{one(t.length(f.shaft_m))} shaft does not go into {one(t.length(f.bore_m))} bore: "
        f"{t.length(f.over_m, 3)} too thick"
    )


@says(shaft_joints.ShaftLoose)
def _loose(f: shaft_joints.ShaftLoose, t: Tongue) -> str:
    if f.fills:
        return f"{t.length(f.play_m, 3)} of play: it needs a shim"
    return f"{t.length(f.play_m, 3)} of play, and no tube that is sold fills it true: it would shake at speed"


@says(shaft_joints.BoreFor)
def _bore(f: shaft_joints.BoreFor, t: Tongue) -> str:
    return (
        f"Use a coupler or propeller with {one(t.length(f.bore_m))} bore; ream only on a lathe, or it runs out of true"
    )


NO_RUN_OUT_M: Final = 5e-6


@says(shaft_joints.ShimOf)
def _shim(f: shaft_joints.ShimOf, t: Tongue) -> str:
    true = f", at most {t.length(f.run_out_m, 2)} off its axis" if f.run_out_m >= NO_RUN_OUT_M else ""
    return f"Use {one(f.name)} tube: {t.length(f.outside_m)} outside, {t.length(f.bore_m)} inside{true}"


@says(shaft_joints.BushOrBore)
def _bush(f: shaft_joints.BushOrBore, t: Tongue) -> str:
    return (
        f"Use a coupler or propeller with {one(t.length(f.inside_m))} bore, or a turned bush, {t.length(f.outside_m)} "
        f"outside and {t.length(f.inside_m)} inside"
    )


@says(shaft_joints.ScrewWiderThanShaft)
def _wider(f: shaft_joints.ScrewWiderThanShaft, t: Tongue) -> str:
    return f"{one(t.length(f.screw_m))} screw on {one(t.length(f.shaft_m))} shaft would take half of it away"


fixed(shaft_joints.SmallerScrew, "Use a smaller set screw, or a coupler that clamps")
fixed(shaft_joints.ThickerWall, "Use a coupler with a thicker wall, or a finer screw")


@says(shaft_joints.FlatOfScrew)
def _flat(f: shaft_joints.FlatOfScrew, t: Tongue) -> str:
    turns = f"; {trimmed(f.turns, 2)} turns of thread hold in the coupler's wall" if f.turns is not None else ""
    return (
        f"{f.thread}: {t.length(f.width_m)} wide, {t.length(f.depth_m, 3)} deep; it takes {trimmed(f.mass_kg * 1e3, 2)} g "
        f"off one side, {t.force(f.force_n)} at {t.rpm(f.rpm)} rpm{turns}"
    )


@says(shaft_joints.Whirls)
def _whirl(f: shaft_joints.Whirls, t: Tongue) -> str:
    return (
        f"It whips at {t.rpm(f.critical_rpm)} rpm; the drive turns {t.rpm(f.rpm)}, {t.part(f.part)} of that (75 % is "
        "the limit)"
    )


@says(shaft_joints.SupportOrShaft)
def _support(f: shaft_joints.SupportOrShaft, t: Tongue) -> str:
    thicker = f", or use {one(t.length(f.shaft_m))} shaft" if f.shaft_m else ""
    return f"Add a support that leaves {t.length(f.span_m, 3)} free{thicker}"


@says(shaft_joints.FlexGap)
def _gap(f: shaft_joints.FlexGap, t: Tongue) -> str:
    gap, wanted = t.length(f.gap_m, 2), t.length(f.wanted_m, 2)
    if f.gap_m < f.wanted_m:
        return f"{gap} at the strut; wound up, the flex shortens and jams: it needs {wanted}"
    return f"{gap} at the strut; it needs {wanted} (common practice, no source)"


@says(shaft_joints.PullFlexOut)
def _pull(f: shaft_joints.PullFlexOut, t: Tongue) -> str:
    return f"Pull it {t.length(f.by_m, 2)} out of the coupler"


@says(shaft_joints.ShaftKept)
def _kept(f: shaft_joints.ShaftKept, t: Tongue) -> str:
    return {
        ShaftKeeper.COLLAR: "A collar keeps the shaft in the boat if the coupler slips",
        ShaftKeeper.NOTHING: "Nothing keeps the shaft in the boat if the coupler slips",
        ShaftKeeper.UNKNOWN: "Nothing is known to keep the shaft in the boat if the coupler slips",
    }[f.by]


fixed(shaft_joints.AddCollar, "Add a collar ahead of the strut, a millimetre clear of it")


@says(joints.WireCarries)
def _wire(f: joints.WireCarries, t: Tongue) -> str:
    short = ": short runs only" if f.current_a > f.holds_a else ""
    return (
        f"AWG {f.gauge_awg} is good for {t.current(f.holds_a)} {stint(f.stint, t)} in still air; it carries "
        f"{t.current(f.current_a)}{short}"
    )


@says(joints.ThickerWire)
def _thicker(f: joints.ThickerWire, t: Tongue) -> str:
    return f"Use AWG {f.gauge_awg}"


@says(joints.PinsCarry)
def _pins(f: joints.PinsCarry, t: Tongue) -> str:
    melts = ": solder melts" if f.current_a > f.holds_a else ""
    return (
        f"{t.length(f.pin_m)} pins take {t.current(f.holds_a)} in passes; they carry {t.current(f.current_a)}{melts} "
        "(common practice, no source)"
    )


@says(joints.ThickerPins)
def _thicker_pins(f: joints.ThickerPins, t: Tongue) -> str:
    return f"Use {t.length(f.pin_m)} pins"


@says(joints.CentreMoved)
def _centre(f: joints.CentreMoved, t: Tongue) -> str:
    now = f"{t.length(f.now_m, 3)} ahead of the transom"
    if abs(f.now_m - f.was_m) < joints.SAME_CENTRE_M:
        return f"{now}, where it was"
    way = "further forward" if f.now_m > f.was_m else "further aft"
    return f"{t.length(abs(f.now_m - f.was_m), 2)} {way} than before: {now}"


@says(joints.MovePack)
def _move(f: joints.MovePack, t: Tongue) -> str:
    way = "forward" if f.by_m > 0 else "aft"
    return f"Move the pack {t.length(abs(f.by_m), 2)} {way}, its middle {t.length(f.place_m, 3)} ahead of the transom"


fixed(joints.MoreThanPack, "More than moving the pack can do: use ballast, or move the motor")

_SHAPES: Final = {
    ShapeKind.CAN: "motor",
    ShapeKind.JACKET: "jacket",
    ShapeKind.COUPLER: "coupler",
    ShapeKind.SHAFT: "shaft",
    ShapeKind.FLEX: "flex",
    ShapeKind.DISC: "propeller",
    ShapeKind.PLATE: "mount",
    ShapeKind.ROOM: "motor bay",
    ShapeKind.HOSE: "hose",
    ShapeKind.STRUT: "strut",
}


def shape(s: Shape, t: Tongue) -> str:
    """Label of a shape of the section; empty where it has none."""
    if s.sizes_m is None:
        return ""
    if s.kind is ShapeKind.CLASH:
        return t.length(s.sizes_m[0], 3)
    return f"{_SHAPES[s.kind]} {' x '.join(t.size(size) for size in s.sizes_m)}".strip()


def measure(m: Measure, t: Tongue) -> str:
    """Text of a size on the section."""
    return f"pitch {t.size(m.value_m, 3)}" if m.kind is MeasureKind.PITCH else t.size(m.value_m)
