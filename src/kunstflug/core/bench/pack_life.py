"""How a pack ages: its resistance and its usable capacity over its runs, and when to take it out of the boat.

Both are a smooth curve over the number of runs: a level, a slope and a wandering slope (an integrated Wiener process;
G. Wahba, Spline Models for Observational Data (1990), ch. 1), read through each run's own spread. A reading that lies
far off counts for less (a Student law with four degrees of freedom).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Z80, Array

# All of these are common practice, no source.
DOUBLED: Final = 2.0
"""Times its resistance at its first runs, at which a pack is retired."""
LOST: Final = 0.8
"""Of the printed capacity, below which a pack is retired."""
WEAK_CELL_V: Final = 0.08
"""Between cells at rest after a run, from which one of them is weak."""
SOON: Final = 20
"""Runs within which *soon* lies."""
FARTHEST: Final = 200
"""Runs ahead that are looked at."""
SAME_CURVE: Final = 0.04
"""Of the capacity: what the curve of another cell shifts in every reading alike."""
_FREEDOM: Final = 4.0
_ROUNDS: Final = 8
_PATHS: Final = 400
_SEED: Final = 411


class Quantity(StrEnum):
    """What ages."""

    RESISTANCE = "resistance"
    CAPACITY = "capacity"


class Health(StrEnum):
    """What is to be done with a pack."""

    UNKNOWN = "unknown"
    GOOD = "good"
    SOON = "soon"
    RETIRE = "retire"


@dataclass(frozen=True, slots=True, kw_only=True)
class _Ageing:
    """What is known of any pack before its first run; logarithms.

    Parameters
    ----------
    level : spread at the first run.
    slope, slope_spread : each run.
    bends : how the slope wanders, each run.
    """

    level: float
    slope: float
    slope_spread: float
    bends: float

    def covariance(self, a: Array, b: Array) -> Array:
        """Between runs of two numbers, shape (len(a), len(b))."""
        x, y = np.meshgrid(a, b, indexing="ij")
        least, most = np.minimum(x, y), np.maximum(x, y)
        wanders = least * least * (3.0 * most - least) / 6.0
        found: Array = self.level**2 + self.slope_spread**2 * x * y + self.bends**2 * wanders
        return found


# A fifth of the capacity goes, and the resistance doubles, in some two hundred runs (common practice, no source).
AGEING: Final = {
    Quantity.RESISTANCE: _Ageing(level=0.35, slope=0.0035, slope_spread=0.0035, bends=0.0006),
    Quantity.CAPACITY: _Ageing(level=0.06, slope=-0.0011, slope_spread=0.002, bends=0.0003),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class PackRun:
    """What one run says of its pack.

    Parameters
    ----------
    number : of the pack's runs, from 1.
    ratio : of what a new pack like it has, by quantity; and the spread of its logarithm.
    apart_v : between the cells at rest afterwards; None where they were not read.
    """

    number: int
    ratio: dict[Quantity, tuple[float, float]]
    apart_v: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Course:
    """One quantity over the runs: of what a new pack has, with its 80 % band.

    Parameters
    ----------
    chance : that it is past its limit by now.
    limit : of what a new pack has.
    """

    number: Array
    value: Array
    low: Array
    high: Array
    chance: float
    limit: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PackLife:
    """A pack's life: its courses, what to do, and how many runs are left; None where none of its limits is near."""

    health: Health
    courses: dict[Quantity, Course]
    left: tuple[int, int] | None
    weak_cell: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PackUnread(Fact):
    """No run says anything of the pack."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PackStands(Fact):
    """Where a pack stands; a quantity that was never read is None.

    Parameters
    ----------
    resistance : times that of its first runs.
    capacity : of what is printed.
    left : runs until one of its limits, a low and a high number; None where it is farther than anybody can say.
    """

    health: Health
    resistance: float | None
    capacity: float | None
    left: tuple[int, int] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CellWeak(Fact):
    """Cells stood apart at rest after the last runs in which they were read [V]."""

    apart_v: float


def pack_life(runs: Sequence[PackRun]) -> PackLife:
    """How a pack stands by what its runs said of it.

    Parameters
    ----------
    runs : in their order.
    """
    courses: dict[Quantity, Course] = {}
    first: Array = np.full(_PATHS, math.inf)
    for what in Quantity:
        read = [(run.number, *run.ratio[what]) for run in runs if what in run.ratio]
        if read:
            courses[what], paths = _course(what, np.array(read).T, runs[-1].number)
            first = np.minimum(first, paths)
    apart = [run.apart_v for run in runs if run.apart_v is not None]
    weak = bool(apart) and float(np.median(apart[-3:])) > WEAK_CELL_V
    if not courses:
        return PackLife(health=Health.RETIRE if weak else Health.UNKNOWN, courses={}, left=None, weak_cell=weak)
    left = first - runs[-1].number
    low, mid, high = (float(np.quantile(left, q, method="nearest")) for q in (0.1, 0.5, 0.9))
    past = any(course.chance >= 0.5 for course in courses.values())
    health = Health.RETIRE if past or weak else Health.SOON if mid <= SOON else Health.GOOD
    near = (math.floor(max(low, 0.0)), math.ceil(high)) if math.isfinite(high) else None
    return PackLife(health=health, courses=courses, left=near, weak_cell=weak)


def _course(what: Quantity, read: Array, last: int) -> tuple[Course, Array]:
    """Curve of a quantity through its readings; and for many like it the run at which each passes the limit."""
    law = AGEING[what]
    number, value, spread = read[0] - 1.0, np.log(read[1]), read[2]
    grid = np.unique(np.concatenate([np.linspace(0.0, last - 1.0, 41), number[:1]]))
    ahead = np.unique(np.concatenate([grid, last - 1.0 + np.arange(0.0, FARTHEST + 1.0, 5.0)]))
    noise = spread**2
    for _ in range(_ROUNDS):  # weights of a Student law: a reading far off the others counts for less
        solve = np.linalg.inv(law.covariance(number, number) + np.diag(noise))
        left = value - law.slope * number
        off = left - law.covariance(number, number) @ (solve @ left)
        noise = spread**2 * (_FREEDOM + (off / spread) ** 2) / (_FREEDOM + 1.0)
    beside = law.covariance(ahead, number)
    mean = law.slope * ahead + beside @ (solve @ left)
    covariance = law.covariance(ahead, ahead) - beside @ solve @ beside.T
    # Of the resistance it is the rise since the first reading that tells of age; of the capacity what is printed.
    start = int(np.searchsorted(ahead, number[0])) if what is Quantity.RESISTANCE else None
    shift = 0.0 if start is None else mean[start]
    draws = np.random.default_rng(_SEED).multivariate_normal(mean, covariance, _PATHS, method="eigh")
    if start is None:
        draws = draws + np.random.default_rng(_SEED + 1).normal(0.0, SAME_CURVE, (_PATHS, 1))
        over = draws < math.log(LOST)
    else:
        over = draws - draws[:, start : start + 1] > math.log(DOUBLED)
    now = int(np.searchsorted(ahead, last - 1.0))
    at = np.where(over[:, now:].any(axis=1), ahead[now + np.argmax(over[:, now:], axis=1)] + 1.0, math.inf)
    at = np.where(over[:, now], float(last), at)
    shown = np.searchsorted(ahead, grid)
    alike = SAME_CURVE if start is None else 0.0
    sd = Z80 * np.sqrt(np.maximum(np.diag(covariance)[shown], 0.0) + alike**2)
    course = Course(
        number=grid + 1.0,
        value=np.exp(mean[shown]),
        low=np.exp(mean[shown] - sd),
        high=np.exp(mean[shown] + sd),
        chance=float(np.mean(over[:, now])),
        limit=LOST if start is None else DOUBLED * math.exp(shift),
    )
    return course, at
