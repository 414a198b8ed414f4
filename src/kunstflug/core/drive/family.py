"""What is alike in setups: the parts that can go into another boat, what makes two setups alike, families of a club."""

import dataclasses
from typing import Final

import numpy as np

from kunstflug.core.laws.cell import cell_ocv_v
from kunstflug.core.parts import pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.quantity.fields import Part
from kunstflug.core.quantity.value import Array, Floats
from kunstflug.core.setup.knowledge import Owner
from kunstflug.core.setup.setup import Setup

MOTOR_SIZES_MM: Final = (24.0, 30.0, 37.0, 42.0, 50.0)
"""Can diameters between which motors are of one size to a club (common practice, no source)."""


def parts_of(setup: Setup) -> dict[Owner, Part]:
    """The parts of a setup that can go into another boat, by what stays when they wear.

    A propeller with a nick is the one that ran before: what was learnt of its pitch holds on. What a part is called
    changes nothing.
    """
    sound = dataclasses.replace(setup.propeller, condition=propellers.Condition.AS_CAST, name="")
    return {
        Owner.MOTOR: dataclasses.replace(setup.motor, name=""),
        Owner.CONTROLLER: dataclasses.replace(setup.controller, name=""),
        Owner.PACK: dataclasses.replace(setup.pack, name=""),
        Owner.PROPELLER: sound,
    }


def features_of(free_rpm: Floats, pitch_m: Floats, diameter_m: Floats, mass_kg: Floats) -> Array:
    """What makes two setups of a boat alike, shape (..., 4)."""
    found: Array = np.log(np.stack(np.broadcast_arrays(free_rpm, pitch_m, diameter_m, mass_kg), axis=-1))
    return found


def features(setup: Setup) -> Array:
    """What makes a setup like others of its boat, shape (4,)."""
    series = pack.series_cells(setup.pack)
    ocv = float(cell_ocv_v(setup.conditions.state_of_charge.value)) * series
    wheel = setup.propeller
    return features_of(
        setup.motor.kv_rpm_per_v.value * ocv,
        propellers.pitch(wheel).value,
        wheel.diameter_m.value,
        setup.all_up_mass_kg.value,
    )


def families_of(setup: Setup) -> dict[Owner, str]:
    """What kind of thing each is, as a club pools them: hull type, motor size, propeller family.

    None of them goes with what a sweep changes: another winding, diameter or pitch is of the same family.
    """
    diameter_mm = 1e3 * setup.motor.can_diameter_m.value
    size = sum(diameter_mm > bound for bound in MOTOR_SIZES_MM)
    return {
        Owner.HULL: f"hull/{setup.hull.hull_type}",
        Owner.MOTOR: f"motor/{setup.motor.kind}/{size}",
        Owner.CONTROLLER: "controller",
        Owner.PACK: "pack",
        Owner.PROPELLER: f"propeller/{setup.hull.drive}/{setup.propeller.blades}",
        Owner.MODEL: f"hull/{setup.hull.hull_type}",
    }
