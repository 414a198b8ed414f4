"""A controller log laid beside a track: how far their clocks are apart, told by what both say of the same boat."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.tracks.cleaning import CleanTrack
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.core.tracks.samples import Array

RATE_HZ: Final = 5.0
LEAST_MATCH: Final = 0.7
"""Below this correlation the two are not of the same run (common practice, no source)."""
MOST_POINTS: Final = 200_000
FOLLOWS: Final = ("rpm", "throttle_percent", "current_a")
"""Columns that go with a boat's speed, the one that does so best first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Alignment:
    """A log beside a track.

    Parameters
    ----------
    begins_s : when the log begins on the track's clock [s].
    match : correlation of the two there [1].
    """

    begins_s: float
    match: float


def align(track: CleanTrack, log: ControllerLog) -> Alignment | None:
    """Where a log lies on a track's clock; None where no place fits.

    Normalised cross-correlation of rpm (else throttle, else current) with speed, over every shift at which they share
    half of the shorter one; the best place is refined by a parabola.
    """
    name = next((n for n in FOLLOWS if n in log.columns and np.isfinite(log.columns[n]).sum() > 5), None)
    known = np.isfinite(track.speed_mps)
    if name is None or known.sum() < 5:
        return None
    a = _even(track.time_s[known], track.speed_mps[known])
    told = np.isfinite(log.columns[name])
    b = _even(log.time_s[told], log.columns[name][told])
    if a is None or b is None:
        return None
    least = min(len(a), len(b)) // 2
    if least < 10:
        return None
    match = _correlations(a, b, least)
    if not np.isfinite(match).any():
        return None
    best = int(np.nanargmax(match))
    if match[best] < LEAST_MATCH:
        return None
    shift = best - (len(b) - 1) + _between(match, best)
    begins = track.time_s[known][0] + shift / RATE_HZ - (log.time_s[told][0] - log.time_s[0])
    return Alignment(begins_s=round(float(begins), 2), match=round(float(match[best]), 3))


def _even(time: Array, values: Array) -> Array | None:
    count = int((time[-1] - time[0]) * RATE_HZ) + 1
    if not 10 <= count <= MOST_POINTS:
        return None
    return np.interp(time[0] + np.arange(count) / RATE_HZ, time, values)


def _correlations(a: Array, b: Array, least: int) -> Array:
    """Pearson's correlation of ``b`` laid on ``a`` at every shift, NaN where they share too little; by FFT."""
    size = len(a) + len(b) - 1
    padded = 1 << (size - 1).bit_length()

    def summed(x: Array, y: Array) -> Array:
        product = np.fft.irfft(np.fft.rfft(x, padded) * np.fft.rfft(y[::-1], padded), padded)
        return np.asarray(product[:size])

    a, b = a - a.mean(), b - b.mean()
    ones_a, ones_b = np.ones(len(a)), np.ones(len(b))
    count = np.maximum(np.round(summed(ones_a, ones_b)), 1.0)
    sum_a, sum_b = summed(a, ones_b), summed(ones_a, b)
    spread_a = np.maximum(summed(a * a, ones_b) / count - (sum_a / count) ** 2, 0.0)
    spread_b = np.maximum(summed(ones_a, b * b) / count - (sum_b / count) ** 2, 0.0)
    together = summed(a, b) / count - sum_a * sum_b / count**2
    scale = np.sqrt(spread_a * spread_b)
    flat = scale < 1e-6 * max(float(a.std() * b.std()), 1e-12)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where((count >= least) & ~flat, together / scale, np.nan)


def _between(match: Array, best: int) -> float:
    """Top of the parabola through the best place and its neighbours, in steps."""
    if not 0 < best < len(match) - 1:
        return 0.0
    before, at, after = match[best - 1 : best + 2]
    bend = before - 2 * at + after
    return float(0.5 * (before - after) / bend) if np.isfinite(bend) and bend < 0 else 0.0


def within(log: ControllerLog, begins_s: float, start_s: float, end_s: float) -> dict[str, float]:
    """Medians of a log's columns over some seconds of the track; those it does not cover are left out."""
    at = (log.time_s - log.time_s[0] + begins_s >= start_s) & (log.time_s - log.time_s[0] + begins_s <= end_s)
    medians = {}
    for name, values in log.columns.items():
        known = values[at & np.isfinite(values)]
        if len(known) >= 3:
            medians[name] = float(np.median(known))
    return medians
