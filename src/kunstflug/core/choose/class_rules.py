"""What a class allows, and what of a boat it does not."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.drive.point import OperatingPoint
from kunstflug.core.laws.sound import Loudness, level_db, sound_power_w
from kunstflug.core.parts.pack import series_cells
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup

FULL_CELL_V: Final = 4.2
"""A lithium-polymer cell, fully charged (common practice; the maker's sheet comes first)."""
USUAL_METER_M: Final = 25.0
"""How far off a meter stands where the class does not say (common practice, no source)."""
LOUDER_DB: Final = 0.5
"""A change that makes a boat louder by less says nothing new of one that is too loud already."""
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
    """What a class allows; None for what is free.

    Parameters
    ----------
    most_noise_db : at ``noise_at_m`` [dB(A)].
    """

    name: str
    most_cells: int | None = None
    most_voltage_v: float | None = None
    most_length_m: float | None = None
    least_mass_kg: float | None = None
    most_mass_kg: float | None = None
    most_noise_db: float | None = None
    noise_at_m: float = USUAL_METER_M


@dataclass(frozen=True, slots=True, kw_only=True)
class Broken(Fact):
    """One thing of a boat that its class does not allow."""

    name: str
    key: RuleKey
    value: float
    limit: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TooLoud(Fact):
    """A boat that is more likely than not louder than its class allows [dB(A) at a distance in m]."""

    name: str
    level_db: float
    limit_db: float
    at_m: float
    measured: bool


Breach = Broken | TooLoud


@dataclass(frozen=True, slots=True, kw_only=True)
class Raced:
    """A boat's class, and how loud the boat is beside the law."""

    limits: ClassLimits
    loudness: Loudness = Loudness()

    def level_db(self, sound_w: float) -> float:
        """What the class's meter shows of the boat at a sound power by the law [dB(A)]."""
        return level_db(sound_w, self.limits.noise_at_m, self.loudness)


def sound_of(setup: Setup, point: OperatingPoint) -> float:
    """Sound power of a setup at its operating point, by the law [W]."""
    return sound_power_w(float(point.shaft_power_w), float(point.rpm), setup.propeller.diameter_m.value)


def broken(raced: Raced, setup: Setup, sound_w: float) -> tuple[Breach, ...]:
    """What of a boat its class does not allow.

    Parameters
    ----------
    sound_w : sound power by the law [W]; 0 for a boat that makes no way.
    """
    return broken_by(
        raced,
        cells=series_cells(setup.pack),
        mass_kg=setup.all_up_mass_kg.value,
        length_m=setup.hull.length_m.value,
        sound_w=sound_w,
    )


def broken_by(raced: Raced, *, cells: int, mass_kg: float, length_m: float, sound_w: float) -> tuple[Breach, ...]:
    """The same of a boat of which only this is known.

    Parameters
    ----------
    cells : in series, of all packs; mass_kg : ready to race.
    """
    limits = raced.limits
    values = {
        RuleKey.CELLS: float(cells), RuleKey.VOLTAGE: cells * FULL_CELL_V, RuleKey.LENGTH: length_m,
        RuleKey.LIGHT: -mass_kg, RuleKey.HEAVY: mass_kg,
    }  # fmt: skip
    found: list[Breach] = []
    for key in RuleKey:
        limit = getattr(limits, key.value)
        sign = -1.0 if key is RuleKey.LIGHT else 1.0
        if limit is not None and values[key] > sign * limit + _EPS:
            found.append(Broken(name=limits.name, key=key, value=abs(values[key]), limit=float(limit)))
    level = raced.level_db(sound_w)
    if limits.most_noise_db is not None and level > limits.most_noise_db + _EPS:
        found.append(
            TooLoud(
                name=limits.name,
                level_db=level,
                limit_db=limits.most_noise_db,
                at_m=limits.noise_at_m,
                measured=raced.loudness.measured,
            )
        )
    return tuple(found)


def new_in(found: tuple[Breach, ...], already: tuple[Breach, ...]) -> tuple[Breach, ...]:
    """What a change breaks, but for what the boat breaks as it is: that is said once."""
    loudest = max((one.level_db for one in already if isinstance(one, TooLoud)), default=-math.inf)
    return tuple(
        one for one in found if (one.level_db > loudest + LOUDER_DB if isinstance(one, TooLoud) else one not in already)
    )
