"""The types of hull: one record each with all that is assumed of it. A new type is a member here and its record."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

WET_EXPONENT: Final = 1.0
WET_EXPONENT_OF_MONO: Final = 1.1  # a deep V wets far up its sides until it is fast


class HullType(StrEnum):
    """How the hull runs."""

    MONO = "mono"
    CATAMARAN = "catamaran"
    TUNNEL = "tunnel"
    OUTRIGGER = "outrigger"


@dataclass(frozen=True, slots=True, kw_only=True)
class HullCharacter:
    """What a type of hull is assumed to do; all common practice, no source.

    Parameters
    ----------
    planing_drag_ratio : drag over weight of the running surfaces [1].
    hump_drag_ratio : added at the hump [1].
    drag_per_length2 : of hardware and wetted hull together, 0.5 rho V^2 x this x length^2.
    air_lift_part : lift area over length x beam [1].
    rise_froude : volume Froude number over which it rises, and the propeller with it.
    deck_part : seen from above, over length x beam; of an outrigger its tub and sponsons [1].
    share_wet : of the drag area at volume Froude number 20 and the usual mass; the rest is hardware [1].
    wet_exponent : power with which the wetted hull falls with the Froude number [1].
    side_by_side : planing surfaces; None for a hull on three points, for which there is no limit of porpoising.
    chine_walks : whether it can walk from chine to chine.
    first_turned : knobs of trim that are turned for speed, first to last.
    leans : causes of misbehaviour that are likelier (above 1) or less likely than on any boat, by their keys.
    """

    beam_per_length: float
    planing_drag_ratio: float = 0.12
    hump_drag_ratio: float = 0.06
    drag_per_length2: float
    air_drag_per_length2: float = 0.033
    air_lift_part: float
    deadrise_deg: float = 8.0
    rise_froude: float
    deck_part: float = 0.75
    share_wet: float = 0.7
    wet_exponent: float = WET_EXPONENT
    side_by_side: int | None
    chine_walks: bool = False
    first_turned: tuple[str, ...]
    leans: Mapping[str, float] = field(default_factory=dict)

    @property
    def twin(self) -> bool:
        """Whether it runs on two hulls."""
        return self.side_by_side == 2


CHARACTERS: Final[dict[HullType, HullCharacter]] = {
    HullType.MONO: HullCharacter(
        beam_per_length=0.30,
        drag_per_length2=3.2e-4,
        air_lift_part=0.01,
        deadrise_deg=18.0,
        rise_froude=1.7,
        wet_exponent=WET_EXPONENT_OF_MONO,
        side_by_side=1,
        chine_walks=True,
        first_turned=("placement.pack", "hull.strut_angle", "hull.shaft_depth", "hull.tab_angle"),
        leans={"torque": 1.5, "rudder_centred": 0.2},
    ),
    HullType.CATAMARAN: HullCharacter(
        beam_per_length=0.34,
        drag_per_length2=2.6e-4,
        air_lift_part=0.05,
        rise_froude=1.5,
        side_by_side=2,
        first_turned=("placement.pack", "hull.strut_angle", "hull.shaft_depth", "hull.air_tab"),
        leans={"rudder_centred": 4.0, "torque": 0.6, "air_lift": 1.3},
    ),
    HullType.TUNNEL: HullCharacter(
        beam_per_length=0.42,
        drag_per_length2=2.9e-4,
        air_drag_per_length2=0.036,
        air_lift_part=0.06,
        rise_froude=1.4,
        side_by_side=2,
        first_turned=("placement.pack", "hull.shaft_depth", "hull.strut_angle", "hull.air_tab"),
        leans={"air_lift": 1.5, "rudder_centred": 2.0},
    ),
    HullType.OUTRIGGER: HullCharacter(
        beam_per_length=0.45,
        planing_drag_ratio=0.14,
        hump_drag_ratio=0.08,
        drag_per_length2=1.25e-4,
        air_drag_per_length2=0.030,
        air_lift_part=0.03,
        rise_froude=1.2,
        deck_part=0.34,
        share_wet=0.85,
        side_by_side=None,
        first_turned=("hull.strut_angle", "hull.shaft_depth", "placement.pack", "hull.sponson_angle"),
        leans={"stern_lift": 1.3, "air_lift": 1.3, "torque": 0.6},
    ),
}
