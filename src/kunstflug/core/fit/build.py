"""The build list: the steps of putting a drive together, in their order, only those that a setup needs."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.drive.forecast import SHOCK_V
from kunstflug.core.fit.joint import Fit, Joint, JointKey
from kunstflug.core.fit.motor_joints import CAN_TORQUE_PART
from kunstflug.core.fit.shaft_joints import LEAST_GAP_M, FlatOfScrew, FlexGap
from kunstflug.core.laws import mechanics as m
from kunstflug.core.laws.cell import FULL_CELL_V
from kunstflug.core.parts import pack
from kunstflug.core.parts.joining import ShaftKind
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup

HARDWARE: Final = ("motor", "mount", "coupler", "shaft", "jacket", "propeller", "controller", "pack", "wiring")
COUPLER_TORQUE_PART: Final = 0.6  # of what the set screw itself takes (common practice, no source)
ALL: Final = "all"
OFF: Final = "off"


class StepKey(StrEnum):
    """The steps of building and of first power; a key stays the same from setup to setup, so that it can be ticked."""

    OFF = "off"
    CLEAN = "clean"
    MARK = "mark"
    FLAT = "flat"
    SHIM_MOTOR_COUPLER = "shim-motor-coupler"
    SHIM_SHAFT_COUPLER = "shim-shaft-coupler"
    SHIM_PROPELLER = "shim-propeller"
    MOTOR = "motor"
    COUPLER = "coupler"
    GREASE = "grease"
    GAP = "gap"
    COLLAR = "collar"
    PROPELLER = "propeller"
    JACKET = "jacket"
    HOSES = "hoses"
    PLUGS = "plugs"
    POLARITY = "polarity"
    PACK = "pack"
    DIRECTION = "direction"
    POWER_STAND = "fp-stand"
    POWER_PACK = "fp-pack"
    POWER_RADIO = "fp-radio"
    POWER_ARM = "fp-arm"
    POWER_TOUCH = "fp-touch"
    POWER_SHAKE = "fp-shake"
    POWER_HEAT = "fp-heat"
    POWER_FULL = "fp-full"


class Caution(StrEnum):
    """What can hurt at a step."""

    SHARP = "sharp"
    GRINDING = "grinding"
    BERYLLIUM = "beryllium"
    SOLDERING = "soldering"
    HIGH_VOLTAGE = "high_voltage"
    LIPO = "lipo"
    SILICONE_ONLY = "silicone_only"


@dataclass(frozen=True, slots=True, kw_only=True)
class Tighten(Fact):
    """A thread and the torque it is tightened with."""

    thread: str
    torque_nm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeOut(Fact):
    """Parts that come out of the boat."""

    parts: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class LowPack(Fact):
    """A low pack instead of the full one."""

    cells: int
    instead_of: int


@dataclass(frozen=True, slots=True, kw_only=True)
class SetGap(Fact):
    """The gap to set at the strut."""

    gap_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step of a list.

    Parameters
    ----------
    part : the part it belongs to; a swap lists the steps of what changes.
    about : its numbers.
    joint : the joint whose finding is to be looked at.
    """

    key: StepKey
    part: str
    about: Fact | None = None
    joint: Joint | None = None
    cautions: tuple[Caution, ...] = ()


def _tighten(thread: str, share: float) -> Tighten:
    return Tighten(thread=thread, torque_nm=share * m.tightening_torque_nm(thread, m.preload_n(thread)))


def build_list(setup: Setup, joints: tuple[Joint, ...], changed: frozenset[str] | None = None) -> tuple[Step, ...]:
    """Steps in their order.

    Parameters
    ----------
    changed : parts that change in a swap; None for a whole build. A part that stays where it is has no step, but what
        has to come off to reach a new one has.
    """
    by_key = {j.key: j for j in joints}
    steps = [*_off(changed), *_bench(by_key), *_join(setup, by_key), *_water(setup, by_key), *_wires(setup)]
    if changed is None:
        return tuple(s for s in steps if s.part != OFF)
    touched = _touched(changed)
    return tuple(s for s in steps if s.part in touched or s.part in (OFF, ALL))


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
    parts = tuple(kind for kind in HARDWARE if kind in changed)
    return [Step(key=StepKey.OFF, part=OFF, about=TakeOut(parts=parts), cautions=(Caution.SHARP,))]


