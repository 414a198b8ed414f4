"""The coupled operating point at steady full throttle, every result by name."""

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive import balance
from kunstflug.core.drive.rows import Rows
from kunstflug.core.propeller import Curves, OpenWaterCurve
from kunstflug.core.quantity.value import Array, Floats


class Loss(StrEnum):
    """Where power is lost, from the pack to the water."""

    PACK = "pack"
    WIRING = "wiring"
    CONTROLLER = "controller"
    COPPER = "copper"
    NO_LOAD = "no_load"
    SHAFT = "shaft"
    PROPELLER = "propeller"


@dataclass(frozen=True, slots=True, kw_only=True)
class OperatingPoint:
    """Where thrust meets resistance, with every power by name [W]; floats or arrays of shape (N,)."""

    speed_mps: Floats
    rpm: Floats
    free_rpm: Floats
    slip: Floats
    advance: Floats
    current_a: Floats  # out of the pack
    motor_current_a: Floats
    throttle: Floats  # part of the voltage the motor sees; below 1 where a limit is set and reached
    pack_voltage_v: Floats
    weak_cell_v: Floats  # voltage of a cell of the weaker pack
    cells: Floats  # in series, of all packs
    motor_voltage_v: Floats
    electrical_power_w: Floats  # out of the pack's terminals
    motor_power_w: Floats  # into the motor
    shaft_power_w: Floats  # out of the motor
    electrical_rpm: Floats
    thrust_n: Floats
    resistance_n: Floats
    torque_nm: Floats
    immersed: Floats  # part of the turn in the water
    side_force_n: Floats  # of the propeller, towards the side its lower blades move to
    propeller_efficiency: Floats
    motor_efficiency: Floats
    volume_froude: Floats
    planes: Floats  # chance to come over the hump; at 0 and 1 thrust equals resistance
    endurance_s: Floats  # full throttle until the usable part of the charge is used
    pack_loss_w: Floats
    wiring_loss_w: Floats
    controller_loss_w: Floats
    copper_loss_w: Floats
    no_load_loss_w: Floats
    shaft_loss_w: Floats
    propeller_loss_w: Floats
    useful_power_w: Floats  # thrust x speed
    chemical_power_w: Floats  # open-circuit voltage x current

    def loss_w(self, loss: Loss) -> Floats:
        """One loss [W]."""
        found: Floats = getattr(self, f"{loss}_loss_w")
        return found

    @property
    def losses_w(self) -> Floats:
        """All losses added up [W]; with the useful power they make the chemical power."""
        total: Floats = 0.0
        for loss in Loss:
            total = total + self.loss_w(loss)
        return total

    def case(self, k: int) -> "OperatingPoint":
        """One case of many, as floats."""
        return OperatingPoint(**{name: float(np.asarray(getattr(self, name))[k]) for name in NAMES})


NAMES: Final = tuple(field.name for field in dataclasses.fields(OperatingPoint))
POINT: Final = np.dtype([(name, np.float64) for name in NAMES])


def solve(rows: Rows, curves: Sequence[OpenWaterCurve], which: npt.NDArray[np.int64] | None = None) -> OperatingPoint:
    """Drives where thrust first meets resistance when accelerating from rest.

    Parameters
    ----------
    rows : shape (N,).
    curves : open-water curves.
    which : shape (N,), which of the curves a drive has; the first where not given.

    Returns
    -------
    Arrays of shape (N,), each a column of one table; NaN where a boat is pushed backwards from the start.
    """
    at = np.zeros(len(rows), dtype=np.int64) if which is None else which
    out = balance.points(np.ascontiguousarray(rows), at, Curves.of(curves), np.empty(len(rows), POINT))
    return OperatingPoint(**{name: out[name] for name in NAMES})


def point(rows: Rows, curve: OpenWaterCurve) -> OperatingPoint:
    """The first of some drives, as floats."""
    return solve(rows[:1], (curve,)).case(0)


def states(rows: Rows, curve: OpenWaterCurve, throttle: Floats, advance: Array) -> balance.States:
    """Drives in torque balance at advance coefficients, whether or not thrust meets resistance.

    Parameters
    ----------
    rows : shape (N,).
    throttle : part of the voltage the motor sees [1], one or shape (N,).
    advance : J [1], shape (N, G).
    """
    level = np.array(np.broadcast_to(np.asarray(throttle, dtype=np.float64), (len(rows),)))
    return balance.states(np.ascontiguousarray(rows), Curves.of((curve,)), level, np.ascontiguousarray(advance))


def resistance_n(rows: Rows, speed_mps: Array) -> Array:
    """Resistance of boats at speeds [N], without the propeller's lift.

    Parameters
    ----------
    rows : shape (N,).
    speed_mps : shape (N, G), or (G,) for all.
    """
    speeds = np.broadcast_to(speed_mps, (len(rows), np.shape(speed_mps)[-1]))
    return balance.resistances(np.ascontiguousarray(rows), np.array(speeds))  # a view is read-only: another kernel
