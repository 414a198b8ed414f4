"""Bodies of requests."""

import math
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field

from kunstflug.core.choose.backward import FreePart, Wish
from kunstflug.core.drive.schools import Schools
from kunstflug.core.laws.sound import Loudness, measured
from kunstflug.core.learning.causes import Cause
from kunstflug.documents.base import Strict
from kunstflug.documents.quantity import LengthQuantity, MassQuantity, Quantity, SpeedQuantity, TemperatureQuantity
from kunstflug.documents.run import TypedRun
from kunstflug.documents.schools import DutyIn, SchoolsIn, judging
from kunstflug.documents.setup import SetupDocument
from kunstflug.documents.vocabulary import Vocabulary
from kunstflug.documents.water import CircuitIn
from kunstflug.services.match.search import KindsIn, RangesIn
from kunstflug.services.run.run import MOST_READINGS


class ChangeIn(Strict):
    """One change: a path of the setup document and its new value."""

    path: str = Field(max_length=60)
    value: Any = None


class PlanIn(Strict):
    """A setup with the duty it is to do and the schools it is judged by."""

    document: SetupDocument
    duty: DutyIn = Field(default_factory=DutyIn)
    schools: SchoolsIn = Field(default_factory=SchoolsIn)

    def judging(self) -> Schools:
        """The schools, and the stint of the duty they are held against."""
        return judging(self.schools, self.duty)


class DraftIn(PlanIn):
    """A setup with changes to try."""

    changes: list[ChangeIn] = Field(default_factory=list, max_length=40)
    explained: bool = Field(default=True, description="with dangers, guesses, doubts, caveats and differences")


class NoiseIn(Strict):
    """How loud a boat was measured to be, and how loud the law said it was as it was then, at one distance [dB(A)]."""

    level_db: float = Field(ge=20, le=150)
    law_db: float = Field(ge=0, le=200)

    def core(self) -> Loudness:
        """How much louder than the law."""
        return measured(self.level_db, self.law_db)


class InClass(Strict):
    """The class that a boat is raced in, and how loud it was measured to be."""

    class_name: str = Field(default="", max_length=60, description="of the club's; empty for none")
    noise: NoiseIn | None = None

    def loudness(self) -> Loudness:
        """How loud the boat is beside the law."""
        return self.noise.core() if self.noise else Loudness()


class NextIn(InClass, PlanIn):
    """A plan to change one thing of, in a class."""


class CircuitSolveIn(PlanIn):
    """A circuit to solve with a setup's heat."""

    circuit: CircuitIn


class ComparedIn(PlanIn):
    """Parts to compare in this boat."""

    parts: list[Annotated[int, Field(ge=1, le=2**31 - 1)]] = Field(min_length=1, max_length=6)


class FitIn(PlanIn):
    """A setup whose joints are asked for, and the one it came from."""

    before: SetupDocument | None = None


class SwapIn(Strict):
    """A boat that another part of a kind is sought for."""

    document: SetupDocument
    kind: str = Field(max_length=40)


class TickIn(Strict):
    """A step of the build list."""

    key: str = Field(min_length=1, max_length=60)
    done: bool


class PartChangeIn(Strict):
    """What changes on a part of the shelf; what is missing stays."""

    state: str | None = Field(default=None, max_length=40)
    price: float | None = Field(default=None, ge=0, le=1e6)
    pieces: int | None = Field(default=None, ge=0, le=1000)
    note: str | None = Field(default=None, max_length=1000)
    document: dict[str, Any] | None = None


class EventIn(Strict):
    """Something that happened to a part."""

    kind: str = Field(max_length=40)
    words: str = Field(default="", max_length=1000)


class MeasureIn(Strict):
    """Readings of an instrument, in the core's units, and better spreads where they are known."""

    readings: dict[str, float] = Field(max_length=20)
    spreads: dict[str, float] = Field(default_factory=dict, max_length=20)


class WriteIn(Strict):
    """A measured value for a field of a part, in the core's unit."""

    path: str = Field(max_length=60)
    value: float
    sd: float = Field(ge=0)


class TubReadingIn(Strict):
    """A reading of a tub test."""

    seconds: float = Field(ge=0, le=600)
    typed: TemperatureQuantity
    place: str = Field(default="case", max_length=40)


class TubIn(Strict):
    """A tub test as it runs."""

    document: SetupDocument
    schools: SchoolsIn = Field(default_factory=SchoolsIn)
    readings: list[TubReadingIn] = Field(default_factory=list, max_length=200)


class KeepTubIn(TubIn):
    """A tub test that is over."""

    end: str = Field(max_length=60)
    note: str = Field(default="", max_length=1000)


