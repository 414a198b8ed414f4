"""Slips of the pen: another unit, a digit moved, a run booked on another setup. What is one is left out, and asked.

What all other runs say of a reading is set against what it would be with the slip taken out. A slip is believed where
it is far likelier than an odd reading; the first run of a boat is always learnt from, since nothing speaks against it
but the forecast.
"""

import math
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.evidence.readings import HEAT, Reading, What
from kunstflug.core.learning.cases import Case
from kunstflug.core.learning.estimate import Estimate, Indices
from kunstflug.core.quantity.value import Array

MPH: Final = 1.609344
KNOT: Final = 1.852
MPS: Final = 3.6


class Slip(StrEnum):
    """What was done to a number."""

    UNIT = "unit"
    DIGIT = "digit"
    SETUP = "setup"


UNITS: Final[dict[What, tuple[float, ...]]] = {
    What.SPEED: (MPH, 1 / MPH, KNOT, 1 / KNOT, MPS, 1 / MPS, MPS / MPH, MPH / MPS, MPS / KNOT, KNOT / MPS, MPH / KNOT,
                 KNOT / MPH),
    What.CURRENT: (1e3, 1e-3),
    What.CHARGE: (1e3, 1e-3),
    What.VOLTAGE: (1e3, 1e-3),
}  # fmt: skip
"""Typed over true, by what unit was taken for which."""
DIGITS: Final = (10.0, 0.1)
FREEDOM: Final = 6.0
"""Of Student's t, by which odd readings are spread (common practice, no source)."""
CHANCE: Final[dict[Slip, float]] = {Slip.UNIT: 0.02, Slip.DIGIT: 0.01, Slip.SETUP: 0.02}
"""Of a reading, before anybody looked (common practice, no source)."""
SURE: Final = 0.9
LEAST_OFF: Final = 4.0  # spreads
SURE_ENOUGH: Final = 0.12  # spread of what the others say, past which nothing is left out
LEAST_CROWD: Final = 4
OFF_THE_CROWD: Final = 0.035  # spread of a reading of one setup about that of another, over what is said of both
CLEARER: Final = 2.0 * math.log(9.0)  # so much likelier, squared, that it is this reading and not another one
NEAR: Final = 0.02  # of the logarithm: how far a number with its slip taken out may still be off


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """A slip that would explain a reading.

    Parameters
    ----------
    factor : of the logarithm of what was read, or of its rise.
    chance : that it is this one, among all slips and an odd reading [1].
    """

    slip: Slip
    factor: float
    chance: float


def fahrenheit(degrees: float) -> float:
    """A number that was meant in degF [degC]."""
    return (degrees - 32.0) / 1.8


def transforms(reading: Reading, base_c: float) -> Iterator[tuple[Slip, float]]:
    """Slips that a reading may have, each with the logarithm that it adds."""
    if reading.what in HEAT:
        rise, true = reading.value - base_c, fahrenheit(reading.value) - base_c
        if rise > 1.0 and true > 1.0:
            yield Slip.UNIT, math.log(rise / true)
        return
    for factor in UNITS.get(reading.what, ()):
        yield Slip.UNIT, math.log(factor)
    for factor in DIGITS:
        yield Slip.DIGIT, math.log(factor)


def explained(off: float, spread: float, options: Sequence[tuple[Slip, float]]) -> list[Fit]:
    """How likely each slip is, given by how much a reading is off; likeliest first.

    Parameters
    ----------
    off, spread : read less said by all other runs, as logarithms.
    options : each slip with what it would add.
    """
    odd = math.log(1.0 - sum(CHANCE.values())) + _log_t(off / spread) - math.log(spread)
    weight: list[tuple[Slip, float, float]] = []
    counts = {slip: sum(one is slip for one, _ in options) for slip in Slip}
    wide = math.hypot(spread, NEAR)
    for slip, shift in options:
        z = (off - shift) / wide
        weight.append((slip, shift, math.log(CHANCE[slip] / counts[slip]) + _log_t(z) - math.log(wide)))
    top = max(odd, *(w for _, _, w in weight))
    whole = math.exp(odd - top) + sum(math.exp(w - top) for _, _, w in weight)
    fits = [Fit(slip=s, factor=f, chance=math.exp(w - top) / whole) for s, f, w in weight]
    return sorted(fits, key=lambda fit: -fit.chance)


def _log_t(z: float) -> float:
    return -0.5 * (FREEDOM + 1.0) * math.log1p(z * z / FREEDOM)


