"""Every joint of a drive: does it fit, by how many millimetres not, and what mends it."""

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

from kunstflug.core import motor as motors
from kunstflug.core.drive.limits import WIRE_HOLDS_C
from kunstflug.core.drive.setup import Setup, centre_of_mass
from kunstflug.core.fit import mechanics as m
from kunstflug.core.fit.parts import Kept, ShaftKind
from kunstflug.core.pack import pack_mass
from kunstflug.core.placement import WALL_BEHIND_M, shift_to_restore_m
from kunstflug.core.values import Value
from kunstflug.core.wiring import PINS_A, silicone_outside_m, thinnest_awg, wire_current_a


class Fit(StrEnum):
    """What is said of a joint."""

    FITS = "fits"
    NEEDS = "needs"
    CLASHES = "clashes"
    UNKNOWN = "not measured"


PLAY_M: Final = 0.05e-3  # two sizes closer than this are the same size


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """One joint.

    Parameters
    ----------
    off_m : how much is missing or too much [m]; 0 where it fits, and where a length says nothing.
    ask : fields of the setup document that would answer it, where it is not measured.
    numbers : what its drawing is made from [m, unless the name says so].
    """

    key: str
    title: str
    fit: Fit
    off_m: float = 0.0
    sentence: str
    remedy: str = ""
    caution: str = ""
    ask: tuple[str, ...] = ()
    numbers: dict[str, float] = field(default_factory=dict)


def _mm(metres: float, digits: int = 2) -> str:
    text = f"{metres * 1e3:.{digits}f}"
    return (text.rstrip("0").rstrip(".") if "." in text else text) + " mm"


def _unknown(key: str, title: str, *fields: tuple[str, Value | int | None]) -> Joint | None:
    """A joint that cannot be judged for want of some measures; None where all are there."""
    missing = tuple(path for path, value in fields if value is None)
    if not missing:
        return None
    words = " and ".join(f"the {path.split('.')[0]}'s {path.split('.')[1].replace('_', ' ')}" for path in missing)
    return Joint(key=key, title=title, fit=Fit.UNKNOWN, sentence=f"wants {words}", ask=missing)


def _v(value: Value | None) -> float:
    assert value is not None  # held by _unknown
    return value.value


def joints(setup: Setup, rpm: float, current_a: float, before: Setup | None = None) -> tuple[Joint, ...]:
    """All joints of a setup, along the drive from the bow to the propeller.

    Parameters
    ----------
    rpm, current_a : what the drive turns and draws at full throttle.
    before : the setup it came from, for the centre of mass that is to be kept.
    """
    found = (
        _room(setup),
        _jacket(setup),
        _ring(setup),
        _circle(setup),
        _screw(setup),
        _shaft_in_bore(
            "motor-coupler", "Motor shaft in the coupler", "motor.shaft", setup.motor.shaft_m,
            "coupler.motor_bore", setup.coupler.motor_bore_m,
        ),
        _flat(setup, rpm),
        _shaft_in_bore(
            "shaft-coupler", "Propeller shaft in the coupler", "shaft.diameter", setup.shaft.diameter_m,
            "coupler.shaft_bore", setup.coupler.shaft_bore_m,
        ),
        _whirl(setup, rpm),
        _flex(setup),
        _collar(setup),
        _shaft_in_bore(
            "propeller", "Propeller on its shaft", "shaft.end", setup.shaft.end_m, "propeller.bore",
            setup.propeller.bore_m,
        ),
        _wire(setup, current_a),
        _pins(setup, current_a),
        _centre(setup, before),
    )  # fmt: skip
    return tuple(j for j in found if j is not None)


