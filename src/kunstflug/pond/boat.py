"""The boat on the simulated pond: a drive with hidden true parameters, moved by its thrust surplus.

It is not the forecast: its parameters are drawn from the same priors the forecast's band is made of, so that
forecast and result differ as they do on a real pond.
"""

from dataclasses import dataclass

import numpy as np

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.point import resistance_n
from kunstflug.core.drive.values import Rows, drive_values
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.network import ADDED_MASS, bilinear
from kunstflug.core.thermal.nodes import thermal_values
from kunstflug.core.thermal.tables import DUTIES, throttle_tables


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """What the hidden boat really is: a row of drive values and a row of thermal values."""

    drive: Rows
    thermal: Rows

    def number(self, name: str) -> float:
        """One true number of the drive."""
        return float(self.drive[name][0])


def boat_seed(boat_id: int) -> int:
    """Which hidden boat belongs to a boat of the racer's: one boat stays the same over its outings."""
    return 21000 + boat_id


def hidden_truth(setup: Setup, seed: int) -> Truth:
    """Draws the true parameters of a boat; the same seed is the same boat."""
    return Truth(drive=drive_values(setup).rows(1, seed)[1:], thermal=thermal_values(setup).rows(1, seed)[1:])


@dataclass(frozen=True, slots=True, kw_only=True)
class Pull:
    """What the drive does: thrust [N], motor current [A], shaft speed [1/s]."""

    thrust_n: float
    current_a: float
    shaft_rps: float


class BoatTables:
    """Thrust, motor current and shaft speed of one boat, read at every step."""

    def __init__(self, setup: Setup, truth: Truth) -> None:
        self.tables = throttle_tables(truth.drive, curve_of(setup))
        self.top_mps = float(self.tables.top_mps[0])
        self.full_mps = float(self.tables.full_mps[0])

    def at(self, duty: float, speed_mps: float) -> Pull:
        """What the drive does at a duty and speed; nothing turns below the smallest duty."""
        step = DUTIES[1] - DUTIES[0]
        thrust, current, rps = (
            float(bilinear(table[0], duty, speed_mps, self.top_mps, DUTIES[0], step))
            for table in (self.tables.thrust_n, self.tables.current_a, self.tables.shaft_rps)
        )
        return Pull(thrust_n=thrust, current_a=current, shaft_rps=rps)


class DragTable:
    """Resistance of a boat [N] over speed and headwind, worked out once and read at every step."""

    def __init__(self, truth: Truth, fastest_mps: float, wind_mps: float) -> None:
        most = max(wind_mps, 0.1)
        winds = np.linspace(-most, most, 33)
        windy = np.repeat(truth.drive, len(winds))
        windy["headwind_mps"] = winds
        self._table = resistance_n(windy, np.linspace(0.0, fastest_mps, 801))
        self._first, self._step, self._top = -most, float(winds[1] - winds[0]), fastest_mps

    def at(self, speed_mps: float, headwind_mps: float, turning: bool) -> float:
        """Resistance of the moment; a turn adds a quarter (the fin works)."""
        d = min(max((headwind_mps - self._first) / self._step, 0.0), self._table.shape[0] - 1.000001)
        s = min(max(speed_mps / self._top * (self._table.shape[1] - 1), 0.0), self._table.shape[1] - 1.000001)
        i, k = int(d), int(s)
        low, high = self._table[i], self._table[i + 1]
        a, b = d - i, s - k
        drag = (1 - a) * ((1 - b) * low[k] + b * low[k + 1]) + a * ((1 - b) * high[k] + b * high[k + 1])
        return float(drag) * (1.25 if turning else 1.0)


def moved_mass_kg(truth: Truth) -> float:
    """Mass that has to be accelerated [kg]: the boat and a tenth of water with it (common practice, no source)."""
    return ADDED_MASS * truth.number("mass_kg")
