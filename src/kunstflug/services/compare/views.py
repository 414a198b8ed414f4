"""What is shown of a boat that was learnt: numbers, readings, what each change brought, what to measure next."""

from dataclasses import dataclass
from datetime import datetime

from kunstflug.core.learning.attribution import Ruling
from kunstflug.core.learning.causes import Cause
from kunstflug.core.setup.knowledge import Owner


@dataclass(frozen=True, slots=True, kw_only=True)
class SaidView:
    """A number with its 80 % band."""

    value: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberView:
    """One number of a boat, from what was given to what is known.

    ``moved`` counts in spreads of what was given, ``narrowed`` is the part of its spread that is gone.
    """

    name: str
    label: str
    of: Owner
    owner: str  # the same as a word
    unit: str
    before: SaidView
    now: SaidView
    narrowed: float
    moved: float
    taught: bool
    runs: list[str]  # that had the thing aboard


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownReadingView:
    """A reading, and what was said of it: as bought, with what was known then, with all runs but its own."""

    label: str
    dimension: str
    minutes: float
    read: float
    bought: SaidView
    then: SaidView
    without: SaidView
    inside: bool  # of the band of what was known then
    weight: float  # what the estimate left of it


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseView:
    """Why a run may not fit, and how likely that is among the causes that were tried."""

    cause: Cause
    words: str
    chance: float
    label: str  # of the reading that would be put right; empty where the cause says of none
    dimension: str
    fits: float | None  # what would have been meant
    setup_id: int | None  # that it may have run with


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownRunView:
    """A run against what was said of it; ``off`` in spreads where it does not fit."""

    run_id: int
    setup_id: int
    started_at: datetime
    readings: list[KnownReadingView]
    off: float | None
    worst: str
    causes: list[CauseView]


@dataclass(frozen=True, slots=True, kw_only=True)
class ShareView:
    """The part of one of several changes, as the model has it, with one standard deviation; parts of the speed."""

    label: str
    value: float
    spread: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeEffectView:
    """What a change of a setup brought, as parts of the speed."""

    before_id: int
    after_id: int
    things: int  # decisions taken at once
    forecast: float | None
    measured: SaidView | None  # with its 95 % interval
    chance: float | None  # that it is faster, by the same law as the interval
    believed: SaidView | None  # with the forecast believed, too
    ruling: Ruling
    words: str
    passes: int  # of each setup, to see what is forecast
    order: str
    shares: list[ShareView]  # of a measured effect of several changes at once


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasureNextView:
    """A measurement, and the part of the band that it would take away."""

    wanted: str
    words: str
    narrows: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SeenView:
    """How often passes show a difference."""

    part: float  # of the speed
    passes: int  # with each setup, that show it four times of five
    chances: list[float]  # with 2, 3, ... passes of each setup


@dataclass(frozen=True, slots=True, kw_only=True)
class KnowledgeView:
    """What is known of a boat."""

    boat_id: int
    boat_name: str
    runs: int  # of all boats, that were learnt from
    runs_of_boat: int
    numbers: list[NumberView]
    judged: list[KnownRunView]
    changes: list[ChangeEffectView]
    measure: list[MeasureNextView]
    denied: bool  # the runs agree among themselves and not with the laws
    set_aside: list[int]
    limit_of_day: float | None  # two runs of a day differ by less, 95 times of 100; a part of the speed
    limit_of_days: float | None  # the same of runs of two days
    seen: list[SeenView]  # of some differences, the smallest first
