"""Passes: the stretches at speed on a steady heading, found by themselves."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import PASS_FROM
from kunstflug.core.tracks.cleaning import CleanTrack
from kunstflug.core.tracks.held import held_best, stretches
from kunstflug.core.tracks.samples import Array

SHORTEST_S: Final = 1.5
TURNING_DEG_PER_S: Final = 20.0
SLOWEST_MPS: Final = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Pass:
    """One straight stretch at speed."""

    start_s: float
    end_s: float
    heading_deg: float  # 0 north, 90 east
    peak_mps: float
    best_1s_mps: float  # highest mean over any 1 s, less its luck; NaN if the pass is shorter
    best_2s_mps: float
    distance_m: float


def turn_rate_deg_per_s(track: CleanTrack) -> Array:
    """Turn rate from positions, over about a second so that noise does not look like a turn; none across a gap."""
    lag = max(round(0.5 / track.step_s), 1)
    rate = np.zeros_like(track.east_m)
    for a, b in stretches(np.isfinite(track.east_m)):
        if b - a > 4 * lag:
            rate[a + 2 * lag : b - 2 * lag] = _turning(track.east_m[a:b], track.north_m[a:b], lag, track.step_s)
    return rate


def _turning(east: Array, north: Array, lag: int, step_s: float) -> Array:
    heading = np.arctan2(east[2 * lag :] - east[: -2 * lag], north[2 * lag :] - north[: -2 * lag])
    turned = np.angle(np.exp(1j * (heading[2 * lag :] - heading[: -2 * lag])))
    return np.asarray(np.degrees(turned) / (2 * lag * step_s))


def find_passes(track: CleanTrack) -> tuple[Pass, ...]:
    """All passes of a track, in time order."""
    finite = track.speed_mps[np.isfinite(track.speed_mps)]
    if finite.size < 5:
        return ()
    top = float(np.percentile(finite, 99.5))
    if top < SLOWEST_MPS:
        return ()
    with np.errstate(invalid="ignore"):
        going = (track.speed_mps >= PASS_FROM * top) & (np.abs(turn_rate_deg_per_s(track)) <= TURNING_DEG_PER_S)
    found = []
    for a, b in stretches(going):
        t, v = track.time_s[a:b], track.speed_mps[a:b]
        if t[-1] - t[0] < SHORTEST_S:
            continue
        east, north = track.east_m[b - 1] - track.east_m[a], track.north_m[b - 1] - track.north_m[a]
        found.append(
            Pass(
                start_s=float(t[0]),
                end_s=float(t[-1]),
                heading_deg=float(np.degrees(np.arctan2(east, north)) % 360),
                peak_mps=float(np.max(v)),
                best_1s_mps=held_best(track, 1.0, slice(a, b)).mean_mps,
                best_2s_mps=held_best(track, 2.0, slice(a, b)).mean_mps,
                distance_m=float(np.sum(np.diff(t) * (v[1:] + v[:-1]) / 2)),
            )
        )
    return tuple(found)


def both_ways_mps(passes: tuple[Pass, ...]) -> float:
    """Mean of the best pass each way [m/s]; NaN unless there are passes in two opposite directions.

    The mean of the two speeds takes a steady wind out; opposite means more than 135 degrees apart. Each pass
    counts with its best 2 s, or its best 1 s where it is shorter.
    """
    speeds = np.array([p.best_2s_mps if np.isfinite(p.best_2s_mps) else p.best_1s_mps for p in passes])
    fastest = [int(k) for k in np.argsort(-speeds) if np.isfinite(speeds[k])]
    headings = np.array([passes[k].heading_deg for k in fastest])
    best = np.nan
    for i, one in enumerate(fastest):
        if speeds[one] <= best:
            break  # no pair with a slower one is better
        opposite = np.flatnonzero(np.abs((headings[i + 1 :] - headings[i] + 180) % 360 - 180) > 135)
        if len(opposite):
            best = np.fmax(best, (speeds[one] + speeds[fastest[i + 1 + opposite[0]]]) / 2)
    return float(best)
