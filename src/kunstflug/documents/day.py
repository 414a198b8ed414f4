"""The pond day over the wire: checks, go or wait, the plan of a pass, charging and runs on a time line."""

from datetime import date
from typing import Annotated

from pydantic import Field

from kunstflug.core.day.checks import Phase
from kunstflug.core.day.plan import WaitsFor
from kunstflug.core.day.weather import Waves, Word
from kunstflug.documents.base import Out, Strict
from kunstflug.documents.schools import DutyIn, SchoolsIn

Name = Annotated[str, Field(min_length=1, max_length=80)]


class ReadyIn(Strict):
    """What is planned with a boat, and what the pond is like."""

    day: date
    duty: DutyIn = Field(default_factory=DutyIn)
    schools: SchoolsIn = Field(default_factory=SchoolsIn)
    standing: bool = Field(default=False, description="starts from rest; else flying, out of a turn")
    wind_mps: float = Field(default=2.0, ge=0, le=30)
    water_c: float | None = Field(default=None, ge=0, le=40, description="null for the setup's")
    waves: Waves = Waves.RIPPLES


class DaySaidOut(Out):
    """One word and its reason."""

    word: Word
    words: str


class DayCheckOut(Out):
    """One check."""

    key: str
    phase: Phase
    do: str
    look: str = Field(description="what to see, in one clause; may be empty")
    caution: bool
    done: bool


class DayPhaseOut(Out):
    """Checks of one phase."""

    phase: Phase
    title: str
    checks: list[DayCheckOut]


class PassPlanOut(Out):
    """How to drive a pass; null where the model has no number."""

    standing: bool
    run_up_m: float | None
    run_up_s: float | None
    held_m: float
    lift_m: float | None
    short_m: float
    full_s: float
    cool_s: float | None
    passes: int
    come_in_s: float
    used: float = Field(description="of the pack's charge [1]")
    words: list[str]


class PondLengthOut(Out):
    """A straight that was run before."""

    run_id: int
    words: str
    length_m: float


class ReadyOut(Out):
    """Is everything ready?"""

    setup_id: int
    boat_id: int
    day: date
    word: Word
    said: list[DaySaidOut]
    phases: list[DayPhaseOut]
    asked: list[str] = Field(description="what was skipped before something went wrong")
    plan: PassPlanOut | None = Field(description="null where the duty has no passes or nothing drives")
    ponds: list[PondLengthOut]
    cautions: list[str]


class DayTickIn(Strict):
    """A check, done or not."""

    boat_id: int = Field(ge=1, le=2**31 - 1)
    key: Annotated[str, Field(min_length=1, max_length=40)]
    done: bool


class DayChargerIn(Strict):
    """A charger."""

    name: Name
    most_current_a: float | None = Field(ge=0.1, le=100)
    power_w: float | None = Field(ge=5, le=5000)
    most_cells: int = Field(ge=1, le=24)


class DayPackIn(Strict):
    """A pack and how full it is in the morning."""

    name: Name
    cells: int = Field(ge=1, le=24)
    capacity_ah: float = Field(gt=0.05, le=100)
    cell_ohm: float = Field(gt=1e-5, le=1)
    charge: float = Field(ge=0, le=1, description="state of charge [1]")
    most_c: float = Field(
        default=1.0, ge=0.1, le=15, description="charging current over capacity that the maker allows"
    )


class DayRunIn(Strict):
    """A run that is planned."""

    setup_id: int = Field(ge=1, le=2**31 - 1)
    pack: Name
    late_min: float = Field(ge=0, le=600, description="how much longer it takes than planned")
    not_before_min: float = Field(ge=0, le=1440, description="minutes after midnight; 0 for any time")


class DayIn(Strict):
    """Packs, chargers and runs of a day, in the order of the runs."""

    starts_min: float = Field(ge=0, le=1439, description="charging begins, minutes after midnight")
    water_min: float = Field(ge=0, le=1439, description="boats may run, minutes after midnight")
    hands_min: float = Field(ge=0, le=240, description="between landing and the next start")
    chargers: list[DayChargerIn] = Field(max_length=6)
    packs: list[DayPackIn] = Field(max_length=24)
    runs: list[DayRunIn] = Field(max_length=40)


class DayChargeOut(Out):
    """A charge on the time line; minutes after midnight."""

    pack: str
    charger: str
    start_min: float
    end_min: float
    current_a: float
    from_charge: float
    to_charge: float


class DayRunOut(Out):
    """A run on the time line; minutes after midnight, null where it never comes to be."""

    setup_id: int
    boat: str
    setup: str
    pack: str
    ready_min: float | None
    start_min: float | None
    end_min: float | None
    cool_min: float = Field(description="the boat cools for so long afterwards")
    waits_for: WaitsFor
    words: str


class DayOut(Out):
    """A day as it comes out."""

    charges: list[DayChargeOut]
    runs: list[DayRunOut]
    end_min: float
    words: list[str] = Field(description="what holds it up, what stays full, what cannot be")
    cautions: list[str]


class DayView(Out):
    """A day: what was planned and what comes of it."""

    day: date
    saved: bool = Field(description="else it is a proposal")
    input: DayIn
    plan: DayOut
