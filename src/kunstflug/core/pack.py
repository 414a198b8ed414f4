"""The pack: cells in series and parallel, open-circuit voltage, sag."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, count, guess, known, quantity

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


@dataclass(frozen=True, slots=True, kw_only=True)
class Pack(Part):
    """A LiPo pack by what is printed on it."""

    cells: int = count("Cells in series", 1, 24, required=True, help="the S number")
    parallel: int = count("Packs in parallel", 1, 4, default=1, help="P number, or how many equal packs side by side")
    capacity_ah: Value = quantity("Capacity", Dimension.CHARGE, "mAh", 100, 40000, required=True)
    c_rating: Value | None = quantity("C rating", Dimension.RATIO, "1", 1, 300, help="the continuous one, as printed")
    cell_resistance_ohm: Value | None = quantity(
        "Resistance of a cell", Dimension.RESISTANCE, "mohm", 0.05, 200, help="from a charger or meter, one cell"
    )
    second_cells: int | None = count("Second pack in series: cells", 1, 24, help="an unlike pack in series with it")
    second_capacity_ah: Value | None = quantity(
        "Second pack: capacity", Dimension.CHARGE, "mAh", 100, 40000, help="the same as the first where not given"
    )
    second_c_rating: Value | None = quantity("Second pack: C rating", Dimension.RATIO, "1", 1, 300)
    second_resistance_ohm: Value | None = quantity(
        "Second pack: resistance of a cell", Dimension.RESISTANCE, "mohm", 0.05, 200
    )
    mass_kg: Value | None = quantity("Mass", Dimension.MASS, "g", 5, 12000, help="of all packs together")


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


def voltage_under_load_v(ocv_v: Floats, resistance_ohm: Floats, current_a: Floats) -> Floats:
    """Terminal voltage V = OCV - I R [V].

    Examples
    --------
    >>> round(voltage_under_load_v(25.2, 0.020, 100.0), 2)
    23.2
    """
    return ocv_v - current_a * resistance_ohm


def current_for_power_a(ocv_v: Floats, resistance_ohm: Floats, power_w: Floats) -> Floats:
    """Current [A] at which a pack gives a power [W]: the smaller root of P = (OCV - I R) I.

    NaN where the pack cannot give it (more than OCV^2 / 4 R).
    """
    root = ocv_v**2 - 4 * resistance_ohm * power_w
    with np.errstate(invalid="ignore"):
        return (ocv_v - np.sqrt(np.where(root >= 0, root, np.nan))) / (2 * resistance_ohm)


def most_power_w(ocv_v: Floats, resistance_ohm: Floats) -> Floats:
    """Largest power a pack can give, OCV^2 / 4 R [W], at half its voltage."""
    return ocv_v**2 / (4 * resistance_ohm)


def cold_factor(pack_c: Floats) -> Floats:
    """Resistance of a LiPo over that at 25 degC [1]: doubles for each 20 K down (common practice, no source)."""
    return np.exp(np.log(2.0) / 20.0 * (25.0 - np.asarray(pack_c)))


def charge_time_s(
    soc: float, capacity_ah: float, cell_ohm: float, rate_c: float = 1.0, cut_c: float = 0.05
) -> tuple[float, float, float]:
    """Constant current, then constant voltage at 4.2 V a cell.

    Parameters
    ----------
    soc : state of charge at the start [1].
    capacity_ah, cell_ohm : of the pack [Ah] and of one cell [ohm].
    rate_c, cut_c : charging current and current at which it ends, over the capacity [1/h].

    Returns
    -------
    Seconds at constant current, seconds in all, state of charge at the end.
    """
    current, end = rate_c * capacity_ah, cut_c * capacity_ah
    axis = np.linspace(soc, 1.0, 4001)
    most = (4.2 - np.asarray(cell_ocv_v(axis))) / cell_ohm  # current that 4.2 V drives at each charge
    amps = np.minimum(most, current)
    lasting = amps > end
    stop = int(np.argmin(lasting)) if not lasting.all() else len(axis) - 1
    middle = (amps[1 : stop + 1] + amps[:stop]) / 2
    steps = np.diff(axis[: stop + 1]) * capacity_ah * 3600.0 / middle
    constant = amps[1 : stop + 1] >= current * (1 - 1e-12)
    return float(np.sum(steps[constant])), float(np.sum(steps)), float(axis[stop])


def energy_wh(soc_from: float, soc_to: float, capacity_ah: float, cells: int) -> float:
    """Energy between two states of charge at rest [Wh]."""
    axis = np.linspace(soc_from, soc_to, 201)
    return float(np.trapezoid(np.asarray(cell_ocv_v(axis)), axis)) * capacity_ah * cells


MOST_BELIEVED_C: Final = 100.0  # more is printed than any pack holds (common practice, no source)


def printed_c(pack: Pack) -> Value:
    """C rating [1], guessed where it is not printed, and not believed above 100."""
    if pack.c_rating is not None and pack.c_rating.value > MOST_BELIEVED_C:
        return guess(
            MOST_BELIEVED_C, 0.3, f"{pack.c_rating.value:g} C printed, {MOST_BELIEVED_C:g} believed at the most"
        )
    return known(pack.c_rating, guess(35.0, 0.3, "no C rating printed: 35 C assumed"))


def cell_resistance(pack: Pack) -> Value:
    """Resistance of one cell [ohm], estimated from capacity and C rating where it was not measured.

    2.2 mohm at 5 Ah for a stiff pack (70 C and more printed), twice that for a soft one (25 C), inversely
    with capacity: common practice, no source.
    """
    capacity_ah = pack.capacity_ah.value
    rating = printed_c(pack).value
    softness = min(max((70.0 / rating) ** 0.67, 0.8), 2.2)
    return known(
        pack.cell_resistance_ohm,
        guess(
            2.2e-3 * 5.0 / capacity_ah * softness,
            0.30 if pack.c_rating else 0.45,
            f"from {capacity_ah:g} Ah and {rating:g} C: 2.2 mohm at 5 Ah for a stiff cell",
        ),
    )


def second_pack(pack: Pack) -> Pack | None:
    """The other pack of two in series, as a pack of its own; None where there is none."""
    if pack.second_cells is None:
        return None
    return Pack(
        cells=pack.second_cells,
        capacity_ah=pack.second_capacity_ah or pack.capacity_ah,
        c_rating=pack.second_c_rating or (pack.c_rating if pack.second_resistance_ohm is None else None),
        cell_resistance_ohm=pack.second_resistance_ohm,
    )


MOST_SERIES_CELLS: Final = 24
"""Cells in series of both packs together that the model knows: 100 V (common practice, no source)."""


def series_cells(pack: Pack) -> int:
    """Cells in series of all packs."""
    return pack.cells + (pack.second_cells or 0)


def usable_ah(pack: Pack) -> float:
    """Charge that the weaker of two packs in series has, parallel ones together [Ah]."""
    first = pack.capacity_ah.value * pack.parallel
    other = second_pack(pack)
    return first if other is None else min(first, other.capacity_ah.value)


def printed_current_a(pack: Pack) -> Value:
    """Current that the printed C ratings stand for [A]; of two packs in series the weaker one rules."""
    rating = printed_c(pack)
    first = dataclasses.replace(rating, value=rating.value * pack.capacity_ah.value * pack.parallel)
    other = second_pack(pack)
    if other is None:
        return first
    second = printed_current_a(other)
    return min(first, second, key=lambda v: v.value)


def resistance(pack: Pack) -> Value:
    """Resistance of all cells at 25 degC [ohm]; two packs in series add up."""
    cell = cell_resistance(pack)
    first = dataclasses.replace(cell, value=cell.value * pack.cells / pack.parallel)
    other = second_pack(pack)
    if other is None:
        return first
    second = resistance(other)
    total = first.value + second.value
    spread = math.hypot(first.value * first.spread, second.value * second.spread) / total
    return guess(total, spread, f"two packs in series: {first.value * 1e3:.1f} and {second.value * 1e3:.1f} mohm")


def end_of_charge(pack: Pack, used_ah: float, soc: float) -> tuple[float, float]:
    """Charge left of the weaker and the stiffer of two packs in series after a use [1]; equal for one pack."""
    other = second_pack(pack)
    first = soc - used_ah / (pack.capacity_ah.value * pack.parallel)
    second = first if other is None else soc - used_ah / other.capacity_ah.value
    return min(first, second), max(first, second)


def pack_resistance_ohm(cell_ohm: Floats, cells: Floats, parallel: Floats) -> Floats:
    """Resistance of the whole pack [ohm]: cells in series, groups in parallel."""
    return cell_ohm * cells / parallel


def pack_mass(pack: Pack) -> Value:
    """Mass of the pack [kg]: 25 g a cell and Ah, and 20 g of wire (common practice, no source)."""
    kg = pack.cells * pack.parallel * pack.capacity_ah.value * 0.025 + 0.02
    other = second_pack(pack)
    if other is not None:
        kg += other.cells * other.capacity_ah.value * 0.025 + 0.02
    return known(pack.mass_kg, guess(kg, 0.12, "25 g for each cell and Ah, 20 g of wire"))
