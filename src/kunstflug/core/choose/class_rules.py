"""What a class allows, and what of a boat it does not."""

import dataclasses
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.parts.pack import series_cells
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup

FULL_CELL_V: Final = 4.2
"""A lithium-polymer cell, fully charged (common practice; the maker's sheet comes first)."""
_EPS: Final = 1e-9


class RuleKey(StrEnum):
    """What a class may limit."""

    CELLS = "most_cells"
    VOLTAGE = "most_voltage_v"
    LENGTH = "most_length_m"
    LIGHT = "least_mass_kg"
    HEAVY = "most_mass_kg"


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassLimits:
    """What a class allows; None for what is free. Noise is measured at the pond and not forecast."""

    name: str
    most_cells: int | None = None
    most_voltage_v: float | None = None
    most_length_m: float | None = None
    least_mass_kg: float | None = None
    most_mass_kg: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Broken(Fact):
    """One thing of a boat that its class does not allow."""

    name: str
    key: RuleKey
    value: float
    limit: float


def broken(limits: ClassLimits, setup: Setup) -> tuple[Broken, ...]:
    """What of a boat its class does not allow."""
    return broken_by(
        limits, cells=series_cells(setup.pack), mass_kg=setup.all_up_mass_kg.value, length_m=setup.hull.length_m.value
    )


def broken_by(limits: ClassLimits, *, cells: int, mass_kg: float, length_m: float) -> tuple[Broken, ...]:
    """The same of a boat of which only this is known.

    Parameters
    ----------
    cells : in series, of all packs; mass_kg : ready to race.
    """
    values = {
        RuleKey.CELLS: float(cells), RuleKey.VOLTAGE: cells * FULL_CELL_V, RuleKey.LENGTH: length_m,
        RuleKey.LIGHT: -mass_kg, RuleKey.HEAVY: mass_kg,
    }  # fmt: skip
    found = []
    for field in dataclasses.fields(limits)[1:]:
        key, limit = RuleKey(field.name), getattr(limits, field.name)
        sign = -1.0 if key is RuleKey.LIGHT else 1.0
        if limit is not None and values[key] > sign * limit + _EPS:
            found.append(Broken(name=limits.name, key=key, value=abs(values[key]), limit=float(limit)))
    return tuple(found)
