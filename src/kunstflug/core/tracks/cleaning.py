"""Cleaned speed: spikes found and left out, gaps kept as gaps."""

from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt
from scipy.ndimage import median_filter

from kunstflug.core.tracks.samples import Array, TrackSamples, local_metres

SPIKE_SIGMAS: Final = 6.0  # robust standard deviations from the local median
SPIKE_SPEED_MPS: Final = 1.5  # and at least this much
SPIKE_POSITION_M: Final = 4.0
DOPPLER_WINDOW_S: Final = 0.5
POSITION_WINDOW_S: Final = 1.6


@dataclass(frozen=True, slots=True, kw_only=True)
class CleanTrack:
    """A track on an even clock; arrays of shape (M,), NaN inside gaps.

    Parameters
    ----------
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


def _spikes(values: Array, width: int, floor: float) -> npt.NDArray[np.bool_]:
    """Hampel identifier [hampel1974]: far from the running median in units of the running deviation."""
    middle = median_filter(values, width, mode="nearest")
    off = np.abs(values - middle)
    scale = 1.4826 * median_filter(off, 4 * width + 1, mode="nearest")
    return off > np.maximum(SPIKE_SIGMAS * scale, floor)


def _odd(samples: float, least: int) -> int:
    return max(round(samples) // 2 * 2 + 1, least)


def _smooth(values: Array, window: int, order: int, deriv: int, step_s: float) -> Array:
    """Savitzky-Golay over a stretch; shorter stretches get what window fits."""
    from scipy.signal import savgol_filter  # takes a second to import, and only reading a track needs it

    window = min(window, len(values) if len(values) % 2 else len(values) - 1)
    if window <= order:
        return np.gradient(values, step_s) if deriv and len(values) > 1 else values
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
    width = _odd(1.2 / step, 5)
    # The deviation of a boat at speed from its own running median is metres: allow what its speed explains.
    bad = _spikes(east, width, SPIKE_POSITION_M) | _spikes(north, width, SPIKE_POSITION_M)
    from_receiver = bool(np.mean(np.isfinite(doppler)) >= 0.8)
    if from_receiver:
        doppler_filled = np.interp(time, time[np.isfinite(doppler)], doppler[np.isfinite(doppler)])
        bad |= _spikes(doppler_filled, width, SPIKE_SPEED_MPS) | ~np.isfinite(doppler)
    spikes = int(np.sum(bad))
    time, east, north, doppler = time[~bad], east[~bad], north[~bad], doppler[~bad]
    return _even(time, east, north, doppler if from_receiver else None, step, spikes)


def _even(time: Array, east: Array, north: Array, doppler: Array | None, step: float, spikes: int) -> CleanTrack:
    """Each unbroken stretch interpolated to the even clock and smoothed; between stretches NaN."""
    breaks = np.flatnonzero(np.diff(time) > max(1.0, 4.5 * step))
    starts, ends = np.concatenate([[0], breaks + 1]), np.concatenate([breaks, [len(time) - 1]])
    clock = np.arange(time[0], time[-1] + step / 2, step)
    out = np.full((3, len(clock)), np.nan)
    for a, b in zip(starts, ends, strict=True):
        inside = (clock >= time[a] - 1e-9) & (clock <= time[b] + 1e-9)
        if not np.any(inside) or b == a:
            continue
        t, stretch = clock[inside], slice(a, b + 1)
        x, y = np.interp(t, time[stretch], east[stretch]), np.interp(t, time[stretch], north[stretch])
        if doppler is not None:
            raw = np.interp(t, time[stretch], doppler[stretch])
            speed = _smooth(raw, _odd(DOPPLER_WINDOW_S / step, 5), 2, 0, step)
        else:
            window = _odd(POSITION_WINDOW_S / step, 5)
            speed = np.hypot(_smooth(x, window, 2, 1, step), _smooth(y, window, 2, 1, step))
        out[:, inside] = x, y, np.maximum(speed, 0.0)
    gaps = np.column_stack([time[breaks], time[breaks + 1]])
    return CleanTrack(
        time_s=clock,
        east_m=out[0],
        north_m=out[1],
        speed_mps=out[2],
        step_s=step,
        speed_source="positions" if doppler is None else "receiver",
        spikes=spikes,
        gaps_s=gaps,
    )
