"""What is kept beside a run's track and log: versioned numbers, so that old ones are still read."""

from typing import Annotated, Any, Final, Literal

from pydantic import Field, ValidationError

from kunstflug.core.bench.stopped import Sign, Suspect
from kunstflug.core.evidence.display import HeldSpeed
from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.learning.told import MOST_PASSES
from kunstflug.core.thermal.nodes import Node
from kunstflug.core.tracks import TrackAnalysis
from kunstflug.core.tracks.align import Alignment
from kunstflug.core.tracks.log import LogNumbers
from kunstflug.documents.base import Out, Strict, rounded
from kunstflug.documents.quantity import SpeedQuantity

TRACK_VERSION: Final = 4
LOG_VERSION: Final = 2

GUN_ORDER: Final = ("controller", "motor front", "motor back", "pack", "connector", "water out")
"""Places at which temperatures are read after landing, in this order."""
GUN_NODES: Final = {
    "controller": Node.CONTROLLER, "motor front": Node.CASE, "motor back": Node.CASE, "pack": Node.PACK,
    "connector": Node.CONNECTOR,
}  # fmt: skip
"""What the gun reads at each place; water that comes out is no part of the boat."""


class PeakIn(Strict):
    """A peak as a display showed it."""

    speed: SpeedQuantity
    instrument: str = Field(default="", max_length=60, description="where two disagree, both are kept")


class SwapIn(Strict):
    """A part that was swapped for a good one, and whether the boat ran then."""

    part: Suspect
    runs: bool


class StoppedIn(Strict):
    """A boat that stopped: what was seen, what was swapped, what it was, and what cured it."""

    signs: list[Sign] = Field(default_factory=list, max_length=12)
    swaps: list[SwapIn] = Field(default_factory=list, max_length=12)
    found: Suspect | None = None
    cure: str = Field(default="", max_length=200)


class TypedRun(Strict):
    """What a racer types about a run, with or without a file; every field is optional."""

    peaks: list[PeakIn] = Field(default_factory=list, max_length=4)
    second: SpeedQuantity | None = Field(default=None, description="second-best peak of the outing")
    there: SpeedQuantity | None = Field(default=None, description="peak one way")
    back: SpeedQuantity | None = Field(default=None, description="peak the other way")
    held_s: float | None = Field(default=None, ge=0, le=600, description="at full throttle, each pass")
    passes: int | None = Field(default=None, ge=1, le=MOST_PASSES, description="at full throttle, of the whole outing")
    minutes: float | None = Field(default=None, gt=0, le=60, description="on the water, from start to landing")
    feathered: bool | None = Field(default=None, description="the trigger was not held at full")
    current_a: float | None = Field(default=None, ge=0, le=POSSIBLE[Column.CURRENT].high)
    rpm: float | None = Field(default=None, ge=0, le=POSSIBLE[Column.RPM].high)
    voltage_v: float | None = Field(
        default=None, ge=0, le=POSSIBLE[Column.VOLTAGE].high, description="of the pack under load"
    )
    mah_back: float | None = Field(
        default=None, ge=0, le=1000.0 * POSSIBLE[Column.CHARGE].high, description="put back by the charger"
    )
    rest_v: list[Annotated[float, Field(ge=0, le=5)]] = Field(
        default_factory=list, max_length=24, description="cells at rest after the run"
    )
    damage: list[Annotated[str, Field(min_length=1, max_length=200)]] = Field(default_factory=list, max_length=20)
    mended: list[Annotated[str, Field(min_length=1, max_length=200)]] = Field(
        default_factory=list, max_length=20, description="which of the damage was mended since"
    )
    set_aside: bool = Field(default=False, description="nothing is learnt from this run")
    stopped: StoppedIn | None = Field(default=None, description="the boat stopped; None where it came home by itself")


class HeldOut(Out):
    """Speed held at best with its 80 % band, from what was read off displays [m/s]."""

    speed_mps: float
    low_mps: float
    high_mps: float
    both_ways: bool
    lone: bool = Field(description="the best peak stands alone, far above the second-best")


def held_out(held: HeldSpeed | None) -> HeldOut | None:
    """Document of a held speed."""
    if held is None:
        return None
    low, high = held.band_mps
    return HeldOut(
        speed_mps=round(held.speed_mps, 3),
        low_mps=round(low, 3),
        high_mps=round(high, 3),
        both_ways=held.both_ways,
        lone=held.lone,
    )


def kept_typed(raw: Any) -> TypedRun:
    """What was typed of a run; nothing where nothing was."""
    return TypedRun.model_validate(raw or {})


