"""Ponds over the wire: their shores and the straights on them."""

from typing import Annotated

from pydantic import Field

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


class PondView(ShoreOut):
    """A pond that was kept."""

    name: str
