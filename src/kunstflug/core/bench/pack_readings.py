"""What a run says of its pack: resistance and usable capacity beside those of a new one, each with its spread."""

import math
from typing import Any, Final

import numpy as np

from kunstflug.core.laws.cell import cell_ocv_v
from kunstflug.core.laws.electric import COLD_PER_K, cold_factor
from kunstflug.core.parts import pack
from kunstflug.core.parts.pack import Pack
from kunstflug.core.quantity.value import Array

# All of these are common practice, no source.
LEAST_DROP: Final = 0.25
"""Of the charge, from which what went out says something of the capacity."""
REST_V: Final = 0.012
"""Standard deviation of a cell's voltage at rest against the curve: another cell, not quite at rest [V]."""
WARMS_K: Final = 8.0
"""How much warmer than at the start a pack is on average in a run."""
TEMPERATURE_K: Final = 5.0
"""Standard deviation of a pack's mean temperature in a run."""
MEASURED_K: Final = 3.0
"""The same where it was measured after the run."""
REST_A: Final = 3.0
DRIVEN_A: Final = 30.0
LEAST_SWING_A: Final = 8.0
LEAST_SAMPLES: Final = 20
LONGEST_HOLE_S: Final = 5.0
_AXIS: Final = np.linspace(0.0, 1.0, 401)
_AT_REST: Final = np.asarray(cell_ocv_v(_AXIS))

Ratio = tuple[float, float]
"""A value and its spread."""


def state_of_charge(cell_v: float) -> Ratio:
    """State of charge of a cell at rest, and its spread [1].

    Examples
    --------
    >>> soc, spread = state_of_charge(3.80)
    >>> round(soc, 2), round(spread, 3)
    (0.52, 0.032)
    """
    low, at, high = np.interp([cell_v - REST_V, cell_v, cell_v + REST_V], _AT_REST, _AXIS)
    return float(at), float(high - low) / 2.0


def capacity_read(new: Pack, used_ah: float, before: Ratio, after: Ratio) -> Ratio | None:
    """Capacity over the printed one, from what went out between two states of charge; None where that is too little.

    Parameters
    ----------
    used_ah : out of the pack, or put back by the charger [Ah].
    before, after : state of charge and its spread [1].
    """
    drop = before[0] - after[0]
    if drop < LEAST_DROP or used_ah <= 0.0:
        return None
    spread = math.hypot(before[1], after[1]) / drop
    return used_ah / drop / pack.usable_ah(new), math.hypot(spread, 0.02)


def resistance_typed(new: Pack, volts: float, amps: float, soc: Ratio, warm: Ratio) -> Ratio | None:
    """Resistance over that of a new pack, from volts under a current; None where the numbers deny each other.

    Parameters
    ----------
    soc : state of charge meanwhile, and its spread [1].
    warm : temperature of the cells meanwhile, and its spread [degC, K].
    """
    low, rest, high = (_rest_v(new, soc[0] + k * soc[1]) for k in (-1, 0, 1))
    sag = rest - volts
    if amps < LEAST_SWING_A or sag <= 0.02 * rest:
        return None
    spread = math.hypot((high - low) / 2.0, 0.006 * volts) / sag
    return _at_25(new, sag / amps, math.hypot(spread, 0.06), warm)


def resistance_logged(new: Pack, time_s: Array, volts: Array, amps: Array, soc: float, warm: Ratio) -> Ratio | None:
    """The same from a log: the slope of volts over amperes, less what the charge itself moved.

    Parameters
    ----------
    time_s, volts, amps : shape (N,); NaN where nothing was written.
    soc : state of charge at the start [1].
    """
    good = np.isfinite(volts) & np.isfinite(amps)
    time, volts, amps = time_s[good], volts[good], amps[good]
    if len(time) < LEAST_SAMPLES or float(np.std(amps)) < LEAST_SWING_A:
        return None
    out = np.concatenate([[0.0], np.cumsum(np.diff(time) * (amps[1:] + amps[:-1]) / 2.0)]) / 3600.0
    sag = _rest_v(new, soc - out / pack.usable_ah(new)) - volts
    fit, sums, *_ = np.linalg.lstsq(np.column_stack([np.ones_like(amps), amps]), sag, rcond=None)
    ohm = float(fit[1])
    if ohm <= 0.0:
        return None
    # Neighbouring samples say the same again: a tenth of them count.
    scatter = math.sqrt(float(sums[0]) / len(time)) if len(sums) else 0.0
    error = scatter / (float(np.std(amps)) * math.sqrt(len(time) / 10.0)) / ohm
    return _at_25(new, ohm, math.hypot(error, 0.06), warm) if error < 0.5 else None


def charges_logged(new: Pack, time_s: Array, volts: Array, amps: Array) -> tuple[float, Ratio, Ratio] | None:
    """What went out [Ah] between a log's rests, and the state of charge at both; None without rest at both ends."""
    still = np.flatnonzero((np.abs(amps) < REST_A) & np.isfinite(volts))
    driven = np.flatnonzero(amps > DRIVEN_A)
    if not len(still) or not len(driven) or not still[0] < driven[0] or not driven[-1] < still[-1]:
        return None
    if not np.isfinite(amps).all() or float(np.max(np.diff(time_s))) > LONGEST_HOLE_S:
        return None
    cells = pack.series_cells(new)
    used = float(np.trapezoid(amps, time_s)) / 3600.0
    return used, state_of_charge(float(volts[still[0]]) / cells), state_of_charge(float(volts[still[-1]]) / cells)


def _rest_v(new: Pack, soc: Any) -> Any:
    return np.interp(soc, _AXIS, _AT_REST) * pack.series_cells(new)


def _at_25(new: Pack, ohm: float, spread: float, warm: Ratio) -> Ratio:
    cold = float(cold_factor(warm[0]))
    return ohm / cold / pack.resistance(new).value, math.hypot(spread, COLD_PER_K * warm[1])
