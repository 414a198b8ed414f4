"""Turns: how tight, how fast in and out, what was lost, and the grip it took."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.laws.resistance import GRAVITY_MPS2
from kunstflug.core.tracks.cleaning import CleanTrack
from kunstflug.core.tracks.held import stretches
from kunstflug.core.tracks.passes import turn_rate_deg_per_s

LEAST_DEG_PER_S: Final = 15.0  # below it a boat wanders
LEAST_TURNED_DEG: Final = 60.0
LEAST_MPS: Final = 4.0
JOINED_S: Final = 0.4  # a hand that eases for so long is still in the same turn


@dataclass(frozen=True, slots=True, kw_only=True)
class Turn:
    """One turn.

    Parameters
    ----------
    turned_deg : change of heading; positive to the right.
    radius_m : of its middle half: speed over turn rate.
    lateral_g : grip that its middle half took, speed times turn rate over gravity (kinematics).
    lost : part of the speed at its beginning that was gone at its slowest.
    """

    start_s: float
    end_s: float
    turned_deg: float
    radius_m: float
    entry_mps: float
    slowest_mps: float
    exit_mps: float
    lateral_g: float

    @property
    def lost(self) -> float:
        """Part of the speed at its beginning that was gone at its slowest [1]."""
        return 1.0 - self.slowest_mps / self.entry_mps


def find_turns(track: CleanTrack) -> tuple[Turn, ...]:
    """All turns of a track, in time order; none where the positions are too far apart to tell one."""
    rate = turn_rate_deg_per_s(track)
    with np.errstate(invalid="ignore"):
        moving = track.speed_mps >= LEAST_MPS
    found = []
    for way in (1.0, -1.0):
        turning = _joined((way * rate >= LEAST_DEG_PER_S) & moving, max(round(JOINED_S / track.step_s), 1))
        for a, b in stretches(turning & np.isfinite(track.speed_mps)):
            turned = float(np.sum(rate[a:b]) * track.step_s)
            if abs(turned) < LEAST_TURNED_DEG or b - a < 4:
                continue
            quarter = (b - a) // 4
            speed, omega = track.speed_mps[a:b], np.radians(np.abs(rate[a:b]))
            v, w = speed[quarter : b - a - quarter], omega[quarter : b - a - quarter]
            found.append(
                Turn(
                    start_s=float(track.time_s[a]),
                    end_s=float(track.time_s[b - 1]),
                    turned_deg=turned,
                    radius_m=float(np.median(v / np.maximum(w, 1e-3))),
                    entry_mps=float(speed[0]),
                    slowest_mps=float(np.min(speed)),
                    exit_mps=float(speed[-1]),
                    lateral_g=float(np.median(v * w) / GRAVITY_MPS2),
                )
            )
    return tuple(sorted(found, key=lambda turn: turn.start_s))


def _joined(mask: "np.typing.NDArray[np.bool_]", most: int) -> "np.typing.NDArray[np.bool_]":
    """A mask with its short gaps closed."""
    found = mask.copy()
    for a, b in stretches(~mask):
        if a > 0 and b < len(mask) and b - a <= most:
            found[a:b] = True
    return found
