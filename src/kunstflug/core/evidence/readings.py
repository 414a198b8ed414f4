"""What is read of a boat."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class What(StrEnum):
    """What was read."""

    SPEED = "speed"
    CURRENT = "current"
    RPM = "rpm"
    VOLTAGE = "voltage"
    CHARGE = "charge"
    CASE = "case"
    CONTROLLER = "controller"
    PACK = "pack"
    CONNECTOR = "connector"


STEADY: Final = (What.SPEED, What.CURRENT, What.RPM, What.VOLTAGE)
"""Of the steady point at full throttle; spreads are of the logarithm."""
HEAT: Final = (What.CASE, What.CONTROLLER, What.PACK, What.CONNECTOR)
"""Temperatures; spreads are in K."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One thing read in a run.

    Parameters
    ----------
    value : in the core's unit: m/s, A, rpm, V, Ah, degC.
    spread : one standard deviation: of the logarithm, or in K.
    minutes : after landing; only of temperatures.
    instrument : what read it; what one instrument overstates, it overstates in every run.
    """

    what: What
    value: float
    spread: float
    minutes: float = 0.0
    instrument: str = ""
