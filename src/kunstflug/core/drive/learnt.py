"""What tests taught about one boat's heat; what is not given stays a guess."""

from dataclasses import dataclass

from kunstflug.core.units import Dimension
from kunstflug.core.values import Part, Value, quantity


@dataclass(frozen=True, slots=True, kw_only=True)
class Learnt(Part):
    """Thermal parameters of one boat, from a held-back test or from runs."""

    winding_case_w_k: Value | None = quantity("Winding to case", Dimension.CONDUCTANCE, "W/K", 0.05, 200)
    case_j_k: Value | None = quantity("Heat capacity of the case", Dimension.HEAT_CAPACITY, "J/K", 1, 5000)
    case_still_w_k: Value | None = quantity("Case to still water and air", Dimension.CONDUCTANCE, "W/K", 0.005, 100)
    held_current: Value | None = quantity(
        "Current when held, over solid water's", Dimension.RATIO, "1", 0.05, 1.5, help="a propeller in a tub chews foam"
    )
