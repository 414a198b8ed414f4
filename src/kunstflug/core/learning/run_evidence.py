"""What a run showed: readings with their spread, of a setup in the conditions and duty of that day."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.evidence.readings import Reading
from kunstflug.core.setup.knowledge import Owner
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty


class DutyFrom(StrEnum):
    """Where it comes from what was driven."""

    GUESSED = "guessed"
    COUNTED = "counted"  # passes, or minutes on the water
    TIMED = "timed"  # both
    TRACKED = "tracked"


@dataclass(frozen=True, slots=True, kw_only=True)
class RunEvidence:
    """One run.

    Parameters
    ----------
    key : of the run.
    setup : as bought, in the run's own conditions.
    things : key of each part that another boat may have, too.
    outing : runs of one outing share their day.
    duty : what was driven.
    duty_from : who says so.
    charge_known : whether the charge at the start was told.
    """

    key: str
    boat: str
    setup: Setup
    things: Mapping[Owner, str]
    outing: str
    duty: Duty
    readings: tuple[Reading, ...]
    duty_from: DutyFrom = DutyFrom.GUESSED
    charge_known: bool = False
    cooling: CoolingTable | None = field(default=None, compare=False)
