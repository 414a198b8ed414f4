"""Where racers disagree: which limits a verdict is held against. Both schools of each are supported."""

from dataclasses import dataclass
from enum import StrEnum


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Schools:
    """The chosen school of each question; the numbers are common practice, no source."""

    temperature: TemperatureSchool = TemperatureSchool.CAUTIOUS
    controller: ControllerSchool = ControllerSchool.SUSTAINED
    rpm: RpmSchool = RpmSchool.LOW
    pack: PackSchool = PackSchool.DOUBTING

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
