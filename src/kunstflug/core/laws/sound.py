"""How loud a boat is: from the power at its shaft and the speed of its blades' tips."""

import math
from dataclasses import dataclass
from typing import Final

AIR_MPS: Final = 343.0
"""Speed of sound in air at 20 degC [m/s] (ISO 9613-1)."""
REFERENCE_W: Final = 1e-12
"""Sound power at 0 dB (ISO 1683)."""
OF_SHAFT: Final = 0.010
"""Part of the shaft's power that is heard, at tips as fast as sound (common practice, no source: some 72 dB(A) at 25 m
of a fast mono with a kilowatt)."""
TIP_POWER: Final = 3.0
"""How that part grows with the tips' speed: sound of forces on a surface grows with the sixth power of a speed, the
power itself with the third [N. Curle, Proc. R. Soc. A 231 (1955) 505-514, from memory]."""
UNSURE_DB: Final = 5.0
"""One standard deviation of a boat that nobody measured: drive line, hull and mounts differ (common practice)."""
MEASURED_DB: Final = 1.5
"""The same where it was measured: wind, distance, the meter (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Loudness:
    """How much louder a boat is than the law says [dB], and how sure that is [dB, one standard deviation]."""

    louder_db: float = 0.0
    spread_db: float = UNSURE_DB

    @property
    def measured(self) -> bool:
        """Whether somebody measured it."""
        return self.spread_db < UNSURE_DB


def measured(level_db: float, law_db: float) -> Loudness:
    """A boat that was measured at a level where the law said another [dB, both at one distance]."""
    return Loudness(louder_db=level_db - law_db, spread_db=MEASURED_DB)


def sound_power_w(shaft_w: float, rpm: float, diameter_m: float) -> float:
    """Sound power of a boat at full throttle [W].

    Parameters
    ----------
    shaft_w : power into the propeller [W].
    rpm : of the propeller; diameter_m : its diameter [m].
    """
    tip = math.pi * diameter_m * rpm / 60.0 / AIR_MPS
    return OF_SHAFT * max(shaft_w, 0.0) * tip**TIP_POWER


def level_db(sound_w: float, distance_m: float, loudness: Loudness | None = None) -> float:
    """Level that is heard over open water [dB(A)]; minus infinity where there is no sound.

    Half a sphere over a plane that reflects: L_W - 10 lg(2 pi r^2 / 1 m^2) (ISO 3744). The A weighting is in the law's
    own constant; air takes nothing off over such distances.

    Parameters
    ----------
    sound_w : sound power [W]; distance_m : to the meter [m].
    """
    if sound_w <= 0:
        return -math.inf
    louder = loudness.louder_db if loudness else 0.0
    return 10.0 * math.log10(sound_w / REFERENCE_W / (2.0 * math.pi * distance_m**2)) + louder
