"""Ponds over the wire: their shores and the straights on them."""

from datetime import date
from typing import Annotated

from pydantic import Field

from kunstflug.core.day.pond_water import HIGHEST_C, LOWEST_C
from kunstflug.core.day.pond_water import MOST as MOST_READ
from kunstflug.core.day.shore import MOST, WIDEST_M
from kunstflug.documents.base import Out, Strict

Corner = Annotated[list[Annotated[float, Field(ge=-WIDEST_M, le=WIDEST_M)]], Field(min_length=2, max_length=2)]
"""East and north [m]."""


class ShoreIn(Strict):
    """A shore: corners in order, in metres."""

    corners: list[Corner] = Field(max_length=MOST)


class StraightOut(Out):
    """The longest straight: from where to where [m], how long [m], along what bearing [deg, 0 north]."""

    begin: list[float]
    end: list[float]
    length_m: float
    bearing_deg: float


class ShoreOut(Out):
    """A shore, with the longest straight on it; none where it is too narrow to keep off the bank."""

    corners: list[list[float]]
    kept_off_m: float = Field(description="how far a boat keeps off the bank")
    straight: StraightOut | None


class WaterReading(Strict):
    """The water of a pond on a day [degC]."""

    on: date
    celsius: float = Field(ge=LOWEST_C, le=HIGHEST_C)


class PondIn(ShoreIn):
    """A pond to keep."""

    water: list[WaterReading] | None = Field(
        default=None, max_length=MOST_READ, description="in place of what was read before; not given, that stays"
    )


class WaterOut(Out):
    """What a thermometer should show on a day, with the 80 % band."""

    day: int = Field(description="of the year, from 1")
    celsius: float
    low_c: float
    high_c: float


class PondView(ShoreOut):
    """A pond that was kept."""

    name: str
    water: list[WaterReading] = Field(description="what was read, oldest first")
    year: list[WaterOut] = Field(description="from New Year to New Year")
    asked: WaterOut = Field(description="on the day that was asked for")