class WishIn(InClass, PlanIn):
    """A wanted speed, and what cannot change."""

    wanted_mps: float = Field(ge=1, le=120)
    locked: list[FreePart] = Field(default_factory=list, max_length=3)
    least_minutes: float = Field(default=0, ge=0, le=60)
    most_mass_kg: float | None = Field(default=None, gt=0, le=60)

    def core(self) -> Wish:
        """The core's wish."""
        return Wish(
            speed_mps=self.wanted_mps,
            locked=frozenset(self.locked),
            least_s=60 * self.least_minutes,
            most_kg=self.most_mass_kg or math.inf,
        )


class SearchIn(PlanIn):
    """A large search: over ranges of numbers, or over the shelf."""

    over: Literal["ranges", "shelf"] = "shelf"
    ranges: RangesIn = Field(default_factory=RangesIn)
    kinds: KindsIn = Field(default_factory=KindsIn)
    most_mass_kg: float | None = Field(default=None, gt=0, le=60)
    room_m: float | None = Field(default=None, gt=0, le=3, description="for the motor and the wires behind it")
    budget: float | None = Field(default=None, ge=0)


class AimIn(InClass):
    """What a boat is for; kept with the boat."""

    duty: DutyIn = Field(default_factory=DutyIn)
    schools: SchoolsIn = Field(default_factory=SchoolsIn)
    wanted: SpeedQuantity | None = None
    least_minutes: float = Field(default=0, ge=0, le=60)
    locked: list[FreePart] = Field(default_factory=list, max_length=3)
    budget: float | None = Field(default=None, ge=0)
    room_length: LengthQuantity | None = None
    most_mass: MassQuantity | None = None
    note: str = Field(default="", max_length=2000)


class BoatIn(Strict):
    """A new boat."""

    name: str = Field(max_length=120)
    document: SetupDocument


class AdoptIn(Strict):
    """A changed document that becomes a setup."""

    document: SetupDocument
    name: str = Field(default="", max_length=120)
    shelf: dict[str, Annotated[int, Field(ge=1, le=2**31 - 1)]] = Field(default_factory=dict, max_length=20)


class PartIn(Strict):
    """A part for the shelf."""

    kind: str = Field(max_length=40)
    document: dict[str, Any]


class SimulateIn(Strict):
    """An outing on the simulated pond."""

    seed: int = Field(default=1, ge=0, le=2**31)
    passes: int = Field(default=4, ge=1, le=20)
    water_c: float = Field(default=16, ge=0, le=35)
    air_c: float = Field(default=18, ge=-10, le=45)
    wind_mps: float = Field(default=2, ge=0, le=12)
    wind_from_deg: float = Field(default=240, ge=0, le=360)


class ReadingIn(Strict):
    """A reading of the temperature gun."""

    place: str = Field(min_length=1, max_length=40)
    typed: TemperatureQuantity
    minutes_after: float = Field(ge=0, le=240)


WaterState = Literal["glass", "ripples", "chop", "waves"]


class ConditionsIn(Strict):
    """Conditions of a run; what is missing was not noted."""

    water: TemperatureQuantity | None = None
    air: TemperatureQuantity | None = None
    wind: SpeedQuantity | None = None
    wind_from_deg: float | None = Field(default=None, ge=0, le=360)
    water_state: WaterState | None = None


class NotesIn(Strict):
    """All that is written by hand on a run."""

    conditions: ConditionsIn = Field(default_factory=ConditionsIn)
    note: str = Field(default="", max_length=4000)
    observations: list[Annotated[str, Field(max_length=500)]] = Field(default_factory=list, max_length=60)
    readings: list[ReadingIn] = Field(default_factory=list, max_length=MOST_READINGS)
    typed: TypedRun | None = Field(default=None, description="what was read off displays; left out, it stays")


class PutRightIn(Strict):
    """Which slip of the pen it was."""

    cause: Cause


class AsideIn(Strict):
    """Runs from which nothing is learnt, or again is."""

    runs: list[Annotated[int, Field(ge=1, le=2**31 - 1)]] = Field(min_length=1, max_length=5000)
    aside: bool


class TypedRunIn(Strict):
    """A run that left no file."""

    started_at: datetime | None = Field(default=None, description="now where it is left out")


class NameIn(Strict):
    """Another name."""

    name: str = Field(max_length=120)


class BoatChangeIn(Strict):
    """What changes on a boat; what is missing stays."""

    name: str | None = Field(default=None, max_length=120)
    archived: bool | None = None


class MoveIn(Strict):
    """The setup that a run is put to."""

    setup_id: int = Field(ge=1, le=2**31 - 1)


class MendedIn(Strict):
    """Damage of a run, in the words in which it was written down, and whether it is mended."""

    damage: str = Field(min_length=1, max_length=200)
    mended: bool = True


class HealthOut(Strict):
    """Whether the program and its database answer."""

    version: str
    model: str
    database: bool
    trouble: str = Field(description="what is the matter, in words; empty where nothing is")


class VocabularyOut(Vocabulary):
    """Everything that forms are made from, and what a run is noted with."""

    conditions: dict[str, Quantity]
    gun_order: list[str]
    water_states: list[WaterState]
