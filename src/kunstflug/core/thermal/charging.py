"""Charging back what a duty took, at one times the capacity."""

from dataclasses import dataclass

from kunstflug.core.laws.cell import Charge, charge, energy_wh
from kunstflug.core.parts import pack
from kunstflug.core.setup.setup import Setup


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeBack:
    """What was taken out of the pack [Wh], what is left [1], and the charge that puts it back."""

    used_wh: float
    left: float
    charge_a: float
    charge: Charge


def charge_back(setup: Setup, used_ah: float) -> ChargeBack:
    """Charging back a use of the pack [Ah] from the conditions' state of charge."""
    capacity, start = pack.usable_ah(setup.pack), setup.conditions.state_of_charge.value
    left = max(start - used_ah / capacity, 0.0)
    return ChargeBack(
        used_wh=energy_wh(left, start, capacity, pack.series_cells(setup.pack)),
        left=left,
        charge_a=capacity,
        charge=charge(left, capacity, pack.cell_resistance(setup.pack).value),
    )
