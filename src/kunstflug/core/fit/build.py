"""The build list: the steps of putting a drive together, in their order, only those that a setup needs."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core import pack
from kunstflug.core.drive.setup import Setup
from kunstflug.core.fit import mechanics as m
from kunstflug.core.fit.joints import Fit, Joint
from kunstflug.core.fit.parts import ShaftKind

HARDWARE: Final = ("motor", "mount", "coupler", "shaft", "jacket", "propeller", "controller", "pack", "wiring")
SHARP: Final = (
    "Propellers are sharp and start without warning: boat in a stand, arming plug last, hands, hair and sleeves clear."
)
GRIND: Final = "Grinding: eyes, sparks, hot parts; magnets pull filings. The maker's sheet comes first."
BERYLLIUM: Final = "Beryllium copper: dust and fumes are toxic. Do not sand, grind or polish it dry; send it out, or use proper protection."
SOLDER: Final = "Soldering: fumes, hot parts, and never on a pack's two leads at once."
HIGH: Final = "Over 60 V DC: shock hazard and arcs. This is work for licensed practice; local codes come first."
LIPO: Final = "LiPo: charge attended, in a fire-safe place, balanced; never a swollen, wet or crashed pack. The maker's sheet comes first."


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step of the list.

    Parameters
    ----------
    key : stays the same from setup to setup, so that it can be ticked.
    part : the part it belongs to; a swap lists the steps of what changes.
    """

    key: str
    part: str
    title: str
    inspect: str
    caution: str = ""


def _torque(thread: str, share: float) -> str:
    return f"{thread} to {share * m.tightening_torque_nm(thread, m.preload_n(thread)):.1f} Nm"


def build_list(setup: Setup, joints: tuple[Joint, ...], changed: frozenset[str] | None = None) -> tuple[Step, ...]:
    """Steps in their order.

    Parameters
    ----------
    changed : parts that change in a swap; None for a whole build. A part that stays where it is has no step, but what
        has to come off to reach a new one has.
    """
    steps = [*_off(changed), *_bench(setup, joints), *_join(setup, joints), *_water(setup, joints), *_wires(setup)]
    if changed is None:
        return tuple(s for s in steps if s.part != "off")
    touched = _touched(changed)
    return tuple(s for s in steps if s.part in touched or s.part in ("off", "all"))


def _touched(changed: frozenset[str]) -> frozenset[str]:
    """Parts that have steps when some change: a new motor means its joints and its water again."""
    more = set(changed)
    if "motor" in changed:
        more |= {"mount", "coupler", "jacket", "wiring"}
    if "coupler" in changed:
        more |= {"shaft"}
    if "controller" in changed or "pack" in changed:
        more |= {"wiring"}
    return frozenset(more)


def _off(changed: frozenset[str] | None) -> list[Step]:
    if not changed:
        return []
    names = ", ".join(kind for kind in HARDWARE if kind in changed)
    return [
        Step(key="off", part="off", title=f"Take out what changes: {names}; leave all else where it is",
             inspect="arming plug out, pack out of the boat; mark the wires and the strut's setting before anything is loosened",
             caution=SHARP)
    ]  # fmt: skip


def _joint(joints: tuple[Joint, ...], key: str) -> Joint | None:
    return next((j for j in joints if j.key == key), None)


def _bench(setup: Setup, joints: tuple[Joint, ...]) -> list[Step]:
    found = [
        Step(key="clean", part="motor", title="Clean mount, shafts and bores of oil and old threadlocker",
             inspect="no burr on any shaft, no play in the motor's bearings"),
    ]  # fmt: skip
    flat = _joint(joints, "flat")
    if flat and flat.numbers:
        width, depth = flat.numbers.get("width", 0.0) * 1e3, flat.numbers.get("depth", 0.0) * 1e3
        found.append(
            Step(key="mark", part="coupler", title="Push the coupler on and mark the set screw's place on the motor's shaft",
                 inspect="the screw meets the shaft, not its end")
        )  # fmt: skip
        found.append(
            Step(key="flat", part="coupler", title=f"Grind the flat: {width:.1f} mm wide, {depth:.2f} mm deep; cover the motor",
                 inspect=f"no wider than the screw; {flat.sentence}", caution=GRIND)
        )  # fmt: skip
    for key, words in (
        ("motor-coupler", "motor's shaft"),
        ("shaft-coupler", "propeller shaft"),
        ("propeller", "propeller"),
    ):
        joint = _joint(joints, key)
        if joint and joint.fit is Fit.NEEDS:
            found.append(
                Step(key=f"shim-{key}", part="coupler" if key != "propeller" else "propeller",
                     title=f"Cut and slit the shim for the {words}: {joint.remedy}",
                     inspect="spun by hand it runs true: 0.1 mm on the dial at the most")
            )  # fmt: skip
    return found


