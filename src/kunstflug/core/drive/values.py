"""The numbers of a setup that a drive is solved with: what was learnt, what was given, a marked guess for the rest."""

import dataclasses
import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from kunstflug.core.drive.family import families_of, features, parts_of
from kunstflug.core.drive.rows import DriveValues
from kunstflug.core.laws.cell import NOMINAL_CELL_V, cell_ocv_v
from kunstflug.core.laws.electric import COLD_PER_K, cold_factor, commutation_ohm, magnet_factor
from kunstflug.core.laws.water import air_density_kg_m3, water_density_kg_m3, water_viscosity_pa_s
from kunstflug.core.parts import conditions as conditions_of
from kunstflug.core.parts import controller, hull, motor, pack, wiring
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.propeller.seam import REFERENCE_TURNS
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.last import of_the_last
from kunstflug.core.quantity.value import Floats, Value, exact, guess, honest, known, scaled
from kunstflug.core.setup.knowledge import Aboard, Knowledge, KnownNumbers
from kunstflug.core.setup.setup import Setup, centre_of_mass, wire_gauge


@dataclass(frozen=True, slots=True, kw_only=True)
class GreasedShaft(Fact):
    """A greased flex or straight shaft; one that a propeller out of balance shakes loses more."""

    shaken: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeOfPass(Fact):
    """The voltage at rest for the charge of the pass."""

    state_of_charge: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WarmMagnets(Fact):
    """Magnets with a winding of a temperature, and a timing that is set."""

    winding_c: float
    timing: controller.TimingShift | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ModelItself(Fact):
    """The model's own error, beside those of the numbers it is given."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RatedVoltage(Fact):
    """The rpm at which a no-load current counts: KV times the voltage it is taken to be printed for."""

    voltage_v: float


DISCREPANCY: Final = 0.06  # some 3 % of speed (common practice, no source)
LOSSES_ERROR: Final = 0.33  # of what a propeller loses, some 12 % of the current (common practice, no source)
# Of a printed or typed number, one standard deviation of its logarithm (common practice, no source).
PRINTED_KV: Final = 0.025
PRINTED_DIAMETER: Final = 0.01
PRINTED_CAPACITY: Final = 0.05
SCALE: Final = 0.005  # a kitchen scale
OCV_SPREAD: Final = 0.008  # 20 to 30 mV a cell between one LiPo and the next, and the charge at the pass
MAGNET_LAG: Final = 0.3  # of the way from air to winding; over passes of seconds a rotor follows slowly


def _shaft_efficiency(setup: Setup) -> Value:
    """Shaft and bearings; what shakes rubs (both common practice, no source)."""
    shaken = setup.propeller.condition in propellers.SHAKES
    return guess(0.96 if shaken else 0.97, 0.015 if shaken else 0.01, GreasedShaft(shaken=shaken))


def _kv_factor(setup: Setup, timing: controller.TimingEffect) -> Value:
    """Effective over printed KV [1]: magnets between air and winding, and the timing."""
    air, winding = setup.conditions.air_c.value, setup.conditions.winding_c.value
    hot = float(magnet_factor(air + MAGNET_LAG * (winding - air)))
    why = timing.kv.reason
    set_timing = why if isinstance(why, controller.TimingShift) else None
    reason = WarmMagnets(winding_c=winding, timing=set_timing)
    return guess(timing.kv.value * hot, max(timing.kv.spread, 0.01), reason)


def commutation_of(setup: Setup, kv_rpm_per_v: float) -> float:
    """Of the motor as it is, at the speed it turns when loaded [ohm]."""
    pairs = motor.pole_count(setup.motor) / 2
    return float(commutation_ohm(motor.inductance_h(setup.motor), pairs, kv_rpm_per_v, REFERENCE_TURNS))


def _at_temperature(resistance: Value, warm: Value) -> Value:
    """A pack's resistance with what its temperature leaves open."""
    open_ = COLD_PER_K * warm.spread * warm.value
    return dataclasses.replace(resistance, spread=math.hypot(resistance.spread, open_))


