"""What tests taught about one boat's heat; what is not given stays a guess."""

from dataclasses import dataclass

from kunstflug.core.quantity.fields import Part, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value


@dataclass(frozen=True, slots=True, kw_only=True)
class Learnt(Part):
    """Thermal parameters of one boat, from a tub test or from runs."""

    winding_case_w_k: Value | None = quantity(Dimension.CONDUCTANCE, "W/K", 0.05, 200)
    case_j_k: Value | None = quantity(Dimension.HEAT_CAPACITY, "J/K", 1, 5000)
    case_still_w_k: Value | None = quantity(Dimension.CONDUCTANCE, "W/K", 0.005, 100)
    water_at_rest: Value | None = quantity(Dimension.RATIO, "1", 0.02, 1.5)