def _room(setup: Setup) -> Joint:
    """The can in the hull, length, width and height."""
    place, can, long = setup.placement, setup.motor.can_diameter_m.value, setup.motor.can_length_m.value
    unknown = _unknown("room", "Motor in the hull", ("placement.room_length", place.room_length_m))
    if unknown:
        return unknown
    around = max(can, setup.jacket.outside_m.value if setup.jacket.outside_m else can)
    nipple = setup.jacket.nipple_m.value if setup.jacket.nipple_m else 0.0
    wants = {"length": (long + WALL_BEHIND_M, place.room_length_m), "width": (around, place.room_width_m),
             "height": (around + nipple, place.room_height_m)}  # fmt: skip
    numbers = {f"{name}_wanted": want for name, (want, _) in wants.items()}
    numbers |= {f"{name}_there": room.value for name, (_, room) in wants.items() if room is not None}
    over = {name: want - room.value for name, (want, room) in wants.items() if room is not None and want > room.value}
    if over:
        worst = max(over, key=lambda name: over[name])
        extra = {"length": " with 12 mm for wires behind it", "height": " with its nipples", "width": ""}[worst]
        mend = {
            "length": "a shorter can, or the mount moved aft and the shaft cut",
            "width": "a jacket of a smaller outside, or no jacket",
            "height": "the nipples turned sideways, or lower ones",
        }[worst]
        words = ", ".join(f"{_mm(v, 1)} too {'long' if k == 'length' else 'wide' if k == 'width' else 'high'}"
                          for k, v in over.items())  # fmt: skip
        return Joint(
            key="room", title="Motor in the hull", fit=Fit.CLASHES, off_m=over[worst], numbers=numbers,
            sentence=f"{words}: {_mm(wants[worst][0], 1)}{extra} in {_mm(_v(wants[worst][1]), 1)}", remedy=mend,
        )  # fmt: skip
    return Joint(
        key="room", title="Motor in the hull", fit=Fit.FITS, numbers=numbers,
        sentence=f"{_mm(_v(place.room_length_m) - long - WALL_BEHIND_M, 1)} to spare in length",
    )  # fmt: skip


def _jacket(setup: Setup) -> Joint | None:
    """The jacket's bore over the can."""
    bore, can = setup.jacket.bore_m, setup.motor.can_diameter_m.value
    if setup.motor.kind is motors.MotorKind.OUTRUNNER:
        if bore is None:
            return None
        return Joint(
            key="jacket", title="Jacket on the can", fit=Fit.CLASHES, off_m=0.0,
            sentence="an outrunner's can turns: no jacket goes on it", remedy="cool it at the mount",
        )  # fmt: skip
    unknown = _unknown("jacket", "Jacket on the can", ("jacket.bore", bore))
    if unknown:
        return unknown
    play = (_v(bore) - can) / 2
    numbers = {"bore": _v(bore), "can": can, "gap": play}
    if play < 0:
        return Joint(
            key="jacket", title="Jacket on the can", fit=Fit.CLASHES, off_m=-2 * play, numbers=numbers,
            sentence=f"the can of {_mm(can)} is {_mm(-2 * play)} too thick for a bore of {_mm(_v(bore))}",
            remedy=f"a jacket for a {_mm(can, 0)} can; boring this one out takes its wall and its grooves",
        )  # fmt: skip
    if play > 1.5e-3:
        return Joint(
            key="jacket", title="Jacket on the can", fit=Fit.NEEDS, off_m=play, numbers=numbers,
            sentence=f"{_mm(play)} of air all round: no ring bridges that well",
            remedy=f"a jacket for a {_mm(can, 0)} can, or a sleeve of {_mm(_v(bore) - 0.2e-3)} outside",
        )  # fmt: skip
    return Joint(
        key="jacket", title="Jacket on the can", fit=Fit.FITS, numbers=numbers,
        sentence=f"{_mm(play)} all round, for the rings to bridge",
    )  # fmt: skip


