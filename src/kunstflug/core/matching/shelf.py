"""The sweep over real parts: every combination of the motors, controllers, propellers and packs that are at hand."""

import dataclasses
from dataclasses import dataclass
from itertools import product
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core import motor, pack
from kunstflug.core.controller import Controller
from kunstflug.core.drive.forecast import curve_of
from kunstflug.core.drive.limits import Limits, limits_of
from kunstflug.core.drive.operating_point import operating_point
from kunstflug.core.drive.parameters import DriveParameters, drive_values
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.errors import InvalidValue
from kunstflug.core.matching.sweep import judge
from kunstflug.core.motor import Motor
from kunstflug.core.pack import Pack
from kunstflug.core.placement import WALL_BEHIND_M
from kunstflug.core.progress import Progress, unheard
from kunstflug.core.propeller import OpenWaterCurve, Propeller

MOST_COMBINATIONS: Final = 40_000
_REPORT: Final = 500
Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Choices:
    """Parts to try in each place; what stays is a tuple of one."""

    motors: tuple[Motor, ...]
    controllers: tuple[Controller, ...]
    propellers: tuple[Propeller, ...]
    packs: tuple[Pack, ...]

    @property
    def count(self) -> int:
        """Number of combinations."""
        return len(self.motors) * len(self.controllers) * len(self.propellers) * len(self.packs)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bounds:
    """What binds besides the limits: the heaviest boat [kg], and the room for the motor with its wires [m]."""

    most_kg: float = float("inf")
    room_m: float = float("inf")


@dataclass(frozen=True, slots=True, kw_only=True)
class ShelfResult:
    """All combinations that go together; arrays of shape (N,).

    Parameters
    ----------
    picks : shape (N, 4), which motor, controller, propeller and pack.
    mass_kg : all-up mass with these parts [kg].
    verdict : 0 holds, 1 short runs, 2 stop, 3 does not run; ``reason`` indexes ``REASONS`` of the sweep.
    """

    picks: npt.NDArray[np.int64]
    mass_kg: Array
    speed_mps: Array
    current_a: Array
    use: Array
    reason: npt.NDArray[np.int8]
    verdict: npt.NDArray[np.int8]
    run_s: Array
    left_out: int


NO_BOUNDS: Final = Bounds()


def with_parts(setup: Setup, m: Motor, c: Controller, w: Propeller, p: Pack) -> Setup:
    """The setup with other parts, its mass moved by what they weigh more or less.

    Raises
    ------
    InvalidValue : parts that cannot go together.
    """
    shift = motor.motor_mass(m).value - motor.motor_mass(setup.motor).value
    shift += pack.pack_mass(p).value - pack.pack_mass(setup.pack).value
    if c.mass_kg is not None and setup.controller.mass_kg is not None:
        shift += c.mass_kg.value - setup.controller.mass_kg.value
    mass = dataclasses.replace(setup.all_up_mass_kg, value=setup.all_up_mass_kg.value + shift)
    return dataclasses.replace(setup, motor=m, controller=c, propeller=w, pack=p, all_up_mass_kg=mass)


def shelf_sweep(
    setup: Setup,
    choices: Choices,
    schools: Schools = USUAL,
    bounds: Bounds = NO_BOUNDS,
    progress: Progress = unheard,
) -> ShelfResult:
    """Every combination of the parts at hand in this hull, each a full operating point at nominal parameters.

    Parameters
    ----------
    bounds : combinations that make the boat heavier, or whose motor is longer, are left out.

    Raises
    ------
    InvalidValue : more combinations than are accepted.
    Stopped : ``progress`` raised it.
    """
    if choices.count > MOST_COMBINATIONS:
        allowed = f"at most {MOST_COMBINATIONS}; leave one kind of part as it is"
        raise InvalidValue("sweep", f"{choices.count} combinations", allowed)
    picks, rows, limits, curves, poles, cells, charge_ah = [], [], [], [], [], [], []
    kinds = (choices.motors, choices.controllers, choices.propellers, choices.packs)
    for n, pick in enumerate(product(*(range(len(k)) for k in kinds))):
        if n % _REPORT == 0:
            progress(n, choices.count)
        m, c, w, p = (kind[at] for kind, at in zip(kinds, pick, strict=True))
        try:
            tried = with_parts(setup, m, c, w, p)  # type: ignore[arg-type]  # one of each kind, in order
        except InvalidValue:
            continue
        series = pack.series_cells(tried.pack)
        most_cells = tried.controller.max_cells
        too_long = tried.motor.can_length_m.value + WALL_BEHIND_M > bounds.room_m
        too_heavy = tried.all_up_mass_kg.value > bounds.most_kg
        if too_long or too_heavy or (most_cells is not None and series > most_cells):
            continue
        values = drive_values(tried)
        picks.append(pick)
        rows.append([v.value for _, v in values])
        limits.append(limits_of(tried, schools))
        curves.append(curve_of(tried))
        poles.append(motor.pole_count(tried.motor))
        cells.append(series)
        charge_ah.append(pack.usable_ah(tried.pack))
    progress(choices.count, choices.count)
    if not picks:
        return _nothing(choices.count)
    numbers = _solve(np.array(rows), curves)
    columns: Any = {f.name: np.array([getattr(one, f.name) for one in limits]) for f in dataclasses.fields(Limits)}
    together = Limits(**columns)
    judged = judge(numbers, together, np.array(poles), np.array(cells), np.array(charge_ah))
    return ShelfResult(
        picks=np.array(picks, dtype=np.int64),
        mass_kg=np.array(rows)[:, tuple(DriveParameters.__dataclass_fields__).index("mass_kg")],
        speed_mps=numbers["speed_mps"],
        current_a=numbers["current_a"],
        left_out=choices.count - len(picks),
        **judged,  # type: ignore[arg-type]  # use, reason, verdict, run_s
    )


_COLUMNS = ("speed_mps", "current_a", "rpm", "free_rpm", "pack_voltage_v", "motor_w", "volume_froude")


def _solve(rows: Array, curves: list[OpenWaterCurve]) -> dict[str, Array]:
    """Operating points, those of one propeller together."""
    out = {name: np.full(len(rows), np.nan) for name in _COLUMNS}
    groups: dict[int, list[int]] = {}
    for k, curve in enumerate(curves):
        groups.setdefault(id(curve), []).append(k)
    names = tuple(DriveParameters.__dataclass_fields__)
    for members in groups.values():
        p = DriveParameters(**{name: rows[members, k] for k, name in enumerate(names)})
        point = operating_point(p, curves[members[0]])
        for name in _COLUMNS:
            if name == "motor_w":
                out[name][members] = np.asarray(point.motor_voltage_v) * np.asarray(point.motor_current_a)
            else:
                out[name][members] = np.asarray(getattr(point, name))
    return out


def _nothing(count: int) -> ShelfResult:
    none, whole = np.zeros(0), np.zeros(0, dtype=np.int8)
    return ShelfResult(
        picks=np.zeros((0, 4), dtype=np.int64), mass_kg=none, speed_mps=none, current_a=none, use=none, reason=whole,
        verdict=whole, run_s=none, left_out=count,
    )  # fmt: skip
