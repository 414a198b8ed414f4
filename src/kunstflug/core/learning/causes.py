"""A run that does not fit: the likeliest causes, each as what it would do to every reading."""

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final

import numpy as np

from kunstflug.core.evidence.readings import HEAT, STEADY, Reading, What
from kunstflug.core.learning.judged import JudgedRun
from kunstflug.core.learning.slips import NEAR, Slip, fahrenheit, transforms
from kunstflug.core.quantity.facts import Fact
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
    PEAK = "peak"
    UNIT = "unit"
    DIGIT = "digit"
    OTHER_SETUP = "other_setup"


# What a cause does, as logarithms of numbers of the setup at its usual size (common practice, no source), and whether
# it can only go that way.
_NUMBERS: Final[dict[Cause, tuple[dict[str, float], bool]]] = {
    Cause.CAP: ({"case_jacket_w_k": -1.5, "controller_jacket_w_k": -1.5}, True),
    Cause.WEED: ({"discrepancy": 0.2, "appendage_area_m2": 0.2}, True),
    Cause.WEAK_CELL: ({"pack_ocv_v": -0.04, "pack_resistance_ohm": 0.4}, True),
    Cause.OTHER_PROPELLER: ({"pitch_factor": 0.08, "diameter_m": 0.03}, False),
}
WIND_PART: Final = 0.04
LEAST_APART: Final = 0.03  # of a logarithm, by which another setup has to differ to be told apart
FALSE_PART: Final = 0.06
PEAK_PART: Final = 0.04
LIFTED: Final = 0.10
SLIPS: Final = {Slip.UNIT: Cause.UNIT, Slip.DIGIT: Cause.DIGIT}


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspicion:
    """A cause, how much likelier it makes the run than chance, and its size over the usual one.

    Parameters
    ----------
    chance : among these causes and pure chance, before anybody looked [1].
    what : of a slip, the reading it is in.
    factor : of a slip, what was typed over what is meant [1]; of a temperature in another unit, of its rise.
    other : of another setup, a run of it.
    """

    cause: Cause
    chance: float
    size: float
    what: What | None = None
    factor: float = 1.0
    other: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SlipOfThisRun(Fact):
    """What may be put right: a slip that the run still has, in a number that was typed."""


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


def odd_run(run: JudgedRun, others: Sequence[JudgedRun] = ()) -> Odd | None:
    """Whether a run does not fit, and why that may be; None where it does.

    Parameters
    ----------
    others : runs of the racer's, on whose setups this one may belong.
    """
    offs = [abs(r.off) for r in run.readings]
    if not offs or max(offs) < ODD:
        return None
    worst = run.readings[int(np.argmax(offs))]
    return Odd(key=run.key, worst=worst.what, off=worst.off, suspicions=_suspicions(run, others))


def meant(found: Suspicion, run: JudgedRun) -> float:
    """What would have been meant by a reading with a slip in it, in the core's unit."""
    read = next(r.read for r in run.readings if r.what is found.what)
    return fahrenheit(read) if found.what in HEAT else read / found.factor


@dataclass(frozen=True, slots=True, kw_only=True)
class _Way:
    """What a cause does to the logarithms of the readings at its usual size, and how its size is spread about that.

    Parameters
    ----------
    one_way : it can only go that way.
    """

    cause: Cause
    does: Array
    mean: float
    spread: float
    what: What | None = None
    factor: float = 1.0
    other: str = ""

    @property
    def one_way(self) -> bool:
        """Whether it can only go one way."""
        return self.mean > 0


def _suspicions(run: JudgedRun, others: Sequence[JudgedRun]) -> tuple[Suspicion, ...]:
    """Causes by their evidence: the likelihood of the readings with each, its size drawn about the usual one."""
    inverse = np.linalg.inv(run.spread + 1e-12 * np.eye(len(run.offs)))
    best: dict[Cause, tuple[float, float, _Way]] = {}
    ways = _ways(run, others)
    counts = Counter(way.cause for way in ways)
    for way in ways:
        power = float(way.does @ inverse @ way.does)
        if power <= 0:
            continue
        pull, precision = float(way.does @ inverse @ run.offs), 1.0 / way.spread**2
        size = (pull + precision * way.mean) / (power + precision)
        gain = 0.5 * (size**2 * (power + precision) - precision * way.mean**2) - 0.5 * math.log1p(power / precision)
        gain -= math.log(counts[way.cause])  # of many units, one fits by chance
        if way.one_way and size < 0:
            continue
        if way.cause not in best or gain > best[way.cause][0]:
            best[way.cause] = (gain, size, way)
    top = max([gain for gain, _, _ in best.values()], default=0.0)
    whole = math.exp(-min(top, 600.0)) + sum(math.exp(gain - top) for gain, _, _ in best.values())
    listed = [
        Suspicion(cause=c, chance=math.exp(g - top) / whole, size=s, what=way.what, factor=way.factor, other=way.other)
        for c, (g, s, way) in best.items()
    ]
    return tuple(sorted(listed, key=lambda s: -s.chance))


