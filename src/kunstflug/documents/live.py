"""A boat that is being driven, over the wire."""

from pydantic import Field

from kunstflug.core.live.watch import Advice, Because, LiveState
from kunstflug.documents.base import Out, rounded
from kunstflug.wording.heat import NODES
from kunstflug.wording.live import advice_words


class LivePlaceOut(Out):
    """A place: how warm it is, how warm it may be (90 %), and its ceiling [degC]."""

    node: str
    words: str
    celsius: float
    high_c: float
    ceiling_c: float


class LiveOut(Out):
    """What is shown of a boat that is being driven."""

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
    advice: Advice
    because: Because
    words: str
    seconds: float = Field(description="to cool down")
    lost_s: float = Field(description="since the last sample, where the link is lost; 0 while it is there")
    unread: int = Field(description="lines that could not be read")
    ended: bool = Field(description="whether the device closed the stream")


def live_out(state: LiveState, unread: int, ended: bool) -> LiveOut:
    """A state as it goes over the wire."""
    return LiveOut(
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
        places=[
            LivePlaceOut(
                node=p.node.value,
                words=NODES[p.node].lower(),
                celsius=round(p.celsius, 1),
                high_c=round(p.high_c, 1),
                ceiling_c=round(p.ceiling_c, 1),
            )
            for p in state.places
        ],
        advice=state.advice,
        because=state.because,
        words=advice_words(state),
        seconds=state.seconds,
        lost_s=round(state.lost_s, 1),
        unread=unread,
        ended=ended,
    )
