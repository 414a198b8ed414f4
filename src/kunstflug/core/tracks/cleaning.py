"""Cleaned speed with its spread: what cannot be is left out, the rest is smoothed, gaps stay gaps."""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.tracks.plausible import FASTEST_MPS, gap_s, has_speeds, times_the_way
from kunstflug.core.tracks.samples import Array, TrackSamples, local_metres
from kunstflug.core.tracks.smoother import Noise, noise_of, smoothed

Mask = npt.NDArray[np.bool_]

SHORTEST_POSITIONS_S: Final = 0.5  # a shorter stretch of positions says nothing about speed
MOST_GRID: Final = 4  # points of the even clock for each sample
FINEST_S: Final = 0.25  # between samples further apart the motion is worked out, too
SHARPEST_MPS2: Final = 18.0
"""A position off its neighbours by more than this acceleration explains did not happen (common practice, no source)."""
STRONGEST_MPS2: Final = 15.0
"""Speeding up or slowing down along the way: 1.5 g (common practice, no source)."""
SLACK_M: Final = 4.0
SLACK_MPS: Final = 1.5
WORST_FOR_S: Final = 0.4  # 3 g for longer than this is no boat
HARDEST_MPS2: Final = 30.0
RECEIVER_PART: Final = 0.002
"""Standard deviation of a receiver's own speed, as a fraction of that speed (common practice, no source)."""
TRUST: Final = (0.5, 10.0)
"""A fix is taken to be at most so much better or worse than the usual one, whatever the receiver says."""
_ROUNDS: Final = 6
REPLAYS: Final = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class CleanTrack:
    """A track in stretches, each on an even clock; arrays of shape (M,), one NaN in each gap.

    M grows with the number of samples, never with the time that they span.

    Parameters
    ----------
    spread_mps : standard deviation of the speed.
    step_s : step of the clock in every stretch [s].
    sample_s : usual time between two samples of the file [s].
    speed_source : ``receiver`` or ``positions``.
    spikes : samples left out as spikes.
    gaps_s : shape (K, 2), start and end of each gap [s].
    replays_mps : shape (R, M), the speed as it would have been found from other errors of the receiver, were
        ``speed_mps`` the truth.
    """

    time_s: Array
    east_m: Array
    north_m: Array
    speed_mps: Array
    spread_mps: Array
    step_s: float
    sample_s: float
    speed_source: str
    spikes: int
    gaps_s: Array
    replays_mps: Array


def clean(track: TrackSamples) -> CleanTrack:
    """Speed cleaned of spikes, smoothed, on an even clock, with its spread.

    The receiver's own speed is used where at least four fifths of the samples have one and positions do not
    contradict it: it comes from Doppler shift and is far better than differences of positions, whose noise is
    sqrt(2) sigma / dt.
    """
    keep = np.isfinite(track.time_s) & np.isfinite(track.latitude_deg) & np.isfinite(track.longitude_deg)
    running = np.maximum.accumulate(np.where(keep, track.time_s, -np.inf))
    keep &= np.concatenate([[True], track.time_s[1:] > running[:-1]])  # the clock only goes forward
    kept = track.taken(np.flatnonzero(keep))
    time, doppler, worse = kept.time_s, kept.receiver_speed_mps, _worse(kept.accuracy_m)
    place = np.vstack(local_metres(kept.latitude_deg, kept.longitude_deg))
    if len(time) < 3:
        none = np.empty(0)
        return CleanTrack(
            time_s=none, east_m=none, north_m=none, speed_mps=none, spread_mps=none, step_s=1.0, sample_s=1.0,
            speed_source="positions", spikes=0, gaps_s=np.empty((0, 2)),
            replays_mps=np.empty((REPLAYS, 0)),
        )  # fmt: skip
    from_receiver = has_speeds(kept) and math.isnan(times_the_way(kept))
    bad = np.zeros(len(time), dtype=bool)
    for stretch in _unbroken(time):
        bad[stretch] = _off_their_neighbours(time[stretch], place[:, stretch])
    spikes = int(np.sum(bad))
    time, place, doppler, worse = time[~bad], place[:, ~bad], doppler[~bad], worse[~bad]
    if from_receiver:
        impossible = _faster_than_the_way(time, place, doppler)
        spikes += int(np.sum(impossible))
        doppler = np.where(impossible, np.nan, doppler)
    return _even(time, place, doppler[None] if from_receiver else None, worse, spikes)


