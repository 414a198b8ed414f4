"""The one verdict: what a drive does against the table of its limits, one drive or a million."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.limits import KEYS, LOADS, RISING, WALLS, Limit, LimitKey
from kunstflug.core.drive.point import OperatingPoint
from kunstflug.core.laws.resistance import PLANING_FROUDE
from kunstflug.core.quantity.value import Array

STALL_RATIO: Final = 0.5  # below half the free rpm a motor gives less power the more it is loaded
CELL_EMPTY_V: Final = 2.5


class Verdict(StrEnum):
    """What is said of a drive, or of one load."""

    HOLDS = "holds"
    SHORT = "short"
    STOP = "stop"
    NONE = "none"  # it does not run at all


ORDER: Final = tuple(Verdict)
"""Verdicts by their gravity: arrays carry the index."""


def worst(found: Sequence[Verdict]) -> Verdict:
    """The gravest of some verdicts."""
    return max(found, key=ORDER.index, default=Verdict.HOLDS)


def grade(value: float, short: float, stop: float) -> Verdict:
    """Verdict on a value that is the worse the larger it is."""
    return Verdict.STOP if value > stop else Verdict.SHORT if value > short else Verdict.HOLDS


def held(found: Verdict, chance: float, risk: float) -> Verdict:
    """A verdict of the likeliest drive, with the chance that it passes a limit: *holds* only up to a risk [1]."""
    return Verdict.SHORT if found is Verdict.HOLDS and chance > risk else found


@dataclass(frozen=True, slots=True, kw_only=True)
class LimitTable:
    """Limits of one drive, or of N, as numbers: shape (K, 1) or (K, N), rows in the order of ``KEYS``."""

    holds: Array
    stops: Array

    @classmethod
    def of(cls, drives: Sequence[tuple[Limit, ...]]) -> "LimitTable":
        """Table of the limits of one drive, or of several."""
        return cls(
            holds=np.array([[limit.holds for limit in limits] for limits in drives]).T,
            stops=np.array([[limit.stop for limit in limits] for limits in drives]).T,
        )

    def at(self, index: npt.NDArray[np.int64]) -> "LimitTable":
        """Columns by index, for drives that share limits."""
        return LimitTable(holds=self.holds[:, index], stops=self.stops[:, index])


@dataclass(frozen=True, slots=True, kw_only=True)
class Assessment:
    """N drives against their limits.

    Parameters
    ----------
    uses : shape (K, N), load over limit [1]; above 1 it does not hold; 0 where there is no limit.
    grades : shape (K, N), verdict on each limit, index into ``ORDER``.
    use : shape (N,), the largest of them.
    tightest : shape (N,), index into ``KEYS`` of that limit.
    verdict : shape (N,), index into ``ORDER``.
    """

    uses: Array
    grades: npt.NDArray[np.int8]
    use: Array
    tightest: npt.NDArray[np.int8]
    verdict: npt.NDArray[np.int8]


_RISING = np.array([[key in RISING] for key in KEYS])
_WALL = np.array([[key in WALLS] for key in KEYS])


def loads(point: OperatingPoint) -> Array:
    """Loads of N drives, shape (K, N)."""
    return np.stack([np.atleast_1d(getattr(point, LOADS[key])) for key in KEYS])


def runs(point: OperatingPoint) -> npt.NDArray[np.bool_]:
    """Which of N drives run: they get over the hump without stalling the motor or emptying the cells."""
    stalls, empty = overloaded(point)
    planes = np.atleast_1d(point.volume_froude) >= PLANING_FROUDE
    finite = np.isfinite(np.atleast_1d(point.speed_mps))
    found: npt.NDArray[np.bool_] = finite & planes & ~stalls & ~empty
    return found


def overloaded(point: OperatingPoint) -> tuple[npt.NDArray[np.bool_], npt.NDArray[np.bool_]]:
    """Which of N motors stall, and which cells are emptied."""
    stalls = np.atleast_1d(point.rpm) < STALL_RATIO * np.atleast_1d(point.free_rpm)
    return stalls, np.atleast_1d(point.weak_cell_v) < CELL_EMPTY_V


def judge(
    point: OperatingPoint,
    table: LimitTable,
    leave_out: frozenset[LimitKey] = frozenset(),
    doubts: Array | None = None,
) -> Assessment:
    """Drives against their limits.

    Parameters
    ----------
    leave_out : limits that do not count: the part is still to be bought.
    doubts : shape (K, 1), by how much more of each limit may be used than is likeliest, at the risk that is taken; a
        drive *holds* where even then it does. None for the likeliest alone.
    """
    load, counts = loads(point), np.array([[key not in leave_out] for key in KEYS])
    with np.errstate(divide="ignore", invalid="ignore"):
        uses = np.where(_RISING, load / table.holds, table.holds / np.maximum(load, 0.1)) * counts
        uses = np.where(_WALL & (uses <= 1.0), 0.0, uses)
        stops = np.where(_RISING, load / table.stops, table.stops / np.maximum(load, 0.1)) * counts
        at_risk = uses if doubts is None else uses * np.maximum(doubts, 1.0)
        grades = np.where(stops > 1, 2, np.where(at_risk > 1, 1, 0)).astype(np.int8)
    return Assessment(
        uses=uses,
        grades=grades,
        use=np.max(uses, axis=0),
        tightest=np.argmax(np.nan_to_num(uses), axis=0).astype(np.int8),
        verdict=np.where(runs(point), grades.max(axis=0), 3).astype(np.int8),
    )
