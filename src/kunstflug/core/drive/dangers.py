"""Dangers beside the limits of the parts: hump, blow-over, torque, porpoising, hop, cavitation, shake."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.curves import SpeedCurves
from kunstflug.core.drive.point import OperatingPoint
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.verdict import ORDER, Verdict, grade
from kunstflug.core.laws import planing
from kunstflug.core.laws.attitude import left_to_bottom
from kunstflug.core.laws.mechanics import unbalance_force_n
from kunstflug.core.laws.resistance import GRAVITY_MPS2, PLANING_FROUDE, blow_over_speed_mps, volume_froude
from kunstflug.core.laws.water import air_density_kg_m3, water_density_kg_m3, water_viscosity_pa_s
from kunstflug.core.parts import hull
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup, centre_of_mass

AIR_PA: Final = 101325.0
VAPOUR_PA: Final = 1800.0  # of water near 16 degC [coolprop]
HUMP_RESERVE: Final = 1.3  # for waves and weed (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class AtTheHump(Fact):
    """Least thrust over resistance before the boat planes."""

    thrust_part: float
    wanted: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BlowOver(Fact):
    """Speed at which a gust turns the boat over its transom, and the part of it that is run."""

    critical_mps: float
    part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TorqueRoll(Fact):
    """The propeller's torque over what rights the boat, and its pull to the side."""

    torque_nm: float
    part: float
    side_force_n: float
    side_part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Shake(Fact):
    """Turning force of an unbalance."""

    missing_kg: float
    force_n: float
    rpm: float
    weight_part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Porpoising(Fact):
    """Trim against the boundary of porpoising, at the fastest speed the method covers."""

    speed_mps: float
    trim_deg: float
    boundary_deg: float
    slower_than_top: bool
    hulls: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Hop(Fact):
    """What the propeller lifts at the stern, and the part that is of the weight that rests there."""

    lift_n: float
    part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Cavitation(Fact):
    """Blade loading against that at which a tenth of the back cavitates, and the thrust that is lost."""

    loading: float
    limit: float
    lost: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Danger:
    """One danger: what it is, and how near."""

    finding: Fact
    verdict: Verdict


def dangers_of(setup: Setup, point: OperatingPoint, curves: SpeedCurves) -> tuple[Danger, ...]:
    """Dangers of a setup at its operating point, gravest first."""
    found = [
        _hump(setup, curves),
        _blow_over(setup, point),
        _torque(setup, point),
        _porpoising(setup, point),
        _hop(setup, point),
        _cavitation(setup, point),
        _shake(setup, point),
    ]
    return tuple(sorted((w for w in found if w is not None), key=lambda w: -ORDER.index(w.verdict)))


def _hump(setup: Setup, curves: SpeedCurves) -> Danger | None:
    """Least thrust over resistance between volume Froude 1 and 3."""
    density = float(water_density_kg_m3(setup.conditions.water_c.value))
    froude = np.asarray(volume_froude(curves.speed_mps, setup.all_up_mass_kg.value, density))
    at = (froude > 1.0) & (froude < PLANING_FROUDE) & np.isfinite(curves.thrust_n)
    if not at.any():
        return None
    ratio = float(np.min(curves.thrust_n[at] / curves.resistance_n[at]))
    finding = AtTheHump(thrust_part=ratio, wanted=HUMP_RESERVE)
    return Danger(finding=finding, verdict=grade(HUMP_RESERVE / ratio, 1.0, HUMP_RESERVE))


def blow_over_mps(setup: Setup, wind_mps: float) -> float:
    """Speed at which a gust of so much wind [m/s] turns a boat over [m/s]; see the law."""
    return float(
        blow_over_speed_mps(
            setup.all_up_mass_kg.value,
            centre_of_mass(setup).value,
            setup.hull.length_m.value,
            hull.deck_m2(setup.hull),
            wind_mps,
            float(air_density_kg_m3(setup.conditions.air_c.value)),
        )
    )


def _blow_over(setup: Setup, point: OperatingPoint) -> Danger:
    critical = blow_over_mps(setup, setup.conditions.headwind_mps.value)
    part = float(point.speed_mps) / critical
    return Danger(finding=BlowOver(critical_mps=critical, part=part), verdict=grade(part, 0.8, 1.0))


def _torque(setup: Setup, point: OperatingPoint) -> Danger:
    """Propeller torque against the righting moment of the weight on a quarter of the beam."""
    righting = setup.all_up_mass_kg.value * GRAVITY_MPS2 * hull.beam(setup.hull).value / 4
    part, side = float(point.torque_nm) / righting, float(point.side_force_n)
    finding = TorqueRoll(
        torque_nm=float(point.torque_nm), part=part, side_force_n=side, side_part=side / float(point.thrust_n)
    )
    return Danger(finding=finding, verdict=grade(part, 0.5, 1.0))


