"""A pond's water through the year: a mean, a swing and its turn, from readings of some days."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

import numpy as np

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost, NumberBetween
from kunstflug.core.quantity.value import Z80, Array

YEAR_D: Final = 365.25
MEAN_C: Final = (12.0, 4.0)
SWING_K: Final = (9.0, 3.0)
"""Mean of the year and half of its swing, each with its spread: small ponds of a temperate country (common practice, no
source). Water follows a sine through the year [J. C. Ward, J. Sanit. Eng. Div. 89 (1963) 1-16, from memory]."""
WARMEST_D: Final = 210.0
"""Day of the year on which it is warmest in the north; half a year later in the south (common practice, no source)."""
TURN_K: Final = 2.0
"""Spread of the part that moves the turn."""
SOUTH: Final = 0.1
"""How likely a pond lies in the south, before any reading."""
WEATHER_K: Final = 1.8
"""What a week's weather, the depth and the thermometer leave open of a reading (common practice, no source)."""
LOWEST_C: Final = 0.0
HIGHEST_C: Final = 40.0
"""Between which water is water that a boat runs on."""
MOST: Final = 200
"""Readings of a pond."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PondReading:
    """A reading of the water: on a day, degC."""

    on: date
    celsius: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Water:
    """What a thermometer should show on a day, with the 80 % band [degC]."""

    celsius: float
    low_c: float
    high_c: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PondWater:
    """Mean, cosine and sine of the year [degC, K, K]: where they lie, and their covariance."""

    mean: Array
    covariance: Array

    def on(self, day: float) -> Water:
        """The water on a day of the year, 1 to 366; what a week's weather leaves open is in the band."""
        row = _row(day)
        middle = float(row @ self.mean)
        half = Z80 * math.sqrt(float(row @ self.covariance @ row) + WEATHER_K**2)
        low, here, high = (min(max(v, LOWEST_C), HIGHEST_C) for v in (middle - half, middle, middle + half))
        return Water(celsius=here, low_c=low, high_c=high)


def _row(day: float) -> Array:
    turn = 2.0 * math.pi * day / YEAR_D
    return np.array([1.0, math.cos(turn), math.sin(turn)])


def _posterior(rows: Array, read: Array, warmest: float) -> tuple[float, PondWater]:
    """Logarithm of how likely the readings are, and what they leave of the year; linear and Gaussian, so closed."""
    top = 2.0 * math.pi * warmest / YEAR_D
    prior = np.array([MEAN_C[0], SWING_K[0] * math.cos(top), SWING_K[0] * math.sin(top)])
    along, across = np.array([math.cos(top), math.sin(top)]), np.array([-math.sin(top), math.cos(top)])
    covariance = np.zeros((3, 3))
    covariance[0, 0] = MEAN_C[1] ** 2
    covariance[1:, 1:] = SWING_K[1] ** 2 * np.outer(along, along) + TURN_K**2 * np.outer(across, across)
    spread = rows @ covariance @ rows.T + WEATHER_K**2 * np.eye(len(read))
    off = read - rows @ prior
    gain = np.linalg.solve(spread, rows @ covariance).T
    likely = -0.5 * (float(off @ np.linalg.solve(spread, off)) + float(np.linalg.slogdet(2.0 * math.pi * spread)[1]))
    return likely, PondWater(mean=prior + gain @ off, covariance=covariance - gain @ rows @ covariance)


def pond_water(readings: Sequence[PondReading]) -> PondWater:
    """The year of a pond by what was read of it; without a reading a temperate pond of the north.

    Whether it lies in the north or in the south is told by the readings.

    Raises
    ------
    InvalidValue : too many, or water that is none.
    """
    if len(readings) > MOST:
        raise InvalidValue("water", len(readings), AtMost(most=MOST))
    for one in readings:
        if not LOWEST_C <= one.celsius <= HIGHEST_C:
            raise InvalidValue("water", one.celsius, NumberBetween(low=LOWEST_C, high=HIGHEST_C))
    rows = np.array([_row(one.on.timetuple().tm_yday) for one in readings]).reshape(-1, 3)
    read = np.array([one.celsius for one in readings])
    north, found = _posterior(rows, read, WARMEST_D)
    south, turned = _posterior(rows, read, WARMEST_D + YEAR_D / 2)
    return found if north + math.log(1.0 - SOUTH) >= south + math.log(SOUTH) else turned