def _ring(setup: Setup) -> Joint | None:
    """The ring between jacket and can: squeeze and stretch, and those that would do."""
    jacket, can = setup.jacket, setup.motor.can_diameter_m.value
    if jacket.bore_m is None or setup.motor.kind is motors.MotorKind.OUTRUNNER or jacket.bore_m.value < can:
        return None
    unknown = _unknown("ring", "Ring of the jacket", ("jacket.groove", jacket.groove_m))
    if unknown:
        return unknown
    space = (jacket.bore_m.value - can) / 2 + _v(jacket.groove_m)
    would = m.rings(can, space)
    names = ", ".join(r.name for r in would[:3])
    mend = (
        f"rings that do: {names}"
        if would
        else f"no standard ring; a cord of {_mm(m.section_for_m(space))} cut and glued"
    )
    numbers = {"space": space, "can": can}
    if jacket.ring_section_m is None:
        return Joint(
            key="ring", title="Ring of the jacket", fit=Fit.UNKNOWN, numbers=numbers, ask=("jacket.ring_section",),
            sentence=f"{_mm(space)} of space between the groove's floor and the can", remedy=mend,
        )  # fmt: skip
    pressed = m.squeeze(jacket.ring_section_m.value, space)
    numbers |= {"section": jacket.ring_section_m.value, "squeeze": pressed}
    inside = jacket.ring_inside_m.value if jacket.ring_inside_m else None
    over = m.stretch(inside, can) if inside else None
    said = f"pressed {pressed:.0%} (15 to 30 % seals)"
    said += f", stretched {over:.1%} (to 5 %)" if over is not None else ""
    if pressed < m.SQUEEZE[0]:
        return Joint(key="ring", title="Ring of the jacket", fit=Fit.NEEDS, off_m=space * (1 - 0.15 / max(pressed, 0.01))
                     if pressed > 0 else space - jacket.ring_section_m.value, numbers=numbers,
                     sentence=f"{said}: it leaks", remedy=mend)  # fmt: skip
    if pressed > m.SQUEEZE[1] or (over is not None and over > m.STRETCH[1]):
        return Joint(key="ring", title="Ring of the jacket", fit=Fit.NEEDS, numbers=numbers,
                     off_m=jacket.ring_section_m.value - space / 0.7 if pressed > m.SQUEEZE[1] else 0.0,
                     sentence=f"{said}: it tears when the jacket goes on", remedy=mend)  # fmt: skip
    if over is not None and over < m.STRETCH[0]:
        return Joint(key="ring", title="Ring of the jacket", fit=Fit.NEEDS, numbers=numbers, off_m=-over * (inside or 0.0),
                     sentence=f"{said}: it hangs loose and is cut", remedy=mend)  # fmt: skip
    return Joint(
        key="ring", title="Ring of the jacket", fit=Fit.FITS, numbers=numbers, sentence=said,
        caution="silicone grease only: oil attacks the rubber; no sharp tool in the groove",
    )  # fmt: skip


def _circle(setup: Setup) -> Joint:
    """Bolt circle of the motor on that of the mount."""
    title, mount, circle = "Bolt circle", setup.mount, setup.motor.circle_m
    unknown = _unknown("circle", title, ("motor.circle", circle), ("mount.circle", mount.circle_m))
    if unknown:
        return unknown
    low = _v(mount.circle_m)
    high = mount.circle_to_m.value if mount.circle_to_m else low
    wants = _v(circle)
    numbers = {"motor": wants, "low": low, "high": high}
    holes, there = setup.motor.holes, mount.holes
    if low - 0.25e-3 <= wants <= high + 0.25e-3:  # a clearance hole of M3 gives a quarter
        if holes and there and (there % holes and holes % there):
            return Joint(
                key="circle", title=title, fit=Fit.NEEDS, numbers=numbers,
                sentence=f"{holes} holes in the motor, {there} in the mount: they do not line up",
                remedy=f"drill for {holes}: {_mm(m.chord_m(wants, holes))} from hole to hole",
            )  # fmt: skip
        return Joint(key="circle", title=title, fit=Fit.FITS, numbers=numbers, sentence=f"{_mm(wants)} on {_mm(wants)}")
    off = low - wants if wants < low else wants - high
    span = _mm(low) if low == high else f"{_mm(low)} to {_mm(high)}"
    holes = holes or 4
    return Joint(
        key="circle", title=title, fit=Fit.CLASHES, off_m=off, numbers=numbers,
        sentence=f"the motor wants {_mm(wants)}, the mount has {span}: {_mm(off)} off",
        remedy=f"a plate between with both circles, or drill the mount: {holes} holes {_mm(m.chord_m(wants, holes))} apart",
    )  # fmt: skip


