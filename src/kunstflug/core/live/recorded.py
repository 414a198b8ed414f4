"""What was received of a drive, as a track and a controller's log, and what each place should read after landing."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.live.watch import HotPlace, Sample, Watch
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.core.tracks.samples import Array, TrackSamples

FEWEST: Final = 20
SOAK_S: Final = (*range(0, 120, 10), *range(120, 600, 30), *range(600, 1801, 60))
"""Seconds after landing of which the curves are given."""

_LOG: Final = {
    "bus_a": ("current_a", 1.0), "voltage_v": ("voltage_v", 1.0), "rpm": ("rpm", 1.0),
    "throttle": ("throttle_percent", 100.0), "controller_c": ("controller_degc", 1.0), "case_c": ("motor_degc", 1.0),
}  # fmt: skip
"""Columns of a log by field of a sample, and by what they are multiplied."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SoakTable:
    """What each place should read so many seconds after landing [s]; places of each of them."""

    seconds: tuple[float, ...]
    places: tuple[tuple[HotPlace, ...], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Recorded:
    """What became of the samples of a drive.

    Parameters
    ----------
    track : None where no position was told; log : None where nothing else was.
    best_mps, seconds : fastest sample, and from the first to the last.
    """

    track: TrackSamples | None
    log: ControllerLog | None
    best_mps: float
    seconds: float


def recorded(samples: Iterable[Sample], start_unix_s: float) -> Recorded:
    """Track and log of samples; each time once, in their order, whatever was sent twice.

    Parameters
    ----------
    start_unix_s : of the first sample, seconds since 1970 UTC.
    """
    rows = list({s.time_s: s for s in samples}.values())
    rows.sort(key=lambda s: s.time_s)
    speed = _column(rows, "speed_mps")
    return Recorded(
        track=_track(rows, speed, start_unix_s),
        log=_log(rows),
        best_mps=float(np.nanmax(speed)) if np.isfinite(speed).any() else 0.0,
        seconds=rows[-1].time_s - rows[0].time_s if rows else 0.0,
    )


def _column(rows: Sequence[Sample], name: str) -> Array:
    return np.array([np.nan if (v := getattr(s, name)) is None else v for s in rows], dtype=np.float64)


def _track(rows: Sequence[Sample], speed: Array, start_unix_s: float) -> TrackSamples | None:
    latitude, longitude = _column(rows, "latitude_deg"), _column(rows, "longitude_deg")
    told = np.isfinite(latitude) & np.isfinite(longitude)
    if told.sum() < FEWEST:
        return None
    time = np.array([s.time_s for s in rows])[told]
    return TrackSamples(
        time_s=time - time[0],
        latitude_deg=latitude[told],
        longitude_deg=longitude[told],
        receiver_speed_mps=speed[told],
        start_unix_s=start_unix_s + float(time[0]) - rows[0].time_s,
    )


def _log(rows: Sequence[Sample]) -> ControllerLog | None:
    columns = {}
    for name, (column, times) in _LOG.items():
        values = _column(rows, name) * times
        if np.isfinite(values).sum() >= FEWEST:
            columns[column] = values
    if not columns:
        return None
    time = np.array([s.time_s for s in rows])
    return ControllerLog(time_s=time - time[0], columns=columns)


def soak_table(watch: Watch) -> SoakTable:
    """What each place should read from now on, of a boat that lies still."""
    seconds = tuple(float(s) for s in SOAK_S)
    return SoakTable(seconds=seconds, places=watch.soak(seconds))
