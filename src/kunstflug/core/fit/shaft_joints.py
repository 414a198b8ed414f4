"""Shafts: in their bores, the flat, whirl, the flex's gap, the collar."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.fit.joint import PLAY_M, Fit, Joint, JointCaution, JointKey, metres, unknown
from kunstflug.core.laws import mechanics as m
from kunstflug.core.parts.joining import ShaftKeeper, ShaftKind
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.setup import Setup

LEAST_GAP_M: Final = 2.0e-3
GAP_PER_LENGTH: Final = 0.006  # a wound flex shortens by about half a percent (common practice, no source)
WHIRL_PART: Final = 0.75
LEAST_TURNS: Final = 3
SHAFTS_M: Final = (3.175e-3, 4e-3, 4.76e-3, 5e-3, 6e-3, 6.35e-3, 8e-3)


@dataclass(frozen=True, slots=True, kw_only=True)
class ShaftFits(Fact):
    """A shaft fits its bore."""

    shaft_m: float
    bore_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ShaftTooThick(Fact):
    """A shaft does not go into its bore."""

    shaft_m: float
    bore_m: float
    over_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ShaftLoose(Fact):
    """A shaft has play; ``fills`` says whether a tube that is sold fills it true."""

    play_m: float
    fills: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BoreFor(Fact):
    """A part with the right bore."""

    bore_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ShimOf(Fact):
    """A tube as a shim, and how far the shaft may then stand off its axis."""

    name: str
    outside_m: float
    bore_m: float
    run_out_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BushOrBore(Fact):
    """A part with the right bore, or a turned bush."""

    outside_m: float
    inside_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ScrewWiderThanShaft(Fact):
    """A set screw that would take half of the shaft away."""

    screw_m: float
    shaft_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallerScrew(Fact):
    """A smaller set screw, or a coupler that clamps."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatOfScrew(Fact):
    """The flat for a set screw, what it takes off, and how it shakes; turns of thread in the coupler's wall."""

    thread: str
    width_m: float
    depth_m: float
    mass_kg: float
    force_n: float
    rpm: float
    turns: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ThickerWall(Fact):
    """A coupler with a thicker wall, or a finer screw."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Whirls(Fact):
    """First critical speed of a shaft, and the part of it that is run."""

    critical_rpm: float
    rpm: float
    part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SupportOrShaft(Fact):
    """A support that leaves so much free, or a thicker shaft."""

    span_m: float
    shaft_m: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class FlexGap(Fact):
    """Gap at the strut against what a wound flex needs."""

    gap_m: float
    wanted_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PullFlexOut(Fact):
    """The flex pulled out of the coupler by so much."""

    by_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ShaftKept(Fact):
    """What keeps the shaft in the boat if the coupler slips."""

    by: ShaftKeeper


@dataclass(frozen=True, slots=True, kw_only=True)
class AddCollar(Fact):
    """A collar ahead of the strut."""


def shaft_in_bore(key: JointKey, shaft: Value | None, bore: Value | None, **fields: Value | None) -> Joint:
    """A round shaft in a round bore: fits, takes a shim, or does not go in."""
    missing = unknown(key, **fields)
    if missing:
        return missing
    thin, wide = metres(shaft), metres(bore)
    if abs(wide - thin) <= PLAY_M:
        return Joint(key=key, fit=Fit.FITS, finding=ShaftFits(shaft_m=thin, bore_m=wide))
    if wide < thin:
        thick = ShaftTooThick(shaft_m=thin, bore_m=wide, over_m=thin - wide)
        return Joint(key=key, fit=Fit.CLASHES, off_m=thin - wide, finding=thick, remedy=BoreFor(bore_m=thin))
    good = m.shims(wide, thin)
    loose = ShaftLoose(play_m=wide - thin, fills=bool(good))
    if not good:
        bush = BushOrBore(outside_m=wide, inside_m=thin)
        return Joint(key=key, fit=Fit.CLASHES, off_m=wide - thin, finding=loose, remedy=bush)
    best = good[0]
    shim = ShimOf(name=best.tube.name, outside_m=best.tube.outside_m, bore_m=best.tube.bore_m, run_out_m=best.run_out_m)
    return Joint(key=key, fit=Fit.NEEDS, off_m=wide - thin, finding=loose, remedy=shim)


def motor_coupler(setup: Setup) -> Joint:
    """The motor's shaft in the coupler."""
    shaft, bore = setup.motor.shaft_m, setup.coupler.motor_bore_m
    return shaft_in_bore(JointKey.MOTOR_COUPLER, shaft, bore, motor__shaft=shaft, coupler__motor_bore=bore)


def shaft_coupler(setup: Setup) -> Joint:
    """The propeller shaft in the coupler."""
    shaft, bore = setup.shaft.diameter_m, setup.coupler.shaft_bore_m
    return shaft_in_bore(JointKey.SHAFT_COUPLER, shaft, bore, shaft__diameter=shaft, coupler__shaft_bore=bore)


