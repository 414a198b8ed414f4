"""The build list in words: what to do, what to look at, what can hurt."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.fit.build import Caution, LowPack, SetGap, Step, StepKey, TakeOut, Tighten
from kunstflug.core.fit.shaft_joints import FlatOfScrew
from kunstflug.wording.fields import KINDS
from kunstflug.wording.say import join, say, says
from kunstflug.wording.tongue import Tongue, trimmed

CAUTIONS: Final = {
    Caution.SHARP: "Propellers are sharp and start without warning: boat in a stand, arming plug last, hands, hair and "
    "sleeves clear.",
    Caution.GRINDING: "Grinding: protect your eyes; sparks and hot parts. Magnets pull filings. The maker's sheet comes "
    "first.",
    Caution.BERYLLIUM: "Beryllium copper: dust and fumes are toxic. Do not sand, grind or polish it dry; send it out, or "
    "use proper protection.",
    Caution.SOLDERING: "Soldering: fumes and hot parts. Never solder both leads of a pack at once.",
    Caution.HIGH_VOLTAGE: "Over 60 V DC: shock hazard and arcs. This is work for licensed practice; local codes come "
    "first.",
    Caution.LIPO: "LiPo: charge attended, in a fire-safe place, balanced. Never use a swollen, wet or crashed pack. The "
    "maker's sheet comes first.",
    Caution.SILICONE_ONLY: "Silicone grease only: oil attacks rubber. No sharp tool in the groove.",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Doing:
    """What to do, and what to look at; ``{}`` takes the step's numbers or its joint's finding."""

    title: str
    inspect: str = ""
    unknown: str = ""  # to look at where the joint is not measured


DOINGS: Final = {
    StepKey.OFF: Doing(
        title="Take out what changes: {}. Leave the rest where it is",
        inspect="Arming plug out, pack out of the boat. Mark wires and strut setting before you loosen anything",
    ),
    StepKey.CLEAN: Doing(
        title="Clean mount, shafts and bores of oil and old threadlocker",
        inspect="No burr on any shaft, no play in the motor's bearings",
    ),
    StepKey.MARK: Doing(
        title="Push the coupler on and mark the set screw on the motor shaft",
        inspect="The screw meets the shaft, not its end",
    ),
    StepKey.FLAT: Doing(title="Grind the flat, {}; cover the motor", inspect="No wider than the screw. {}"),
    StepKey.SHIM_MOTOR_COUPLER: Doing(
        title="Cut and slit the shim for the motor shaft", inspect="{}. Spun by hand it runs within 0.1 mm on the dial"
    ),
    StepKey.SHIM_SHAFT_COUPLER: Doing(
        title="Cut and slit the shim for the propeller shaft",
        inspect="{}. Spun by hand it runs within 0.1 mm on the dial",
    ),
    StepKey.SHIM_PROPELLER: Doing(
        title="Cut and slit the shim for the propeller", inspect="{}. Spun by hand it runs within 0.1 mm on the dial"
    ),
    StepKey.MOTOR: Doing(
        title="Bolt the motor down crosswise: {}, medium threadlocker",
        inspect="{}",
        unknown="Measure the screw against the thread depth: it must not reach the winding",
    ),
    StepKey.COUPLER: Doing(
        title="Fit the coupler: set screw {} on the flat, medium threadlocker",
        inspect="It runs true, just clear of the mount",
    ),
    StepKey.GREASE: Doing(
        title="Grease the shaft along its length: waterproof grease in the tube, none on rubber",
        inspect="It turns freely by hand",
    ),
    StepKey.GAP: Doing(
        title="Set the gap at the strut: {}",
        inspect="{}",
        unknown="Pull the flex and let go: it springs back to the gap",
    ),
    StepKey.COLLAR: Doing(title="Fit the collar ahead of the strut, a millimetre clear", inspect="{}"),
    StepKey.PROPELLER: Doing(
        title="Propeller onto its drive dog, nut with a drop of medium threadlocker",
        inspect="Balanced, edges whole, seated in the dog; it clears rudder and fin",
    ),
    StepKey.JACKET: Doing(
        title="O-rings into the jacket with silicone grease, jacket over the can",
        inspect="{}",
        unknown="No O-ring is twisted or cut",
    ),
    StepKey.HOSES: Doing(
        title="Fit the hoses: pickup, first block, second block, outlet; short, no kinks, nipples greased",
        inspect="Blow through: air comes out on the side the driver sees. Thin-walled fittings: threadlocker, little torque",
    ),
    StepKey.PLUGS: Doing(
        title="Keep the three motor connectors apart, each sleeved",
        inspect="No loose strand, no solder on the wire beyond the cup",
    ),
    StepKey.POLARITY: Doing(
        title="Check polarity with a meter before you connect any pack: red to plus",
        inspect="Series leads: the sum of both packs, and each cell by itself",
    ),
    StepKey.PACK: Doing(
        title="Strap the pack in its place and measure every cell",
        inspect="Within 20 mV of each other, none swollen",
    ),
    StepKey.DIRECTION: Doing(
        title="Check the direction with a touch of throttle on a low pack; if wrong, swap any two motor wires",
        inspect="It would push water astern",
    ),
    StepKey.POWER_STAND: Doing(
        title="Boat in a stand, propeller clear all round or taken off", inspect="Nobody in the propeller's plane"
    ),
    StepKey.POWER_PACK: Doing(
        title="Use a low pack: {}",
        inspect="The lowest charge that arms the controller; a fuse or a lamp in line if you have one",
    ),
    StepKey.POWER_RADIO: Doing(
        title="Transmitter on first, throttle at rest, steering straight",
        inspect="The servo follows to both ends without stalling",
    ),
    StepKey.POWER_ARM: Doing(
        title="Arming plug last; count the tones",
        inspect="The tones match the cells. Silent: check polarity, connectors, throttle at rest, receiver power",
    ),
    StepKey.POWER_TOUCH: Doing(
        title="A touch of throttle",
        inspect="Wrong direction: swap any two motor wires. If it cogs, a motor connector is open, the timing is too low "
        "or a winding is damaged: stop after one try",
    ),
    StepKey.POWER_SHAKE: Doing(
        title="A quarter throttle for two seconds, hand on the deck",
        inspect="Vibration means a bent shaft, a shim out of true or an unbalanced propeller",
    ),
    StepKey.POWER_HEAT: Doing(
        title="Arming plug out; feel connectors, controller and motor",
        inspect="Nothing gets warm in seconds without load. If it does, something is wrong",
    ),
    StepKey.POWER_FULL: Doing(
        title="The same with the full pack, a touch only", inspect="Then the tub test, before the pond"
    ),
}


@says(Tighten)
def _tighten(f: Tighten, t: Tongue) -> str:
    return f"{f.thread} to {trimmed(f.torque_nm, 2)} Nm"


@says(TakeOut)
def _take_out(f: TakeOut, t: Tongue) -> str:
    return join([KINDS[part].lower() for part in f.parts])


@says(LowPack)
def _low(f: LowPack, t: Tongue) -> str:
    return f"{f.cells} cells instead of {f.instead_of}"


@says(SetGap)
def _gap(f: SetGap, t: Tongue) -> str:
    return t.length(f.gap_m, 2)


def title(step: Step, t: Tongue) -> str:
    """What to do."""
    about = say(step.about, t) if step.about else ""
    if step.joint and isinstance(step.joint.finding, FlatOfScrew):
        flat = step.joint.finding
        about = f"{t.length(flat.width_m)} wide, {t.length(flat.depth_m, 3)} deep"
    return DOINGS[step.key].title.format(about)


def inspect(step: Step, t: Tongue) -> str:
    """What to look at."""
    doing = DOINGS[step.key]
    if step.joint is None:
        return doing.unknown or doing.inspect
    joint = step.joint
    found = joint.remedy if step.key.startswith("shim-") and joint.remedy else joint.finding
    return doing.inspect.format(say(found, t))


def caution(step: Step) -> str:
    """What can hurt at a step; empty for nothing."""
    return " ".join(CAUTIONS[c] for c in step.cautions)