def _join(setup: Setup, joints: tuple[Joint, ...]) -> list[Step]:
    mount, coupler = setup.mount, setup.coupler
    screw = _joint(joints, "screw")
    return [
        Step(key="motor", part="mount", title=f"Bolt the motor down: {_torque(mount.screw, 0.5)}, medium threadlocker, crosswise",
             inspect=screw.sentence if screw and screw.fit is not Fit.UNKNOWN
             else "measure the screw against the thread's depth: none may reach the winding"),
        Step(key="coupler", part="coupler", title=f"Coupler on: {_torque(coupler.set_screw, 0.6)} on the flat, medium threadlocker",
             inspect="it runs true, a hair's breadth clear of the mount"),
        *_shaft_steps(setup, joints),
        Step(key="propeller", part="propeller", title="Propeller on its dog, nut with a drop of medium threadlocker",
             inspect="balanced, edges whole, seated in the dog; no rub on rudder or fin", caution=f"{SHARP} {BERYLLIUM}"),
    ]  # fmt: skip


def _shaft_steps(setup: Setup, joints: tuple[Joint, ...]) -> list[Step]:
    flex, collar = _joint(joints, "flex"), _joint(joints, "collar")
    found = [
        Step(key="grease", part="shaft", title="Grease the shaft along its length: waterproof grease in the tube, none on rubber",
             inspect="it turns by hand without a catch"),
    ]  # fmt: skip
    if setup.shaft.kind is ShaftKind.FLEX:
        wanted = flex.numbers.get("wanted", 0.002) * 1e3 if flex else 2.0
        found.append(
            Step(key="gap", part="shaft", title=f"Set the gap at the strut: {wanted:.1f} mm",
                 inspect=flex.sentence if flex and flex.fit is not Fit.UNKNOWN else "pulled and let go it springs back to the gap")
        )  # fmt: skip
    if collar:
        found.append(
            Step(
                key="collar",
                part="shaft",
                title="Collar ahead of the strut, a millimetre clear",
                inspect=collar.sentence,
            )
        )
    return found


def _water(setup: Setup, joints: tuple[Joint, ...]) -> list[Step]:
    ring = _joint(joints, "ring")
    found = []
    if setup.jacket.bore_m is not None:
        found.append(
            Step(key="jacket", part="jacket", title="Rings into the jacket with silicone grease, jacket over the can",
                 inspect=ring.sentence if ring else "no ring is twisted or cut",
                 caution="Silicone grease only: oil attacks rubber. No sharp tool in the groove.")
        )  # fmt: skip
    found.append(
        Step(key="hoses", part="jacket", title="Hoses: pickup, first block, second block, outlet; short, no kink, each nipple greased",
             inspect="blow through it: air comes out at the side the driver sees; thin-walled fittings with threadlocker and little torque")
    )  # fmt: skip
    return found


def _wires(setup: Setup) -> list[Step]:
    high = pack.series_cells(setup.pack) * 4.2 > 60
    return [
        Step(key="plugs", part="wiring", title="Three motor plugs apart from each other, each sleeved",
             inspect="no strand out, no solder on the wire beyond the cup", caution=SOLDER),
        Step(key="polarity", part="wiring", title="Polarity: red on plus, checked with a meter, before any pack is plugged in",
             inspect="series leads: the sum of both packs, each cell by itself", caution=HIGH if high else ""),
        Step(key="pack", part="pack", title="Pack in its place, strapped; every cell measured",
             inspect="within 20 mV of each other, none swollen", caution=LIPO),
        Step(key="direction", part="all", title="Direction: a touch of throttle on a low pack; wrong way round swaps any two motor wires",
             inspect="water would be pushed astern", caution=SHARP),
    ]  # fmt: skip


def first_power(setup: Setup) -> tuple[Step, ...]:
    """First power on a low pack: checks in their order, and what to do when one fails."""
    cells = pack.series_cells(setup.pack)
    low = max(min(cells, 3) - 1, 2) if cells > 2 else cells
    return (
        Step(key="fp-stand", part="all", title="Boat in a stand, propeller clear all round or taken off",
             inspect="nobody in the propeller's plane", caution=SHARP),
        Step(key="fp-pack", part="pack", title=f"A low pack: {low} cells instead of {cells}",
             inspect="lowest charge that arms the controller; a fuse or a lamp in line if there is one", caution=LIPO),
        Step(key="fp-radio", part="all", title="Transmitter on first, throttle at rest, steering straight",
             inspect="the servo follows, both ends without a stall"),
        Step(key="fp-arm", part="all", title="Arming plug last; count the tones",
             inspect="cells told as they are. Silent: polarity, plug, throttle not at rest, receiver without power"),
        Step(key="fp-touch", part="all", title="A touch of throttle",
             inspect="wrong direction: swap any two motor wires. It cogs: a motor plug is open, timing too low, or a winding is hurt; "
             "stop after one try"),
        Step(key="fp-shake", part="all", title="A quarter throttle for two seconds, hand on the deck",
             inspect="vibration means a bent shaft, a shim out of true or a propeller to balance"),
        Step(key="fp-heat", part="all", title="Arming plug out; feel plugs, controller and motor",
             inspect="nothing warm after seconds without load; what is warm is wrong"),
        Step(key="fp-full", part="all", title="The same with the full pack, a touch only",
             inspect="then the held-back test before the pond",
             caution=HIGH if cells * 4.2 > 60 else ""),
    )  # fmt: skip
