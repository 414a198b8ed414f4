"""A run that does not fit: the likeliest causes, each as what it would do to every reading."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.evidence.readings import HEAT, STEADY, What
from kunstflug.core.learning.judged import JudgedRun
from kunstflug.core.quantity.value import Array

ODD: Final = 2.8
"""Spreads past which a reading does not fit: five of a thousand right ones are called odd by chance."""


class Cause(StrEnum):
    """Why a run may not fit."""

    CAP = "cap"
    WEED = "weed"
    WEAK_CELL = "weak_cell"
    OTHER_PROPELLER = "other_propeller"
    WIND = "wind"
    INSTRUMENT = "instrument"
    NOT_FULL = "not_full"


# What a cause does, as logarithms of numbers of the setup at its usual size (common practice, no source), and whether
# it can only go that way.
_NUMBERS: Final[dict[Cause, tuple[dict[str, float], bool]]] = {
    Cause.CAP: ({"case_jacket_w_k": -1.5, "controller_jacket_w_k": -1.5}, True),
    Cause.WEED: ({"discrepancy": 0.2, "appendage_area_m2": 0.2}, True),
    Cause.WEAK_CELL: ({"pack_ocv_v": -0.04, "pack_resistance_ohm": 0.4}, True),
    Cause.OTHER_PROPELLER: ({"pitch_factor": 0.08, "diameter_m": 0.03}, False),
}
WIND_PART: Final = 0.04
PEAK_PART: Final = 0.06
LIFTED: Final = 0.10


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspicion:
    """A cause, how much likelier it makes the run than chance, and its size over the usual one.

    Parameters
    ----------
    chance : among these causes and pure chance, before anybody looked [1].
    """

    cause: Cause
    chance: float
    size: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Odd:
    """A run that does not fit what all others say.

    Parameters
    ----------
    worst : the reading that is off the most.
    off : by how many spreads.
    """

    key: str
    worst: What
    off: float
    suspicions: tuple[Suspicion, ...]


def odd_run(run: JudgedRun) -> Odd | None:
    """Whether a run does not fit, and why that may be; None where it does."""
    offs = [abs(r.off) for r in run.readings]
    if not offs or max(offs) < ODD:
        return None
    worst = run.readings[int(np.argmax(offs))]
    return Odd(key=run.key, worst=worst.what, off=worst.off, suspicions=_suspicions(run))


def _suspicions(run: JudgedRun) -> tuple[Suspicion, ...]:
    """Causes by their evidence: the likelihood of the readings with each, its size drawn about the usual one."""
    inverse = np.linalg.inv(run.spread + 1e-12 * np.eye(len(run.offs)))
    found: list[tuple[Cause, float, float]] = []
    for cause, direction, one_way in _directions(run):
        power = float(direction @ inverse @ direction)
        if power <= 0:
            continue
        pull = float(direction @ inverse @ run.offs)
        # size ~ N(1, 0.5) where it can only go one way, N(0, 1) where either
        mean, precision = (1.0, 4.0) if one_way else (0.0, 1.0)
        size = (pull + precision * mean) / (power + precision)
        gain = 0.5 * (size**2 * (power + precision) - precision * mean**2) - 0.5 * math.log1p(power / precision)
        if one_way and size < 0:
            continue
        found.append((cause, min(gain, 600.0), size))
    best: dict[Cause, tuple[float, float]] = {}
    for cause, gain, size in found:
        if cause not in best or gain > best[cause][0]:
            best[cause] = (gain, size)
    top = max([gain for gain, _ in best.values()], default=0.0)
    whole = math.exp(-top) + sum(math.exp(gain - top) for gain, _ in best.values())
    listed = [Suspicion(cause=c, chance=math.exp(g - top) / whole, size=s) for c, (g, s) in best.items()]
    return tuple(sorted(listed, key=lambda s: -s.chance))


def _directions(run: JudgedRun) -> list[tuple[Cause, Array, bool]]:
    """What each cause does to the logarithms of the readings."""
    names = run.said.names
    found = []
    for cause, (numbers, one_way) in _NUMBERS.items():
        step = np.array([numbers.get(name, 0.0) for name in names])
        found.append((cause, run.said.slope @ step, one_way))
    of: Callable[[What], Array] = lambda what: np.array([float(r.what is what) for r in run.readings])  # noqa: E731
    speed = of(What.SPEED)
    if speed.any():
        found.append((Cause.WIND, WIND_PART * speed, False))
        found.append((Cause.INSTRUMENT, PEAK_PART * speed, False))
    lifted = np.array([-LIFTED if r.what in STEADY and r.what is not What.VOLTAGE else 0.0 for r in run.readings])
    lifted[[r.what is What.CURRENT for r in run.readings]] *= 2.0
    found.append((Cause.NOT_FULL, lifted, True))
    for k, reading in enumerate(run.readings):
        if reading.what is not What.SPEED:
            alone = np.zeros(len(run.readings))
            alone[k] = 0.3 if reading.what in HEAT else 0.15
            found.append((Cause.INSTRUMENT, alone, False))
    return found
