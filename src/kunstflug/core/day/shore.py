"""The pond's shore, and the longest straight that a boat has on it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Final

import shapely
from shapely.geometry import LineString, MultiPoint, Polygon

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost, Fact

Point = tuple[float, float]

FEWEST: Final = 3
MOST: Final = 40
KEPT_OFF_M: Final = 5.0  # from the shore (common practice, no source)
ROUGH_M: Final = 2.0
"""Corners of a shore that was driven round are left out where it changes by less."""
WIDEST_M: Final = 5000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class NoShore(Fact):
    """What is asked of a shore: corners round a piece of water that does not cross itself."""

    fewest: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Straight:
    """The longest straight on a pond: from where to where [m], how long [m], along what bearing [deg, 0 north]."""

    begin: Point
    end: Point
    length_m: float
    bearing_deg: float


def checked(corners: Sequence[Point]) -> Polygon:
    """The water within a shore.

    Raises
    ------
    InvalidValue : too few corners, too many, too far apart, or a shore that crosses itself.
    """
    if len(corners) > MOST:
        raise InvalidValue("shore", len(corners), AtMost(most=MOST))
    far = any(not (math.isfinite(v) and abs(v) <= WIDEST_M) for corner in corners for v in corner)
    water = Polygon(corners) if len(corners) >= FEWEST and not far else Polygon()
    if water.is_empty or not water.is_valid or water.area <= 0:
        raise InvalidValue("shore", len(corners), NoShore(fewest=FEWEST))
    return water


def longest_straight(corners: Sequence[Point], kept_off_m: float = KEPT_OFF_M) -> Straight | None:
    """The longest straight within a shore; None where the pond is too narrow to keep off the bank.

    The longest segment within a polygon touches two of its corners or more: all lines through two are tried.

    Parameters
    ----------
    corners : of the shore in order, east and north [m].
    kept_off_m : how far a boat keeps off the bank [m].

    Raises
    ------
    InvalidValue : no shore.
    """
    water = checked(corners).buffer(-kept_off_m, join_style="mitre")
    best: tuple[float, Point, Point] | None = None
    for piece in getattr(water, "geoms", [water]):
        inside = piece.buffer(1e-6, join_style="mitre")  # a straight along the edge is within
        for (ax, ay), (bx, by) in combinations(list(piece.exterior.coords)[:-1], 2):
            long = math.hypot(bx - ax, by - ay)
            if long < 1e-9:
                continue
            reach = 2 * WIDEST_M / long
            through = LineString(
                [(ax - (bx - ax) * reach, ay - (by - ay) * reach), (bx + (bx - ax) * reach, by + (by - ay) * reach)]
            )
            for part in shapely.get_parts(inside.intersection(through)):
                if best is None or part.length > best[0]:
                    ends = list(part.coords)
                    best = (float(part.length), ends[0], ends[-1])
    if best is None or best[0] <= 0:
        return None
    length, begin, end = best
    if (begin[1], begin[0]) > (end[1], end[0]):
        begin, end = end, begin
    bearing = math.degrees(math.atan2(end[0] - begin[0], end[1] - begin[1])) % 360
    return Straight(begin=begin, end=end, length_m=length, bearing_deg=bearing)


def driven_shore(points: Sequence[Point]) -> tuple[Point, ...]:
    """A shore round where a boat was, with what it kept off the bank; corners left out where they say nothing.

    Raises
    ------
    InvalidValue : it was nowhere.
    """
    round_it = shapely.concave_hull(MultiPoint(list(points)), ratio=0.35).buffer(KEPT_OFF_M).simplify(ROUGH_M)
    rough = ROUGH_M
    while isinstance(round_it, Polygon) and len(round_it.exterior.coords) > MOST:
        rough *= 1.5
        round_it = round_it.simplify(rough)
    if not isinstance(round_it, Polygon) or round_it.is_empty:
        raise InvalidValue("shore", len(points), NoShore(fewest=FEWEST))
    return tuple((round(x, 1), round(y, 1)) for x, y in list(round_it.exterior.coords)[:-1])
