"""What a boat held for some seconds, and how much of that was the receiver's luck."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.core.tracks.cleaning import CleanTrack

_ALL: Final = slice(None)


@dataclass(frozen=True, slots=True, kw_only=True)
class HeldMean:
    """Highest mean speed over some seconds and its standard deviation [m/s]; NaN if there is none."""

    mean_mps: float
    spread_mps: float


_NONE: Final = HeldMean(mean_mps=math.nan, spread_mps=math.nan)


def best_mean(time_s: Array, speed_mps: Array, window_s: float) -> float:
    """Highest mean speed over any window of ``window_s`` seconds without a gap [m/s]; NaN if there is none."""
    best = math.nan
    for a, b in stretches(np.isfinite(speed_mps)):
        means = window_means(time_s[a:b], speed_mps[a:b], window_s)
        if means.size and not np.max(means) <= best:
            best = float(np.max(means))
    return best


def window_means(time_s: Array, speed_mps: Array, window_s: float) -> Array:
    """Mean speeds over each window that starts at a sample; straight lines between samples.

    Parameters
    ----------
    time_s : shape (K,), rising.
    speed_mps : shape (..., K).

    Returns
    -------
    shape (..., S), none where the stretch is shorter than the window.

    >>> window_means(np.array([0.0, 1.0, 2.0]), np.array([10.0, 12.0, 20.0]), 1.0)
    array([11., 16.])
    """
    starts = time_s[time_s <= time_s[-1] - window_s * (1 - 1e-9)]
    half = np.diff(time_s) / 2
    steps = (speed_mps[..., 1:] + speed_mps[..., :-1]) * half
    way = np.concatenate([np.zeros_like(speed_mps[..., :1]), np.cumsum(steps, axis=-1)], axis=-1)
    at = np.interp(starts + window_s, time_s, np.arange(len(time_s)))
    before = np.minimum(at.astype(np.intp), max(len(time_s) - 2, 0))
    part = at - before
    ends = way[..., before] * (1 - part) + way[..., np.minimum(before + 1, len(time_s) - 1)] * part
    return np.asarray((ends - way[..., : len(starts)]) / window_s)


def held_best(track: CleanTrack, window_s: float, within: slice = _ALL) -> HeldMean:
    """The fastest seconds of a track, or of a part of it.

    The fastest of many windows is also the luckiest: what replays of the track gain over it is taken back, and doubted
    as a whole. Beside it stand the replays' spread in that window, and what the speed may do between two samples.
    """
    time, speed, replays = track.time_s[within], track.speed_mps[within], track.replays_mps[:, within]
    best, window, lucky = -math.inf, _ALL, np.full(len(replays), -math.inf)
    for a, b in stretches(np.isfinite(speed)):
        means = window_means(time[a:b], np.vstack([speed[a:b], replays[:, a:b]]), window_s)
        if not means.size:
            continue
        lucky = np.maximum(lucky, np.max(means[1:], axis=1))
        at = int(np.argmax(means[0]))
        if means[0, at] > best:
            best = float(means[0, at])
            window = slice(a + at, a + int(np.searchsorted(time[a:b], time[a + at] + window_s, "right")))
    if best < 0:
        return _NONE
    luck = float(np.mean(lucky)) - best
    errs = float(np.std(np.mean(replays[:, window], axis=1)))
    return HeldMean(mean_mps=best - luck, spread_mps=math.hypot(errs, luck, _between(track.spread_mps[within][window])))


def _between(spreads: Array) -> float:
    """What the speed between two samples may be off a straight line, as a standard deviation [m/s]."""
    return math.sqrt(max(float(np.mean(spreads**2) - np.min(spreads) ** 2), 0.0))


def stretches(mask: "np.typing.NDArray[np.bool_]") -> list[tuple[int, int]]:
    """Start and end (exclusive) of every run of true."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