def propeller(setup: Setup) -> Joint:
    """The propeller on its shaft."""
    shaft, bore = setup.shaft.end_m, setup.propeller.bore_m
    return shaft_in_bore(JointKey.PROPELLER, shaft, bore, shaft__end=shaft, propeller__bore=bore)


def flat(setup: Setup, rpm: float) -> Joint | None:
    """The flat for the set screw: no wider than the screw."""
    shaft, coupler = setup.motor.shaft_m, setup.coupler
    if shaft is None or coupler.motor_bore_m is None or shaft.value > coupler.motor_bore_m.value + PLAY_M:
        return None
    width = m.thread_diameter_m(coupler.set_screw)
    if width >= shaft.value:
        wide = ScrewWiderThanShaft(screw_m=width, shaft_m=shaft.value)
        return Joint(key=JointKey.FLAT, fit=Fit.NEEDS, off_m=width - shaft.value, finding=wide, remedy=SmallerScrew())
    depth = m.flat_depth_m(shaft.value, width)
    grip = coupler.grip_m.value if coupler.grip_m else 3 * width
    taken = m.flat_unbalance(shaft.value, depth, min(grip, 2 * width))
    wall = (coupler.outside_m.value - coupler.motor_bore_m.value) / 2 if coupler.outside_m else None
    pitch = m.PITCH_M[coupler.set_screw]
    thin = wall is not None and wall / pitch < LEAST_TURNS
    finding = FlatOfScrew(
        thread=coupler.set_screw,
        width_m=width,
        depth_m=depth,
        mass_kg=taken.mass_kg,
        force_n=m.unbalance_force_n(taken.unbalance_kg_m, rpm),
        rpm=rpm,
        turns=wall / pitch if wall is not None else None,
    )
    return Joint(
        key=JointKey.FLAT,
        fit=Fit.NEEDS if thin else Fit.FITS,
        off_m=LEAST_TURNS * pitch - (wall or 0.0) if thin else 0.0,
        finding=finding,
        remedy=ThickerWall() if thin else None,
        caution=JointCaution.GRINDING,
    )


def whirl(setup: Setup, rpm: float) -> Joint | None:
    """First critical speed of a solid shaft between its supports."""
    shaft = setup.shaft
    if shaft.kind is ShaftKind.FLEX:
        return None
    missing = unknown(JointKey.WHIRL, shaft__diameter=shaft.diameter_m, shaft__span=shaft.span_m)
    if missing:
        return missing
    thick, span = metres(shaft.diameter_m), metres(shaft.span_m)
    critical = m.first_whirl_rpm(thick, span)
    finding = Whirls(critical_rpm=critical, rpm=rpm, part=rpm / critical)
    if rpm / critical <= WHIRL_PART:
        return Joint(key=JointKey.WHIRL, fit=Fit.FITS, finding=finding)
    longest = m.longest_span_m(thick, rpm, WHIRL_PART)
    thicker = next((d for d in SHAFTS_M if rpm <= WHIRL_PART * m.first_whirl_rpm(d, span)), None)
    mend = SupportOrShaft(span_m=longest, shaft_m=thicker)
    return Joint(key=JointKey.WHIRL, fit=Fit.CLASHES, off_m=span - longest, finding=finding, remedy=mend)


def flex(setup: Setup) -> Joint | None:
    """The gap that a wound shaft needs to shorten."""
    shaft = setup.shaft
    if shaft.kind is not ShaftKind.FLEX:
        return None
    missing = unknown(JointKey.FLEX, shaft__length=shaft.length_m, shaft__gap=shaft.gap_m)
    if missing:
        return missing
    gap = metres(shaft.gap_m)
    wanted = max(LEAST_GAP_M, GAP_PER_LENGTH * metres(shaft.length_m))
    finding = FlexGap(gap_m=gap, wanted_m=wanted)
    if gap >= wanted:
        return Joint(key=JointKey.FLEX, fit=Fit.FITS, finding=finding)
    return Joint(
        key=JointKey.FLEX, fit=Fit.NEEDS, off_m=wanted - gap, finding=finding, remedy=PullFlexOut(by_m=wanted - gap)
    )


def collar(setup: Setup) -> Joint | None:
    """What keeps the shaft in the boat."""
    shaft = setup.shaft
    if shaft.kind is ShaftKind.FLEX and shaft.collar is ShaftKeeper.UNKNOWN and shaft.length_m is None:
        return None
    finding = ShaftKept(by=shaft.collar)
    if shaft.collar is ShaftKeeper.COLLAR:
        return Joint(key=JointKey.COLLAR, fit=Fit.FITS, finding=finding)
    return Joint(key=JointKey.COLLAR, fit=Fit.NEEDS, finding=finding, remedy=AddCollar())
