"""The margins of a setup against blowing over, rolling, porpoising and hopping, and all that speaks for a cause."""

from kunstflug.core.drive import dangers as d
from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import Forecast
from kunstflug.core.drive.values import drive_values
from kunstflug.core.laws.resistance import GRAVITY_MPS2
from kunstflug.core.parts import hull as hulls
from kunstflug.core.parts.hull import CENTRE_PART, Hardware
from kunstflug.core.parts.propeller import SHAKES
from kunstflug.core.setup.setup import Setup
from kunstflug.core.trim.practice import practice_of
from kunstflug.core.trim.reasons import Margins


def margin_uses(setup: Setup, found: Forecast) -> dict[str, float] | None:
    """Used parts of the margins, 1 at the margin itself; None where nothing drives."""
    if not found.runs:
        return None
    uses = {}
    for danger in dangers_of(setup, found.point, found.curves):
        match danger.finding:
            case d.BlowOver(part=part):
                uses["blow_over"] = part
            case d.TorqueRoll(part=part):
                uses["torque"] = part
            case d.Porpoising(trim_deg=trim_deg, boundary_deg=boundary):
                uses["porpoising"] = trim_deg / boundary
            case d.Hop(part=part):
                uses["hop"] = part
            case _:
                pass
    return uses


def margins_of(setup: Setup, found: Forecast, *, waves: bool | None = None, once: bool | None = None) -> Margins:
    """The boat's own numbers, as far as its sheet and the model say them; guesses of the sheet do not count.

    Parameters
    ----------
    found : forecast of the setup.
    waves : whether the water was rough when it misbehaved; None where nobody said.
    once : whether it misbehaved in one run of several only; None with too few runs to say.
    """
    numbers = margin_uses(setup, found) or {}
    seen = practice_of(setup, numbers["torque"]) if "torque" in numbers else None
    if seen is not None:
        known = {"chine_walk": seen.chine_walk, "hook": seen.hook, "washout": seen.washout}
        numbers |= {key: part for key, part in known.items() if part is not None}
    hull, wheel = setup.hull, setup.propeller
    if hull.mass_centre_m is not None:
        numbers["centre"] = hull.mass_centre_m.value / (CENTRE_PART * hull.length_m.value) - 1.0
    if hull.shaft_depth_m is not None:
        numbers["depth"] = hull.shaft_depth_m.value / wheel.diameter_m.value
    if found.runs and (wheel.rake_deg is not None or hull.strut_angle_deg is not None):
        lift = drive_values(setup).lift_ratio.value * float(found.point.thrust_n)
        numbers["stern_lift"] = lift / (setup.all_up_mass_kg.value * GRAVITY_MPS2)
    twin = hulls.CHARACTERS[hull.hull_type].twin
    offset = hull.rudder_offset_m
    return Margins(
        **numbers,
        rudder_centred=abs(offset.value) < wheel.diameter_m.value / 2 if twin and offset is not None else None,
        waves=waves,
        once=once,
        propeller_worn=wheel.condition in SHAKES,
        hardware_bent=hull.hardware is Hardware.DAMAGED,
        no_fin=hull.fin_depth_m.value == 0 if hull.fin_depth_m is not None else None,
    )
