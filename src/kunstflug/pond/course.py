"""The course on the pond: an oval of two straights, and where on it a distance lies."""

import math
from dataclasses import dataclass
from typing import Final, TypeVar

import numpy as np

# Somewhere in the middle of an ocean: the flooded quarry is invented.
ORIGIN_LATITUDE: Final = 47.0
ORIGIN_LONGITUDE: Final = -30.0

Place = TypeVar("Place", float, np.ndarray)


def placed(east_m: Place, north_m: Place) -> tuple[Place, Place]:
    """Latitude and longitude on the pond [deg]."""
    latitude = ORIGIN_LATITUDE + north_m / 111_168.0
    return latitude, ORIGIN_LONGITUDE + east_m / (111_320.0 * math.cos(math.radians(ORIGIN_LATITUDE)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Course:
    """An oval: two straights and two half circles.

    Parameters
    ----------
    straight_m, radius_m : sizes [m].
    bearing_deg : direction of the first straight, 0 north.
    """

    straight_m: float = 140.0
    radius_m: float = 14.0
    bearing_deg: float = 62.0

    @property
    def lap_m(self) -> float:
        """Length of a lap [m]."""
        return 2 * self.straight_m + 2 * math.pi * self.radius_m

    def at(self, way_m: float) -> tuple[float, float, float, bool]:
        """East [m], north [m], heading [deg] and whether it is in a turn, after a way along the course."""
        s, arc = way_m % self.lap_m, math.pi * self.radius_m
        if s < self.straight_m:
            along, across, turned, turning = s, 0.0, 0.0, False
        elif s < self.straight_m + arc:
            a = (s - self.straight_m) / self.radius_m
            along, across = self.straight_m + self.radius_m * math.sin(a), self.radius_m * (1 - math.cos(a))
            turned, turning = math.degrees(a), True
        elif s < 2 * self.straight_m + arc:
            along, across = 2 * self.straight_m + arc - s, 2 * self.radius_m
            turned, turning = 180.0, False
        else:
            a = (s - 2 * self.straight_m - arc) / self.radius_m
            along, across = -self.radius_m * math.sin(a), self.radius_m * (1 + math.cos(a))
            turned, turning = 180.0 + math.degrees(a), True
        bearing = math.radians(self.bearing_deg)
        east = along * math.sin(bearing) + across * math.cos(bearing)
        north = along * math.cos(bearing) - across * math.sin(bearing)
        return east, north, (self.bearing_deg + turned) % 360, turning

    def left_of_straight_m(self, way_m: float) -> float:
        """Way left on the straight [m]; 0 in a turn."""
        s, half = way_m % self.lap_m, self.lap_m / 2
        return max(self.straight_m - s % half, 0.0)
