"""The one table of instruments: what each can read, between which values, and with which spread.

Whoever reads a file, a line of a drive or a typed number, and whoever learns or judges, takes ranges and spreads from
here. Everything is common practice, no source, unless it says otherwise.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.evidence.readings import What


class Column(StrEnum):
    """What a log, a telemetry line or a typed run may hold beside speed and place, by its name there."""

    VOLTAGE = "voltage_v"
    CURRENT = "current_a"
    RPM = "rpm"
    THROTTLE = "throttle_percent"
    CONTROLLER = "controller_degc"
    CASE = "motor_degc"
    SPEED = "speed_mps"
    CHARGE = "charge_ah"


@dataclass(frozen=True, slots=True, kw_only=True)
class Range:
    """Between what a number can be true; wide: it takes out what cannot be, not what is unlikely."""

    low: float
    high: float

    def holds(self, value: float) -> bool:
        """Whether it can be; false for NaN."""
        return self.low <= value <= self.high


POSSIBLE: Final[dict[Column, Range]] = {
    Column.VOLTAGE: Range(low=0.0, high=130.0),  # 30 cells fully charged
    Column.CURRENT: Range(low=-200.0, high=2000.0),  # negative: a motor that brakes into the pack
    Column.RPM: Range(low=0.0, high=300_000.0),  # electrical speed, as some controllers write it, included
    Column.THROTTLE: Range(low=-110.0, high=120.0),
    Column.CONTROLLER: Range(low=-40.0, high=300.0),
    Column.CASE: Range(low=-40.0, high=400.0),
    Column.SPEED: Range(low=0.0, high=130.0),  # no electric model boat goes 468 km/h
    Column.CHARGE: Range(low=0.0, high=100.0),
}


class By(StrEnum):
    """What a number was read with."""

    BOTH_WAYS = "both_ways"  # a receiver's track, the mean of both directions
    RECEIVER = "receiver"  # a receiver's track, one way
    DISPLAY = "display"  # a peak, or peaks there and back; see ``display``
    LOG = "log"  # a controller's
    TYPED = "typed"  # off a display of current, rpm or volts
    GUN = "gun"


SPREADS: Final[dict[tuple[By, What], float]] = {
    (By.BOTH_WAYS, What.SPEED): 0.006,
    (By.RECEIVER, What.SPEED): 0.010,
    (By.LOG, What.CURRENT): 0.02,
    (By.LOG, What.RPM): 0.004,
    (By.LOG, What.VOLTAGE): 0.006,
    (By.LOG, What.CHARGE): 0.05,
    (By.TYPED, What.CURRENT): 0.06,
    (By.TYPED, What.RPM): 0.015,
    (By.TYPED, What.VOLTAGE): 0.015,
    (By.TYPED, What.CHARGE): 0.06,
    (By.GUN, What.CASE): 4.0,
    (By.GUN, What.CONTROLLER): 3.0,
    (By.GUN, What.PACK): 4.0,
    (By.GUN, What.CONNECTOR): 5.0,
}
"""One standard deviation: of the logarithm, of a temperature in K."""

DAY: Final = 0.007
"""Of the speed, from one day to another; one standard deviation of its logarithm."""
REPEAT: Final = 0.006
"""Of the speed, from one run to another of the same day."""
WIND_PART: Final = 0.2
"""A pass one way only: this part of the wind's speed is its error."""
WIND_UNKNOWN: Final = 0.010
LIFTED: Final = 0.06
"""A trigger that was not held at full."""

FULL_THROTTLE: Final = 0.95
"""Share of the throttle from which it counts as full: end points of radios lie a little below 1."""
PASS_FROM: Final = 0.75
"""Share of the top speed from which a boat is in a pass, where nobody reads the throttle."""
PASS_TO: Final = 0.70
"""A pass that has begun is over below this."""
AT_SPEED: Final = 0.90
"""Share of the top speed that counts as full speed: of a launch, and of what was held in a pass."""
