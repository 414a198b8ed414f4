"""Boats whose motion is known, and what receivers with known errors make of it."""

from dataclasses import dataclass

import numpy as np

from kunstflug.core.tracks import TrackSamples

STEP_S = 0.01


@dataclass(frozen=True)
class Truth:
    """Time, east, north and speed at every hundredth of a second."""

    time: np.ndarray
    east: np.ndarray
    north: np.ndarray
    speed: np.ndarray

    def best(self, seconds: float) -> float:
        """Highest mean speed over so many seconds."""
        count = round(seconds / STEP_S)
        way = np.concatenate([[0.0], np.cumsum(self.speed)])
        return float(np.max(way[count:] - way[:-count]) / count)


def _towards(a: float, b: float, rate: float) -> np.ndarray:
    count = max(int(abs(b - a) / rate / STEP_S), 1)
    return a + (b - a) * (1 - np.exp(-3 * np.linspace(0, 1, count))) / (1 - np.exp(-3))


def laps(rng: np.random.Generator, top: float, hold=(3.0, 8.0), launch=8.0, passes=6) -> Truth:
    """Passes at ``top`` that hold for a while, with launches, waves, slow turns between."""
    cruise = 0.5 * top
    speeds, turns = [np.full(300, 0.6 * cruise)], [np.zeros(300)]
    last = 0.6 * cruise
    for _ in range(passes):
        fast = top * (1 + 0.01 * rng.normal())
        held = np.full(int(rng.uniform(*hold) / STEP_S), fast)
        held += 0.15 * np.sin(np.arange(len(held)) * STEP_S * 2 * np.pi * 1.3)
        for part, turn in (
            (_towards(last, fast, launch), 0.0), (held, 0.0), (_towards(held[-1], cruise, 12.0), 0.0),
            (np.full(300, cruise), np.pi / 3),
        ):  # fmt: skip
            speeds.append(part)
            turns.append(np.full(len(part), turn))
        last = cruise
    speed = np.concatenate(speeds)
    turn = np.convolve(np.concatenate(turns), np.ones(40) / 40, "same")
    heading = np.cumsum(turn) * STEP_S + rng.uniform(0, 6)
    return Truth(
        np.arange(len(speed)) * STEP_S,
        np.cumsum(speed * np.sin(heading)) * STEP_S,
        np.cumsum(speed * np.cos(heading)) * STEP_S,
        speed,
    )


def logged(
    rng: np.random.Generator, truth: Truth, hz: float, *, doppler: float | None = None, slow=2.0, over_s=30.0,
    white=0.1, lag_s=0.0, spikes=0, dropout_s=0.0,
) -> TrackSamples:  # fmt: skip
    """What a receiver logs: positions with a slow error [m] that fades over ``over_s``, a white one, speed if any."""
    at = np.arange(0, len(truth.time), round(1 / hz / STEP_S))
    count = len(at)
    error = np.zeros((2, count))
    fade = np.exp(-1 / hz / over_s)
    error[:, 0] = rng.normal(0, slow, 2)
    for k in range(1, count):
        error[:, k] = fade * error[:, k - 1] + np.sqrt(1 - fade**2) * slow * rng.normal(0, 1, 2)
    error += rng.normal(0, white, (2, count))
    speed = np.full(count, np.nan)
    if doppler is not None:
        speed = truth.speed[np.maximum(at - round(lag_s / STEP_S), 0)] + rng.normal(0, doppler, count)
    hit = rng.choice(np.arange(2, count - 2), spikes, replace=False)
    error[:, hit] += rng.normal(0, 40, (2, spikes))
    speed[hit] += rng.uniform(15, 50, spikes)
    keep = np.ones(count, dtype=bool)
    if dropout_s:
        begin = rng.integers(0, max(count - int(dropout_s * hz), 1))
        keep[begin : begin + int(dropout_s * hz)] = False
    latitude, longitude = 47.0, -30.0
    return TrackSamples(
        time_s=truth.time[at],
        latitude_deg=latitude + (truth.north[at] + error[1]) / 111_168.0,
        longitude_deg=longitude + (truth.east[at] + error[0]) / (111_320.0 * np.cos(np.radians(latitude)) * 1.00157),
        receiver_speed_mps=np.maximum(speed, 0.0),
        start_unix_s=1_780_000_000.0,
    ).taken(np.flatnonzero(keep))
