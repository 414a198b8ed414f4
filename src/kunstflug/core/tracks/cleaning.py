"""Cleaned speed: spikes found and left out, gaps kept as gaps."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.ndimage import median_filter

from kunstflug.core.tracks.plausible import FASTEST_MPS, gap_s
from kunstflug.core.tracks.samples import Array, TrackSamples, local_metres

Mask = npt.NDArray[np.bool_]

SPIKE_SIGMAS: Final = 6.0  # robust standard deviations from the local median
SPIKE_SPEED_MPS: Final = 1.5  # and at least this much
SPIKE_POSITION_M: Final = 4.0
DOPPLER_WINDOW_S: Final = 0.5
POSITION_WINDOW_S: Final = 1.6
SHORTEST_POSITIONS_S: Final = 0.5  # a shorter stretch of positions says nothing about speed
MOST_GRID: Final = 4  # points of the even clock for each sample
HARDEST_MPS2: Final = 80.0  # 8 g: no boat gains or loses speed like that (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class CleanTrack:
    """A track in stretches, each on an even clock; arrays of shape (M,), one NaN in each gap.

    M grows with the number of samples, never with the time that they span.

    Parameters
    ----------
    step_s : step of the clock in every stretch [s].
    speed_source : ``receiver`` or ``positions``.
    spikes : samples left out as spikes.
    gaps_s : shape (K, 2), start and end of each gap [s].
    """

    time_s: Array
    east_m: Array
    north_m: Array
    speed_mps: Array
    step_s: float
    speed_source: str
    spikes: int
    gaps_s: Array


def _spikes(values: Array, width: int, floor: float) -> Mask:
    """Hampel identifier [hampel1974]: far from the running median in units of the running deviation."""
    middle = median_filter(values, width, mode="nearest")
    off = np.abs(values - middle)
    scale = 1.4826 * median_filter(off, 4 * width + 1, mode="nearest")
    return off > np.maximum(SPIKE_SIGMAS * scale, floor)


def _odd(samples: float, least: int) -> int:
    return max(round(samples) // 2 * 2 + 1, least)


def _smooth(values: Array, window: int, order: int, deriv: int, step_s: float) -> Array:
    """Savitzky-Golay over a stretch; shorter stretches get what window fits, NaN where a slope has no window."""
    from scipy.signal import savgol_filter  # takes a second to import, and only reading a track needs it

    window = min(window, len(values) if len(values) % 2 else len(values) - 1)
    if window <= order:
        return np.full_like(values, np.nan) if deriv else values
    return np.asarray(savgol_filter(values, window, order, deriv=deriv, delta=step_s, mode="interp"))


def clean(track: TrackSamples) -> CleanTrack:
    """Speed cleaned of spikes, on an even clock.

    The receiver's own speed is used where at least four fifths of the samples have one: it comes from Doppler
    shift and is far better than differences of positions, whose noise is sqrt(2) sigma / dt. Otherwise speed is
    the derivative of a local parabola through the positions [savitzky1964].
    """
    keep = np.isfinite(track.time_s) & np.isfinite(track.latitude_deg) & np.isfinite(track.longitude_deg)
    running = np.maximum.accumulate(np.where(keep, track.time_s, -np.inf))
    keep &= np.concatenate([[True], track.time_s[1:] > running[:-1]])  # the clock only goes forward
    time = track.time_s[keep]
    east, north = local_metres(track.latitude_deg[keep], track.longitude_deg[keep])
    doppler = track.receiver_speed_mps[keep]
    if len(time) < 3:
        none = np.empty(0)
        return CleanTrack(
            time_s=none, east_m=none, north_m=none, speed_mps=none, step_s=1.0, speed_source="positions", spikes=0,
            gaps_s=np.empty((0, 2)),
        )  # fmt: skip
    step = float(np.median(np.diff(time)))
    from_receiver = bool(np.mean(np.isfinite(doppler)) >= 0.8)
    bad = np.zeros(len(time), dtype=bool)
    for a, b in _unbroken(time, step):
        stretch = slice(a, b)
        bad[stretch] = _bad(time[stretch], east[stretch], north[stretch], doppler[stretch], step, from_receiver)
    spikes = int(np.sum(bad))
    time, east, north, doppler = time[~bad], east[~bad], north[~bad], doppler[~bad]
    return _even(time, east, north, doppler if from_receiver else None, step, spikes)


def _unbroken(time: Array, step: float) -> list[tuple[int, int]]:
    """Start and end (exclusive) of each stretch without a gap."""
    breaks = np.flatnonzero(np.diff(time) > gap_s(step)) + 1
    edges = [0, *breaks.tolist(), len(time)]
    return [(a, b) for a, b in pairwise(edges) if b > a]


def _bad(time: Array, east: Array, north: Array, doppler: Array, step: float, from_receiver: bool) -> Mask:
    """Which samples of a stretch are spikes."""
    width = _odd(1.2 / step, 5)
    # The deviation of a boat at speed from its own running median is metres: allow what its speed explains.
    bad = _spikes(east, width, SPIKE_POSITION_M) | _spikes(north, width, SPIKE_POSITION_M)
    if not from_receiver:
        return bad
    there = np.isfinite(doppler)
    if not np.any(there):
        return np.ones(len(time), dtype=bool)
    return bad | _spikes(np.interp(time, time[there], doppler[there]), width, SPIKE_SPEED_MPS) | ~there


def _even(time: Array, east: Array, north: Array, doppler: Array | None, step: float, spikes: int) -> CleanTrack:
    """Each unbroken stretch interpolated to an even clock and smoothed; one NaN between stretches.

    The step is made longer where a very uneven clock would ask for more than ``MOST_GRID`` points a sample.
    """
    stretches = _unbroken(time, step)
    covered = sum(float(time[b - 1] - time[a]) for a, b in stretches)
    step = max(step, covered / (MOST_GRID * max(len(time), 1)))
    columns: list[Array] = []
    for a, b in stretches:
        if columns:
            columns.append(np.array([[(time[a - 1] + time[a]) / 2], [np.nan], [np.nan], [np.nan]]))
        columns.append(_stretch(time[a:b], east[a:b], north[a:b], None if doppler is None else doppler[a:b], step))
    out = np.concatenate(columns, axis=1) if columns else np.empty((4, 0))
    return CleanTrack(
        time_s=out[0],
        east_m=out[1],
        north_m=out[2],
        speed_mps=out[3],
        step_s=step,
        speed_source="positions" if doppler is None else "receiver",
        spikes=spikes,
        gaps_s=np.array([[time[a[1] - 1], time[b[0]]] for a, b in pairwise(stretches)]).reshape(-1, 2),
    )


def _stretch(time: Array, east: Array, north: Array, doppler: Array | None, step: float) -> Array:
    """Time, east, north and speed of one stretch, shape (4, K); the clock begins at its first sample."""
    clock = time[0] + np.arange(int((time[-1] - time[0]) / step + 1e-6) + 1) * step
    x, y = np.interp(clock, time, east), np.interp(clock, time, north)
    if doppler is not None:
        speed = _smooth(np.interp(clock, time, doppler), _odd(DOPPLER_WINDOW_S / step, 5), 2, 0, step)
    elif len(time) < 3 or time[-1] - time[0] < SHORTEST_POSITIONS_S:
        speed = np.full(len(clock), np.nan)
    else:
        window = _odd(POSITION_WINDOW_S / step, 5)
        speed = np.hypot(_smooth(x, window, 2, 1, step), _smooth(y, window, 2, 1, step))
    return np.vstack([clock, x, y, _possible(np.where(speed < 0, 0.0, speed), step)])


def _possible(speed: Array, step: float) -> Array:
    """Speed without what no boat does: faster than any, or harder changes than 8 g."""
    rate = np.abs(np.gradient(speed, step)) if len(speed) > 1 else np.zeros(len(speed))
    with np.errstate(invalid="ignore"):
        return np.where((speed > FASTEST_MPS) | (rate > HARDEST_MPS2), np.nan, speed)
