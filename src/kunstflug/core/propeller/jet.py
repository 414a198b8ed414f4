"""A water-jet's impeller as an open-water curve: momentum through a nozzle, simple but honest.

The impeller gives the water a speed Vj = k n D; the nozzle's area and momentum give thrust, the rise of the water's
energy over the pump's efficiency gives torque:

    T = rho An Vj (Vj - (1 - w) V),    P = rho An Vj (Vj^2 - r V^2) / (2 eta)

Nozzle 45 % of the disc, k = 0.95 P/D, inlet recovery r = 0.6, wake w = 0.03, pump efficiency 0.65: common practice, no
source. There is no immersion; the inlet is taken to be full of water.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from kunstflug.core.propeller.curve import OpenWaterCurve, cubics_of
from kunstflug.core.quantity.facts import Fact

NOZZLE: Final = 0.45
JET_SPEED: Final = 0.95
RECOVERY: Final = 0.6
WAKE: Final = 0.03
PUMP_EFFICIENCY: Final = 0.65


@dataclass(frozen=True, slots=True, kw_only=True)
class JetIsRough(Fact):
    """A water-jet is a momentum model with usual numbers; its thrust may be wrong by the fraction ``part``."""

    part: float


@lru_cache(maxsize=128)
def jet_curve(pitch_ratio: float) -> OpenWaterCurve:
    """KT(J), KQ(J) of an impeller with its nozzle, on the impeller's diameter.

    Parameters
    ----------
    pitch_ratio : P / D of the impeller [1].
    """
    k = JET_SPEED * pitch_ratio
    area = np.pi / 4 * NOZZLE
    j = np.linspace(0.0, 1.04 * k / (1 - WAKE), 64)
    kt = area * k * (k - (1 - WAKE) * j)
    kq = area * k * (k**2 - RECOVERY * j**2) / (4 * np.pi * PUMP_EFFICIENCY)
    none = np.zeros_like(j)
    return OpenWaterCurve(
        j=j,
        cubics=cubics_of(j, np.stack([none, none, none, none, kt, kq], axis=-1)),
        pitch_ratio=pitch_ratio,
        ventilated=False,
        caveats=(JetIsRough(part=0.2),),
    )
