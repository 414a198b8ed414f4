"""What a circuit gives the blocks against speed: made once, read at every step of a duty."""

import math
from dataclasses import dataclass
from enum import StrEnum

from kunstflug.core.cooling.circuit import Circuit, PieceKind
from kunstflug.core.cooling.solve import solve
from kunstflug.core.laws.heat import WATER_J_KGK, nusselt
from kunstflug.core.laws.water import water_density_kg_m3, water_viscosity_pa_s

WATER_W_MK = 0.598  # at 20 degC [coolprop]


class Behind(StrEnum):
    """Which block gets the other's warm water."""

    NONE = "none"
    MOTOR = "motor"
    CONTROLLER = "controller"


@dataclass(frozen=True, slots=True, kw_only=True)
class CoolingTable:
    """What a circuit gives the blocks against speed; tuples of one length.

    Parameters
    ----------
    motor_kg_s, controller_kg_s : flow through the blocks [kg/s].
    behind : which block stands behind the other in the same water.
    """

    speed_mps: tuple[float, ...]
    motor_kg_s: tuple[float, ...]
    controller_kg_s: tuple[float, ...]
    behind: Behind


def cooling_table(
    circuit: Circuit, top_mps: float, water_c: float, wash_mps: float = 0.0, points: int = 9
) -> CoolingTable:
    """A circuit solved at some speeds from rest to the top.

    Parameters
    ----------
    wash_mps : speed that the propeller adds to the water behind it at full throttle, see ``wash_speed_mps``.
    """
    density = float(water_density_kg_m3(water_c))
    speeds = [top_mps * k / (points - 1) for k in range(points)]
    solved = [solve(circuit, v, water_c, v + wash_mps) for v in speeds]
    return CoolingTable(
        speed_mps=tuple(speeds),
        motor_kg_s=tuple(s.flow_of(PieceKind.MOTOR) * density for s in solved),
        controller_kg_s=tuple(s.flow_of(PieceKind.CONTROLLER) * density for s in solved),
        behind=_behind(circuit),
    )


def _behind(circuit: Circuit) -> Behind:
    """The block that gets the other's warm water; only in one row without splits between them."""
    for line in circuit.lines:
        kinds = [p.kind for p in line.pieces if p.kind in (PieceKind.MOTOR, PieceKind.CONTROLLER)]
        if len(kinds) == 2 and kinds[0] is not kinds[1]:
            return Behind.CONTROLLER if kinds[1] is PieceKind.CONTROLLER else Behind.MOTOR
    return Behind.NONE


def jacket_w_k(flow_m3_s: float, can_m: float, length_m: float, gap_m: float, water_c: float = 20.0) -> float:
    """Conductance from a can to the water that enters its jacket [W/K]: a thin gap round the can, twice as wide
    hydraulically; m c (1 - exp(-h A / (m c))).
    """
    if flow_m3_s <= 0:
        return 0.0
    density, viscosity = float(water_density_kg_m3(water_c)), float(water_viscosity_pa_s(water_c))
    hydraulic = 2 * gap_m
    # Water enters at one side and leaves at the other: half the circumference is the passage's width, twice over.
    velocity = flow_m3_s / (2 * length_m * gap_m)
    path = math.pi * can_m / 2
    reynolds = density * velocity * hydraulic / viscosity
    prandtl = viscosity * WATER_J_KGK / WATER_W_MK
    h = nusselt(reynolds, prandtl, hydraulic / path) * WATER_W_MK / hydraulic
    capacity = flow_m3_s * density * WATER_J_KGK
    return capacity * (1 - math.exp(-h * math.pi * can_m * length_m / capacity))
