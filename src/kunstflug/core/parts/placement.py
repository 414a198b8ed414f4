"""Where the parts sit in the hull, and where that puts the centre of mass."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.fields import Part, length, mass
from kunstflug.core.quantity.value import Value

WALL_BEHIND_M: Final = 12e-3  # wires and the can's rear end take this behind a motor (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement(Part):
    """Places ahead of the transom; what is not given does not count."""

    shell_mass_kg: Value | None = mass(10, 40000, estimated=False)
    shell_m: Value | None = length(0, 2500, estimated=False)
    motor_m: Value | None = length(0, 2500, estimated=False)
    controller_m: Value | None = length(0, 2500, estimated=False)
    pack_m: Value | None = length(0, 2500, estimated=False)
    ballast_kg: Value | None = mass(0, 5000, estimated=False)
    ballast_place_m: Value | None = length(0, 2500, estimated=False)
    room_length_m: Value | None = length(20, 1500)
    room_width_m: Value | None = length(15, 800)
    room_height_m: Value | None = length(15, 500)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacedPart:
    """One part with its mass [kg] and its place ahead of the transom [m]."""

    name: str
    mass_kg: float
    place_m: float


def shift_to_restore_m(total_kg: float, moved_kg: float, now_m: float, wanted_m: float) -> float:
    """How far a part must move forward to bring the whole centre from ``now`` to ``wanted`` [m]; negative is aft.

    Parameters
    ----------
    total_kg, moved_kg : mass of the whole boat and of the part that is moved [kg].
    """
    return total_kg * (wanted_m - now_m) / moved_kg
