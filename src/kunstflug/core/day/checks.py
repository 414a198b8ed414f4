"""What is looked at before, at and after the pond, by phase, for this boat and setup (common practice, no source)."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.drive.forecast import SHOCK_V
from kunstflug.core.laws.cell import FULL_CELL_V
from kunstflug.core.parts import pack, propeller
from kunstflug.core.parts.hull import Drive, Fitted, Hardware
from kunstflug.core.setup.setup import Setup


class Phase(StrEnum):
    """When."""

    HOME = "home"
    TUB = "tub"
    POND = "pond"
    LANDED = "landed"
    BACK = "back"


class Check(StrEnum):
    """What is looked at; a key stays the same from setup to setup, so that it can be ticked."""

    CELLS_EVEN = "cells-even"
    PACK_SOUND = "pack-sound"
    TRANSMITTER = "transmitter"
    SCREWS = "screws"
    FLEX = "flex"
    IMPELLER = "impeller"
    PROPELLER_EDGE = "propeller-edge"
    PROPELLER_MEND = "propeller-mend"
    HARDWARE_MEND = "hardware-mend"
    BELLOWS = "bellows"
    TRIMS = "trims"
    SERVICE = "service"
    TUB_WATER = "tub-water"
    TUB_LEAK = "tub-leak"
    TUB_WAY = "tub-way"
    FAILSAFE = "failsafe"
    CAP_OFF = "cap-off"
    DRAIN = "drain"
    HATCH = "hatch"
    HATCH_COLD = "hatch-cold"
    LOGGER = "logger"
    RANGE = "range"
    FIN = "fin"
    LINE = "line"
    BOAT = "boat"
    ARM_LAST = "arm-last"
    WATER_SEEN = "water-seen"
    ARM_OUT = "arm-out"
    GUN = "gun"
    RESTING = "resting"
    INSIDE = "inside"
    DISPLAY = "display"
    WROTE = "wrote"
    GREASE = "grease"
    DRY = "dry"
    STORAGE = "storage"
    LOOK = "look"


class Failure(StrEnum):
    """What went wrong on the water, as far as a check could have told."""

    WATER_INSIDE = "water_inside"
    HOT = "hot"
    CAME_LOOSE = "came_loose"
    NO_SIGNAL = "no_signal"
    BLEW_OVER = "blew_over"
    WEAK_PACK = "weak_pack"


ASKED: Final[dict[Failure, tuple[Check, ...]]] = {
    Failure.WATER_INSIDE: (Check.DRAIN, Check.HATCH, Check.HATCH_COLD, Check.BELLOWS, Check.TUB_LEAK),
    Failure.HOT: (Check.CAP_OFF, Check.WATER_SEEN, Check.TUB_WATER),
    Failure.CAME_LOOSE: (Check.SCREWS, Check.FLEX, Check.IMPELLER, Check.PROPELLER_EDGE),
    Failure.NO_SIGNAL: (Check.RANGE, Check.FAILSAFE, Check.TRANSMITTER),
    Failure.BLEW_OVER: (Check.TRIMS, Check.FIN),
    Failure.WEAK_PACK: (Check.CELLS_EVEN, Check.RESTING),
}
"""Which checks are asked about after a failure (common practice, no source)."""


COLD_C: Final = 12.0
"""Below it tape holds badly (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """One check.

    Parameters
    ----------
    caution : whether somebody can be hurt where it is left out.
    """

    check: Check
    phase: Phase
    caution: bool = False


def checks(setup: Setup, service_due: bool, cooled: bool = True) -> tuple[Item, ...]:
    """The checks of a setup, in the order they are made.

    Parameters
    ----------
    service_due : whether a part of the boat is due for service.
    cooled : whether water cools anything.
    """
    jet, hull = setup.hull.drive is Drive.JET, setup.hull
    worn = setup.propeller.condition in propeller.SHAKES
    cold = min(setup.conditions.air_c.value, setup.conditions.water_c.value) < COLD_C
    high = pack.series_cells(setup.pack) * FULL_CELL_V > SHOCK_V
    fin = hull.fin_depth_m is not None and hull.fin_depth_m.value > 0
    rows: Iterable[tuple[Phase, Check, bool, bool]] = (
        (Phase.HOME, Check.SERVICE, service_due, False),
        (Phase.HOME, Check.CELLS_EVEN, True, False),
        (Phase.HOME, Check.PACK_SOUND, True, True),
        (Phase.HOME, Check.TRANSMITTER, True, False),
        (Phase.HOME, Check.SCREWS, True, False),
        (Phase.HOME, Check.IMPELLER if jet else Check.FLEX, True, False),
        (Phase.HOME, Check.PROPELLER_MEND if worn else Check.PROPELLER_EDGE, not jet, True),
        (Phase.HOME, Check.HARDWARE_MEND, hull.hardware is Hardware.DAMAGED, False),
        (Phase.HOME, Check.BELLOWS, True, False),
        (Phase.HOME, Check.TRIMS, True, False),
        (Phase.TUB, Check.TUB_WATER, cooled, False),
        (Phase.TUB, Check.TUB_LEAK, True, False),
        (Phase.TUB, Check.TUB_WAY, True, True),
        (Phase.TUB, Check.FAILSAFE, True, True),
        (Phase.POND, Check.CAP_OFF, cooled, False),
        (Phase.POND, Check.DRAIN, True, False),
        (Phase.POND, Check.HATCH_COLD if cold else Check.HATCH, hull.hatch_tape is not Fitted.OFF, False),
        (Phase.POND, Check.FIN, fin, True),
        (Phase.POND, Check.LOGGER, True, False),
        (Phase.POND, Check.RANGE, True, True),
        (Phase.POND, Check.LINE, True, True),
        (Phase.POND, Check.BOAT, True, True),
        (Phase.POND, Check.ARM_LAST, True, True),
        (Phase.POND, Check.WATER_SEEN, cooled, False),
        (Phase.LANDED, Check.ARM_OUT, True, True),
        (Phase.LANDED, Check.GUN, True, False),
        (Phase.LANDED, Check.RESTING, True, high),
        (Phase.LANDED, Check.INSIDE, True, False),
        (Phase.LANDED, Check.DISPLAY, True, False),
        (Phase.LANDED, Check.WROTE, True, False),
        (Phase.BACK, Check.GREASE, not jet, False),
        (Phase.BACK, Check.DRY, True, False),
        (Phase.BACK, Check.STORAGE, True, True),
        (Phase.BACK, Check.LOOK, True, False),
    )
    return tuple(Item(check=check, phase=phase, caution=caution) for phase, check, needed, caution in rows if needed)


def skipped(failures: Iterable[Failure], items: Iterable[Item], ticked: frozenset[str]) -> tuple[Check, ...]:
    """Checks of these items that were not ticked and could have told of a failure."""
    wanted = {check for failure in failures for check in ASKED[failure]}
    return tuple(item.check for item in items if item.check in wanted and item.check.value not in ticked)
