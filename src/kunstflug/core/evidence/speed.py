"""Which speed of a run counts: the one rule for learning, for comparing and for what lists show."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from kunstflug.core.evidence.display import held_speed
from kunstflug.core.evidence.instruments import LIFTED, SPREADS, WIND_PART, WIND_UNKNOWN, By
from kunstflug.core.evidence.readings import Reading, What


@dataclass(frozen=True, slots=True, kw_only=True)
class Peaks:
    """Speeds that were read off displays.

    Parameters
    ----------
    best : by each instrument that was aboard [m/s].
    second : second-best peak of the outing [m/s].
    ways : peaks there and back [m/s].
    instrument : name of the first instrument.
    """

    best: Sequence[float] = ()
    second: float | None = None
    ways: tuple[float, float] | None = None
    instrument: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackSpeeds:
    """Speeds of a receiver's track [m/s]; ``best_2s_spread`` is one standard deviation [m/s]."""

    both_ways: float | None = None
    best_2s: float | None = None
    best_2s_spread: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SpeedHeld:
    """The speed of a run that counts.

    Parameters
    ----------
    reading : with its spread.
    by : what it was read with.
    both_ways : whether the wind is out of it.
    """

    reading: Reading
    by: By
    both_ways: bool


def speed_held(
    track: TrackSpeeds | None, peaks: Peaks, *, wind_mps: float | None = None, feathered: bool = False
) -> SpeedHeld | None:
    """The speed that was held: the track's mean of both directions, else its best two seconds, else a display's.

    Parameters
    ----------
    wind_mps : None where nobody wrote it down.
    feathered : the trigger was not held at full.
    """
    lifted = LIFTED if feathered else 0.0
    if track is not None and track.both_ways:
        spread = math.hypot(SPREADS[By.BOTH_WAYS, What.SPEED], lifted)
        return _held(track.both_ways, spread, By.BOTH_WAYS, "receiver", both_ways=True)
    if track is not None and track.best_2s:
        own = math.hypot(SPREADS[By.RECEIVER, What.SPEED], (track.best_2s_spread or 0.0) / track.best_2s)
        spread = math.hypot(own, math.hypot(_of_wind(wind_mps, track.best_2s), lifted))
        return _held(track.best_2s, spread, By.RECEIVER, "receiver", both_ways=False)
    read = held_speed(peaks.best, peaks.second, peaks.ways)
    if read is None:
        return None
    wind = 0.0 if read.both_ways else _of_wind(wind_mps, read.speed_mps)
    spread = math.hypot(read.spread, math.hypot(wind, lifted))
    return _held(read.speed_mps, spread, By.DISPLAY, peaks.instrument or "display", both_ways=read.both_ways)


def _held(speed_mps: float, spread: float, by: By, instrument: str, *, both_ways: bool) -> SpeedHeld:
    reading = Reading(what=What.SPEED, value=speed_mps, spread=spread, instrument=instrument)
    return SpeedHeld(reading=reading, by=by, both_ways=both_ways)


def _of_wind(wind_mps: float | None, speed_mps: float) -> float:
    """Error of the speed of a pass one way only, by the wind [1]."""
    return WIND_UNKNOWN if wind_mps is None else WIND_PART * wind_mps / speed_mps
