"""Dangers beside the limits of the parts: hump, blow-over, torque, porpoising, cavitation; each with its number."""

from dataclasses import dataclass

import numpy as np

from kunstflug.core import hull, savitsky
from kunstflug.core.drive.forecast import Curves
from kunstflug.core.drive.operating_point import OperatingPoint
from kunstflug.core.drive.setup import Setup, centre_of_mass
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.fit.mechanics import unbalance_force_n
from kunstflug.core.propeller import part as propeller
from kunstflug.core.water import air_density_kg_m3, water_density_kg_m3, water_viscosity_pa_s

AIR_PA = 101325.0
VAPOUR_PA = 1800.0  # of water near 16 degC [coolprop]


@dataclass(frozen=True, slots=True, kw_only=True)
class Danger:
    """One danger: what it is, how near, and the sentence with its number."""

    title: str
    verdict: Verdict
    sentence: str


def dangers_of(setup: Setup, point: OperatingPoint, curves: Curves) -> tuple[Danger, ...]:
    """Dangers of a setup at its operating point, gravest first."""
    found = [
        _hump(setup, curves),
        _blow_over(setup, point),
        _torque(setup, point),
        _porpoising(setup, point),
        _cavitation(setup, point),
        _shake(setup, point),
    ]
    order = list(Verdict)
    return tuple(sorted((w for w in found if w is not None), key=lambda w: -order.index(w.verdict)))


def _grade(value: float, short: float, stop: float) -> Verdict:
    return Verdict.STOP if value > stop else Verdict.SHORT if value > short else Verdict.HOLDS


def _hump(setup: Setup, curves: Curves) -> Danger | None:
    """Least thrust over resistance between volume Froude 1 and 3."""
    density = float(water_density_kg_m3(setup.conditions.water_c.value))
    froude = np.asarray(hull.volume_froude(curves.speed_mps, setup.all_up_mass_kg.value, density))
    at = (froude > 1.0) & (froude < hull.PLANING_FROUDE) & np.isfinite(curves.thrust_n)
    if not at.any():
        return None
    ratio = float(np.min(curves.thrust_n[at] / curves.resistance_n[at]))
    # 1.3 to spare is common practice, no source
    return Danger(
        title="Hump",
        verdict=_grade(1.3 / ratio, 1.0, 1.3),
        sentence=f"thrust is {ratio:.1f} x the resistance at the hump; 1.3 is wanted, for waves and weed",
    )


def _blow_over(setup: Setup, point: OperatingPoint) -> Danger:
    air = float(air_density_kg_m3(setup.conditions.air_c.value))
    critical = float(
        hull.blow_over_speed_mps(
            setup.all_up_mass_kg.value,
            centre_of_mass(setup).value,
            setup.hull.length_m.value,
            hull.beam(setup.hull).value,
            setup.conditions.headwind_mps.value,
            air,
        )
    )
    part = float(point.speed_mps) / critical
    return Danger(
        title="Blow-over",
        verdict=_grade(part, 0.8, 1.0),
        sentence=f"a bow 5 deg up in a gust turns the boat over from about {critical * 3.6:.0f} km/h; "
        f"it runs at {part:.0%} of that (a rough guess: deck lift may be half or double)",
    )


def _torque(setup: Setup, point: OperatingPoint) -> Danger:
    """Propeller torque against the righting moment of the weight on a quarter of the beam."""
    righting = setup.all_up_mass_kg.value * hull.GRAVITY_MPS2 * hull.beam(setup.hull).value / 4
    part, side = float(point.torque_nm) / righting, float(point.side_force_n)
    return Danger(
        title="Torque",
        verdict=_grade(part, 0.5, 1.0),
        sentence=f"the propeller's torque of {float(point.torque_nm):.2f} Nm takes {part:.0%} of what rights the boat "
        f"on a quarter of its beam, and its lower blades push the stern sideways with {side:.0f} N "
        f"({side / float(point.thrust_n):.0%} of the thrust): it leans and pulls",
    )


