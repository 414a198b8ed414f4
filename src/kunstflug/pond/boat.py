"""The boat on the simulated pond: a drive with hidden true parameters, moved by its thrust surplus.

It is not the forecast: its parameters are drawn from the same priors the forecast's band is made of, so that
forecast and result differ as they do on a real pond.
"""

import dataclasses
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.forecast import curve_of
from kunstflug.core.drive.operating_point import hull_resistance_n, state_at_advance
from kunstflug.core.drive.parameters import DriveParameters, drive_values
from kunstflug.core.drive.setup import Setup

_DUTIES: Final = np.linspace(0.15, 1.0, 12)
_SPEEDS: Final = 160


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """What the hidden boat really is."""

    parameters: DriveParameters
    surplus_thermal: npt.NDArray[np.float64]  # factors on heat capacities and conductances, see ``heat``


def hidden_truth(setup: Setup, seed: int) -> Truth:
    """Draws the true parameters of a boat; the same seed is the same boat."""
    drawn = drive_values(setup).sampled(1, seed)
    scalars = {f.name: float(np.asarray(getattr(drawn, f.name)).reshape(-1)[0]) for f in dataclasses.fields(drawn)}
    rng = np.random.default_rng(seed + 1)
    return Truth(parameters=DriveParameters(**scalars), surplus_thermal=np.exp(0.15 * rng.standard_normal(8)))


class BoatTables:
    """Thrust, motor current and rpm of a boat against speed and duty, made once and read at every step."""

    def __init__(self, setup: Setup, truth: DriveParameters) -> None:
        curve = curve_of(setup)
        j = np.linspace(0.0, 1.0, 120) * curve.j_end * truth.pitch_factor
        states = [
            state_at_advance(dataclasses.replace(truth, pack_ocv_v=truth.pack_ocv_v * duty), curve, j)
            for duty in _DUTIES
        ]
        self.top_mps = float(np.max(np.asarray(states[-1].speed_mps)))
        self.speeds = np.linspace(0.0, self.top_mps, _SPEEDS)

        def table(name: str, beyond: float) -> npt.NDArray[np.float64]:
            return np.array(
                [
                    np.interp(self.speeds, np.asarray(s.speed_mps), np.asarray(getattr(s, name)), right=beyond)
                    for s in states
                ]
            )

        self.thrust_n = table("thrust_n", -0.5)  # a propeller that is overrun brakes a little
        self.current_a = table("current_a", 0.0)
        self.shaft_rps = np.array(
            [np.interp(self.speeds, np.asarray(s.speed_mps), np.asarray(s.shaft_rps)) for s in states]
        )

    def at(self, duty: float, speed_mps: float) -> tuple[float, float, float]:
        """Thrust [N], motor current [A] and shaft speed [1/s]; nothing turns below the smallest duty."""
        if duty < _DUTIES[0]:
            return 0.0, 0.0, 0.0
        d = (duty - _DUTIES[0]) / (_DUTIES[1] - _DUTIES[0])
        s = min(speed_mps / (self.speeds[1] - self.speeds[0]), _SPEEDS - 1.001)
        di, si = min(int(d), len(_DUTIES) - 2), int(s)
        fd, fs = d - di, s - si
        weights = (
            (di, si, (1 - fd) * (1 - fs)),
            (di, si + 1, (1 - fd) * fs),
            (di + 1, si, fd * (1 - fs)),
            (di + 1, si + 1, fd * fs),
        )
        return (
            sum(self.thrust_n[a, b] * w for a, b, w in weights),
            sum(self.current_a[a, b] * w for a, b, w in weights),
            sum(self.shaft_rps[a, b] * w for a, b, w in weights),
        )


def drag_n(truth: DriveParameters, speed_mps: float, headwind_mps: float, turning: bool) -> float:
    """Resistance [N] with the wind of the moment; a turn adds a quarter (the fin works)."""
    still = float(hull_resistance_n(dataclasses.replace(truth, headwind_mps=headwind_mps), speed_mps))
    return still * (1.25 if turning else 1.0)


def added_mass_kg(truth: DriveParameters) -> float:
    """Mass that has to be accelerated [kg]: the boat and a tenth of water with it (common practice, no source)."""
    return 1.1 * float(truth.mass_kg)
