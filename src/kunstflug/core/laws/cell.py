"""Laws of a LiPo cell: open-circuit voltage, energy, charging."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Floats

# State of charge [1] and open-circuit voltage [V] of one LiCoO2 pouch cell [ai2020].
_SOC: Final = np.array(
    [0, .01, .02, .05, .1, .15, .2, .25, .3, .35, .4, .45, .5, .55, .6, .65, .7, .75, .8, .85, .9, .95, 1.0]
)  # fmt: skip
_OCV_V: Final = np.array([
    3.0, 3.2191760, 3.3387643, 3.5420564, 3.6395599, 3.6653539, 3.6953829, 3.7167555, 3.7330895, 3.7481278, 3.7621929,
    3.7762981, 3.7925084, 3.8121617, 3.8364611, 3.8675023, 3.9088903, 3.9519484, 3.9944829, 4.0408586, 4.0879471,
    4.1383617, 4.2,
])  # fmt: skip

NOMINAL_CELL_V: Final = 3.7
FULL_CELL_V: Final = 4.2


def cell_ocv_v(soc: Floats) -> Floats:
    """Open-circuit voltage of one cell.

    Parameters
    ----------
    soc : state of charge, 0 to 1 [1], float or array.

    Returns
    -------
    Voltage [V], same shape; linear between 23 points of a LiCoO2 pouch cell [ai2020]. A high-rate LiPo
    may differ by some 20 mV. Outside 0 to 1 it is NaN: there is no such charge.

    Examples
    --------
    >>> round(float(cell_ocv_v(0.5)), 4)
    3.7925
    """
    return np.interp(soc, _SOC, _OCV_V, left=np.nan, right=np.nan)


def energy_wh(soc_from: float, soc_to: float, capacity_ah: float, cells: int) -> float:
    """Energy between two states of charge [1] at rest [Wh]."""
    axis = np.linspace(soc_from, soc_to, 201)
    return float(np.trapezoid(np.asarray(cell_ocv_v(axis)), axis)) * capacity_ah * cells


@dataclass(frozen=True, slots=True, kw_only=True)
class Charge:
    """One charge: seconds at constant current [s], seconds in all [s], and the state of charge at its end [1]."""

    constant_s: float
    total_s: float
    soc: float


@lru_cache(maxsize=512)  # a day's plan tries one pack on one charger again and again
def charge(soc: float, capacity_ah: float, cell_ohm: float, rate_c: float = 1.0, cut_c: float = 0.05) -> Charge:
    """Constant current, then constant voltage at 4.2 V a cell.

    Parameters
    ----------
    soc : state of charge at the start [1].
    capacity_ah, cell_ohm : of the pack [Ah] and of one cell [ohm].
    rate_c, cut_c : charging current and current at which it ends, over the capacity [1/h].
    """
    current, end = rate_c * capacity_ah, cut_c * capacity_ah
    axis = np.linspace(soc, 1.0, 4001)
    most = (FULL_CELL_V - np.asarray(cell_ocv_v(axis))) / cell_ohm  # current that 4.2 V drives at each charge
    amps = np.minimum(most, current)
    lasting = amps > end
    if not lasting[0]:
        return Charge(constant_s=0.0, total_s=0.0, soc=soc)
    stop = int(np.argmin(lasting)) if not lasting.all() else len(axis) - 1
    first, last, part = amps[:stop], amps[1 : stop + 1].copy(), np.diff(axis[: stop + 1])
    # The charge ends within the last step, where the current has fallen to the end's.
    if last[-1] < end:
        part[-1] *= (first[-1] - end) / (first[-1] - last[-1])
        last[-1] = end
    # A current that falls evenly with the charge takes its charge over the logarithmic mean of both.
    level = np.abs(first - last) <= 1e-9 * first
    ratio = np.log(np.where(level, 1.0, first / last))
    mean = np.where(level, first, (first - last) / np.where(level, 1.0, ratio))
    steps = part * capacity_ah * 3600.0 / mean
    constant = amps[1 : stop + 1] >= current * (1 - 1e-12)
    return Charge(
        constant_s=float(np.sum(steps[constant])), total_s=float(np.sum(steps)), soc=soc + float(np.sum(part))
    )
