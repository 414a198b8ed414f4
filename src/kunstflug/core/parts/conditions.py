"""What a forecast is made for, where the racer says nothing else."""

from dataclasses import dataclass

from kunstflug.core.quantity.fields import Part, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions(Part):
    """Water, air, wind, charge, and how warm the drive is."""

    water_c: Value = quantity(Dimension.TEMPERATURE, "degC", 0, 40, required=True)
    air_c: Value = quantity(Dimension.TEMPERATURE, "degC", -20, 50, required=True)
    headwind_mps: Value = quantity(Dimension.SPEED, "m/s", -15, 15, required=True)
    state_of_charge: Value = quantity(Dimension.RATIO, "%", 5, 100, required=True)
    pack_c: Value | None = quantity(Dimension.TEMPERATURE, "degC", -10, 60)
    winding_c: Value = quantity(Dimension.TEMPERATURE, "degC", -10, 200, required=True)
