"""The pack as a part: cells in series and parallel, what is printed on it, and what is guessed."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, count, mass, quantity
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Floats, Value, guess, known, scaled


@dataclass(frozen=True, slots=True, kw_only=True)
class Pack(Part):
    """A LiPo pack by what is printed on it; the second ones are of an unlike pack in series with it."""

    cells: int = count(1, 24, required=True)
    parallel: int = count(1, 4, default=1)
    capacity_ah: Value = quantity(Dimension.CHARGE, "mAh", 100, 40000, required=True)
    c_rating: Value | None = quantity(Dimension.RATIO, "1", 1, 300)
    cell_resistance_ohm: Value | None = quantity(Dimension.RESISTANCE, "mohm", 0.05, 200)
    weakest_resistance_ohm: Value | None = quantity(Dimension.RESISTANCE, "mohm", 0.05, 500, estimated=False)
    second_cells: int | None = count(1, 24, estimated=False)
    second_capacity_ah: Value | None = quantity(Dimension.CHARGE, "mAh", 100, 40000, estimated=False)
    second_c_rating: Value | None = quantity(Dimension.RATIO, "1", 1, 300, estimated=False)
    second_resistance_ohm: Value | None = quantity(Dimension.RESISTANCE, "mohm", 0.05, 200, estimated=False)
    mass_kg: Value | None = mass(5, 12000)


@dataclass(frozen=True, slots=True, kw_only=True)
class RatingNotBelieved(Fact):
    """A C rating no pack holds; so much of it is believed."""

    printed: float
    believed: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RatingAssumed(Fact):
    """No C rating: a usual one."""

    c_rating: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CellFromCapacity(Fact):
    """A cell's resistance by what is printed: at that current it sags by so much."""

    capacity_ah: float
    c_rating: float
    sag_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PacksAdded(Fact):
    """Two packs in series: their resistances added."""

    first_ohm: float
    second_ohm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MassFromCells(Fact):
    """A pack's mass from cells and capacity."""

    kg_cell_ah: float
    wires_kg: float


# All of these are common practice, no source.
MOST_BELIEVED_C: Final = 100.0  # more is printed than any pack holds
ASSUMED_C: Final = 35.0
SAG_V: Final = 1.05  # of a cell at its printed current and 25 degC, over the seconds of a pass
KG_CELL_AH: Final = 0.025
WIRES_KG: Final = 0.02
MOST_SERIES_CELLS: Final = 24
"""Cells in series of both packs together that the model knows: 100 V (common practice, no source)."""


def printed_c(pack: Pack) -> Value:
    """C rating [1], guessed where it is not printed, and not believed above 100."""
    if pack.c_rating is not None and pack.c_rating.value > MOST_BELIEVED_C:
        why = RatingNotBelieved(printed=pack.c_rating.value, believed=MOST_BELIEVED_C)
        return guess(MOST_BELIEVED_C, 0.3, why)
    return known(pack.c_rating, guess(ASSUMED_C, 0.3, RatingAssumed(c_rating=ASSUMED_C)))


def cell_resistance(pack: Pack) -> Value:
    """Resistance of one cell [ohm], estimated from capacity and C rating where it was not measured.

    At its printed current a cell sags by about 1 V over the seconds of a pass, ohmic part, charge transfer and what
    diffusion adds together: 3.0 mohm at 5 Ah and 70 C, inversely with both. Common practice, no source. What an
    instrument reads is less: it sees the first milliseconds.
    """
    capacity_ah = pack.capacity_ah.value
    rating = printed_c(pack).value
    why = CellFromCapacity(capacity_ah=capacity_ah, c_rating=rating, sag_v=SAG_V)
    spread = 0.35 if pack.c_rating else 0.45
    return known(pack.cell_resistance_ohm, guess(SAG_V / (rating * capacity_ah), spread, why))


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
    first = scaled(printed_c(pack), pack.capacity_ah.value * pack.parallel)
    other = second_pack(pack)
    if other is None:
        return first
    return min(first, printed_current_a(other), key=lambda v: v.value)


def first_ohm(pack: Pack, cells: Floats) -> Floats:
    """Resistance of the first pack at 25 degC with so many cells in series, one of them the weakest [ohm]."""
    each = cell_resistance(pack).value
    weak = pack.weakest_resistance_ohm.value if pack.weakest_resistance_ohm else each
    return (each * (cells - 1) + weak) / pack.parallel


def resistance(pack: Pack) -> Value:
    """Resistance of all cells at 25 degC [ohm]; two packs in series add up."""
    cell = cell_resistance(pack)
    first = dataclasses.replace(cell, value=float(first_ohm(pack, pack.cells)))
    other = second_pack(pack)
    if other is None:
        return first
    second = resistance(other)
    total = first.value + second.value
    spread = math.hypot(first.value * first.spread, second.value * second.spread) / total
    return guess(total, spread, PacksAdded(first_ohm=first.value, second_ohm=second.value))


def weakest_cell_factor(pack: Pack, cells: Floats) -> Floats:
    """Sag of the weakest cell over that of the mean one [1], with so many cells in the first pack."""
    other, one = second_pack(pack), cell_resistance(pack).value / pack.parallel
    weak = pack.weakest_resistance_ohm.value / pack.parallel if pack.weakest_resistance_ohm else one
    others = cell_resistance(other).value if other else 0.0
    count = other.cells if other else 0
    mean = (first_ohm(pack, cells) + others * count) / (cells + count)
    return max(one, weak, others) / mean


def guessed_mass_kg(pack: Pack, cells: Floats) -> Floats:
    """Mass of all packs by the estimator [kg], with so many cells in the first: 25 g a cell and Ah, 20 g of wire."""
    kg = cells * pack.parallel * pack.capacity_ah.value * KG_CELL_AH + WIRES_KG
    other = second_pack(pack)
    if other is not None:
        kg = kg + other.cells * other.capacity_ah.value * KG_CELL_AH + WIRES_KG
    return kg


def mass_with_cells_kg(pack: Pack, cells: Floats) -> Floats:
    """Mass of all packs [kg] with other cells in the first one: what was weighed goes with the estimator."""
    estimate = guessed_mass_kg(pack, cells)
    if pack.mass_kg is None:
        return estimate
    return pack.mass_kg.value * estimate / guessed_mass_kg(pack, pack.cells)


def pack_mass(pack: Pack) -> Value:
    """Mass of all packs [kg]: 25 g a cell and Ah, and 20 g of wire each (common practice, no source)."""
    why = MassFromCells(kg_cell_ah=KG_CELL_AH, wires_kg=WIRES_KG)
    return known(pack.mass_kg, guess(float(guessed_mass_kg(pack, pack.cells)), 0.12, why))
