"""What is left open of a reading beside the numbers of the boat: day, run, instrument, charge, duty, and the laws."""

import math
from typing import Final

from kunstflug.core.learning.seen import HEAT, Reading, What

# One standard deviation of a logarithm (all common practice, no source).
DAY: Final = 0.007  # of the speed, from one day to another
REPEAT: Final = 0.006  # of the speed, from one run to another of the same day
INSTRUMENT: Final = 0.005  # of a speed, from one instrument to another
CHARGE_OPEN: Final = 0.012  # of the resting voltage, where the charge at the start was not told
DUTY_OPEN: Final = 0.12  # of a rise and of the charge used, where the duty is a guess
DUTY_KNOWN: Final = 0.05
LAWS: Final = {What.CURRENT: 0.01, What.RPM: 0.003, What.VOLTAGE: 0.002, What.CHARGE: 0.04}
HELD: Final = {
    What.CURRENT: 0.02, What.RPM: 0.006, What.VOLTAGE: 0.004, What.CHARGE: 0.05, What.CASE: 0.06, What.CONTROLLER: 0.06,
    What.PACK: 0.06, What.CONNECTOR: 0.10,
}  # fmt: skip
"""What the laws are wrong by of a reading in all runs of a boat, so that a hundred runs do not bend its numbers."""
LAWS_K: Final = 1.0
LAWS_RISE: Final = 0.03
"""What the laws leave open of a reading beside the numbers they are given, of a rise [1], and in K."""


def spread_of(reading: Reading, rise_k: float) -> float:
    """Spread of a reading's logarithm with what the laws leave open of it; of a temperature, of its rise [K]."""
    if reading.what in HEAT:
        return math.hypot(math.hypot(reading.spread, LAWS_K) / rise_k, LAWS_RISE)
    return math.hypot(reading.spread, LAWS.get(reading.what, 0.0))
