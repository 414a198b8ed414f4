"""A boat that is being driven, over the wire."""

from datetime import datetime
from enum import StrEnum
from typing import Protocol

from pydantic import Field

from kunstflug.core.live.recorded import SoakTable
from kunstflug.core.live.watch import Because, Call, HotPlace, LiveState
from kunstflug.documents.base import Out, Strict, rounded
from kunstflug.documents.run import GUN_NODES
from kunstflug.wording.heat import NODES
from kunstflug.wording.live import IF_COLD, IF_HOT, advice_words, doubt_words


class SourceKind(StrEnum):
    """How a device is reached."""

    TCP = "tcp"
    UDP = "udp"
    SERIAL = "serial"


class SourceIn(Strict):
    """A device that tells of the boat: an address of the local network that is called, one that is listened at, or a
    serial port.
    """

    kind: SourceKind = SourceKind.TCP
    host: str = Field(default="127.0.0.1", max_length=45, description="TCP: whom to call; UDP: where to listen")
    port: int = Field(default=10110, ge=1024, le=65535)
    path: str = Field(default="", max_length=80, pattern=r"^(/dev/[A-Za-z0-9/_.-]+|COM[0-9]{1,3})?$")
    baud: int = Field(default=115200, ge=1200, le=4_000_000)


class Link(StrEnum):
    """How it stands with the device."""

    WAITING = "waiting"
    THERE = "there"
    LOST = "lost"
    ENDED = "ended"


class LivePlaceOut(Out):
    """A place: how warm it is, between what (10 and 90 %), its ceiling [degC], and whether a sensor says so."""

    node: str
    words: str
    celsius: float
    low_c: float
    high_c: float
    ceiling_c: float
    measured: bool


class LiveOut(Out):
    """What is shown of a boat that is being driven."""

    link: Link
    kept: int = Field(description="lines that are in the database")
    time_s: float
    speed_mps: float
    best_mps: float
    passes: int
    in_pass: bool
    last_pass_s: float
    last_pass_mps: float
    used_ah: float
    left_ah: float
    full_s_left: float | None = Field(description="of full throttle, by the charge")
    places: list[LivePlaceOut]
    advice: Call
    because: Because
    words: str
    seconds: float = Field(description="to cool down")
    lost_s: float = Field(description="since the last sample, where the link is lost; 0 while it is there")
    lies_s: float = Field(description="for how long the boat has lain still after a pass; 0 while it moves")
    doubted: list[str] = Field(description="sensors that are set aside or put right, and why")
    unread: int = Field(description="lines that could not be read")
    astray: int = Field(description="lines that were set aside: their clock is out of line with the others")
    run_id: int | None = Field(description="what became of it, at its end")


class SoakPlaceOut(Out):
    """What a place should read after landing: mean, and between what (10 and 90 %) [degC], by second."""

    place: str = Field(description="of the gun's order")
    celsius: list[float]
    low_c: list[float]
    high_c: list[float]
    if_hot: str = Field(description="what to ask where it reads more")
    if_cold: str


class SoakOut(Out):
    """What each place should read after landing; between the seconds it goes on in a straight line."""

    landed_at: datetime
    seconds: list[float]
    places: list[SoakPlaceOut]


class DriveView(Out):
    """A boat that is or was followed while it was driven."""

    id: int
    setup_id: int
    started_at: datetime
    ended_at: datetime | None
    source: SourceIn
    kept: int = Field(description="lines that are in the database")
    run_id: int | None
    soak: SoakOut | None


def _place(p: HotPlace) -> LivePlaceOut:
    return LivePlaceOut(
        node=p.node.value,
        words=NODES[p.node].lower(),
        celsius=round(p.celsius, 1),
        low_c=round(p.low_c, 1),
        high_c=round(p.high_c, 1),
        ceiling_c=round(p.ceiling_c, 1),
        measured=p.measured,
    )


class Passed(Protocol):
    """What reads lines, and counts those it passed over."""

    unread: int
    astray: int


def live_out(state: LiveState, reader: Passed, link: Link, kept: int = 0, run_id: int | None = None) -> LiveOut:
    """A state as it goes over the wire."""
    return LiveOut(
        link=link,
        kept=kept,
        time_s=round(state.time_s, 2),
        speed_mps=round(state.speed_mps, 3),
        best_mps=round(state.best_mps, 3),
        passes=state.passes,
        in_pass=state.in_pass,
        last_pass_s=round(state.last_pass_s, 2),
        last_pass_mps=round(state.last_pass_mps, 3),
        used_ah=round(state.used_ah, 4),
        left_ah=round(state.left_ah, 4),
        full_s_left=rounded(state.full_s_left),
        places=[_place(p) for p in state.places],
        advice=state.advice,
        because=state.because,
        words=advice_words(state),
        seconds=state.seconds,
        lost_s=round(state.lost_s, 1),
        lies_s=round(state.lies_s, 1),
        doubted=doubt_words(state),
        unread=reader.unread,
        astray=reader.astray,
        run_id=run_id,
    )


def soak_out(table: SoakTable, landed_at: datetime) -> SoakOut:
    """A table of what each place should read, in the gun's order."""
    found = []
    for place, node in GUN_NODES.items():
        rows = [next(p for p in at if p.node is node) for at in table.places]
        found.append(
            SoakPlaceOut(
                place=place,
                celsius=[round(p.celsius, 2) for p in rows],
                low_c=[round(p.low_c, 2) for p in rows],
                high_c=[round(p.high_c, 2) for p in rows],
                if_hot=IF_HOT[place],
                if_cold=IF_COLD,
            )
        )
    return SoakOut(landed_at=landed_at, seconds=list(table.seconds), places=found)