def _unbroken(time: Array) -> list[slice]:
    """Each stretch without a gap."""
    edges = [0, *(np.flatnonzero(np.diff(time) > gap_s(time)) + 1).tolist(), len(time)]
    return [slice(a, b) for a, b in pairwise(edges) if b > a]


def _off_their_neighbours(time: Array, place: Array) -> Mask:
    """Positions that no hull gets to and away from again: farther off the chord of their neighbours than it turns.

    The worst of each neighbourhood goes first, and its neighbours are looked at anew.
    """
    bad = np.zeros(len(time), dtype=bool)
    for _ in range(_ROUNDS):
        left = np.flatnonzero(~bad)
        if len(left) < 3:
            break
        t, p = time[left], place[:, left]
        before, after = np.diff(t)[:-1], np.diff(t)[1:]
        part = before / (before + after)
        off = np.hypot(*(p[:, 1:-1] - (p[:, :-2] * (1 - part) + p[:, 2:] * part)))
        excess = off - (0.5 * SHARPEST_MPS2 * before * after + SLACK_M)
        around = np.maximum(np.concatenate([[-np.inf], off[:-1]]), np.concatenate([off[1:], [-np.inf]]))
        worst = (excess > 0) & (off >= around)
        if not np.any(worst):
            break
        bad[left[1:-1][worst]] = True
    return bad


def _worse(accuracy_m: Array) -> Array:
    """By how much the variance of a sample is larger than usual, by what the receiver says of its fix; else 1."""
    known = np.isfinite(accuracy_m)
    if not np.any(known):
        return np.ones(len(accuracy_m))
    usual = float(np.median(accuracy_m[known]))
    return np.asarray(np.where(known, np.clip(accuracy_m / usual, *TRUST) ** 2, 1.0))


def _faster_than_the_way(time: Array, place: Array, doppler: Array) -> Mask:
    """Speeds that the way around them does not allow: above its mean by more than 1.5 g explains."""
    reach = max(1.0, 1.01 * float(np.median(np.diff(time))))
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(place, axis=1)))])
    first, last = np.maximum(time - reach, time[0]), np.minimum(time + reach, time[-1])
    half = np.maximum(last - time, time - first)
    mean = (np.interp(last, time, way) - np.interp(first, time, way)) / (last - first)
    # noise of positions only makes the way longer, a drop in it shorter by metres
    most = mean + 0.5 * STRONGEST_MPS2 * half + (SLACK_MPS + SLACK_M / (last - first))
    with np.errstate(invalid="ignore"):
        return np.asarray(doppler > most)


