"""What the driver sees at an outlet."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.cooling.circuit import PieceKind
from kunstflug.core.cooling.solve import Solved
from kunstflug.core.laws.pipes import velocity_mps
from kunstflug.core.laws.resistance import GRAVITY_MPS2

ABOVE_WATER_M: Final = 0.05
# What one sees, from which on (common practice, no source).
LEAST_SEEN_M3_S: Final = 0.03 / 6e4
DRIPPING_MPS: Final = 0.4
THIN_M: Final = 0.15


class StreamLook(StrEnum):
    """How a stream looks from the shore."""

    NOTHING = "nothing"
    DRIPS = "drips"
    THIN = "thin"
    CLEAR = "clear"


@dataclass(frozen=True, slots=True, kw_only=True)
class Stream:
    """A stream: speed of the jet [m/s] and its throw off the side [m]."""

    flow_m3_s: float
    jet_mps: float
    throw_m: float
    seen: StreamLook


def stream(flow_m3_s: float, bore_m: float, above_water_m: float = ABOVE_WATER_M) -> Stream:
    """The stream out of an outlet of a bore [m], level, a few centimetres above the water; free fall without air."""
    jet = velocity_mps(flow_m3_s, bore_m)
    throw = jet * math.sqrt(2 * above_water_m / GRAVITY_MPS2)
    if flow_m3_s < LEAST_SEEN_M3_S:
        seen = StreamLook.NOTHING
    elif jet < DRIPPING_MPS:
        seen = StreamLook.DRIPS
    else:
        seen = StreamLook.THIN if throw < THIN_M else StreamLook.CLEAR
    return Stream(flow_m3_s=flow_m3_s, jet_mps=jet, throw_m=throw, seen=seen)


def weakest_stream(solved: Solved) -> Stream:
    """The weakest stream of all outlets: the one that tells of trouble."""
    outlets = [p for p in solved.places if p.kind is PieceKind.OUTLET]
    return min((stream(p.flow_m3_s, p.bore_m) for p in outlets), key=lambda s: s.jet_mps)
