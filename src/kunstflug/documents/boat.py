"""One boat in one file: its setups in their tree, its parts, its runs with their figures, its tub tests."""

from collections import Counter
from datetime import datetime
from typing import Annotated, Any, Final, Literal

from pydantic import Field, model_validator

from kunstflug.core.quantity.errors import FieldProblem, InvalidDocument
from kunstflug.documents.base import Strict, parsed
from kunstflug.documents.run import LogSummary, TrackSummary, TypedRun

KIND: Final = "kunstflug-boat"
VERSION: Final = 1

Key = Annotated[str, Field(min_length=1, max_length=32, pattern=r"^[A-Za-z0-9_-]+$")]
"""Name of a thing that no other thing has, in this file or any other."""


class EventIn(Strict):
    """Something that happened to a part."""

    at: datetime
    kind: str = Field(max_length=20)
    words: str = Field(default="", max_length=1000)


class PartIn(Strict):
    """A part of the shelf that the boat uses."""

    key: Key
    kind: str = Field(max_length=20)
    document: dict[str, Any] = Field(description="as in a setup document")
    state: str = Field(default="in use", max_length=20)
    pieces: int = Field(default=1, ge=0, le=1000)
    price: float | None = Field(default=None, ge=0, le=1e6)
    record: dict[str, Any] = Field(default_factory=dict)
    events: list[EventIn] = Field(default_factory=list, max_length=500)


class BoatSetupIn(Strict):
    """A setup: below its parent, or the first."""

    key: Key
    parent: Key | None = None
    name: str = Field(max_length=120)
    created_at: datetime
    document: dict[str, Any] = Field(description="a setup document, see docs/setup.schema.json")
    parts: dict[str, Key] = Field(default_factory=dict, description="parts of the shelf by their place")
    ticks: list[str] = Field(default_factory=list, max_length=200, description="steps of the build list that are done")


class BoatReadingIn(Strict):
    """A reading of the temperature gun, in gun order."""

    place: str = Field(max_length=40)
    typed: dict[str, Any] = Field(description="the quantity as typed")
    minutes_after: float = Field(ge=0, le=240)


class BoatRunIn(Strict):
    """A run of a setup; its track, log and picture only where they were asked for."""

    key: Key
    setup: Key
    started_at: datetime
    source: str = Field(max_length=200)
    conditions: dict[str, Any] = Field(default_factory=dict)
    note: str = Field(default="", max_length=20_000)
    observations: list[Annotated[str, Field(max_length=500)]] = Field(default_factory=list, max_length=100)
    readings: list[BoatReadingIn] = Field(default_factory=list, max_length=40)
    typed: TypedRun = Field(default_factory=TypedRun)
    figures: TrackSummary | None = Field(default=None, description="what the track says; worked out anew from it")
    log_figures: LogSummary | None = Field(default=None, description="what the controller's log says")
    format: str | None = Field(default=None, max_length=20, description="of the file that the track came from")
    content: str | None = Field(default=None, max_length=64, description="digest of that file")
    track: str | None = Field(default=None, description="GPX")
    log: str | None = Field(default=None, description="CSV")
    picture: str | None = Field(default=None, description="JPEG in base 64")


class BoatTubTestIn(Strict):
    """A tub test of a setup."""

    key: Key
    setup: Key
    created_at: datetime
    water_c: float
    air_c: float
    readings: list[dict[str, Any]] = Field(max_length=200)
    outcome: dict[str, Any]
    note: str = Field(default="", max_length=1000)


class BoatDocument(Strict):
    """One boat, whole."""

    kind: Literal["kunstflug-boat"] = KIND
    version: Literal[1] = VERSION
    key: Key
    name: str = Field(min_length=1, max_length=120)
    created_at: datetime
    archived_at: datetime | None = None
    aim: dict[str, Any] | None = None
    circuit: dict[str, Any] | None = None
    setups: list[BoatSetupIn] = Field(min_length=1, max_length=2000)
    parts: list[PartIn] = Field(default_factory=list, max_length=2000)
    runs: list[BoatRunIn] = Field(default_factory=list, max_length=20_000)
    tub_tests: list[BoatTubTestIn] = Field(default_factory=list, max_length=2000)

    @model_validator(mode="after")
    def _once(self) -> "BoatDocument":
        twice = next((key for key, count in Counter(run.key for run in self.runs).items() if count > 1), None)
        if twice is not None:
            raise ValueError(f"two runs have the key {twice}")
        return self


def parsed_boat(raw: object) -> BoatDocument:
    """A boat document of raw JSON.

    Raises
    ------
    InvalidDocument : it is none.
    """
    return parsed(BoatDocument, raw, "boat")


def setup_in(document: BoatDocument, name: str) -> dict[str, Any]:
    """Document of a setup by its name or key, or the newest for an empty name.

    Raises
    ------
    InvalidDocument : no such setup.
    """
    if not name:
        return document.setups[-1].document
    for setup in reversed(document.setups):
        if name in (setup.name, setup.key):
            return setup.document
    allowed = f"one of {', '.join(s.name for s in document.setups)}"
    raise InvalidDocument([FieldProblem(field="setup", value=name, allowed=allowed)])