def _even(time: Array, place: Array, doppler: Array | None, worse: Array, spikes: int) -> CleanTrack:
    """Each unbroken stretch smoothed on an even clock; one NaN between stretches.

    The step is a sample's, cut where samples are far apart, and made longer where a very uneven clock would ask for
    more than ``MOST_GRID`` points a sample.
    """
    usual = float(np.median(np.diff(time))) if len(time) > 1 else 1.0
    stretches = _unbroken(time)
    covered = sum(float(time[s.stop - 1] - time[s.start]) for s in stretches)
    step = usual / min(max(int(np.ceil(usual / FINEST_S - 1e-6)), 1), MOST_GRID)
    step = max(step, covered / (MOST_GRID * max(len(time), 1)))
    longest = max(stretches, key=lambda s: s.stop - s.start)
    values = place if doppler is None else doppler
    noise = noise_of(time[longest], values[:, longest], doppler is not None, worse[longest])
    columns: list[Array] = []
    for before, s in zip([None, *stretches], stretches, strict=False):
        if before is not None:
            middle = (time[before.stop - 1] + time[s.start]) / 2
            columns.append(np.array([[middle], *[[np.nan]] * (4 + REPLAYS)]))
        of = None if doppler is None else doppler[:, s]
        stretch, doubted = _stretch(time[s], place[:, s], of, worse[s], step, noise)
        spikes += doubted
        columns.append(stretch)
    out = np.concatenate(columns, axis=1)
    return CleanTrack(
        time_s=out[0],
        east_m=out[1],
        north_m=out[2],
        speed_mps=out[3],
        spread_mps=out[4],
        step_s=step,
        sample_s=usual,
        speed_source="positions" if doppler is None else "receiver",
        spikes=spikes,
        gaps_s=np.array([[time[a.stop - 1], time[b.start]] for a, b in pairwise(stretches)]).reshape(-1, 2),
        replays_mps=out[5:],
    )


def _stretch(
    time: Array, place: Array, doppler: Array | None, worse: Array, step: float, noise: Noise
) -> tuple[Array, int]:
    """Time, east, north, speed, its spread and its replays of one stretch, shape (5 + R, K); how many did not fit."""
    clock = time[0] + np.arange(int((time[-1] - time[0]) / step + 1e-6) + 1) * step
    lone = len(time) < 3 or time[-1] - time[0] < SHORTEST_POSITIONS_S
    if lone and doppler is None:
        x, y = (np.interp(clock, time, axis) for axis in place)
        nothing = np.full((2 + REPLAYS, len(clock)), np.nan)
        return np.vstack([clock, x, y, nothing]), 0
    fine, at = _between(time, step)
    of_speed = doppler is not None
    read = np.full((1 if of_speed else 2, len(fine)), np.nan)
    read[:, at] = place if doppler is None else doppler
    trusted = np.ones(len(fine))
    trusted[at] = worse
    found = smoothed(fine, read, of_speed, noise, worse=trusted, replays=REPLAYS)
    speed = found.speed[0] if of_speed else np.hypot(*found.speed)
    spread = found.speed_spread
    if of_speed:
        spread = np.hypot(spread, RECEIVER_PART * speed)
    where = (
        [np.interp(clock, time, axis) for axis in place]
        if of_speed
        else [np.interp(clock, fine, axis) for axis in found.place]
    )
    # Between two samples a straight line: a curve through them swings past the corner where a boat stops gaining speed.
    known = _possible(np.interp(clock, time, np.maximum(speed[at], 0.0)), step)
    replays = [np.where(np.isfinite(known), np.interp(clock, time, one[at]), np.nan) for one in found.replays]
    return np.vstack([clock, *where, known, np.interp(clock, fine, spread), *replays]), int(np.sum(found.doubted > 1))


def _between(time: Array, step: float) -> tuple[Array, npt.NDArray[np.intp]]:
    """The samples' times with further ones between those that are more than a step apart; where the samples are."""
    pieces = np.clip(np.ceil(np.diff(time) / step - 1e-6).astype(np.intp), 1, None)
    at = np.concatenate([[0], np.cumsum(pieces)])
    return np.interp(np.arange(at[-1] + 1), at, time), at


def _possible(speed: Array, step: float) -> Array:
    """Speed without what no boat does: faster than any, or changes of 3 g that last."""
    wrong = speed > FASTEST_MPS
    if len(speed) > 1:
        window = max(round(WORST_FOR_S / step), 1)
        over = np.abs(np.gradient(speed, step)) > HARDEST_MPS2
        if len(speed) >= window:
            wrong = wrong | (np.convolve(over, np.ones(window), "same") >= window)
    return np.where(wrong, np.nan, speed)
