"""Where the parts sit in the hull, and where that puts the centre of mass."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.units import Dimension
from kunstflug.core.values import Part, Value, quantity

WALL_BEHIND_M: Final = 12e-3  # wires and the can's rear end take this behind a motor (common practice, no source)


def _place(label: str, help: str = "") -> Value | None:
    found: Value | None = quantity(
        label, Dimension.LENGTH, "mm", 0, 2500, help=help or "ahead of the transom, its middle"
    )
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement(Part):
    """Places ahead of the transom; what is not given does not count."""

    shell_mass_kg: Value | None = quantity(
        "Hull with hardware", Dimension.MASS, "g", 10, 40000, help="without motor, controller, pack and ballast"
    )
    shell_m: Value | None = _place("Balance of the empty hull", "ahead of the transom, balanced on a finger")
    motor_m: Value | None = _place("Motor at")
    controller_m: Value | None = _place("Controller at")
    pack_m: Value | None = _place("Pack at")
    ballast_kg: Value | None = quantity("Ballast", Dimension.MASS, "g", 0, 5000)
    ballast_place_m: Value | None = _place("Ballast at")
    room_length_m: Value | None = quantity(
        "Room for the motor: length",
        Dimension.LENGTH,
        "mm",
        20,
        1500,
        help="from the mount's plate to what is in front",
    )
    room_width_m: Value | None = quantity("Room: width", Dimension.LENGTH, "mm", 15, 800)
    room_height_m: Value | None = quantity("Room: height", Dimension.LENGTH, "mm", 15, 500)


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """One part with its mass [kg] and its place ahead of the transom [m]."""

    name: str
    mass_kg: float
    place_m: float


def centre_m(parts: tuple[Placed, ...]) -> float:
    """Centre of mass of placed parts ahead of the transom [m]: moments over mass (statics).

    Examples
    --------
    >>> centre_m((Placed(name="hull", mass_kg=1.0, place_m=0.2), Placed(name="pack", mass_kg=1.0, place_m=0.4)))
    0.30000000000000004
    """
    return sum(p.mass_kg * p.place_m for p in parts) / sum(p.mass_kg for p in parts)


def shift_to_restore_m(total_kg: float, moved_kg: float, now_m: float, wanted_m: float) -> float:
    """How far a part must move forward to bring the whole centre from ``now`` to ``wanted`` [m]; negative is aft."""
    return total_kg * (wanted_m - now_m) / moved_kg


def ballast_kg(total_kg: float, now_m: float, wanted_m: float, at_m: float) -> float:
    """Ballast at a place that brings the centre to ``wanted`` [kg]; negative where that place cannot do it.

    Moments about the wanted centre: total (now - wanted) + ballast (at - wanted) = 0.
    """
    return total_kg * (wanted_m - now_m) / (at_m - wanted_m)