def _shake(setup: Setup, point: OperatingPoint) -> Danger | None:
    """Unbalance of a nicked or unbalanced propeller against the boat's weight; our own grading."""
    if setup.propeller.condition not in propellers.SHAKES:
        return None
    lever, rpm = 0.35 * setup.propeller.diameter_m.value, float(point.rpm)  # 0.7 R
    force = unbalance_force_n(propellers.MISSING_KG * lever, rpm)
    part = force / (setup.all_up_mass_kg.value * GRAVITY_MPS2)
    finding = Shake(missing_kg=propellers.MISSING_KG, force_n=force, rpm=rpm, weight_part=part)
    return Danger(finding=finding, verdict=grade(part, 0.25, 1.0))


FRONT_PART: Final = 0.6  # of the length: where a boat that stands on bow and stern touches in front
STERN_PART: Final = 0.25  # beam of one of two hulls over the boat's (both common practice, no source)


def stern_part(setup: Setup, point: OperatingPoint) -> float:
    """Part of the weight that the propeller lifts at the stern [1]."""
    lift = drive_values(setup).lift_ratio.value * float(point.thrust_n)
    return lift / (setup.all_up_mass_kg.value * GRAVITY_MPS2)


def _hop(setup: Setup, point: OperatingPoint) -> Danger | None:
    """What the propeller lifts against the weight that rests on the stern, moments about where the bow touches.

    Statics; the grading is our own: a bounce does the rest.
    """
    lifted = stern_part(setup, point)
    if lifted <= 0.0 or not np.isfinite(lifted):
        return None
    front = FRONT_PART * setup.hull.length_m.value
    rests = max(1.0 - centre_of_mass(setup).value / front, 0.1)
    part, weight = lifted / rests, setup.all_up_mass_kg.value * GRAVITY_MPS2
    return Danger(finding=Hop(lift_n=lifted * weight, part=part), verdict=grade(part, 0.3, 0.6))


def _porpoising(setup: Setup, point: OperatingPoint) -> Danger | None:
    """Trim against Savitsky's boundary at the fastest speed the method covers.

    Two hulls carry half each on a quarter of the beam. What the propeller lifts at the stern, the bottom does not
    carry: less weight, further forward. Neither is in the method; the rest is.
    """
    hulls = hull.CHARACTERS[setup.hull.hull_type].side_by_side
    if hulls is None:
        return None
    celsius = setup.conditions.water_c.value
    beam = hull.beam(setup.hull).value * (1.0 if hulls == 1 else STERN_PART)
    density = float(water_density_kg_m3(celsius))
    viscosity = float(water_viscosity_pa_s(celsius)) / density
    deadrise, top = hull.deadrise(setup.hull).value, float(point.speed_mps)
    # The chart begins at sqrt(CL/2) = 0.15: faster than that there is no need to look.
    carried = float(left_to_bottom(stern_part(setup, point)))
    mass = setup.all_up_mass_kg.value * carried / hulls
    centre, weight = centre_of_mass(setup).value / carried, mass * GRAVITY_MPS2
    chart_mps = float(np.sqrt(weight / (0.5 * density * beam**2 * 2 * 0.15**2)))
    for speed in np.linspace(1.0, 0.45, 7) * min(top, 0.999 * chart_mps):
        found = planing.equilibrium(float(speed), mass, beam, deadrise, centre, 0.25 * beam, density, viscosity)
        if found is None or not found.covered:
            continue
        if not 0.15 <= np.sqrt(found.lift_coefficient / 2) <= 0.35:  # past the chart's edge
            continue
        boundary = float(planing.porpoising_trim_deg(found.lift_coefficient, deadrise))
        finding = Porpoising(
            speed_mps=float(speed),
            trim_deg=found.trim_deg,
            boundary_deg=boundary,
            slower_than_top=bool(speed < top * 0.999),
            hulls=hulls,
        )
        return Danger(finding=finding, verdict=grade(found.trim_deg / boundary, 0.9, 1.1))
    return None


def _cavitation(setup: Setup, point: OperatingPoint) -> Danger | None:
    """Blade loading of a submerged propeller against 10 % back cavitation [blount1978]; a ventilated one has none."""
    if setup.hull.drive is not hull.Drive.SUBMERGED or not np.isfinite(point.speed_mps):
        return None
    density = float(water_density_kg_m3(setup.conditions.water_c.value))
    diameter, area = setup.propeller.diameter_m.value, propellers.area_ratio(setup.propeller).value
    turning = 0.7 * np.pi * float(point.rpm) / 60 * diameter
    head = 0.5 * density * (float(point.speed_mps) ** 2 + turning**2)
    sigma = (AIR_PA - VAPOUR_PA) / head
    projected = area * (1.067 - 0.229 * propellers.pitch_ratio(setup.propeller)) * np.pi / 4 * diameter**2
    # Past 1.2 sigma a section carries no more, whatever it is asked for [blount1978, from memory].
    loading, limit = float(point.thrust_n) / (head * projected), 0.494 * sigma**0.88
    lost = max(1.0 - 1.2 * sigma / loading, 0.0) if loading > limit else 0.0
    return Danger(finding=Cavitation(loading=loading, limit=limit, lost=lost), verdict=grade(loading / limit, 1.0, 1.5))
