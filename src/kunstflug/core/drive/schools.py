"""Where racers disagree: which limits a verdict is held against. Both schools of each are supported."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class TemperatureSchool(StrEnum):
    """How hot is hot."""

    CAUTIOUS = "cautious"
    HOT = "hot"


class ControllerSchool(StrEnum):
    """What a controller is sized by."""

    SUSTAINED = "sustained"
    BURST = "burst"


class RpmSchool(StrEnum):
    """How fast a rotor may turn under load."""

    LOW = "low"
    HIGH = "high"


class PackSchool(StrEnum):
    """How much of a printed C rating is believed."""

    DOUBTING = "doubting"
    BELIEVING = "believing"


PAUSE_HEAT: Final = 0.06  # at half of the top speed a boat draws a quarter of the current (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Stint:
    """Full throttle as a duty gives it: how long, how long a pause, how often.

    A limit that is meant for minutes is held against what a duty of seconds makes of it: one body with a time constant,
    heated by the square of the current, starting cold.

    Parameters
    ----------
    full_s, pause_s : at full throttle, and between two of them [s].
    count : how often.
    pause_heat : heat in the pause over that at full throttle [1].
    """

    full_s: float = 6.0
    pause_s: float = 25.0
    count: int = 4
    pause_heat: float = PAUSE_HEAT

    def warmed(self, tau_s: float) -> float:
        """Highest rise at the end of full throttle over the one that full throttle for good would settle at [1].

        Examples
        --------
        >>> round(Stint(full_s=6.0, count=1).warmed(60.0), 4), HELD.warmed(60.0)
        (0.0952, 1.0)
        """
        if math.isinf(tau_s):
            return 1.0
        on, off = math.exp(-self.full_s / tau_s), math.exp(-self.pause_s / tau_s)
        first, again = 1.0 - on, on * self.pause_heat * (1.0 - off)
        kept = (on * off) ** (self.count - 1)
        settled = (first + again) / (1.0 - on * off) if on * off < 1.0 else 1.0
        return first * kept + settled * (1.0 - kept)

    def more_current(self, tau_s: float) -> float:
        """Current that the stint allows over the one that may be held for good [1]."""
        return 1.0 / math.sqrt(max(self.warmed(tau_s), 1e-6))


HELD: Final = Stint(full_s=math.inf, pause_s=0.0, count=1)
"""Full throttle for good."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Schools:
    """The chosen school of each question, and the stint they are held against; the numbers are common
    practice, no source.
    """

    temperature: TemperatureSchool = TemperatureSchool.CAUTIOUS
    controller: ControllerSchool = ControllerSchool.SUSTAINED
    rpm: RpmSchool = RpmSchool.LOW
    pack: PackSchool = PackSchool.DOUBTING
    stint: Stint = Stint()
    risk: float = 0.1  # chance of passing a limit up to which a drive still *holds* [1]

    @property
    def case_ceiling_c(self) -> float:
        """Case of the motor: 65 degC when cautious, 88 degC as insulation and magnets allow."""
        return 65.0 if self.temperature is TemperatureSchool.CAUTIOUS else 88.0

    @property
    def winding_ceiling_c(self) -> float:
        """Winding: class B (130) when cautious, class F (155) when hot [iec60085, from memory]."""
        return 130.0 if self.temperature is TemperatureSchool.CAUTIOUS else 155.0

    @property
    def controller_ceiling_c(self) -> float:
        """Controller: 80 degC, or 95 just under the usual cut at 100."""
        return 80.0 if self.temperature is TemperatureSchool.CAUTIOUS else 95.0

    @property
    def pack_ceiling_c(self) -> float:
        """Pack: 55 or 60 degC."""
        return 55.0 if self.temperature is TemperatureSchool.CAUTIOUS else 60.0

    @property
    def connector_ceiling_c(self) -> float:
        """Connector: 80 or 100 degC; solder lets go at 180 to 220."""
        return 80.0 if self.temperature is TemperatureSchool.CAUTIOUS else 100.0

    @property
    def pack_trust(self) -> float:
        """Part of the printed C rating that is believed."""
        return 0.6 if self.pack is PackSchool.DOUBTING else 0.85

    @property
    def rpm_factor(self) -> float:
        """On the usual ceiling of loaded rpm."""
        return 1.0 if self.rpm is RpmSchool.LOW else 1.25


USUAL = Schools()
