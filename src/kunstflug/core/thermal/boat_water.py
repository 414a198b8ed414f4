"""A boat's own water circuit: what it gives the blocks through a duty, and what happens when something is wrong."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.cooling.circuit import Circuit, PieceKind
from kunstflug.core.cooling.solve import Solved, solve
from kunstflug.core.cooling.stream import Stream, weakest_stream
from kunstflug.core.cooling.table import CoolingTable, cooling_table, jacket_w_k
from kunstflug.core.cooling.whatif import Case, cases
from kunstflug.core.drive.point import OperatingPoint
from kunstflug.core.laws.pipes import wash_speed_mps
from kunstflug.core.laws.water import water_density_kg_m3
from kunstflug.core.parts.hull import Drive
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import STEP_S, STRIDE, peaks_c
from kunstflug.core.thermal.nodes import HEAT_NODES, Node
from kunstflug.core.thermal.run import run_duty

WALKING_MPS: Final = 1.4
WALKING_WASH: Final = 0.3  # of the propeller's wash at full speed (common practice, no source)
UNKNOWN_TOP_MPS: Final = 15.0
SPEEDS: Final = 13
CASE_POINTS: Final = 7
LEAST_GAP_M: Final = 0.05e-3
JACKET_PART: Final = 0.6  # of the can's length that a jacket covers (common practice, no source)


def top_speed_mps(point: OperatingPoint) -> float:
    """Top speed of a drive [m/s]; a usual one where it has none."""
    return float(point.speed_mps) if np.isfinite(point.speed_mps) else UNKNOWN_TOP_MPS


def wash_gain_mps(setup: Setup, point: OperatingPoint) -> float:
    """How much faster the water behind the propeller is than the boat, at full speed [m/s]."""
    if not np.isfinite(point.speed_mps):
        return 0.0
    density, speed = float(water_density_kg_m3(setup.conditions.water_c.value)), float(point.speed_mps)
    return wash_speed_mps(speed, float(point.thrust_n), setup.propeller.diameter_m.value, density) - speed


def boat_cooling(setup: Setup, circuit: Circuit, point: OperatingPoint, reach: float = 1.0) -> CoolingTable:
    """What a circuit gives the blocks of a boat, for the heat through a duty.

    Parameters
    ----------
    reach : how far past the point's speed the table goes [1], where faster drives are to be cooled by it.
    """
    water_c = setup.conditions.water_c.value
    return cooling_table(circuit, reach * top_speed_mps(point), water_c, wash_gain_mps(setup, point))


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseResult:
    """A case at full speed: its solution, what the driver sees, and peaks through the duty [degC]."""

    case: Case
    solved: Solved
    stream: Stream
    motor_c: float
    controller_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BoatWater:
    """A circuit in a boat.

    Parameters
    ----------
    full_mps : top speed [m/s].
    at_full : with the heat that the blocks give off through a duty.
    speed_mps, motor_m3_s, controller_m3_s : flow of the blocks against speed, shape (S,).
    jacket_w_k : of a smooth gap round the can at full speed [W/K]; NaN where no jacket is measured.
    """

    full_mps: float
    at_full: Solved
    walking: Stream
    full: Stream
    speed_mps: Array
    motor_m3_s: Array
    controller_m3_s: Array
    jacket_w_k: float
    cases: tuple[CaseResult, ...]


def boat_water(setup: Setup, circuit: Circuit, duty: Duty, point: OperatingPoint) -> BoatWater:
    """A circuit solved over speed in a boat, and each of its cases through a duty.

    Raises
    ------
    InvalidValue : what is drawn is no circuit.
    """
    top, gain, water_c = top_speed_mps(point), wash_gain_mps(setup, point), setup.conditions.water_c.value
    heat, jet = _block_heat_w(point), setup.hull.drive is Drive.JET
    at_full = solve(circuit, top, water_c, top + gain, heat)
    walking = solve(circuit, WALKING_MPS, water_c, WALKING_MPS + WALKING_WASH * gain)
    speeds = np.linspace(0.0, top, SPEEDS)
    over = [solve(circuit, float(v), water_c, float(v) + gain) for v in speeds]
    return BoatWater(
        full_mps=top,
        at_full=at_full,
        walking=weakest_stream(walking),
        full=weakest_stream(at_full),
        speed_mps=speeds,
        motor_m3_s=np.array([s.flow_of(PieceKind.MOTOR) for s in over]),
        controller_m3_s=np.array([s.flow_of(PieceKind.CONTROLLER) for s in over]),
        jacket_w_k=_jacket_w_k(setup, at_full),
        cases=tuple(_case(setup, c, duty, top, gain, heat) for c in cases(circuit, water_c, jet=jet)),
    )


def _block_heat_w(point: OperatingPoint) -> dict[PieceKind, float]:
    """What the blocks give off at full speed [W]: the losses of motor and controller."""
    if not np.isfinite(point.speed_mps):
        return {}
    motor = float(point.copper_loss_w) + float(point.no_load_loss_w)
    return {PieceKind.MOTOR: motor, PieceKind.CONTROLLER: float(point.controller_loss_w)}


def _case(setup: Setup, case: Case, duty: Duty, top: float, gain: float, heat: dict[PieceKind, float]) -> CaseResult:
    solved = solve(case.circuit, top, case.water_c, top + gain, heat)
    table = cooling_table(case.circuit, top, case.water_c, gain, CASE_POINTS)
    warm = _with_water(setup, case.water_c)
    peaks = peaks_c(warm, run_duty(warm, duty, step_s=STEP_S, stride=STRIDE, cooling=table))
    return CaseResult(
        case=case,
        solved=solved,
        stream=weakest_stream(solved),
        motor_c=float(peaks[HEAT_NODES.index(Node.CASE)]),
        controller_c=float(peaks[HEAT_NODES.index(Node.CONTROLLER)]),
    )


def _with_water(setup: Setup, celsius: float) -> Setup:
    water = dataclasses.replace(setup.conditions.water_c, value=celsius)
    return dataclasses.replace(setup, conditions=dataclasses.replace(setup.conditions, water_c=water))


def _jacket_w_k(setup: Setup, solved: Solved) -> float:
    bore, can = setup.jacket.bore_m, setup.motor.can_diameter_m.value
    gap = (bore.value - can) / 2 if bore else 0.0
    if gap <= LEAST_GAP_M:
        return math.nan
    long = setup.jacket.length_m.value if setup.jacket.length_m else JACKET_PART * setup.motor.can_length_m.value
    return jacket_w_k(solved.flow_of(PieceKind.MOTOR), can, long, gap, setup.conditions.water_c.value)
