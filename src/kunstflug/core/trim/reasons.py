"""Why a boat does what it does: the causes, how usual each is, and how the boat's own numbers move the odds of each.

Chances are common practice, no source.
"""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.parts.hull import CHARACTERS, HullType


class Reason(StrEnum):
    """Why it may have done so."""

    MASS_FORWARD = "mass_forward"
    MASS_AFT = "mass_aft"
    STERN_LIFT = "stern_lift"
    STERN_PRESSED = "stern_pressed"
    DRIVE_DEEP = "drive_deep"
    DRIVE_SHALLOW = "drive_shallow"
    RUDDER_CENTRED = "rudder_centred"
    RUDDER_CROOKED = "rudder_crooked"
    RUDDER_SMALL = "rudder_small"
    FIN_SMALL = "fin_small"
    FIN_BIG = "fin_big"
    STRAKES = "strakes"
    TORQUE = "torque"
    AIR_LIFT = "air_lift"
    LEAK = "leak"
    PROPELLER = "propeller"  # nicked, bent or out of balance
    ROUGH_WATER = "rough_water"
    PLAY = "play"  # in rudder, strut or linkage
    TOO_FAST = "too_fast"  # for this hull as it stands
    TRIGGER = "trigger"  # feathered: the power comes and goes
    ONCE = "once"  # a gust, a wake, chance: nothing is wrong


PRIOR: Final[dict[Reason, float]] = {
    Reason.MASS_FORWARD: 0.10,
    Reason.MASS_AFT: 0.11,
    Reason.STERN_LIFT: 0.10,
    Reason.STERN_PRESSED: 0.08,
    Reason.DRIVE_DEEP: 0.08,
    Reason.DRIVE_SHALLOW: 0.08,
    Reason.RUDDER_CENTRED: 0.02,
    Reason.RUDDER_CROOKED: 0.07,
    Reason.RUDDER_SMALL: 0.06,
    Reason.FIN_SMALL: 0.07,
    Reason.FIN_BIG: 0.06,
    Reason.STRAKES: 0.03,
    Reason.TORQUE: 0.07,
    Reason.AIR_LIFT: 0.07,
    Reason.LEAK: 0.05,
    Reason.PROPELLER: 0.05,
    Reason.ROUGH_WATER: 0.08,
    Reason.PLAY: 0.05,
    Reason.TOO_FAST: 0.04,
    Reason.TRIGGER: 0.03,
    Reason.ONCE: 0.03,
}
"""How often it is so, on a boat that is not right yet."""
BY_TYPE: Final[dict[HullType, dict[Reason, float]]] = {
    kind: {Reason(key): times for key, times in character.leans.items()} for kind, character in CHARACTERS.items()
}
"""How much likelier a cause is on a hull of a type."""
WIDEST: Final = 4.0  # by which the boat's own numbers move the odds of a cause, at most


@dataclass(frozen=True, slots=True, kw_only=True)
class Margins:
    """The boat's own numbers; None where nobody knows.

    Parameters
    ----------
    blow_over, torque, porpoising, hop : part of what turns it over, rolls it, makes it porpoise or hop [1].
    chine_walk, hook, washout : the same by practice only [1].
    centre : of mass over what is usual for its length, less 1 [1].
    depth : of the shaft under the water over the propeller's diameter [1]; 0 is half the turn.
    stern_lift : of rake and shaft angle over the boat's weight [1].
    rudder_centred, waves, propeller_worn, hardware_bent, no_fin : as known.
    once : whether it was seen in one run only, and several others of the same setup went well.
    """

    blow_over: float | None = None
    torque: float | None = None
    porpoising: float | None = None
    hop: float | None = None
    chine_walk: float | None = None
    hook: float | None = None
    washout: float | None = None
    centre: float | None = None
    depth: float | None = None
    stern_lift: float | None = None
    rudder_centred: bool | None = None
    waves: bool | None = None
    propeller_worn: bool | None = None
    hardware_bent: bool | None = None
    no_fin: bool | None = None
    once: bool | None = None


GRADES: Final[tuple[tuple[str, Reason, float, float], ...]] = (
    ("blow_over", Reason.AIR_LIFT, 3.0, 0.6),
    ("torque", Reason.TORQUE, 3.0, 0.4),
    ("porpoising", Reason.STERN_PRESSED, 2.5, 0.8),
    ("hop", Reason.STERN_LIFT, 2.0, 0.5),
    ("chine_walk", Reason.TORQUE, 1.0, 0.5),
    ("hook", Reason.FIN_BIG, 1.0, 0.5),
    ("washout", Reason.FIN_SMALL, 1.0, 0.5),
    ("washout", Reason.RUDDER_SMALL, 0.7, 0.5),
    ("centre", Reason.MASS_FORWARD, 6.0, 0.0),
    ("centre", Reason.MASS_AFT, -6.0, 0.0),
    ("depth", Reason.DRIVE_DEEP, 8.0, 0.0),
    ("depth", Reason.DRIVE_SHALLOW, -8.0, 0.0),
    ("stern_lift", Reason.STERN_LIFT, 10.0, 0.06),
    ("stern_lift", Reason.STERN_PRESSED, -10.0, 0.06),
)
"""Number, cause, and by how much its odds move (logarithm) for each 1 past a middle; our own grading."""
TELLS: Final[tuple[tuple[str, Reason, float, float], ...]] = (
    ("rudder_centred", Reason.RUDDER_CENTRED, 1.38, -1.38),
    ("waves", Reason.ROUGH_WATER, 1.2, -3.0),
    ("propeller_worn", Reason.PROPELLER, 1.2, -0.2),
    ("hardware_bent", Reason.RUDDER_CROOKED, 1.2, -0.1),
    ("hardware_bent", Reason.PLAY, 1.2, -0.1),
    ("no_fin", Reason.FIN_SMALL, 1.0, -0.1),
    ("once", Reason.ONCE, 2.5, -2.5),
)
"""What is known, the cause, and by how much its odds move where it is so, and where it is not."""
FARTHEST: Final = 2.0  # a part of a limit past which more of it tells no more


def leanings(margins: Margins) -> dict[Reason, float]:
    """By how much the boat's own numbers move the odds of each cause [1]."""
    moved: dict[Reason, float] = {}
    most = math.log(WIDEST)
    for field, reason, weight, middle in GRADES:
        value = getattr(margins, field)
        if value is not None:
            by = min(max(weight * (min(value, FARTHEST) - middle), -most), most)
            moved[reason] = moved.get(reason, 0.0) + by
    for field, reason, yes, no in TELLS:
        known = getattr(margins, field)
        if known is not None:
            moved[reason] = moved.get(reason, 0.0) + (yes if known else no)
    return {reason: math.exp(by) for reason, by in moved.items()}
