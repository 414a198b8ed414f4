"""The reading of a track: its numbers and its passes."""

import math
from dataclasses import dataclass

import numpy as np

from kunstflug.core.tracks.cleaning import CleanTrack, clean
from kunstflug.core.tracks.held import held_best, stretches
from kunstflug.core.tracks.passes import Pass, both_ways_mps, find_passes
from kunstflug.core.tracks.samples import TrackSamples
from kunstflug.core.tracks.steadiness import Steadiness, steadiness


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackAnalysis:
    """Numbers of one track; NaN where it has none.

    Parameters
    ----------
    raw_peak_mps : the fastest sample before cleaning: spikes are not speed.
    best_1s_spread_mps, best_2s_spread_mps : standard deviations of the best held speeds.
    """

    track: CleanTrack
    passes: tuple[Pass, ...]
    peak_mps: float
    best_1s_mps: float
    best_2s_mps: float
    both_ways_mps: float
    raw_peak_mps: float
    best_1s_spread_mps: float
    best_2s_spread_mps: float
    distance_m: float
    duration_s: float
    steady: Steadiness


def analyse(samples: TrackSamples) -> TrackAnalysis:
    """Cleaned speed, passes, peak, best held 1 s and 2 s, both-ways average of a track."""
    track = clean(samples)
    finite = np.isfinite(track.speed_mps)
    passes = find_passes(track)
    raw = samples.receiver_speed_mps[np.isfinite(samples.receiver_speed_mps)]
    one, two = (held_best(track, seconds) for seconds in (1.0, 2.0))
    return TrackAnalysis(
        track=track,
        passes=passes,
        peak_mps=float(np.max(track.speed_mps[finite])) if np.any(finite) else float("nan"),
        best_1s_mps=one.mean_mps,
        best_2s_mps=min(two.mean_mps, one.mean_mps) if math.isfinite(two.mean_mps) else math.nan,
        best_1s_spread_mps=one.spread_mps,
        best_2s_spread_mps=two.spread_mps,
        both_ways_mps=both_ways_mps(passes),
        raw_peak_mps=float(np.max(raw)) if raw.size else float("nan"),
        distance_m=_distance_m(track),
        duration_s=float(samples.time_s[-1] - samples.time_s[0]) if len(samples) else 0.0,
        steady=steadiness(track, passes),
    )


def _distance_m(track: CleanTrack) -> float:
    """Way of all stretches whose speed is known [m]."""
    return sum(
        float(np.trapezoid(track.speed_mps[a:b], track.time_s[a:b])) for a, b in stretches(np.isfinite(track.speed_mps))
    )
