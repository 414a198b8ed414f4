"""Single changes one size up or down: what a racer might do next."""

from dataclasses import dataclass

from kunstflug.core.drive.setup import Setup
from kunstflug.core.propeller import part as propeller


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One single change of a size.

    Parameters
    ----------
    path : field of the setup document.
    value : new value in the core's unit (cells: a whole number).
    """

    path: str
    value: float


def single_steps(setup: Setup) -> tuple[Step, ...]:
    """Single changes of a size from here: KV, propeller, cells, pack, controller, mass.

    Usual steps of the trade (common practice, no source): propellers go by one or two millimetres and tenths of pitch
    ratio, motors by about a tenth of KV, packs by one cell.
    """
    found = []
    kv = setup.motor.kv_rpm_per_v.value
    for factor in (0.82, 0.9, 1.1, 1.2):
        found.append(Step(path="motor.kv", value=round(kv * factor, -1)))
    diameter = setup.propeller.diameter_m.value
    for millimetres in (-3, -2, -1, 1, 2, 3):
        found.append(Step(path="propeller.diameter", value=diameter + millimetres * 1e-3))
    ratio = propeller.pitch(setup.propeller).value / diameter
    for change in (-0.2, -0.1, 0.1, 0.2):
        if setup.propeller.pitch_m is None:
            found.append(Step(path="propeller.pitch_ratio", value=round(ratio + change, 3)))
        else:
            found.append(Step(path="propeller.pitch", value=(ratio + change) * diameter))
    found.append(Step(path="propeller.blades", value=3 if setup.propeller.blades == 2 else 2))
    for cells in (setup.pack.cells - 1, setup.pack.cells + 1):
        if 1 <= cells <= 24:
            found.append(Step(path="pack.cells", value=cells))
    capacity = setup.pack.capacity_ah.value
    for factor in (0.8, 1.25):
        found.append(Step(path="pack.capacity", value=round(capacity * factor, 1)))
    if setup.pack.c_rating is not None:
        found.append(Step(path="pack.c_rating", value=round(setup.pack.c_rating.value * 1.4)))
    rating = setup.controller.continuous_current_a.value
    found.append(Step(path="controller.continuous_current", value=round(rating * 1.25, -1)))
    mass = setup.all_up_mass_kg.value
    for factor in (0.95, 1.05):
        found.append(Step(path="all_up_mass", value=round(mass * factor, 2)))
    return tuple(found)
