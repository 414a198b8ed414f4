"""The sweep over real parts: every combination of the motors, controllers, propellers and packs that are at hand."""

from dataclasses import dataclass
from itertools import product
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.choose.fronts import Drives
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.limits import Limit, limits_of
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.rows import Rows
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import LimitTable, judge
from kunstflug.core.parts.controller import Controller
from kunstflug.core.parts.motor import Motor
from kunstflug.core.parts.pack import Pack, series_cells
from kunstflug.core.parts.placement import WALL_BEHIND_M
from kunstflug.core.parts.propeller import Propeller
from kunstflug.core.propeller import OpenWaterCurve
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost
from kunstflug.core.quantity.progress import Progress, unheard
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.editor import with_parts
from kunstflug.core.setup.setup import Setup

MOST_COMBINATIONS: Final = 40_000
_REPORT: Final = 500


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
    """Bounds beyond the limits: the heaviest boat [kg], and the room for the motor with its wires [m]."""

    most_kg: float = float("inf")
    room_m: float = float("inf")

    def hold(self, setup: Setup) -> bool:
        """Whether a setup stays within them, and its controller takes the cells."""
        most = setup.controller.max_cells
        return (
            setup.motor.can_length_m.value + WALL_BEHIND_M <= self.room_m
            and setup.all_up_mass_kg.value <= self.most_kg
            and (most is None or series_cells(setup.pack) <= most)
        )


NO_BOUNDS: Final = Bounds()


@dataclass(frozen=True, slots=True, kw_only=True)
class ShelfResult(Drives):
    """All combinations that go together; arrays of shape (N,).

    Parameters
    ----------
    picks : shape (N, 4), which motor, controller, propeller and pack.
    """

    picks: npt.NDArray[np.int64]
    left_out: int


@dataclass(slots=True)
class _Tried:
    """Combinations that go together, as they are found."""

    picks: list[tuple[int, ...]]
    rows: list[Rows]
    limits: list[tuple[Limit, ...]]
    curves: list[OpenWaterCurve]


def shelf_sweep(
    setup: Setup,
    choices: Choices,
    schools: Schools = USUAL,
    bounds: Bounds = NO_BOUNDS,
    progress: Progress = unheard,
    doubts: Array | None = None,
) -> ShelfResult:
    """Every combination of the parts at hand in this hull, each a full operating point at nominal parameters.

    Parameters
    ----------
    bounds : combinations that make the boat heavier, or whose motor is longer, are left out.
    doubts : of drives like these, see ``judge``.

    Raises
    ------
    InvalidValue : more combinations than are accepted.
    Stopped : ``progress`` raised it.
    """
    if choices.count > MOST_COMBINATIONS:
        raise InvalidValue("sweep", choices.count, AtMost(most=MOST_COMBINATIONS))
    drives = _drives(setup, choices, schools, bounds, progress)
    progress(choices.count, choices.count)
    if not drives.picks:
        return _nothing(choices.count)
    curves = {id(c): c for c in drives.curves}  # kept by the cache: the same propeller has the same curve
    place = {key: k for k, key in enumerate(curves)}
    which = np.array([place[id(c)] for c in drives.curves], dtype=np.int64)
    rows = np.concatenate(drives.rows)
    found = solve(rows, tuple(curves.values()), which)
    judged = judge(found, LimitTable.of(drives.limits), doubts=doubts)
    return ShelfResult(
        picks=np.array(drives.picks, dtype=np.int64),
        mass_kg=rows["mass_kg"].copy(),
        speed_mps=np.asarray(found.speed_mps),
        current_a=np.asarray(found.current_a),
        use=judged.use,
        tightest=judged.tightest,
        verdict=judged.verdict,
        run_s=np.asarray(found.endurance_s),
        left_out=choices.count - len(drives.picks),
    )


def _drives(setup: Setup, choices: Choices, schools: Schools, bounds: Bounds, progress: Progress) -> _Tried:
    kinds: tuple[tuple[Any, ...], ...] = (
        choices.motors, choices.controllers, choices.propellers, choices.packs
    )  # fmt: skip
    found = _Tried(picks=[], rows=[], limits=[], curves=[])
    for n, pick in enumerate(product(*(range(len(k)) for k in kinds))):
        if n % _REPORT == 0:
            progress(n, choices.count)
        m, c, w, p = (kind[at] for kind, at in zip(kinds, pick, strict=True))
        try:
            tried = with_parts(setup, motor=m, controller=c, propeller=w, pack=p)
        except InvalidValue:
            continue
        if bounds.hold(tried):
            found.picks.append(pick)
            found.rows.append(drive_values(tried).rows())
            found.limits.append(limits_of(tried, schools))
            found.curves.append(curve_of(tried))
    return found


def _nothing(count: int) -> ShelfResult:
    none, whole = np.zeros(0), np.zeros(0, dtype=np.int8)
    return ShelfResult(
        picks=np.zeros((0, 4), dtype=np.int64), mass_kg=none, speed_mps=none, current_a=none, use=none, tightest=whole,
        verdict=whole, run_s=none, left_out=count,
    )  # fmt: skip
