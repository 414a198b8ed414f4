"""What is left open of a reading beside the numbers of the boat: day, run, instrument, charge, duty, and the laws."""

import math
from typing import Final

from kunstflug.core.evidence.readings import HEAT, Reading, What
from kunstflug.core.learning.run_evidence import DutyFrom
from kunstflug.core.parts.conditions import Conditions, pack_temperature_c

# One standard deviation of a logarithm (all common practice, no source).
INSTRUMENT: Final = 0.005  # of a speed, from one instrument to another
CHARGE_OPEN: Final = 0.009  # of the resting voltage, where the charge at the start was not told: 5 % of the charge
DUTY_RISE: Final = {DutyFrom.GUESSED: 0.10, DutyFrom.COUNTED: 0.06, DutyFrom.TIMED: 0.05, DutyFrom.TRACKED: 0.05}
DUTY_CHARGE: Final = {DutyFrom.GUESSED: 0.40, DutyFrom.COUNTED: 0.16, DutyFrom.TIMED: 0.12, DutyFrom.TRACKED: 0.05}
"""What is not known of a duty, of a rise and of the charge used: who drove seven passes and not four used half as much
again, and is hardly warmer (a test holds them against random outings)."""
LAWS: Final = {What.CURRENT: 0.006, What.RPM: 0.002, What.VOLTAGE: 0.001, What.CHARGE: 0.02}
HELD: Final = {
    What.CURRENT: 0.015, What.RPM: 0.006, What.VOLTAGE: 0.004, What.CHARGE: 0.02, What.CASE: 0.06,
    What.CONTROLLER: 0.06, What.PACK: 0.08, What.CONNECTOR: 0.10,
}  # fmt: skip
"""What the laws are wrong by of a reading in all runs of a boat, so that a hundred runs do not bend its numbers."""
HELD_OF_SETUP: Final = {
    What.CURRENT: 0.025, What.RPM: 0.003, What.VOLTAGE: 0.002, What.CHARGE: 0.02, What.CASE: 0.15,
    What.CONTROLLER: 0.15, What.PACK: 0.12, What.CONNECTOR: 0.15,
}  # fmt: skip
"""The same in all runs of one setup: many of them do not make the laws right about it."""
START_LEFT: Final = 0.5
"""Part of what a pack was warmer at the start that is left of it after a run: it keeps its heat for long, and nobody
who did not write it down knows how warm it was kept."""
LAWS_K: Final = 1.0
LAWS_RISE: Final = 0.03
"""What the laws leave open of a reading beside the numbers they are given, of a rise [1], and in K."""


def spread_of(reading: Reading, rise_k: float, conditions: Conditions) -> float:
    """Spread of a reading's logarithm with what the laws leave open of it; of a temperature, of its rise [K]."""
    if reading.what in HEAT:
        open_k = math.hypot(reading.spread, LAWS_K)
        if reading.what is What.PACK:
            start = pack_temperature_c(conditions)
            open_k = math.hypot(open_k, START_LEFT * start.spread * start.value)
        return math.hypot(open_k / rise_k, LAWS_RISE)
    return math.hypot(reading.spread, LAWS.get(reading.what, 0.0))
