"""Margins whose form is practice only, each with a wide band: chine walk, hook and washout in turns.

Nobody has published these for small fast boats. What stands here grades what racers look at: more torque on a deeper V
walks on its chines, a fin that holds much more than the rudder under a bow that is down hooks, one that cannot hold the
turn washes out. All numbers are common practice, no source; a factor of two either way is the band.
"""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.laws.turning import grip_m2, tightest_radius_m
from kunstflug.core.laws.water import water_density_kg_m3
from kunstflug.core.parts import hull
from kunstflug.core.parts.hull import CHORD_PART, USUAL_TRIM_DEG
from kunstflug.core.setup.setup import Setup, centre_of_mass

EITHER_WAY: Final = 2.0
USUAL_DEADRISE_DEG: Final = 18.0
WALKS_AT: Final = 0.6  # torque over what rights a usual V, at which it walks
USUAL_SHARE: Final = 1.0  # grip of the fin over the rudder's that turns without hooking
HOOKS_AT: Final = 2.5
TURN_LENGTHS: Final = 12.0  # radius of a turn at speed over the boat's length


@dataclass(frozen=True, slots=True, kw_only=True)
class Practice:
    """Parts of a limit by practice, with a factor of two either way; None where sizes are missing."""

    chine_walk: float | None
    hook: float | None
    washout: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Grip:
    """Side force of fin and rudder over dynamic pressure [m2]; None where neither has a size."""

    fin_m2: float | None
    rudder_m2: float | None

    @property
    def whole_m2(self) -> float:
        """Of both."""
        return (self.fin_m2 or 0.0) + (self.rudder_m2 or 0.0)


def grip_of(setup: Setup) -> Grip:
    """What fin and rudder of a setup hold."""
    boat = setup.hull
    found: list[float | None] = []
    for depth, chord, angle in (
        (boat.fin_depth_m, boat.fin_chord_m, None),
        (boat.rudder_depth_m, boat.rudder_chord_m, boat.steering_deg),
    ):
        if depth is None or depth.value <= 0:
            found.append(None)
            continue
        along = chord.value if chord is not None else CHORD_PART * depth.value
        found.append(grip_m2(depth.value, along, angle.value if angle is not None else None))
    return Grip(fin_m2=found[0], rudder_m2=found[1])


def practice_of(setup: Setup, torque_part: float) -> Practice:
    """The margins of a setup.

    Parameters
    ----------
    torque_part : the propeller's torque over what rights the boat [1].
    """
    boat, grip = setup.hull, grip_of(setup)
    walk = None
    if hull.CHARACTERS[boat.hull_type].chine_walks:
        walk = torque_part / WALKS_AT * hull.deadrise(boat).value / USUAL_DEADRISE_DEG
    hook = None
    if grip.fin_m2 is not None and grip.rudder_m2 is not None:
        flat = USUAL_TRIM_DEG / hull.running_trim(boat, centre_of_mass(setup)).value
        hook = grip.fin_m2 / grip.rudder_m2 / USUAL_SHARE * flat / HOOKS_AT
    wash = None
    if grip.whole_m2 > 0:
        density = float(water_density_kg_m3(setup.conditions.water_c.value))
        radius = tightest_radius_m(setup.all_up_mass_kg.value, grip.whole_m2, density)
        wash = radius / (TURN_LENGTHS * boat.length_m.value)
    return Practice(chine_walk=walk, hook=hook, washout=wash)