def usual_rps(kv_rpm_per_v: Floats, ocv_v: Floats) -> Floats:
    """Turns on the plane [1/s] by which a blade's Reynolds number is taken: loaded over free, as racers find it."""
    return REFERENCE_TURNS * kv_rpm_per_v * ocv_v / 60


def viscosity_m2_s(setup: Setup) -> float:
    """Kinematic viscosity of the day's water [m2/s]."""
    water_c = setup.conditions.water_c.value
    return float(water_viscosity_pa_s(water_c) / water_density_kg_m3(water_c))


def _friction(setup: Setup, ocv_v: float) -> Value:
    rps = float(usual_rps(setup.motor.kv_rpm_per_v.value, ocv_v))
    return propellers.friction(setup.propeller, rps, viscosity_m2_s(setup))


def no_load_voltage_v(setup: Setup, cells: Floats) -> Floats:
    """Voltage at which the no-load current counts [V]: as printed, else the pack's nominal one."""
    given = setup.motor.no_load_voltage_v
    return given.value + 0.0 * cells if given else cells * NOMINAL_CELL_V


@of_the_last
def drive_values(setup: Setup) -> DriveValues:
    """All parameters of a setup: what was learnt, what was given, and a marked guess for the rest."""
    bought, known = as_bought(setup), known_of(setup)
    if known is None:
        return bought
    return DriveValues(**{name: known.of(name, value) for name, value in bought})


def taught_by_racers(setup: Setup) -> int:
    """How many racers of a club taught what is known of a setup's families; 0 where no club knows any."""
    club = None if setup.knowledge is None else setup.knowledge.latents.club
    return 0 if club is None else max((club.racers.get(f, 0) for f in families_of(setup).values()), default=0)


@of_the_last
def known_of(setup: Setup) -> KnownNumbers | None:
    """What is known of a setup's numbers; None for a setup as bought."""
    return known_with(setup, ())


def known_with(setup: Setup, more: Iterable[tuple[str, Value]]) -> KnownNumbers | None:
    """The same; a club's knowledge, which is in spreads, asks for those of numbers beside the drive's, too."""
    return None if setup.knowledge is None else setup.knowledge.at(aboard(setup, setup.knowledge, more))


def aboard(
    setup: Setup, knowledge: Knowledge, more: Iterable[tuple[str, Value]] = (), *, with_parts: bool = True
) -> Aboard:
    """What a setup has of what was learnt: its parts, how alike it is to those that ran, its families.

    Parameters
    ----------
    more : numbers beside the drive's, whose spreads a club's knowledge asks for.
    with_parts : False for parts that are like the ones that ran, but others.
    """
    spreads = {}
    if knowledge.latents.club is not None:
        spreads = {name: value.spread for name, value in (*as_bought(setup), *more)}
    parts = parts_of(setup) if with_parts else {}
    return knowledge.aboard(parts, features(setup), families_of(setup), spreads)