def _shake(setup: Setup, point: OperatingPoint) -> Danger | None:
    """Unbalance of a nicked or unbalanced propeller against the boat's weight."""
    if setup.propeller.condition not in propeller.SHAKES:
        return None
    lever = 0.35 * setup.propeller.diameter_m.value  # 0.7 R
    force = unbalance_force_n(propeller.MISSING_KG * lever, float(point.rpm))
    weight = setup.all_up_mass_kg.value * hull.GRAVITY_MPS2
    return Danger(
        title="Shake",
        verdict=_grade(force / weight, 0.25, 1.0),  # our own grading: nobody has published one
        sentence=f"a tenth of a gram off one blade turns with {force:.0f} N at {float(point.rpm):.0f} rpm, "
        f"{force / weight:.0%} of the boat's weight: bearings, flex and strut pay for it; balance it first",
    )


def _porpoising(setup: Setup, point: OperatingPoint) -> Danger | None:
    """Trim against Savitsky's boundary at the fastest speed the method covers; monos and tunnels with a V only."""
    if setup.hull.hull_type is not hull.HullType.MONO:
        return None
    celsius, beam = setup.conditions.water_c.value, hull.beam(setup.hull).value
    density = float(water_density_kg_m3(celsius))
    viscosity = float(water_viscosity_pa_s(celsius)) / density
    deadrise = hull.deadrise(setup.hull).value
    # The chart begins at sqrt(CL/2) = 0.15: faster than that there is no need to look.
    weight = setup.all_up_mass_kg.value * hull.GRAVITY_MPS2
    chart_mps = float(np.sqrt(weight / (0.5 * density * beam**2 * 2 * 0.15**2)))
    for speed in np.linspace(1.0, 0.45, 7) * min(float(point.speed_mps), 0.999 * chart_mps):
        found = savitsky.equilibrium(
            float(speed), setup.all_up_mass_kg.value, beam, deadrise, centre_of_mass(setup).value, 0.25 * beam,
            density, viscosity,
        )  # fmt: skip
        if found is None or found.caveats:
            continue
        if not 0.15 <= np.sqrt(found.lift_coefficient / 2) <= 0.35:  # past the chart's edge
            continue
        boundary = float(savitsky.porpoising_trim_deg(found.lift_coefficient, deadrise))
        beyond = "" if speed >= float(point.speed_mps) * 0.999 else "; above that speed the method does not hold"
        return Danger(
            title="Porpoising",
            verdict=_grade(found.trim_deg / boundary, 0.9, 1.1),
            sentence=f"at {speed * 3.6:.0f} km/h it trims {found.trim_deg:.1f} deg, it would porpoise above "
            f"{boundary:.1f} deg (Savitsky 1964){beyond}",
        )
    return None


def _cavitation(setup: Setup, point: OperatingPoint) -> Danger | None:
    """Blade loading of a submerged propeller against 10 % back cavitation [blount1978]; a ventilated one has none."""
    if setup.hull.drive is not hull.Drive.SUBMERGED or not np.isfinite(point.speed_mps):
        return None
    density = float(water_density_kg_m3(setup.conditions.water_c.value))
    diameter, area = setup.propeller.diameter_m.value, propeller.area_ratio(setup.propeller).value
    turning = 0.7 * np.pi * float(point.rpm) / 60 * diameter
    head = 0.5 * density * (float(point.speed_mps) ** 2 + turning**2)
    sigma = (AIR_PA - VAPOUR_PA) / head
    ratio = propeller.pitch(setup.propeller).value / diameter
    projected = area * (1.067 - 0.229 * ratio) * np.pi / 4 * diameter**2
    # Past 1.2 sigma a section carries no more, whatever it is asked for [blount1978, from memory].
    loading, limit = float(point.thrust_n) / (head * projected), 0.494 * sigma**0.88
    lost = max(1.0 - 1.2 * sigma / loading, 0.0) if loading > limit else 0.0
    return Danger(
        title="Cavitation",
        verdict=_grade(loading / limit, 1.0, 1.5),
        sentence=f"blade loading {loading:.3f} of {limit:.3f} at which a tenth of the back cavitates; "
        + (f"about {lost:.0%} of the thrust is lost" if lost > 0 else "no thrust is lost"),
    )
