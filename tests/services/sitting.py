"""What a boat on the pond does at speed, by its own hidden trim: its laws are not the core's.

How far the bow is pressed down or light follows from where the weight really is, from what lifts the stern and from the
air under the deck; each boat has its own best place. What is far from it shows as a sign, and costs speed.
"""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.parts.hull import HullType
from kunstflug.core.setup.setup import Setup, centre_of_mass
from kunstflug.core.trim.signs import Behaviour

BEST: Final = {"mono": 0.275, "catamaran": 0.27, "tunnel": 0.27, "outrigger": 0.30}
"""Centre of mass over length at which a boat runs best, before its own whim."""
GRAVITY: Final = 9.81
A_STEP: Final = 0.022  # of the length: so far off, the bow shows it
LIFT_STEP: Final = 0.055  # of the weight
AIR_PA: Final = 0.61  # half the density of air


@dataclass(frozen=True, slots=True, kw_only=True)
class Attitude:
    """How a boat sits, in steps that one can see.

    Parameters
    ----------
    nose : pressed down if positive, light if negative.
    stern : lifted if positive, sat down if negative.
    air : of the air under it against its weight forward; past 1 it goes over.
    wash : rudder in the propeller's wash between two hulls.
    """

    nose: float
    stern: float
    air: float
    wash: float

    @property
    def drag(self) -> float:
        """Drag of the wetted hull over that of the same boat in its best trim [1]."""
        return 1.0 + 0.035 * self.nose**2 + 0.03 * self.stern**2 + 0.05 * self.wash

    def seen(self) -> frozenset[Behaviour]:
        """What it does, as somebody on the shore taps it."""
        found = set()
        if self.nose > 1.0:
            found.add(Behaviour.WET)
        if self.nose < -1.0:
            found.add(Behaviour.LIGHT_BOW)
        if self.air > 1.0:
            found.add(Behaviour.BLEW_OVER)
        if self.stern > 1.0:
            found.add(Behaviour.HOPS)
        if self.wash > 0.6 or self.nose + 0.8 * self.stern < -1.7:
            found.add(Behaviour.PORPOISES)
        return frozenset(found)


def attitude(setup: Setup, seed: int, speed_mps: float, thrust_n: float) -> Attitude:
    """How a setup of a hidden boat sits at a speed and thrust."""
    whim = np.random.default_rng((seed, 11)).uniform(-1.0, 1.0, 3)
    hull, length = setup.hull, setup.hull.length_m.value
    weight = setup.all_up_mass_kg.value * GRAVITY
    forward = centre_of_mass(setup).value / length - BEST[hull.hull_type.value] - 0.008 * whim[0]
    strut = hull.strut_angle_deg.value if hull.strut_angle_deg else 0.0
    rake = setup.propeller.rake_deg.value if setup.propeller.rake_deg else 0.0
    tabs = hull.tab_angle_deg.value if hull.tab_angle_deg else 0.0
    lifted = thrust_n * (math.sin(math.radians(strut)) + 0.4 * math.sin(math.radians(rake))) / weight
    lifted += 0.006 * tabs
    stern = (lifted - 0.04 - 0.01 * whim[1]) / LIFT_STEP
    offset = abs(hull.rudder_offset_m.value) if hull.rudder_offset_m else None
    twin = hull.hull_type in (HullType.CATAMARAN, HullType.TUNNEL)
    radius = setup.propeller.diameter_m.value / 2
    wash = max(1.0 - (offset / radius) ** 2, 0.0) if twin and offset is not None else 0.0
    area = {"mono": 0.16, "catamaran": 0.30, "tunnel": 0.33, "outrigger": 0.22}[hull.hull_type.value] * length**2
    nose = forward / A_STEP + 0.35 * max(stern, -1.5)
    press = AIR_PA * speed_mps**2 * area * math.radians(max(4.5 - 1.1 * nose, 0.5))
    return Attitude(nose=nose, stern=stern, air=press * (1.0 + 0.15 * whim[2]) / (0.28 * weight), wash=wash)
