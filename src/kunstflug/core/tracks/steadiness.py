"""How steadily a boat ran: how its speed and its course swung within a pass, and what its turns lost."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import AT_SPEED
from kunstflug.core.quantity.value import Array
from kunstflug.core.tracks.cleaning import CleanTrack
from kunstflug.core.tracks.passes import Pass, turn_rate_deg_per_s
from kunstflug.core.tracks.turns import find_turns

ENDS_S: Final = 0.6  # at both ends, where it still comes up or eases already
LEAST_SAMPLES: Final = 8
SWINGS: Final = 2  # degree of what is taken off first: a boat that still gains speed, or bends a little, is steady


@dataclass(frozen=True, slots=True, kw_only=True)
class Steadiness:
    """Of a whole run; NaN where its track does not say.

    Parameters
    ----------
    speed_swing : standard deviation over the mean of the speed held in a pass, its trend taken off; median of passes.
    course_swing_deg_s : standard deviation of the turn rate there [deg/s].
    turn_loss : part of the speed that was gone at the slowest of a turn; median of turns.
    """

    speed_swing: float
    course_swing_deg_s: float
    turn_loss: float


def steadiness(track: CleanTrack, passes: tuple[Pass, ...]) -> Steadiness:
    """How steadily a boat ran, from its track."""
    rate = turn_rate_deg_per_s(track)
    speeds, courses = [], []
    for one in passes:
        a, b = np.searchsorted(track.time_s, one.start_s), np.searchsorted(track.time_s, one.end_s, "right")
        time, speed, turning = track.time_s[a:b], track.speed_mps[a:b], rate[a:b]
        fast = time[np.nan_to_num(speed) >= AT_SPEED * one.peak_mps]
        if not len(fast):
            continue
        held = np.isfinite(speed) & (time >= fast[0] + ENDS_S) & (time <= fast[-1] - ENDS_S)
        if np.count_nonzero(held) < LEAST_SAMPLES:
            continue
        speeds.append(_swing(time[held], speed[held]) / float(np.mean(speed[held])))
        courses.append(_swing(time[held], turning[held]))
    losses = [turn.lost for turn in find_turns(track)]
    return Steadiness(
        speed_swing=float(np.median(speeds)) if speeds else float("nan"),
        course_swing_deg_s=float(np.median(courses)) if courses else float("nan"),
        turn_loss=float(np.median(losses)) if losses else float("nan"),
    )


def _swing(time: Array, read: Array) -> float:
    """Standard deviation about a trend."""
    middle = (time - np.mean(time)) / max(float(np.ptp(time)), 1e-9)
    left = read - np.polyval(np.polyfit(middle, read, SWINGS), middle)
    return float(np.sqrt(np.sum(left**2) / (len(left) - SWINGS - 1)))