def _screw(setup: Setup) -> Joint:
    """Length of the motor's screws against the winding."""
    title, mount, depth = "Motor screws", setup.mount, setup.motor.thread_depth_m
    unknown = _unknown(
        "screw", title, ("motor.thread_depth", depth), ("mount.plate", mount.plate_m),
        ("mount.screw_length", mount.screw_length_m),
    )  # fmt: skip
    if unknown:
        return unknown
    inside = _v(mount.screw_length_m) - _v(mount.plate_m)
    least = m.thread_diameter_m(mount.screw)  # one diameter of thread in steel (common practice, no source)
    good = [s for s in m.SCREW_LENGTHS_M if least <= s - _v(mount.plate_m) <= _v(depth) - 0.3e-3]
    mend = (
        f"{mount.screw} x {good[-1] * 1e3:.0f} mm"
        if good
        else f"no {mount.screw} length does: a thicker or thinner plate"
    )
    numbers = {"length": _v(mount.screw_length_m), "plate": _v(mount.plate_m), "depth": _v(depth), "inside": inside}
    torque = m.tightening_torque_nm(mount.screw, m.preload_n(mount.screw))
    if inside > _v(depth):
        return Joint(
            key="screw", title=title, fit=Fit.CLASHES, off_m=inside - _v(depth), numbers=numbers,
            sentence=f"the screw reaches {_mm(inside)} into the motor, the winding begins at {_mm(_v(depth))}: "
            f"{_mm(inside - _v(depth))} too long, it kills the motor",
            remedy=mend,
        )  # fmt: skip
    if inside < least:
        return Joint(
            key="screw", title=title, fit=Fit.NEEDS, off_m=least - inside, numbers=numbers,
            sentence=f"only {_mm(max(inside, 0.0))} of thread hold, {_mm(least)} are wanted", remedy=mend,
        )  # fmt: skip
    return Joint(
        key="screw", title=title, fit=Fit.FITS, numbers=numbers,
        sentence=f"{_mm(inside)} of thread hold, {_mm(_v(depth) - inside)} before the winding; to {torque / 2:.1f} Nm "
        "with threadlocker (half of what the screw itself takes: the can is soft)",
    )  # fmt: skip