@of_the_last
def as_bought(setup: Setup) -> DriveValues:
    """All parameters of a setup before any run: what was given, and a marked guess for the rest."""
    conditions, wheel = setup.conditions, setup.propeller
    submerged = setup.hull.drive is not hull.Drive.SURFACE  # or a jet: all of the impeller works
    cells = pack.series_cells(setup.pack)
    warm = conditions_of.pack_temperature_c(conditions)
    cold = float(cold_factor(warm.value))
    timing = controller.timing_effect(setup.controller)
    volts = float(no_load_voltage_v(setup, cells))
    series = guess(1.0, 0.10 if setup.hull.drive is hull.Drive.JET else 0.05, None)
    ocv = float(cell_ocv_v(conditions.state_of_charge.value)) * cells
    kv, trim = setup.motor.kv_rpm_per_v, hull.running_trim(setup.hull, centre_of_mass(setup))
    return DriveValues(
        pack_ocv_v=Value(
            value=ocv,
            source=conditions.state_of_charge.source,
            spread=OCV_SPREAD,
            reason=ChargeOfPass(state_of_charge=conditions.state_of_charge.value),
        ),
        pack_resistance_ohm=_at_temperature(scaled(pack.resistance(setup.pack), cold), warm),
        wiring_resistance_ohm=wiring.wiring_resistance(setup.wiring, int(wire_gauge(setup).value)),
        controller_resistance_ohm=controller.loss_resistance(setup.controller, commutation_of(setup, kv.value)),
        bus_limit_a=setup.controller.bus_limit_a or exact(float("inf")),
        phase_limit_a=setup.controller.phase_limit_a or exact(float("inf")),
        full_throttle=setup.controller.full_throttle or exact(1.0),
        kv_factor=_kv_factor(setup, timing),
        kv_rpm_per_v=honest(kv, PRINTED_KV),
        winding_resistance_ohm=motor.winding_resistance(setup.motor),
        winding_c=conditions.winding_c,
        no_load_current_a=scaled(motor.no_load_current(setup.motor), timing.no_load.value),
        no_load_rpm=Value(value=kv.value * volts, reason=RatedVoltage(voltage_v=volts)),
        shaft_efficiency=_shaft_efficiency(setup),
        diameter_m=honest(wheel.diameter_m, PRINTED_DIAMETER),
        pitch_m=dataclasses.replace(propellers.pitch(wheel), spread=0.0),  # in the factor
        pitch_factor=propellers.pitch_factor(wheel),
        blade_area=series if submerged else propellers.working_area(wheel),
        immersion=propellers.immersion(wheel, setup.hull.shaft_depth_m, submerged=submerged),
        rise_froude=hull.rise_froude(setup.hull),
        # The B-series has its own friction in it.
        blade_friction=exact(0.0) if submerged else _friction(setup, ocv),
        water_at_rest=known(setup.learnt.water_at_rest, propellers.water_at_rest(submerged=submerged)),
        thrust_part=exact(propellers.thrust_part(wheel, hull.shaft_angle_deg(setup.hull))),
        torque_part=exact(float(propellers.torque_part(wheel, wheel.diameter_m.value))),
        propeller_losses=guess(1.0, LOSSES_ERROR, ModelItself()),
        lift_ratio=propellers.lift_ratio(wheel, hull.shaft_angle_deg(setup.hull)),
        mass_kg=honest(setup.all_up_mass_kg, SCALE),
        planing_drag_ratio=hull.planing_drag(setup.hull, trim),
        pressure_share=exact(float(hull.by_trim(setup.hull, trim.value)[1])),
        trims_freely=exact(0.0 if setup.hull.trim_deg else 1.0),
        hump_drag_ratio=hull.hump_drag(setup.hull),
        wetted_factor=hull.wetted_factor(setup.hull, trim),
        wetted_exponent=hull.wetted_exponent(setup.hull),
        appendage_area_m2=hull.appendage_area(setup.hull),
        air_drag_area_m2=hull.air_drag_area(setup.hull),
        air_lift_area_m2=hull.air_lift_area(setup.hull),
        headwind_mps=conditions.headwind_mps,
        water_kg_m3=exact(float(water_density_kg_m3(conditions.water_c.value))),
        air_kg_m3=exact(float(air_density_kg_m3(conditions.air_c.value))),
        cells=exact(float(cells)),
        weak_cell=exact(float(pack.weakest_cell_factor(setup.pack, setup.pack.cells))),
        poles=exact(float(motor.pole_count(setup.motor))),
        discrepancy=guess(1.0, DISCREPANCY, ModelItself()),
        pack_ah=honest(exact(pack.usable_ah(setup.pack)), PRINTED_CAPACITY),
    )
