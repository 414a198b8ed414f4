"""What a forecast is made for, where the racer says nothing else."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, guess, known


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions(Part):
    """Water, air, wind, charge, and how warm the drive is."""

    water_c: Value = quantity(Dimension.TEMPERATURE, "degC", 0, 40, required=True)
    air_c: Value = quantity(Dimension.TEMPERATURE, "degC", -20, 50, required=True)
    headwind_mps: Value = quantity(Dimension.SPEED, "m/s", -15, 15, required=True)
    state_of_charge: Value = quantity(Dimension.RATIO, "%", 5, 100, required=True)
    pack_c: Value | None = quantity(Dimension.TEMPERATURE, "degC", -10, 60)
    winding_c: Value = quantity(Dimension.TEMPERATURE, "degC", -10, 200, required=True)


KEPT_WARM_C: Final = 35.0
KEPT_WARM_SPREAD: Final = 0.12  # some 4 K


@dataclass(frozen=True, slots=True, kw_only=True)
class PackKeptWarm(Fact):
    """A pack whose temperature nobody gave starts as warm as racers keep it."""

    celsius: float


def pack_temperature_c(conditions: Conditions) -> Value:
    """Temperature of the pack at the start [degC]: as measured, else as racers keep it, 30 to 40 (common practice)."""
    return known(conditions.pack_c, guess(KEPT_WARM_C, KEPT_WARM_SPREAD, PackKeptWarm(celsius=KEPT_WARM_C)))
