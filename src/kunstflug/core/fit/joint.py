"""A joint: does it fit, by how much not, and what mends it."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Value


class Fit(StrEnum):
    """What is said of a joint."""

    FITS = "fits"
    NEEDS = "needs"
    CLASHES = "clashes"
    UNKNOWN = "unknown"


class JointKey(StrEnum):
    """The joints of a drive, from the bow to the propeller."""

    ROOM = "room"
    JACKET = "jacket"
    RING = "ring"
    CIRCLE = "circle"
    SCREW = "screw"
    MOTOR_COUPLER = "motor_coupler"
    FLAT = "flat"
    SHAFT_COUPLER = "shaft_coupler"
    WHIRL = "whirl"
    FLEX = "flex"
    COLLAR = "collar"
    PROPELLER = "propeller"
    WIRE = "wire"
    PINS = "pins"
    CENTRE = "centre"


class JointCaution(StrEnum):
    """What can hurt at a joint."""

    SILICONE_GREASE = "silicone_grease"
    GRINDING = "grinding"
    BUNDLED_PLUGS = "bundled_plugs"


PLAY_M: Final = 0.05e-3  # two sizes closer than this are the same size


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """One joint.

    Parameters
    ----------
    off_m : how much is missing or too much [m]; 0 where it fits, and where a length says nothing.
    finding : what was found.
    remedy : what mends it.
    ask : fields of the setup document that would answer it, where it is not measured.
    """

    key: JointKey
    fit: Fit
    finding: Fact
    off_m: float = 0.0
    remedy: Fact | None = None
    caution: JointCaution | None = None
    ask: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class NotMeasured(Fact):
    """A joint that cannot be judged for want of some measures."""

    fields: tuple[str, ...]


def unknown(key: JointKey, **fields: Value | int | None) -> Joint | None:
    """A joint that cannot be judged for want of some measures (``motor__shaft``); None where all are there."""
    missing = tuple(path.replace("__", ".") for path, value in fields.items() if value is None)
    if not missing:
        return None
    return Joint(key=key, fit=Fit.UNKNOWN, finding=NotMeasured(fields=missing), ask=missing)


def metres(value: Value | None) -> float:
    """A value that is known to be there [m]."""
    assert value is not None  # held by unknown()
    return value.value