def _shaft_in_bore(
    key: str, title: str, shaft_path: str, shaft: Value | None, bore_path: str, bore: Value | None
) -> Joint:
    """A round shaft in a round bore: fits, takes a shim, or does not go in."""
    unknown = _unknown(key, title, (shaft_path, shaft), (bore_path, bore))
    if unknown:
        return unknown
    thin, wide = _v(shaft), _v(bore)
    numbers = {"shaft": thin, "bore": wide}
    if abs(wide - thin) <= PLAY_M:
        return Joint(key=key, title=title, fit=Fit.FITS, numbers=numbers, sentence=f"{_mm(thin, 3)} in {_mm(wide, 3)}")
    if wide < thin:
        return Joint(
            key=key, title=title, fit=Fit.CLASHES, off_m=thin - wide, numbers=numbers,
            sentence=f"a shaft of {_mm(thin, 3)} does not go into a bore of {_mm(wide, 3)}: {_mm(thin - wide)} too thick",
            remedy=f"a coupler or propeller with a bore of {_mm(thin, 3)}; reaming only on a lathe, or it runs out of true",
        )  # fmt: skip
    good = m.shims(wide, thin)
    if good:
        tube, play = good[0]
        numbers |= {"tube_outside": tube.outside_m, "tube_bore": tube.bore_m, "run_out": play}
        return Joint(
            key=key, title=title, fit=Fit.NEEDS, off_m=wide - thin, numbers=numbers,
            sentence=f"{_mm(wide - thin)} of play: it needs a shim",
            remedy=f"a tube {tube.name}: {_mm(tube.outside_m, 3)} outside, {_mm(tube.bore_m, 3)} inside, "
            f"off its axis by {_mm(play, 3)} at the most",
        )  # fmt: skip
    return Joint(
        key=key, title=title, fit=Fit.CLASHES, off_m=wide - thin, numbers=numbers,
        sentence=f"{_mm(wide - thin)} of play, and no tube that is sold fills it true: refused, it would shake at speed",
        remedy=f"a coupler or propeller with a bore of {_mm(thin, 3)}, or a turned bush {_mm(wide, 3)} outside and "
        f"{_mm(thin, 3)} inside",
    )  # fmt: skip


def _flat(setup: Setup, rpm: float) -> Joint | None:
    """The flat for the set screw: no wider than the screw."""
    shaft, coupler = setup.motor.shaft_m, setup.coupler
    if shaft is None or coupler.motor_bore_m is None or shaft.value > coupler.motor_bore_m.value + PLAY_M:
        return None
    width = m.thread_diameter_m(coupler.set_screw)
    title = f"Flat for the {coupler.set_screw} set screw"
    if width >= shaft.value:
        return Joint(
            key="flat", title=title, fit=Fit.NEEDS, off_m=width - shaft.value,
            sentence=f"a screw of {_mm(width, 1)} on a shaft of {_mm(shaft.value, 1)} would take half of it away",
            remedy="a smaller set screw, or a coupler that clamps", numbers={"shaft": shaft.value, "width": width},
        )  # fmt: skip
    depth = m.flat_depth_m(shaft.value, width)
    grip = coupler.grip_m.value if coupler.grip_m else 3 * width
    mass, unbalance = m.flat_unbalance(shaft.value, depth, min(grip, 2 * width))
    force = m.unbalance_force_n(unbalance, rpm)
    numbers = {"shaft": shaft.value, "width": width, "depth": depth, "length": min(grip, 2 * width)}
    wall = (coupler.outside_m.value - coupler.motor_bore_m.value) / 2 if coupler.outside_m else None
    pitch = m.PITCH_M[coupler.set_screw]
    threads = f"; {wall / pitch:.1f} turns of thread hold in the coupler's wall" if wall else ""
    thin = wall is not None and wall / pitch < 3
    return Joint(
        key="flat", title=title, fit=Fit.NEEDS if thin else Fit.FITS, numbers=numbers,
        off_m=3 * pitch - (wall or 0.0) if thin else 0.0,
        sentence=f"{_mm(width, 1)} wide is {_mm(depth)} deep: {mass * 1e3:.2f} g off one side, {force:.1f} N at "
        f"{rpm:.0f} rpm{threads}",
        remedy="a coupler with a thicker wall, or a finer screw" if thin else "",
        caution="cover the motor: magnets pull filings; eyes and hands; no wider than the screw, for balance and thread",
    )  # fmt: skip