class PassOut(Out):
    """One pass."""

    start_s: float
    end_s: float
    heading_deg: float
    peak_mps: float
    best_1s_mps: float | None
    best_2s_mps: float | None
    distance_m: float


class TrackSummary(Out):
    """The numbers of a track."""

    version: Literal[2, 3, 4] = TRACK_VERSION
    peak_mps: float | None
    best_1s_mps: float | None
    best_2s_mps: float | None
    best_1s_spread_mps: float | None = Field(description="standard deviation of the best second")
    best_2s_spread_mps: float | None = Field(description="standard deviation of the best two seconds")
    both_ways_mps: float | None
    raw_peak_mps: float | None
    distance_m: float
    duration_s: float
    spikes: int
    gaps_s: list[list[float]]
    speed_source: str
    rate_hz: float
    passes: list[PassOut]
    speed_swing: float | None = Field(
        default=None, description="spread of the speed held in a pass over its mean [1]; median"
    )
    course_swing_deg_s: float | None = Field(default=None, description="spread of the turn rate there; median")
    turn_loss: float | None = Field(default=None, description="part of the speed that a turn took [1]; median")


class PassLogOut(Out):
    """What a controller log says of one pass: medians."""

    current_a: float | None
    rpm: float | None
    voltage_v: float | None


class LogSummary(Out):
    """What a controller log says of full throttle; null for what it does not have."""

    version: Literal[2] = LOG_VERSION
    samples: int
    current_a: float | None
    rpm: float | None
    voltage_v: float | None
    controller_c: float | None
    mah: float | None
    begins_s: float | None = Field(description="when it begins on the track's clock; null where the two do not match")
    match: float | None = Field(description="correlation of log and track there")
    passes: list[PassLogOut] = Field(description="what it says of each pass of the track")


def track_summary(analysis: TrackAnalysis) -> TrackSummary:
    """Numbers of an analysis."""
    track = analysis.track
    return TrackSummary(
        peak_mps=rounded(analysis.peak_mps),
        best_1s_mps=rounded(analysis.best_1s_mps),
        best_2s_mps=rounded(analysis.best_2s_mps),
        best_1s_spread_mps=rounded(analysis.best_1s_spread_mps),
        best_2s_spread_mps=rounded(analysis.best_2s_spread_mps),
        both_ways_mps=rounded(analysis.both_ways_mps),
        raw_peak_mps=rounded(analysis.raw_peak_mps),
        distance_m=analysis.distance_m,
        duration_s=analysis.duration_s,
        spikes=track.spikes,
        gaps_s=track.gaps_s.tolist(),
        speed_source=track.speed_source,
        rate_hz=round(1 / track.sample_s, 2),
        passes=[
            PassOut(
                start_s=round(p.start_s, 2),
                end_s=round(p.end_s, 2),
                heading_deg=round(p.heading_deg, 1),
                peak_mps=p.peak_mps,
                best_1s_mps=rounded(p.best_1s_mps),
                best_2s_mps=rounded(p.best_2s_mps),
                distance_m=round(p.distance_m, 1),
            )
            for p in analysis.passes
        ],
        speed_swing=rounded(analysis.steady.speed_swing),
        course_swing_deg_s=rounded(analysis.steady.course_swing_deg_s),
        turn_loss=rounded(analysis.steady.turn_loss),
    )


def log_summary(numbers: LogNumbers, aligned: Alignment | None, passes: tuple[dict[str, float], ...]) -> LogSummary:
    """Numbers of a log, and where it lies on a track."""
    return LogSummary(
        samples=numbers.samples,
        current_a=rounded(numbers.current_a),
        rpm=rounded(numbers.rpm),
        voltage_v=rounded(numbers.voltage_v),
        controller_c=rounded(numbers.controller_c),
        mah=rounded(numbers.mah, 4),
        begins_s=aligned.begins_s if aligned else None,
        match=aligned.match if aligned else None,
        passes=[
            PassLogOut(**{name: rounded(p.get(name, float("nan"))) for name in ("current_a", "rpm", "voltage_v")})
            for p in passes
        ],
    )


def kept_track_summary(raw: object) -> TrackSummary | None:
    """Numbers that were kept; None where they are of another version and have to be worked out again."""
    try:
        found = TrackSummary.model_validate(raw)
    except ValidationError:
        return None
    return found if found.version == TRACK_VERSION else None


def kept_log_summary(raw: object) -> LogSummary | None:
    """Numbers that were kept; None where they are of another version and have to be worked out again."""
    try:
        return LogSummary.model_validate(raw)
    except ValidationError:
        return None
