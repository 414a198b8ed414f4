"""What the logbook shows."""

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class LogbookRun:
    """A run in the logbook."""

    id: int
    boat_id: int
    boat: str
    setup_id: int
    setup: str
    started_at: datetime
    source: str
    best_mps: float | None
    seen: list[str]
    open: list[str]  # damage that is not mended
    mended: list[str]
    stopped: str  # what it was, in words; empty where the boat came home by itself
    note: str
    pack: str
    photo: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class OutingView:
    """Runs of one day at the pond, newest first, with its conditions and packs."""

    started_at: datetime
    ended_at: datetime
    water_c: float | None
    air_c: float | None
    wind_mps: float | None
    packs: list[str]
    runs: list[LogbookRun]


@dataclass(frozen=True, slots=True, kw_only=True)
class SeasonRun:
    """A run as a point of the season."""

    run_id: int
    boat_id: int
    at: datetime
    best_mps: float | None
    broke: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LogbookBoat:
    """A boat with its best run and what is open on it."""

    boat_id: int
    name: str
    runs: int
    best_mps: float | None
    best_run_id: int | None
    best_setup_id: int | None
    best_at: datetime | None
    open: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogbookEvent:
    """Something that happened to a part."""

    at: datetime
    part_id: int
    part: str
    part_kind: str
    kind: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LogbookDue:
    """Service that is due on a part."""

    part_id: int
    kind: str
    name: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LogbookView:
    """Outings, newest first; with the first page also the season, the boats, what happened to parts, what is due."""

    outings: list[OutingView]
    goes_on: bool  # the first outing is the last one of the page before
    next: str | None
    season: list[SeasonRun]
    boats: list[LogbookBoat]
    events: list[LogbookEvent]
    due: list[LogbookDue]
