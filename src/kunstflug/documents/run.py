"""What is kept beside a run's track and log: versioned numbers, so that old ones are still read."""

from typing import Final, Literal

from pydantic import ValidationError

from kunstflug.core.tracks import TrackAnalysis
from kunstflug.core.tracks.log import LogNumbers
from kunstflug.documents.base import Out, rounded

VERSION: Final = 1

GUN_ORDER: Final = ("controller", "motor front", "motor back", "pack", "connector", "water out")
"""Places at which temperatures are read after landing, in this order."""


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

    version: Literal[1] = VERSION
    peak_mps: float | None
    best_1s_mps: float | None
    best_2s_mps: float | None
    both_ways_mps: float | None
    raw_peak_mps: float | None
    distance_m: float
    duration_s: float
    spikes: int
    gaps_s: list[list[float]]
    speed_source: str
    rate_hz: float
    passes: list[PassOut]


class LogSummary(Out):
    """What a controller log says of full throttle; null for what it does not have."""

    version: Literal[1] = VERSION
    samples: int
    current_a: float | None
    rpm: float | None
    voltage_v: float | None
    controller_c: float | None
    mah: float | None


def track_summary(analysis: TrackAnalysis) -> TrackSummary:
    """Numbers of an analysis."""
    track = analysis.track
    return TrackSummary(
        peak_mps=rounded(analysis.peak_mps),
        best_1s_mps=rounded(analysis.best_1s_mps),
        best_2s_mps=rounded(analysis.best_2s_mps),
        both_ways_mps=rounded(analysis.both_ways_mps),
        raw_peak_mps=rounded(analysis.raw_peak_mps),
        distance_m=analysis.distance_m,
        duration_s=analysis.duration_s,
        spikes=track.spikes,
        gaps_s=track.gaps_s.tolist(),
        speed_source=track.speed_source,
        rate_hz=round(1 / track.step_s, 2),
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
    )


def log_summary(numbers: LogNumbers) -> LogSummary:
    """Numbers of a log."""
    return LogSummary(
        samples=numbers.samples,
        current_a=rounded(numbers.current_a),
        rpm=rounded(numbers.rpm),
        voltage_v=rounded(numbers.voltage_v),
        controller_c=rounded(numbers.controller_c),
        mah=rounded(numbers.mah, 4),
    )


def kept_track_summary(raw: object) -> TrackSummary | None:
    """Numbers that were kept; None where they are of another version and have to be worked out again."""
    try:
        return TrackSummary.model_validate(raw)
    except ValidationError:
        return None


def kept_log_summary(raw: object) -> LogSummary | None:
    """Numbers that were kept; None where they are of another version and have to be worked out again."""
    try:
        return LogSummary.model_validate(raw)
    except ValidationError:
        return None