def _ways(run: JudgedRun, others: Sequence[JudgedRun]) -> list[_Way]:
    """What each cause does to the logarithms of the readings."""
    names, count = run.said.names, len(run.readings)
    found = []
    for cause, (numbers, one_way) in _NUMBERS.items():
        does = run.said.slope @ np.array([numbers.get(name, 0.0) for name in names])
        found.append(_way(cause, does, one_way=one_way))
    speed = np.array([float(r.what is What.SPEED) for r in run.readings])
    if speed.any():
        found.append(_way(Cause.WIND, WIND_PART * speed, one_way=False))
        found.append(_way(Cause.INSTRUMENT, FALSE_PART * speed, one_way=False))
        found.append(_way(Cause.PEAK, PEAK_PART * speed, one_way=True))
    lifted = np.array([-LIFTED if r.what in STEADY and r.what is not What.VOLTAGE else 0.0 for r in run.readings])
    lifted[[r.what is What.CURRENT for r in run.readings]] *= 2.0
    found.append(_way(Cause.NOT_FULL, lifted, one_way=True))
    for k, reading in enumerate(run.readings):
        one = np.eye(count)[k]
        if reading.what is not What.SPEED:
            found.append(_way(Cause.INSTRUMENT, (0.3 if reading.what in HEAT else 0.15) * one, one_way=False))
        for slip, shift in () if reading.what in HEAT else _shifts(run, k):
            way = _exactly(SLIPS[slip], shift * one, abs(shift), what=reading.what, factor=math.exp(shift))
            found.append(way)
    # A gun reads all of a run in one unit.
    warm = [(k, shift) for k, r in enumerate(run.readings) if r.what in HEAT for _, shift in _shifts(run, k)]
    if warm:
        does = np.zeros(count)
        does[[k for k, _ in warm]] = [shift for _, shift in warm]
        size = max(shift for _, shift in warm)
        found.append(_exactly(Cause.UNIT, does, size, what=run.readings[warm[0][0]].what))
    return [*found, *_other_setups(run, others)]


def _shifts(run: JudgedRun, k: int) -> Iterator[tuple[Slip, float]]:
    reading = run.readings[k]
    return transforms(Reading(what=reading.what, value=reading.read, spread=0.0), run.said.base_c)


def _way(cause: Cause, does: Array, *, one_way: bool) -> _Way:
    return _Way(cause=cause, does=does, mean=1.0 if one_way else 0.0, spread=0.5 if one_way else 1.0)


def _exactly(cause: Cause, does: Array, size: float, **known: Any) -> _Way:
    """A cause whose size is known but for what a number typed is off by anyway."""
    return _Way(cause=cause, does=does, mean=1.0, spread=NEAR / max(size, NEAR), **known)


def _other_setups(run: JudgedRun, others: Sequence[JudgedRun]) -> Iterator[_Way]:
    """The run booked where another setup ran: all its readings would be that one's."""
    seen: set[tuple[float, ...]] = set()
    for other in others:
        theirs = {r.what: r.now.value for r in other.readings if r.what in STEADY and math.isfinite(r.now.value)}
        key = tuple(round(math.log(v), 3) for v in theirs.values())
        if other.key == run.key or What.SPEED not in theirs or key in seen:
            continue
        seen.add(key)
        does = np.array([
            math.log(theirs[r.what] / r.without.value) if r.what in theirs and r.without.value > 0 else 0.0
            for r in run.readings
        ])  # fmt: skip
        size = float(np.max(np.abs(does)))
        if size > LEAST_APART:
            yield _exactly(Cause.OTHER_SETUP, does, size, other=other.key)
