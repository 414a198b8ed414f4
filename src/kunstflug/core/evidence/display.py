"""What a number off a display says of the speed that was held.

A small display shows the fastest single sample it saw, which lies above what the boat held: by 1 to 4 % (common
practice, no source). That is taken off, and kept as a spread; so are two instruments that disagree, and a second-best
that lies far below the best.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.value import Z80

OVERSTATES: Final = 0.025  # the middle of 1 to 4 %
OVERSTATES_SPREAD: Final = 0.012
SAMPLE_MPS: Final = 0.15  # spread of a receiver's own speed, and of the last digit on the display
LONE: Final = 0.05  # a best so far above the second-best may be a single false sample


@dataclass(frozen=True, slots=True, kw_only=True)
class HeldSpeed:
    """Speed held at best, from what was read off displays.

    Parameters
    ----------
    speed_mps : most likely [m/s].
    spread : one standard deviation of its logarithm [1].
    both_ways : whether the wind is out of it.
    lone : whether the best peak stands alone, far above the second-best.
    """

    speed_mps: float
    spread: float
    both_ways: bool
    lone: bool

    @property
    def band_mps(self) -> tuple[float, float]:
        """The 80 % band [m/s]."""
        return self.speed_mps * math.exp(-Z80 * self.spread), self.speed_mps * math.exp(Z80 * self.spread)


def held_speed(
    peaks_mps: Sequence[float], second_mps: float | None = None, ways_mps: tuple[float, float] | None = None
) -> HeldSpeed | None:
    """Speed held at best.

    Parameters
    ----------
    peaks_mps : best peak by each instrument that was aboard [m/s].
    second_mps : second-best peak of the outing [m/s].
    ways_mps : peaks there and back [m/s]; their mean is free of wind.

    Returns
    -------
    None where no speed was read.
    """
    if ways_mps is not None:
        read = sum(ways_mps) / 2
        return HeldSpeed(speed_mps=_held(read), spread=_spread(read, 2), both_ways=True, lone=False)
    if not peaks_mps and second_mps is None:
        return None
    if not peaks_mps:
        assert second_mps is not None
        return HeldSpeed(speed_mps=_held(second_mps), spread=_spread(second_mps, 1), both_ways=False, lone=False)
    best = sum(peaks_mps) / len(peaks_mps)
    spread = _spread(best, 1)
    if len(peaks_mps) > 1:
        # What they have in common is not averaged away; what they disagree by is not hidden.
        apart = (max(peaks_mps) - min(peaks_mps)) / best
        spread = math.hypot(spread, apart / 2)
    lone = second_mps is not None and best > (1.0 + LONE) * second_mps
    if lone:
        assert second_mps is not None
        spread = math.hypot(spread, math.log(best / second_mps) / 2)
        best = math.sqrt(best * second_mps)
    return HeldSpeed(speed_mps=_held(best), spread=spread, both_ways=False, lone=lone)


def _held(read_mps: float) -> float:
    return read_mps / (1.0 + OVERSTATES)


def _spread(read_mps: float, count: int) -> float:
    return math.hypot(OVERSTATES_SPREAD, SAMPLE_MPS / max(read_mps, 0.1) / math.sqrt(count))