def _bench(joints: dict[JointKey, Joint]) -> list[Step]:
    found, flat = [Step(key=StepKey.CLEAN, part="motor")], joints.get(JointKey.FLAT)
    if flat and isinstance(flat.finding, FlatOfScrew):
        found.append(Step(key=StepKey.MARK, part="coupler"))
        found.append(Step(key=StepKey.FLAT, part="coupler", joint=flat, cautions=(Caution.GRINDING,)))
    for key, step, part in (
        (JointKey.MOTOR_COUPLER, StepKey.SHIM_MOTOR_COUPLER, "coupler"),
        (JointKey.SHAFT_COUPLER, StepKey.SHIM_SHAFT_COUPLER, "coupler"),
        (JointKey.PROPELLER, StepKey.SHIM_PROPELLER, "propeller"),
    ):
        joint = joints.get(key)
        if joint and joint.fit is Fit.NEEDS:
            found.append(Step(key=step, part=part, joint=joint))
    return found


def _known(joint: Joint | None) -> Joint | None:
    return joint if joint is not None and joint.fit is not Fit.UNKNOWN else None


def _join(setup: Setup, joints: dict[JointKey, Joint]) -> list[Step]:
    mount, coupler = setup.mount, setup.coupler
    screw = _known(joints.get(JointKey.SCREW))
    sharp = (Caution.SHARP, Caution.BERYLLIUM)
    return [
        Step(key=StepKey.MOTOR, part="mount", about=_tighten(mount.screw, CAN_TORQUE_PART), joint=screw),
        Step(key=StepKey.COUPLER, part="coupler", about=_tighten(coupler.set_screw, COUPLER_TORQUE_PART)),
        *_shaft_steps(setup, joints),
        Step(key=StepKey.PROPELLER, part="propeller", cautions=sharp),
    ]


def _shaft_steps(setup: Setup, joints: dict[JointKey, Joint]) -> list[Step]:
    flex, collar = _known(joints.get(JointKey.FLEX)), joints.get(JointKey.COLLAR)
    found = [Step(key=StepKey.GREASE, part="shaft")]
    if setup.shaft.kind is ShaftKind.FLEX:
        wanted = flex.finding.wanted_m if flex and isinstance(flex.finding, FlexGap) else LEAST_GAP_M
        found.append(Step(key=StepKey.GAP, part="shaft", about=SetGap(gap_m=wanted), joint=flex))
    if collar:
        found.append(Step(key=StepKey.COLLAR, part="shaft", joint=collar))
    return found


def _water(setup: Setup, joints: dict[JointKey, Joint]) -> list[Step]:
    found = []
    if setup.jacket.bore_m is not None:
        ring = joints.get(JointKey.RING)
        found.append(Step(key=StepKey.JACKET, part="jacket", joint=ring, cautions=(Caution.SILICONE_ONLY,)))
    found.append(Step(key=StepKey.HOSES, part="jacket"))
    return found


def _high(setup: Setup) -> tuple[Caution, ...]:
    return (Caution.HIGH_VOLTAGE,) if pack.series_cells(setup.pack) * FULL_CELL_V > SHOCK_V else ()


def _wires(setup: Setup) -> list[Step]:
    return [
        Step(key=StepKey.PLUGS, part="wiring", cautions=(Caution.SOLDERING,)),
        Step(key=StepKey.POLARITY, part="wiring", cautions=_high(setup)),
        Step(key=StepKey.PACK, part="pack", cautions=(Caution.LIPO,)),
        Step(key=StepKey.DIRECTION, part=ALL, cautions=(Caution.SHARP,)),
    ]


def first_power(setup: Setup) -> tuple[Step, ...]:
    """First power on a low pack: checks in their order."""
    cells = pack.series_cells(setup.pack)
    low = max(min(cells, 3) - 1, 2) if cells > 2 else cells
    about = LowPack(cells=low, instead_of=cells)
    return (
        Step(key=StepKey.POWER_STAND, part=ALL, cautions=(Caution.SHARP,)),
        Step(key=StepKey.POWER_PACK, part="pack", about=about, cautions=(Caution.LIPO,)),
        Step(key=StepKey.POWER_RADIO, part=ALL),
        Step(key=StepKey.POWER_ARM, part=ALL),
        Step(key=StepKey.POWER_TOUCH, part=ALL),
        Step(key=StepKey.POWER_SHAKE, part=ALL),
        Step(key=StepKey.POWER_HEAT, part=ALL),
        Step(key=StepKey.POWER_FULL, part=ALL, cautions=_high(setup)),
    )
