"""The boat on the simulated pond: a drive with hidden true parameters, moved by its thrust surplus.

It is not the forecast: its parameters are drawn from the same priors the forecast's band is made of, so that
forecast and result differ as they do on a real pond.
"""

import dataclasses
from dataclasses import dataclass

import numpy as np

from kunstflug.core.drive.forecast import curve_of
from kunstflug.core.drive.operating_point import hull_resistance_n
from kunstflug.core.drive.parameters import DriveParameters, drive_values
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.tables import DUTIES, SPEEDS, throttle_tables
from kunstflug.core.drive.thermal import ThermalNumbers, thermal_values


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """What the hidden boat really is."""

    parameters: DriveParameters
    thermal: ThermalNumbers  # arrays of one value


def _scalars(bundle: object, at: int) -> dict[str, float]:
    fields = dataclasses.fields(bundle)  # type: ignore[arg-type]  # any of the two parameter bundles
    return {f.name: float(np.asarray(getattr(bundle, f.name)).reshape(-1)[at]) for f in fields}


def boat_seed(boat_id: int) -> int:
    """Which hidden boat belongs to a boat of the racer's: one boat stays the same over its outings."""
    return 21000 + boat_id


def hidden_truth(setup: Setup, seed: int) -> Truth:
    """Draws the true parameters of a boat; the same seed is the same boat."""
    return Truth(
        parameters=DriveParameters(**_scalars(drive_values(setup).sampled(1, seed), 0)),
        thermal=ThermalNumbers(**_scalars(thermal_values(setup).sampled(1, seed + 1), 1)),
    )


class BoatTables:
    """Thrust, motor current and shaft speed of one boat, read at every step."""

    def __init__(self, setup: Setup, truth: DriveParameters) -> None:
        self.tables = throttle_tables(truth, curve_of(setup))
        self.top_mps = float(self.tables.top_mps[0])

    def at(self, duty: float, speed_mps: float) -> tuple[float, float, float]:
        """Thrust [N], motor current [A] and shaft speed [1/s]; nothing turns below the smallest duty."""
        if duty < DUTIES[0]:
            return 0.0, 0.0, 0.0
        d = (duty - DUTIES[0]) / (DUTIES[1] - DUTIES[0])
        s = min(speed_mps / self.top_mps * (SPEEDS - 1), SPEEDS - 1.001)
        di, si = min(int(d), len(DUTIES) - 2), int(s)
        fd, fs = d - di, s - si
        weights = np.array([[(1 - fd) * (1 - fs), (1 - fd) * fs], [fd * (1 - fs), fd * fs]])
        window = (slice(di, di + 2), slice(si, si + 2))
        t = self.tables
        return tuple(float(np.sum(table[0][window] * weights)) for table in (t.thrust_n, t.current_a, t.shaft_rps))  # type: ignore[return-value]  # three tables, three numbers


def drag_n(truth: DriveParameters, speed_mps: float, headwind_mps: float, turning: bool) -> float:
    """Resistance [N] with the wind of the moment; a turn adds a quarter (the fin works)."""
    still = float(hull_resistance_n(dataclasses.replace(truth, headwind_mps=headwind_mps), speed_mps))
    return still * (1.25 if turning else 1.0)


def added_mass_kg(truth: DriveParameters) -> float:
    """Mass that has to be accelerated [kg]: the boat and a tenth of water with it (common practice, no source)."""
    return 1.1 * float(truth.mass_kg)
