"""Sensors are doubted: what is stuck, cannot be, jumps or counts in the other unit is said, set aside or put right.

What is judged against is the boat as it would be if no sensor had been listened to: all drives of ``LiveHeat``, those
without water too, so that a motor that really heats up is never taken for a sensor's fault.
"""

from collections import deque
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array

BELOW_K: Final = 3.0  # below water and air alike: no part of a boat is colder
HIGHEST_C: Final = 200.0
JUMP_K: Final = 12.0  # between two samples and
JUMP_K_S: Final = 6.0  # for each second between them: no case warms so fast (common practice, no source)
STUCK_S: Final = 12.0
STUCK_K: Final = 0.25  # it does not move by more
MOVES_K: Final = 4.0  # where every drive would have moved by that
COOLER_K: Final = 8.0  # than the coolest drive, for so long
COOLER_S: Final = 4.0
WARMED: Final = 0.4  # of the coolest drive's rise: so much, and a cool sensor sits on something that warms
UNLIKE_K, LIKE_K = 10.0, 3.0  # off every drive in its own unit, and in the other
FIRST_S: Final = 15.0
ENOUGH: Final = 15  # readings
MOST_ODD: Final = 8  # readings in a row


class Fault(StrEnum):
    """What is wrong with a sensor."""

    STUCK = "stuck"
    IMPOSSIBLE = "impossible"
    JUMPS = "jumps"
    TOO_COLD = "too_cold"
    OTHER_UNIT = "other_unit"


@dataclass(slots=True)
class Sensor:
    """One place's sensor: what it said, and whether it is believed.

    Parameters
    ----------
    coldest_c : of water and air [degC].
    fault : what is wrong with it; with the other unit it is put right and believed, else it is set aside.
    seconded : whether another says the same against the model: two that agree are believed.
    """

    coldest_c: float
    fault: Fault | None = None
    seconded: bool = False
    _kept: deque[tuple[float, float, Array]] = field(default_factory=deque)
    _first: list[tuple[float, float]] = field(default_factory=list)
    _began: float | None = None
    _last: tuple[float, float] | None = None
    _cool_since: float | None = None
    _odd: int = 0
    _warms: bool = False

    @property
    def believed(self) -> bool:
        """Whether what it says counts."""
        return self.fault in (None, Fault.OTHER_UNIT)

    @property
    def cool(self) -> bool:
        """Whether it says that its place is cooler than any drive, and warms with it."""
        return self._warms and (self.fault is Fault.TOO_COLD or self._cool_since is not None)

    def second(self) -> None:
        """Another sensor says the same of its own place: the model is wrong, not they."""
        self.seconded = True
        if self.fault is Fault.TOO_COLD:
            self.fault = None

    def read(self, time_s: float, celsius: float, drives_c: Array) -> float | None:
        """What is to be believed of a reading [degC]; None for nothing.

        Parameters
        ----------
        drives_c : the place in every drive as no sensor has moved it [degC], shape (N,).
        """
        if self._unit(time_s, celsius, drives_c):
            return None
        if self.fault is Fault.OTHER_UNIT:
            as_other = (celsius - 32.0) / 1.8
            if as_other < self.coldest_c - BELOW_K:  # it was a boat still warm from the last outing
                self.fault, self._began, self._last = None, -np.inf, None
            else:
                celsius = as_other
        if not self.believed:
            return None
        if not self.coldest_c - BELOW_K <= celsius <= HIGHEST_C:
            self._passed_over(Fault.IMPOSSIBLE)
            return None
        if self._last is not None:
            seconds = time_s - self._last[0]
            if abs(celsius - self._last[1]) > JUMP_K + JUMP_K_S * seconds:
                self._passed_over(Fault.JUMPS)
                return None
        self._last, self._odd = (time_s, celsius), 0
        if self._is_stuck(time_s, celsius, drives_c):
            self.fault = Fault.STUCK
        elif self._is_too_cold(time_s, celsius, drives_c):
            self.fault = Fault.TOO_COLD
        return celsius if self.believed else None

    def _unit(self, time_s: float, value: float, drives_c: Array) -> bool:
        """Whether it is still to be seen which unit it counts in: the first readings fit the one and not the other."""
        self._began = time_s if self._began is None else self._began
        if self.fault is not None or time_s - self._began > FIRST_S:
            return False
        as_other = (value - 32.0) / 1.8
        self._first.append((float(np.abs(drives_c - value).min()), float(np.abs(drives_c - as_other).min())))
        off, off_as_other = np.mean(self._first, axis=0)
        if off < UNLIKE_K or off_as_other > LIKE_K:
            return False
        if len(self._first) >= ENOUGH:
            self.fault, self._last = Fault.OTHER_UNIT, None
        return len(self._first) < ENOUGH

    def _passed_over(self, fault: Fault) -> None:
        """One such reading is passed over; where it stays so, the sensor is at fault."""
        self._odd += 1
        if self._odd > MOST_ODD:
            self.fault = fault

    def _is_stuck(self, time_s: float, celsius: float, drives_c: Array) -> bool:
        kept = self._kept
        if kept and abs(celsius - kept[0][1]) > STUCK_K:
            while kept and abs(celsius - kept[0][1]) > STUCK_K:
                kept.popleft()
        kept.append((time_s, celsius, drives_c.copy()))
        if time_s - kept[0][0] < STUCK_S:
            return False
        over = np.stack([row for _, _, row in list(kept)[:: max(len(kept) // 8, 1)]] + [drives_c])
        return bool(np.min(over.max(axis=0) - over.min(axis=0)) > MOVES_K)

    def _is_too_cold(self, time_s: float, celsius: float, drives_c: Array) -> bool:
        least = float(drives_c.min())
        self._warms = celsius - self.coldest_c > WARMED * (least - self.coldest_c)
        if self.seconded or celsius >= least - COOLER_K:
            self._cool_since = None
            return False
        self._cool_since = time_s if self._cool_since is None else self._cool_since
        return time_s - self._cool_since > COOLER_S