def _whirl(setup: Setup, rpm: float) -> Joint | None:
    """First critical speed of a solid shaft between its supports."""
    shaft = setup.shaft
    if shaft.kind is ShaftKind.FLEX:
        return None
    unknown = _unknown(
        "whirl", "Whirl of the shaft", ("shaft.diameter", shaft.diameter_m), ("shaft.span", shaft.span_m)
    )
    if unknown:
        return unknown
    critical = m.first_whirl_rpm(_v(shaft.diameter_m), _v(shaft.span_m))
    part = rpm / critical
    numbers = {"diameter": _v(shaft.diameter_m), "span": _v(shaft.span_m), "critical_rpm": critical}
    if part > 0.75:
        longest = m.longest_span_m(_v(shaft.diameter_m), rpm)
        thick = next((d for d in (3.175e-3, 4e-3, 4.76e-3, 5e-3, 6e-3, 6.35e-3, 8e-3)
                      if rpm <= 0.75 * m.first_whirl_rpm(d, _v(shaft.span_m))), None)  # fmt: skip
        also = f", or a shaft of {_mm(thick)}" if thick else ""
        return Joint(
            key="whirl", title="Whirl of the shaft", fit=Fit.CLASHES, off_m=_v(shaft.span_m) - longest, numbers=numbers,
            sentence=f"it whips at {critical:.0f} rpm, the drive turns {rpm:.0f}: {part:.0%}",
            remedy=f"a support that leaves {_mm(longest, 0)} free{also}",
        )  # fmt: skip
    return Joint(
        key="whirl", title="Whirl of the shaft", fit=Fit.FITS, numbers=numbers,
        sentence=f"it whips at {critical:.0f} rpm, the drive turns {part:.0%} of that (three quarters are allowed)",
    )  # fmt: skip


LEAST_GAP_M: Final = 2.0e-3
GAP_PER_LENGTH: Final = 0.006  # a wound flex shortens by about half a percent (common practice, no source)


def _flex(setup: Setup) -> Joint | None:
    """The gap that a wound shaft needs to shorten."""
    shaft = setup.shaft
    if shaft.kind is not ShaftKind.FLEX:
        return None
    unknown = _unknown("flex", "Gap for the flex", ("shaft.length", shaft.length_m), ("shaft.gap", shaft.gap_m))
    if unknown:
        return unknown
    want = max(LEAST_GAP_M, GAP_PER_LENGTH * _v(shaft.length_m))
    numbers = {"length": _v(shaft.length_m), "gap": _v(shaft.gap_m), "wanted": want}
    if _v(shaft.gap_m) < want:
        return Joint(
            key="flex", title="Gap for the flex", fit=Fit.NEEDS, off_m=want - _v(shaft.gap_m), numbers=numbers,
            sentence=f"{_mm(_v(shaft.gap_m), 1)} at the strut; wound up it shortens and jams, {_mm(want, 1)} are wanted",
            remedy=f"pull it {_mm(want - _v(shaft.gap_m), 1)} out of the coupler, or cut it longer",
        )  # fmt: skip
    return Joint(
        key="flex", title="Gap for the flex", fit=Fit.FITS, numbers=numbers,
        sentence=f"{_mm(_v(shaft.gap_m), 1)} at the strut, {_mm(want, 1)} are wanted (common practice, no source)",
    )  # fmt: skip


def _collar(setup: Setup) -> Joint | None:
    if setup.shaft.kind is ShaftKind.FLEX and setup.shaft.collar is Kept.UNKNOWN and setup.shaft.length_m is None:
        return None
    if setup.shaft.collar is Kept.COLLAR:
        return Joint(
            key="collar", title="Collar", fit=Fit.FITS, sentence="the shaft stays in the boat if the coupler slips"
        )
    said = "nothing keeps" if setup.shaft.collar is Kept.NOTHING else "nothing is known to keep"
    return Joint(
        key="collar", title="Collar", fit=Fit.NEEDS, sentence=f"{said} the shaft in the boat if the coupler slips",
        remedy="a collar ahead of the strut, a millimetre clear of it",
    )  # fmt: skip