def others_of(cases: Sequence[Case], k: int, what: What, said: Sequence[Array]) -> list[float]:
    """What would be read of the racer's other setups: logarithms, one a setup."""
    found: dict[int, float] = {}
    mine = cases[k].mixed
    for case, logs in zip(cases, said, strict=True):
        if case.mixed is mine or id(case.mixed) in found:
            continue
        for reading, log in zip(case.run.readings, logs, strict=True):
            if reading.what is what and math.isfinite(log):
                found[id(case.mixed)] = float(log)
                break
    return list(found.values())


def _off_the_crowd(
    cases: Sequence[Case], found: Estimate, places: Mapping[int, int], out: npt.NDArray[np.bool_]
) -> dict[int, tuple[float, float]]:
    """Of each reading by how much it is off what most others of its boat are off by, and the spread of that.

    Two slips among five hide each other from a mean; from a median they do not. By place among those kept.
    """
    groups: dict[tuple[str, What], list[int]] = defaultdict(list)
    for case in cases:
        for n, reading in enumerate(case.run.readings):
            i = places.get(case.rows.start + n)
            if i is not None and not out[i]:
                groups[case.run.boat, reading.what].append(i)
    off: dict[int, tuple[float, float]] = {}
    for group in groups.values():
        if len(group) >= LEAST_CROWD:
            mine = found.off[group]
            off |= {i: (float(x - m), OFF_THE_CROWD) for i, x, m in zip(group, mine, _others_middle(mine), strict=True)}
    return off


def _others_middle(values: Array) -> Array:
    """For each value the median of all others."""
    order, count = np.sort(values), len(values) - 1
    place = np.argsort(np.argsort(values))
    low, high = (np.where(k < place, order[k], order[k + 1]) for k in ((count - 1) // 2, count // 2))
    return np.asarray(0.5 * (low + high), dtype=np.float64)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Suspect:
    """Readings that would go out together, and by how many spreads the one that is asked about is off."""

    places: tuple[int, ...]
    off: float
    chance: float


def slips_of(cases: Sequence[Case], found: Estimate, kept: Indices, out: npt.NDArray[np.bool_]) -> list[int]:
    """Places, among those kept, of the readings that are almost surely slips: of each boat the surest one.

    Where two readings contradict each other and each might be the slip, neither goes out.
    """
    places = {int(k): i for i, k in enumerate(kept)}
    at = np.append(found.mean, np.zeros(len(found.beside)))
    said = [case.said.value + case.said.slope @ (case.at(at) - case.said.at) for case in cases]
    counted = Counter(
        (case.run.boat, reading.what)
        for case in cases
        for n, reading in enumerate(case.run.readings)
        if (i := places.get(case.rows.start + n)) is not None and not out[i]
    )
    crowd = _off_the_crowd(cases, found, places, out)
    suspects: dict[str, list[_Suspect]] = defaultdict(list)
    for k, case in enumerate(cases):
        mine = [places.get(case.rows.start + n) for n in range(len(case.run.readings))]
        for reading, i, log in zip(case.run.readings, mine, said[k], strict=True):
            if i is None or out[i] or counted[case.run.boat, reading.what] < 2:
                continue
            ways = ((float(found.left[i]), float(found.left_spread[i])), crowd.get(i, (0.0, 1.0)))
            far = [(off, spread) for off, spread in ways if spread < SURE_ENOUGH and abs(off) > LEAST_OFF * spread]
            options = list(transforms(reading, case.said.base_c)) if far else []
            if far and reading.what is What.SPEED:
                options += [(Slip.SETUP, other - float(log)) for other in others_of(cases, k, reading.what, said)]
            fits = [(explained(off, spread, options)[0], off, spread) for off, spread in far if options]
            fit, off, spread = max(fits, key=lambda one: one[0].chance, default=(None, 0.0, 1.0))
            if fit is not None and fit.chance > 0.5:
                whole = fit.slip is Slip.SETUP  # then nothing of the run counts
                gone = tuple(j for j in mine if j is not None) if whole else (i,)
                suspects[case.run.boat].append(_Suspect(places=gone, off=off / spread, chance=fit.chance))
    return sorted(i for each in suspects.values() for i in _surest(each))


def _surest(suspects: Sequence[_Suspect]) -> tuple[int, ...]:
    first = max(suspects, key=lambda one: abs(one.off))
    apart = first.off**2 - max((one.off**2 for one in suspects if one.off * first.off < 0), default=0.0)
    return first.places if first.chance >= SURE and apart > CLEARER else ()
