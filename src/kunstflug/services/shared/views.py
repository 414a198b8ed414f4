"""What the use cases give back: plain dataclasses, ready to be written as JSON (no NaN in them)."""

from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, Generic, TypeVar

from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.parts.hull import HullType
from kunstflug.documents.forecast import ForecastOut
from kunstflug.documents.run import HeldOut, LogSummary, TrackSummary, TypedRun
from kunstflug.documents.setup import SetupDocument
from kunstflug.services.shared.changes import Change, Difference

Item = TypeVar("Item")


@dataclass(frozen=True, slots=True, kw_only=True)
class Page(Generic[Item]):
    """A part of a list; ``next`` asks for the part after it, None where there is none."""

    items: list[Item]
    next: str | None


def utc(moment: datetime) -> datetime:
    """A moment of the database, which keeps UTC without saying so."""
    return moment.replace(tzinfo=UTC)


@dataclass(frozen=True, slots=True, kw_only=True)
class BoatView:
    """A boat in the boathouse."""

    id: int
    name: str
    hull_type: HullType
    length_m: float
    setup_id: int
    setups: int
    runs: int
    best_mps: float | None
    compared: bool
    archived: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SetupItem:
    """A setup in a list."""

    id: int
    parent_id: int | None
    name: str
    created_at: datetime
    runs: int


@dataclass(frozen=True, slots=True, kw_only=True)
class RunItem:
    """A run in a list."""

    id: int
    setup_id: int
    setup_name: str
    started_at: datetime
    source: str
    best_mps: float | None
    duration_s: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class BinnedView:
    """Something in the bin: put back by its kind and id."""

    kind: str
    id: int
    name: str
    deleted_at: datetime
    with_it: str  # what lies in the bin together with it, in words


@dataclass(frozen=True, slots=True, kw_only=True)
class EventView:
    """Something that happened to a part."""

    id: int
    kind: str
    words: str
    happened_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class PartView:
    """A part on the shelf with its life."""

    id: int
    kind: str
    name: str
    document: dict[str, Any]
    state: str
    pieces: int
    price: float | None
    record: dict[str, Any]
    runs: int
    hours: float
    due: str
    boats: list[str]
    events: list[EventView]
    tag: str  # of what can be changed: state, price, pieces, note, sizes


@dataclass(frozen=True, slots=True, kw_only=True)
class SwapView:
    """A part of the shelf that may go into a boat; ``wall`` says what a sheet forbids, empty where nothing does."""

    part: PartView
    wall: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CandidateView:
    """One part in this boat; ``refusal`` says why it does not run there, and the numbers are then missing."""

    part_id: int
    kind: str
    name: str
    price: float | None
    refusal: str = ""
    speed_mps: float | None = None
    low_mps: float | None = None
    high_mps: float | None = None
    current_a: float | None = None
    rpm: float | None = None
    case_c: float | None = None
    controller_c: float | None = None
    mass_kg: float | None = None
    verdict: Verdict = Verdict.NONE
    use: float | None = None
    tightest: str = ""
    fit_problems: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasuredResult:
    """What an instrument says, in the core's unit."""

    value: float
    sd: float
    widest: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TaughtView:
    """One thermal parameter before and after a tub test."""

    name: str
    label: str
    unit: str
    before: float
    before_spread: float
    after: float
    spread: float
    moved: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class TubView:
    """The curve of a tub test."""

    time_s: list[float]
    prior_c: list[float]
    low_c: list[float]
    high_c: list[float]
    fitted_c: list[float]
    ceiling_c: float
    end_c: float | None
    fails_s: float | None  # when solder or enamel gives out
    seconds_left: float | None
    stop: bool
    words: str
    held_a: float
    kinder: str
    misfit_k: float | None
    taught: list[TaughtView]
    changes: list[Change]  # what was really moved, for the setup


@dataclass(frozen=True, slots=True, kw_only=True)
class TubTestView:
    """A tub test that was kept."""

    id: int
    created_at: datetime
    readings: list[dict[str, Any]]
    outcome: dict[str, Any]
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SetupView:
    """A setup with its document."""

    id: int
    boat_id: int
    parent_id: int | None
    name: str
    created_at: datetime
    document: SetupDocument


@dataclass(frozen=True, slots=True, kw_only=True)
class DraftView:
    """A setup that is being tried: changed document, its forecast, what differs and what followed."""

    document: SetupDocument
    forecast: ForecastOut
    differences: list[Difference]
    notes: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class TurnView:
    """A turn of a track; speeds in m/s."""

    start_s: float
    end_s: float
    turned_deg: float
    radius_m: float
    entry_mps: float
    slowest_mps: float
    exit_mps: float
    lost: float
    lateral_g: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackView:
    """A cleaned track to draw; None inside gaps."""

    time_s: list[float]
    east_m: list[float | None]
    north_m: list[float | None]
    speed_mps: list[float | None]
    turns: list[TurnView]


@dataclass(frozen=True, slots=True, kw_only=True)
class DamageView:
    """One place where a file broke."""

    line: int
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingView:
    """A reading of the temperature gun, as typed and in degC."""

    place: str
    typed: dict[str, Any]
    celsius: float
    minutes_after: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RunView:
    """A run with everything but its track's samples."""

    id: int
    setup_id: int
    setup_name: str
    boat_id: int
    started_at: datetime
    source: str
    conditions: dict[str, Any]
    note: str
    summary: TrackSummary | None
    damages: list[DamageView]
    log: LogSummary | None
    readings: list[ReadingView]
    observations: list[str]
    typed: TypedRun
    held: HeldOut | None  # speed held at best, from what was typed
    photo: bool  # whether there is a picture of it
    odd: list[str]  # what is written here and cannot be true, in words
    tag: str  # of what is written by hand: conditions, what was typed, note, observations, readings


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasuredView:
    """Forecast and measured value of one thing, in the core's unit."""

    label: str
    dimension: str
    forecast: float | None
    low: float | None
    high: float | None
    measured: float | None
    inside: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparedRun:
    """A run beside what was forecast of it with what was known then, in its own conditions.

    There is no forecast beside a run from which nothing is learnt.
    """

    run_id: int
    setup_id: int
    started_at: datetime
    measured: list[MeasuredView]
    odd: str = ""  # why its conditions could not be used, in words


@dataclass(frozen=True, slots=True, kw_only=True)
class TrailSetup:
    """A setup on the trail: what changed, what was forecast then, its verdict today, what was measured."""

    setup_id: int
    parent_id: int | None
    name: str
    created_at: datetime
    changes: list[Difference]
    model_version: str
    forecast_mps: float | None
    low_mps: float | None
    high_mps: float | None
    verdict: Verdict
    runs: list[ComparedRun]  # the newest, in their order
    runs_in_all: int


@dataclass(frozen=True, slots=True, kw_only=True)
class TrailView:
    """The newest setups of a boat in their order."""

    boat_id: int
    boat_name: str
    setups: list[TrailSetup]
    older: str | None  # asks for the setups before these