def _wire(setup: Setup, current_a: float) -> Joint:
    """Wire against the current it holds for minutes."""
    gauge = thinnest_awg(setup.wiring)
    air = setup.conditions.air_c.value
    holds = wire_current_a(WIRE_HOLDS_C, gauge, silicone_outside_m(gauge), air)
    if current_a <= holds:
        return Joint(
            key="wire", title="Wire", fit=Fit.FITS, sentence=f"AWG {gauge} holds {holds:.0f} A for minutes, {current_a:.0f} A run"
        )  # fmt: skip
    thick = next(
        (
            g
            for g in range(gauge - gauge % 2, 1, -2)
            if current_a <= wire_current_a(WIRE_HOLDS_C, g, silicone_outside_m(g), air)
        ),
        2,
    )
    return Joint(
        key="wire", title="Wire", fit=Fit.NEEDS,
        sentence=f"AWG {gauge} holds {holds:.0f} A for minutes, {current_a:.0f} A run: short runs only", remedy=f"AWG {thick}",
    )  # fmt: skip


def _pins(setup: Setup, current_a: float) -> Joint:
    """Plugs against the current of passes."""
    unknown = _unknown("pins", "Plugs", ("wiring.connector_diameter", setup.wiring.connector_diameter_m))
    if unknown:
        return unknown
    pin = _v(setup.wiring.connector_diameter_m) * 1e3
    holds = max((amps for mm, amps in PINS_A if mm <= pin + 0.01), default=25.0)
    caution = "three plugs in a bundle cook each other: space them" if setup.wiring.plugs == "bundled" else ""
    if current_a <= holds:
        return Joint(
            key="pins", title="Plugs", fit=Fit.FITS, caution=caution,
            sentence=f"{pin:g} mm pins take {holds:.0f} A in passes, {current_a:.0f} A run (common practice, no source)",
        )  # fmt: skip
    better = next((mm for mm, amps in PINS_A if amps >= current_a), PINS_A[-1][0])
    return Joint(
        key="pins", title="Plugs", fit=Fit.NEEDS, caution=caution,
        sentence=f"{pin:g} mm pins take {holds:.0f} A in passes, {current_a:.0f} A run: solder melts",
        remedy=f"{better:g} mm pins",
    )  # fmt: skip


def _centre(setup: Setup, before: Setup | None) -> Joint | None:
    """Centre of mass against where it was, and the pack's shift that restores it."""
    if before is None:
        return None
    if setup.placement.shell_m is None or setup.placement.pack_m is None:
        changed = setup.motor != before.motor or setup.pack != before.pack
        if not changed:
            return None
        return Joint(
            key="centre", title="Centre of mass", fit=Fit.UNKNOWN, ask=("placement.shell", "placement.pack", "placement.motor"),
            sentence="mass was moved; wants the balance of the empty hull and the places of the parts",
        )  # fmt: skip
    was, now = centre_of_mass(before).value, centre_of_mass(setup).value
    numbers = {"was": was, "now": now}
    if abs(now - was) < 2e-3:
        return Joint(key="centre", title="Centre of mass", fit=Fit.FITS, numbers=numbers,
                     sentence=f"{_mm(now, 0)} ahead of the transom, where it was")  # fmt: skip
    shift = shift_to_restore_m(setup.all_up_mass_kg.value, pack_mass(setup.pack).value, now, was)
    place = setup.placement.pack_m.value + shift
    way = "forward" if shift > 0 else "aft"
    remedy = f"the pack {_mm(abs(shift), 0)} {way}, its middle {_mm(place, 0)} ahead of the transom"
    if not 0.02 < place < setup.hull.length_m.value - 0.05:
        remedy = "more than the pack can do: ballast, or the motor elsewhere"
    return Joint(
        key="centre", title="Centre of mass", fit=Fit.NEEDS, off_m=abs(now - was), numbers=numbers,
        sentence=f"{_mm(abs(now - was), 1)} {'ahead of' if now > was else 'behind'} where it was: {_mm(now, 0)} ahead of the transom",
        remedy=remedy,
    )  # fmt: skip
